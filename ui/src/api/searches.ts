/** Searches: what takes longer than a moment is done elsewhere, says how far it is, and ends when nobody wants it. */
import { useQuery } from "@tanstack/react-query";
import { client, fetched, posted, type Schemas, told } from "./client";

type Ending = Partial<Schemas["Ending"]>;

/** This page among all that are open; the server ends what a page that has closed had asked for. */
let page = crypto.randomUUID();
/** The draft that is on the bench: what was asked for an earlier one is wanted no more. */
let draft = 1;
/** Questions may arrive in another order than they were asked in: the last asked counts. */
let turn = 0;
let underWay = 0;

export async function search(address: string, body: unknown): Promise<Response> {
  underWay++;
  try {
    const request = posted(body);
    return await fetched(address, {
      ...request,
      headers: {
        ...request.headers,
        "X-Bustle-Window": page,
        "X-Bustle-Draft": String(draft),
        "X-Bustle-Turn": String(++turn),
      },
    });
  } finally {
    underWay--;
  }
}

/** The draft has changed, or is put away. */
export function newDraft(): void {
  draft++;
  if (underWay) void end({ number: draft });
}

/** Stop what is under way of a kind. */
export function stopSearch(kind: string): void {
  void end({ kind });
}

const ALL: Schemas["Ending"] = { number: null, kind: null, closed: false };

async function end(ending: Ending): Promise<void> {
  await client
    .POST("/api/windows/{window}/ended", { params: { path: { window: page } }, body: { ...ALL, ...ending } })
    .catch(() => null);
}

/** How far the search of a kind is, while it is under way. */
export function useProgress(kind: string, busy: boolean): Schemas["Progress"] | undefined {
  const { data } = useQuery({
    queryKey: ["searches", page],
    queryFn: () =>
      told<Schemas["Searches"]>(client.GET("/api/windows/{window}/searches", { params: { path: { window: page } } })),
    enabled: busy,
    refetchInterval: 300,
    gcTime: 0,
  });
  return busy ? data?.searches.find((s) => s.kind === kind) : undefined;
}

window.addEventListener("pagehide", () => {
  const closed: Ending = { closed: true };
  navigator.sendBeacon(`/api/windows/${page}/ended`, new Blob([JSON.stringify(closed)], { type: "application/json" }));
});
// Brought back as it was by the browser's Back: to the server it is another page.
window.addEventListener("pageshow", (event) => {
  if (event.persisted) page = crypto.randomUUID();
});
