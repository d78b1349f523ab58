/** The log of the open walker, and the trial that is being written down. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { create } from "zustand";
import { client, type Schemas, told } from "@/api/client";
import { useBench } from "@/bench/state";

export type Trial = Schemas["Trial"];
export type Line = Schemas["TrialLine"];
export type Seen = Schemas["SeenView"];

/** What is typed of the next trial, of whichever motion; it stays where one leaves the station and comes back. */
type Typed = Required<Omit<Trial, "motion">> & {
  /** The revision that was chosen, and of which walker. */
  chosen: { walker: number; revision: number } | null;
};

const BLANK: Typed = {
  chosen: null,
  floor: "",
  gives: false,
  time_s: 10,
  along_mm: null,
  beside_mm: null,
  turned_deg: null,
  falls: 0,
  dragged: [],
  soles: "as they were",
  pack_v: null,
  note: "",
};

export const useTyped = create<Typed>(() => BLANK);

/** The floor stays as it was for the next. */
export function begunAnew(): void {
  const { floor, gives, time_s, chosen } = useTyped.getState();
  useTyped.setState({ ...BLANK, floor, gives, time_s, chosen });
}

const key = (walker: number) => ["trials", walker];

export function useLog(): Schemas["LogView"] | undefined {
  const walker = useBench((s) => s.saved?.id) ?? 0;
  const number = useBench((s) => s.saved?.number);
  return useQuery({
    queryKey: [...key(walker), number],
    queryFn: () =>
      told<Schemas["LogView"]>(
        client.GET("/api/walkers/{walker_id}/trials", {
          params: { path: { walker_id: walker }, query: { revision: number } },
        }),
      ),
    enabled: walker > 0,
    placeholderData: (before) => before,
  }).data;
}

/** Have the log read again. */
export function useReread(): () => Promise<void> {
  const queries = useQueryClient();
  const walker = useBench((s) => s.saved?.id) ?? 0;
  return () => queries.invalidateQueries({ queryKey: key(walker) });
}

export async function withdraw(walker: number, number: number, withdrawn: boolean): Promise<void> {
  const params = { params: { path: { walker_id: walker, number } } };
  const address = "/api/walkers/{walker_id}/trials/{number}/withdrawn";
  await told<unknown>(withdrawn ? client.PUT(address, params) : client.DELETE(address, params));
}
