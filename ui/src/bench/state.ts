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

/** What is picked on the drawing of the frame, and shown beside it. */
export type PickKind = "body" | "limb" | "joints" | "foot" | "servos" | "mass" | "drag" | "lead" | "carried";
export interface Picked {
  kind: PickKind;
  /** Of the section, mass, drag or lead; limbs are the chosen one. */
  index: number;
}

/** A change that the server refused: it was taken back, and nothing else with it. */
export interface HeldBack {
  /** Where in the document. */
  path: string;
  value: unknown;
  /** What is wrong, in the builder's words. */
  sentence: string;
}

export interface Bench {
  saved: SavedWalker | null;
  draft: Project | null;
  motion: string;
  picture: Picture | null;
  /** What is drawn of a newer draft, while it is still being judged: all else as in the picture. */
  drawn: Picture | null;
  /** The draft the picture was made from. */
  pictured: Project | null;
  refusal: string | null;
  held: HeldBack | null;
  /** What an address asked for that is not here. */
  notice: string;
  picked: Picked;
  ghost: { picture: Picture; title: string } | null;
  /** The whole picture before the present or latest change, for what the change does. */
  settled: Picture | null;
  leg: string;
  /** The station that is open. */
  station: string;
  dragging: boolean;
  /** Whether an answer about the newest draft is on its way. */
  waiting: boolean;
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
  drawn: null,
  pictured: null,
  refusal: null,
  held: null,
  notice: "",
  picked: { kind: "limb", index: 0 },
  ghost: null,
  settled: null,
  leg: "",
  station: "",
  dragging: false,
  waiting: false,
  mirrored: true,
  open: null,
  saveState: "saved",
  saveError: null,
  conflict: null,
  past: [],
  future: [],
}));
