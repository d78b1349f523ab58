/** Where on the body one has pointed to add a limb. */
import { create } from "zustand";

interface Adding {
  at: [number, number] | null;
  close: () => void;
}

export const useAdding = create<Adding>((set) => ({ at: null, close: () => set({ at: null }) }));
