/** Timing: which leg is down when. The cycle strip is its drawing; its controls say the same in numbers. */
import type { Station } from "../station";
import { TimingControls } from "./TimingControls";

export const TIMING: Station = {
  name: "timing",
  label: "Timing",
  group: "Walk",
  view: "plan",
  gaitOnly: true,
  key: (_project, motion) => {
    if (!motion) return "";
    const duties = new Set(motion.legs.map((l) => l.duty));
    const gait = motion.gait.split("_")[0];
    return duties.size === 1 ? `${gait} · duty ${[...duties][0].toFixed(2)}` : gait;
  },
  Controls: TimingControls,
  traces: true,
};
