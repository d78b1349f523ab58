/** A change that the server refuses is taken back alone: what it was before stands again, everything else stays, and
 * the field says what was wrong with it. */
import { produce } from "immer";
import type { Project } from "@/api/client";
import { Refusal } from "@/api/client";
import { type Forms, type Path, parsePath, putAt, valueAt, wordsOf } from "./paths";
import { type HeldBack, useBench } from "./state";

let forms: Forms = {};

/** The words for fields, once they are known. */
export function knowForms(known: Forms): void {
  forms = known;
}

export interface Mended {
  draft: Project;
  held: HeldBack;
}

/** The draft without what was refused of it, against the last one that was accepted; null where nothing can be mended
 * so: the fault is not in the document, or the draft is the accepted one. */
export function withoutRefused(error: Error, draft: Project, good: Project | null): Mended | null {
  if (!(error instanceof Refusal) || error.status !== 422 || !good || draft === good) return null;
  const problems = (error.body?.problems ?? []).map((p) => ({
    path: parsePath(p.path.replace(/^project\./, "")),
    sentence: p.sentence,
  }));
  const first = problems[0];
  if (!first) return null;
  const next = produce(draft, (d) => {
    for (const { path } of problems) takeBack(d as Project, good, path);
  });
  const mended = next !== draft ? next : good;
  const path = differing(draft, good, first.path);
  return {
    draft: mended,
    held: { path: path.join("."), value: valueAt(draft, path), sentence: told(draft, path, first) },
  };
}

/** The field itself where it differs, else the nearest group round it that does. */
function differing(draft: Project, good: Project, path: Path): Path {
  for (let n = path.length; n > 0; n--) {
    const [now, was] = [valueAt(draft, path.slice(0, n)), valueAt(good, path.slice(0, n))];
    if (JSON.stringify(now) !== JSON.stringify(was)) return path.slice(0, n);
  }
  return path;
}

function takeBack(draft: Project, good: Project, path: Path): void {
  const there = differing(draft, good, path);
  const was = valueAt(good, there);
  // As it was before, or put back already with what is round it.
  if (JSON.stringify(valueAt(draft, there)) === JSON.stringify(was)) return;
  // A list that grew or shrank is put back whole: its places no longer mean the same things.
  for (let n = 1; n <= there.length; n++) {
    const [one, other] = [valueAt(draft, there.slice(0, n)), valueAt(good, there.slice(0, n))];
    if (Array.isArray(one) && Array.isArray(other) && one.length !== other.length) {
      putAt(draft, there.slice(0, n), other);
      return;
    }
  }
  if (was !== undefined) putAt(draft, there, was);
}

/** What went wrong, the fields called what the builder calls them. */
export function inWords(error: unknown): string {
  const problems = error instanceof Refusal ? (error.body?.problems ?? []) : [];
  const { draft } = useBench.getState();
  if (!problems.length || !draft) return (error as Error).message;
  const path = parsePath(problems[0].path.replace(/^project\./, ""));
  const { sentence } = problems[0];
  // What was asked for beside the document is named by its sentence, but where that only says what it must be.
  const beside = path.length === 1 && !(path[0] in draft) && !sentence.startsWith("must ");
  const words = beside ? `${sentence[0].toUpperCase()}${sentence.slice(1)}` : told(draft, path, { path, sentence });
  const others = problems.length > 1 ? ` And ${problems.length - 1} more.` : "";
  return `${words}${/[.?]$/.test(words) ? "" : "."}${others}`;
}

function told(project: Project, path: Path, problem: { path: Path; sentence: string }): string {
  const words = wordsOf(forms, project, problem.path.length ? problem.path : path);
  return words ? `${words[0].toUpperCase()}${words.slice(1)}: ${problem.sentence}` : problem.sentence;
}

export function forget(): void {
  if (useBench.getState().held) useBench.setState({ held: null });
}
