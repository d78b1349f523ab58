/** Trials: what the machine itself did on the floor, logged, and held against what was told. */
import "./trials.css";
import { later } from "../later";
import type { Station } from "../station";

export const TRIALS: Station = {
  name: "trials",
  label: "Trials",
  group: "Run",
  view: "plan",
  key: () => "on the floor",
  // Nothing of a plan is judged here: what the floor says stands in the log.
  told: () => false,
  Controls: later(() => import("./TrialsControls"), "TrialsControls"),
  Main: later(() => import("./TrialsMain"), "TrialsMain"),
  whole: true,
  strip: "none",
};
