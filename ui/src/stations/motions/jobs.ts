/** The jobs of the Motions station. */
import type { Job } from "../station";
import { Controls } from "./Controls";
import { Drive } from "./Drive";
import { MakeSet } from "./MakeSet";
import { SideBySide } from "./SideBySide";
import { StartUp } from "./StartUp";

export const JOBS: Job[] = [
  { name: "set", label: "Make the set", Main: MakeSet },
  { name: "drive", label: "Drive", beside: true, Main: Drive },
  { name: "power-on", label: "Power-on and fail-safe", Main: StartUp },
  { name: "controls", label: "Control map and download", Main: Controls },
  { name: "beside", label: "Side by side", Main: SideBySide },
];
