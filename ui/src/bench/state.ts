/** What the bench is working on: the draft, its plan, and how it stands against what is saved. */
import { create } from "zustand";
import type { FieldDifference, Project, SavedWalker } from "@/api/client";
import type { Picture } from "@/api/picture";

export type ViewName = "plan" | "side" | "front" | "orbit";
export type SaveState = "saved" | "saving" | "unsaved" | "failed";

export interface Conflict {
  detail: string;
  saved: SavedWalker;
  merged: { project: Project; mine: FieldDifference[]; theirs: FieldDifference[] } | null;
}

export interface Bench {
  saved: SavedWalker | null;
  draft: Project | null;
  motion: string;
  picture: Picture | null;
  /** The draft the picture was made from. */
  pictured: Project | null;
  refusal: string | null;
  ghost: { picture: Picture; title: string } | null;
  /** The whole picture before the present or latest change, for what the change does. */
  settled: Picture | null;
  leg: string;
  /** The station that is open. */
  station: string;
  dragging: boolean;
  mirrored: boolean;
  open: string | null;
  saveState: SaveState;
  saveError: string | null;
  conflict: Conflict | null;
  past: Project[];
  future: Project[];
}

export const useBench = create<Bench>(() => ({
  saved: null,
  draft: null,
  motion: "",
  picture: null,
  pictured: null,
  refusal: null,
  ghost: null,
  settled: null,
  leg: "",
  station: "",
  dragging: false,
  mirrored: true,
  open: null,
  saveState: "saved",
  saveError: null,
  conflict: null,
  past: [],
  future: [],
}));
