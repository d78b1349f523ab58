/** Which machines stand beside this one, and their figures. */

import { create } from "zustand";
import type { Project, Schemas } from "@/api/client";
import { search } from "@/api/searches";
import { inWords } from "@/bench/holding";

export type Choice = Schemas["RivalChoice"];

interface Compare {
  choices: Choice[];
  found: Schemas["Rivals"] | null;
  refusal: string | null;
  busy: boolean;
}

export const useCompare = create<Compare>(() => ({
  choices: [{ shape: "six_two", leg_length_mm: 200, walker_id: null }],
  found: null,
  refusal: null,
  busy: false,
}));

const set = useCompare.setState;
let asked = 0;

export async function compare(project: Project): Promise<void> {
  const mine = ++asked;
  set({ busy: true });
  try {
    const answer = await search("/api/rivals", { project, rivals: useCompare.getState().choices });
    const found = (await answer.json()) as Schemas["Rivals"];
    if (mine === asked) set({ found, refusal: null, busy: false });
  } catch (error) {
    if (mine === asked) set({ refusal: inWords(error), busy: false });
  }
}

export function setChoice(index: number, choice: Choice | null): void {
  const choices = [...useCompare.getState().choices];
  if (choice === null) choices.splice(index, 1);
  else choices[index] = choice;
  set({ choices });
}
