/** What becomes of the walk that is open in a dry run, asked for by itself once the hand has rested. */
import { useEffect } from "react";
import { create } from "zustand";
import type { Project, Schemas } from "@/api/client";
import type { Picture } from "@/api/picture";
import { search } from "@/api/searches";
import type { Run } from "@/look/dryRun";
import { isEvaluating } from "./evaluator";
import { useBench } from "./state";

interface DryRuns {
  of: Project | null;
  motion: string;
  /** Null where none can be told. */
  run: Run | null;
  /** Somebody wants to know more: whoever shows whole dry runs takes it from here. */
  more: boolean;
}

const useStore = create<DryRuns>(() => ({ of: null, motion: "", run: null, more: false }));

const IDLE_MS = 1000;
let timer = 0;
let watched = 0;
let asking = false;

function later(): void {
  window.clearTimeout(timer);
  if (watched) timer = window.setTimeout(ask, IDLE_MS);
}

useBench.subscribe((now, before) => {
  if (now.draft !== before.draft || now.motion !== before.motion || now.pictured !== before.pictured) later();
});

async function ask(): Promise<void> {
  const { draft, motion, picture, pictured, dragging, refusal, saveState } = useBench.getState();
  if (!draft || !motion || refusal || document.hidden) return;
  if (asking || dragging || isEvaluating() || saveState === "saving" || pictured !== draft) return later();
  const { of, motion: known } = useStore.getState();
  if ((of === draft && known === motion) || isStopped(picture)) return;
  const changed = () => useBench.getState().draft !== draft || useBench.getState().motion !== motion;
  asking = true;
  try {
    const response = await search("/api/dry-run/alone", { project: draft, motion });
    const { run } = (await response.json()) as Schemas["DryRunAlone"];
    useStore.setState({ of: draft, motion, run });
  } catch {
    // Nobody was free: what went before is not told of this one, and the next change asks again.
    if (!changed()) useStore.setState({ run: null });
  } finally {
    asking = false;
    if (changed()) later();
  }
}

/** What is stopped anyhow is not let go, and how it went before is told no more. */
function isStopped(picture: Picture | null): boolean {
  return picture?.findings.some((f) => f.severity === "stop") ?? false;
}

/** run: of this motion, and whether it is from before the draft changed; null while none is known or it is stopped. */
export function useDryRun(): { run: Run | null; old: boolean } {
  const draft = useBench((s) => s.draft);
  const motion = useBench((s) => s.motion);
  const stopped = useBench((s) => isStopped(s.picture));
  const held = useStore();
  useEffect(() => {
    watched++;
    later();
    return () => {
      watched--;
    };
  }, []);
  return { run: held.motion === motion && !stopped ? held.run : null, old: held.of !== draft };
}

/** Whether somebody wants to know more of it, and how to say that one has told it. */
export function useMoreAsked(): [boolean, () => void] {
  return [useStore((s) => s.more), () => useStore.setState({ more: false })];
}

export function askForMore(): void {
  useStore.setState({ more: true });
}
