/** Traces of trials: what the machine's own sensors told, and what is said of them so that they can be read. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { create } from "zustand";
import { client, fetched, type Schemas, told } from "@/api/client";

export type Trace = Schemas["TraceView"];
export type Reads = "found out" | "more" | "less";

/** How the sensors read, as it was said last: it is of the machine, not of one trial. */
export const useSensors = create<{ loaded: Reads; full_scale: number | null }>(() => ({
  loaded: "found out",
  full_scale: null,
}));

/** The trial whose trace is open, and of which walker. */
export const useOpened = create<{ walker: number; number: number }>(() => ({ walker: 0, number: 0 }));

const key = (walker: number, number: number) => ["trace", walker, number];

export function useTrace(walker: number, number: number): { trace: Trace | undefined; error: string } {
  const { loaded, full_scale } = useSensors();
  const found = useQuery({
    queryKey: [...key(walker, number), loaded, full_scale],
    queryFn: () =>
      told<Trace>(
        client.GET("/api/walkers/{walker_id}/trials/{number}/trace", {
          params: { path: { walker_id: walker, number }, query: { loaded, full_scale } },
        }),
      ),
    retry: false,
    placeholderData: (before) => (before?.number === number ? before : undefined),
  });
  return { trace: found.data, error: found.error?.message ?? "" };
}

/** Brings a file in for a trial; says why where it is none. */
export function useBringIn(walker: number): (number: number, file: File) => Promise<void> {
  const queries = useQueryClient();
  return async (number, file) => {
    const { loaded } = useSensors.getState();
    const address = `/api/walkers/${walker}/trials/${number}/trace?loaded=${encodeURIComponent(loaded)}`;
    await fetched(address, { method: "PUT", headers: { "Content-Type": "text/csv" }, body: await file.arrayBuffer() });
    await Promise.all([
      queries.invalidateQueries({ queryKey: key(walker, number) }),
      queries.invalidateQueries({ queryKey: ["trials", walker] }),
    ]);
  };
}
