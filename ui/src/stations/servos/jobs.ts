/** The jobs of the Servos station. */
import { later } from "../later";
import type { Job } from "../station";

export const JOBS: Job[] = [
  { name: "bench", label: "At the bench", Main: later(() => import("./OneByOne"), "OneByOne") },
  { name: "supply", label: "Supply, stop, inputs", Main: later(() => import("./Supply"), "Supply") },
  { name: "types", label: "Servo types", Main: later(() => import("./Types"), "Types") },
  { name: "horns", label: "Horns", Main: later(() => import("./Horns"), "Horns") },
  { name: "horn-on", label: "Horn on", Main: later(() => import("./HornOn"), "HornOn") },
  { name: "check", label: "Joint check", Main: later(() => import("./Check"), "Check") },
  { name: "angles", label: "Two angles", Main: later(() => import("./Angles"), "Angles") },
  { name: "heights", label: "Rest heights", Main: later(() => import("./Heights"), "Heights") },
];
