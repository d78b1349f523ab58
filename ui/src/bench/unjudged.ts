/** What ought to be judged of this motion and is not, in words: of one station, or of all. */
import { useCatalogue } from "@/api/catalogue";
import { useBench } from "./state";

export function useUnjudged(station?: string): string[] {
  const judged = useBench((s) => s.picture?.judged);
  const judgements = useCatalogue()?.judgements ?? [];
  if (!judged) return [];
  return judgements
    .filter((j) => j.matters && (!station || j.stations.includes(station)))
    .flatMap((j) => judged[j.code] ?? []);
}
