/** How bars are dragged in the cycle strip: what they snap to, and which legs move with the one that is dragged. */
import { create } from "zustand";
import type { Motion } from "@/api/client";

interface StripWays {
  /** Parts of the cycle that phases and duties snap to; 0: none. */
  snap: number;
  locked: string[];
}

export const useStripWays = create<StripWays>(() => ({ snap: 0, locked: [] }));

/** A share of the cycle, to the fraction in force, or to half a hundredth. */
export function snapped(share: number): number {
  const { snap } = useStripWays.getState();
  const parts = snap || 200;
  return Math.round(share * parts) / parts;
}

/** The other legs that a drag of this one takes along. */
export function takenAlong(motion: Motion, leg: string): string[] {
  const { locked } = useStripWays.getState();
  return motion.legs.map((l) => l.limb).filter((name) => name !== leg && locked.includes(name));
}
