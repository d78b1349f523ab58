/** What becomes of the walk that is open in a dry run, asked for by itself once the hand has rested. */
import { useEffect } from "react";
import { create } from "zustand";
import type { Project, Schemas } from "@/api/client";
import { search } from "@/api/searches";
import type { Run } from "@/look/dryRun";
import { isEvaluating } from "./evaluator";
import { useBench } from "./state";

interface DryRuns {
  of: Project | null;
  motion: string;
  run: Run | null;
  /** Why none can be told. */
  why: string | null;
  /** Somebody wants to know more: whoever shows whole dry runs takes it from here. */
  more: boolean;
}

const useStore = create<DryRuns>(() => ({ of: null, motion: "", run: null, why: null, more: false }));

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
  // What is stopped anyhow is not let go.
  if ((of === draft && known === motion) || picture?.findings.some((f) => f.severity === "stop")) return;
  asking = true;
  try {
    const response = await search("/api/dry-run/alone", { project: draft, motion });
    useStore.setState({ of: draft, motion, ...((await response.json()) as Schemas["DryRunAlone"]) });
  } catch {
    // Overtaken by a newer draft, or nobody free: without a word of it nothing is told, and the next change asks again.
  } finally {
    asking = false;
    const now = useBench.getState();
    if (now.draft !== draft || now.motion !== motion) later();
  }
}

/** run: of this motion, and whether it is from before the draft changed; null while none is known. */
export function useDryRun(): { run: Run | null; old: boolean; why: string | null } {
  const draft = useBench((s) => s.draft);
  const motion = useBench((s) => s.motion);
  const held = useStore();
  useEffect(() => {
    watched++;
    later();
    return () => {
      watched--;
    };
  }, []);
  const own = held.motion === motion;
  return { run: own ? held.run : null, old: held.of !== draft, why: own && held.of === draft ? held.why : null };
}

/** Whether somebody wants to know more of it, and how to say that one has told it. */
export function useMoreAsked(): [boolean, () => void] {
  return [useStore((s) => s.more), () => useStore.setState({ more: false })];
}

export function askForMore(): void {
  useStore.setState({ more: true });
}
