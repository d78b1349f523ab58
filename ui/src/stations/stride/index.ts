/** Stride: how far, how fast, how high. */
import { figure } from "@/api/picture";
import { withUnit } from "@/look/number";
import { liftGrip, neutralGrip, pathGrips, rideGrip } from "@/mat/grips";
import type { Station } from "../station";
import { StrideControls } from "./StrideControls";
import { SwingOverlay } from "./SwingOverlay";

export const STRIDE: Station = {
  name: "stride",
  label: "Stride",
  group: "Walk",
  view: "side",
  gaitOnly: true,
  key: (_project, motion, picture) => {
    const stride = figure(picture, "stride_mm");
    const turn = figure(picture, "turn_deg");
    if (stride && stride.value >= 0.5) return `stride ${withUnit(stride.value, "mm")}`;
    if (turn && Math.abs(turn.value) >= 0.05) return `turn ${withUnit(turn.value, "°", 1)}`;
    return motion ? `lift ${withUnit(motion.lift_mm, "mm")}` : "";
  },
  Controls: StrideControls,
  Overlay: SwingOverlay,
  grips: (scene) => [...neutralGrip(scene), ...rideGrip(scene), ...liftGrip(scene), ...pathGrips(scene)],
  traces: true,
};
