/** Timing: which leg is down when. The cycle strip is its drawing; its controls say the same in numbers. */
import "./timing.css";
import { later } from "../later";
import type { Station } from "../station";

export const TIMING: Station = {
  name: "timing",
  label: "Timing",
  group: "Walk",
  view: "plan",
  gaitOnly: true,
  key: (_project, motion) => {
    if (!motion) return "no gait";
    if (motion.legs.every((l) => l.duty === 1)) return "stands";
    const duties = new Set(motion.legs.map((l) => l.duty));
    const gait = motion.gait.split("_")[0];
    // The number first: a long name is cut off.
    return duties.size === 1 ? `${Math.round([...duties][0] * 100)} % down, ${gait}` : gait;
  },
  Controls: later(() => import("./TimingControls"), "TimingControls"),
  jobs: [
    { name: "next-leg", label: "Which leg next", beside: true, Main: later(() => import("./NextLeg"), "NextLeg") },
  ],
  traces: true,
  strip: "large",
};
