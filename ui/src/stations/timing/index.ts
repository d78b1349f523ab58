/** Timing: which leg is down when. The cycle strip is its drawing; its controls say the same in numbers. */
import type { Station } from "../station";
import { NextLeg } from "./NextLeg";
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
    return duties.size === 1 ? `${gait} · down ${Math.round([...duties][0] * 100)} %` : gait;
  },
  Controls: TimingControls,
  jobs: [{ name: "next-leg", label: "Which leg next", beside: true, Main: NextLeg }],
  traces: true,
  strip: "large",
};
