/** Motions: the set a walker needs, what is made of it, and driving it. */
import "./motions.css";
import { rideGrip, shiftGrip } from "@/mat/grips";
import { later } from "../later";
import type { Station } from "../station";
import { JOBS } from "./jobs";

export const MOTIONS: Station = {
  name: "motions",
  label: "Motions",
  group: "Walk",
  view: "plan",
  key: (project) => (project.motions.length === 1 ? "1 motion" : `${project.motions.length} motions`),
  Controls: later(() => import("./MotionsControls"), "MotionsControls"),
  jobs: JOBS,
  Main: later(() => import("./FloorMain"), "FloorMain"),
  // A way over the floor is worth a drawing of its own; what walks on the spot is better seen as a walker.
  mainFor: (picture) => picture !== null && !picture.repeats && picture.footprints.length > 0,
  // A standing pose is set by hand: the body held by its back edge, its height by its middle.
  grips: (scene) => (scene.motion.legs.every((l) => l.duty === 1) ? [...shiftGrip(scene), ...rideGrip(scene)] : []),
  traces: true,
  margin: true,
};
