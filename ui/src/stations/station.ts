/** What a station is: its place in the order of work, its key figure, its controls and its overlay on the mat. */
import type { ComponentType } from "react";
import type { Motion, Project } from "@/api/client";
import type { Picture } from "@/api/picture";
import type { ViewName } from "@/bench/state";
import type { DimensionLine } from "@/mat/Dimension";
import type { Grip } from "@/mat/Handle";
import type { Extent, Projection } from "@/mat/projection";

export interface Scene {
  project: Project;
  motion: Motion;
  picture: Picture;
  leg: string;
  mirrored: boolean;
  p: Projection;
}

/** A job of a station. beside: it stands beside the main view, in the small views' place; else it takes all of it. */
export interface Job {
  name: string;
  label: string;
  beside?: boolean;
  Main: ComponentType<{ project: Project }>;
}

export interface Station {
  name: string;
  label: string;
  group: "Build" | "Walk" | "Judge" | "Run";
  view: ViewName;
  key: (project: Project, motion: Motion | undefined, picture: Picture | null) => string;
  /** Whether what its key is about is told of this plan; where it is not, nothing there looks well. */
  told?: (picture: Picture) => boolean;
  Controls: ComponentType<{ project: Project; motion: Motion }>;
  /** Turns numbers that only gaits have. */
  gaitOnly?: boolean;
  /** What is told of a motion that is no gait, where only gaits have numbers to turn. */
  Told?: ComponentType<{ project: Project }>;
  /** How much of the cycle strip it needs; by default the usual. */
  strip?: "none" | "usual" | "large";
  /** What is done here in the middle of the bench, each with an address of its own. */
  jobs?: Job[];
  /** Takes the main view's place. */
  Main?: ComponentType<{ picture: Picture; leg: string; width: number; height: number }>;
  /** Whether Main does so for this plan; by default for all. */
  mainFor?: (picture: Picture | null) => boolean;
  /** What the station draws on the main view, under its grips. */
  Overlay?: ComponentType<{ scene: Scene }>;
  /** What is drawn round the walker and has to be seen whole. */
  round?: (project: Project, picture: Picture, view: ViewName) => Extent | null;
  grips?: (scene: Scene) => Grip[];
  lines?: (scene: Scene) => DimensionLine[];
  /** Main takes the small views' place too. */
  whole?: boolean;
  /** The main view shows the machine at rest, to measure on. */
  still?: boolean;
  /** What pointing at a part of the walker on the main view does, beyond choosing its leg. */
  onPick?: (part: "body" | "link" | "joint" | "foot", section: number) => void;
  traces?: boolean;
  margin?: boolean;
}
