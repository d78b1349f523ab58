/** Sound bands of the sliders on screen, swept one at a time when nothing else is going on. */
import { useEffect } from "react";
import { create } from "zustand";
import type { Project } from "@/api/client";
import { search } from "@/api/searches";
import { isEvaluating } from "./evaluator";
import { useBench } from "./state";

type Ranges = [number, number][];

interface Bands {
  of: Project | null;
  motion: string;
  ranges: Record<string, Ranges>;
}

const useStore = create<Bands>(() => ({ of: null, motion: "", ranges: {} }));
const wanted = new Map<string, [number, number]>();
let timer = 0;
let sweeping = false;

const IDLE_MS = 700;

function later(): void {
  window.clearTimeout(timer);
  timer = window.setTimeout(sweep, IDLE_MS);
}

// A new draft makes the bands old, and draws nothing by itself.
useBench.subscribe((now, before) => {
  if (wanted.size && (now.draft !== before.draft || now.motion !== before.motion)) later();
});

async function sweep(): Promise<void> {
  if (sweeping) return later();
  sweeping = true;
  try {
    for (const [lever, [low, high]] of wanted) {
      const { draft, motion, dragging, refusal, saveState } = useBench.getState();
      if (!draft || !motion || refusal) return;
      if (dragging || isEvaluating() || saveState === "saving") return later();
      const state = useStore.getState();
      const current = state.of === draft && state.motion === motion;
      if (current && state.ranges[lever]) continue;
      const response = await search("/api/sound-band", { project: draft, motion, lever, low, high });
      const { ranges } = (await response.json()) as { ranges: Ranges };
      const after = useBench.getState();
      if (after.draft !== draft || after.motion !== motion) return later();
      const held = useStore.getState();
      const kept = held.of === draft && held.motion === motion ? held.ranges : {};
      useStore.setState({ of: draft, motion, ranges: { ...kept, [lever]: ranges } });
    }
  } catch {
    // Without an answer the tracks stay plain; the draft's own evaluation says what is wrong.
  } finally {
    sweeping = false;
  }
}

/** The ranges of a lever in which no stop finding fires; undefined until swept. Old ones stay until then. */
export function useBands(lever: string, low: number, high: number): Ranges | undefined {
  const motion = useBench((s) => s.motion);
  const ranges = useStore((s) => (s.motion === motion ? s.ranges[lever] : undefined));
  useEffect(() => {
    wanted.set(lever, [low, high]);
    later();
    return () => {
      wanted.delete(lever);
    };
  }, [lever, low, high]);
  return ranges;
}
