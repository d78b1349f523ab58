/** How a dry run went, in words. */
import type { Schemas } from "@/api/client";

export type Run = Schemas["DryRun"];

export function inWords(run: Run): string {
  if (run.fell_s !== null) return `It ${run.goes_badly}.`;
  const way = run.covers === null ? staysUp(run) : `Goes ${percent(run.covers)} of its way`;
  const veers = Math.abs(run.veers_deg) >= 0.5 ? `, veers ${run.veers_deg.toFixed(1)}° a cycle` : "";
  const more = run.goes_badly && !run.goes_badly.startsWith("goes") ? `. It ${run.goes_badly}` : "";
  return `${way}, leans ${run.leans_deg.toFixed(1)}° beside its plan${veers}${more}.`;
}

/** Where its plan tells no way. */
function staysUp(run: Run): string {
  return run.goes_mm === null ? "Stays up" : `Stays up, goes ${run.goes_mm.toFixed(0)} mm a cycle`;
}

export function percent(share: number): string {
  // A number and its unit stay on one line.
  return `${Math.round(100 * share)}\u00a0%`;
}

/** In one sentence. */
export function inShort(run: Run): string {
  if (run.goes_badly) return `In a dry run it ${run.goes_badly}.`;
  if (run.covers !== null) return `In a dry run it goes ${percent(run.covers)} of its way.`;
  return run.goes_mm === null
    ? "In a dry run it stays up."
    : `In a dry run it stays up and goes ${run.goes_mm.toFixed(0)} mm a cycle.`;
}

/** As a column of a table has it: how far along its way, or how it goes badly. */
export function inColumn(run: Run | null): string {
  if (!run) return "";
  if (run.covers !== null && (!run.goes_badly || run.goes_badly.startsWith("goes"))) return percent(run.covers);
  return run.goes_badly || (run.goes_mm === null ? "stays up" : `${run.goes_mm.toFixed(0)} mm a cycle`);
}
