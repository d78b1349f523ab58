/** The jobs of the Motions station. */
import { later } from "../later";
import type { Job } from "../station";

export const JOBS: Job[] = [
  { name: "set", label: "Make the set", Main: later(() => import("./MakeSet"), "MakeSet") },
  { name: "start-over", label: "Start over from the machine", Main: later(() => import("./StartOver"), "StartOver") },
  { name: "drive", label: "Drive", beside: true, Main: later(() => import("./Drive"), "Drive") },
  { name: "power-on", label: "Power-on and fail-safe", Main: later(() => import("./StartUp"), "StartUp") },
  { name: "controls", label: "Control map and download", Main: later(() => import("./Controls"), "Controls") },
  { name: "beside", label: "Side by side", Main: later(() => import("./SideBySide"), "SideBySide") },
];
