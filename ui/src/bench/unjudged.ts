/** What ought to be judged of this motion and is not, in words: of one station, or of all. */
import { useCatalogue } from "@/api/catalogue";
import type { Schemas } from "@/api/client";
import { useBench } from "./state";

type Judgement = Schemas["JudgementOption"];

/** Whether nobody knows that all is well: it matters, it is not judged, and nothing else judges it instead. */
export function open(j: Judgement, judged: Record<string, string | null>): boolean {
  const told = (code: string) => code in judged && !judged[code];
  return j.matters && Boolean(judged[j.code]) && !j.instead.some(told);
}

export function useUnjudged(station?: string): string[] {
  const judged = useBench((s) => s.picture?.judged);
  const judgements = useCatalogue()?.judgements ?? [];
  if (!judged) return [];
  return judgements
    .filter((j) => open(j, judged) && (!station || j.stations.includes(station)))
    .flatMap((j) => judged[j.code] ?? []);
}
