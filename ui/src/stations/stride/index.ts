/** Stride: how far, how fast, how high. */
import "./stride.css";
import { figure } from "@/api/picture";
import { withUnit } from "@/look/number";
import { liftGrip, neutralGrip, pathGrips, rideGrip } from "@/mat/grips";
import { later } from "../later";
import type { Station } from "../station";

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
    return motion ? `lift ${withUnit(motion.lift_mm, "mm")}` : "no gait";
  },
  Controls: later(() => import("./StrideControls"), "StrideControls"),
  Overlay: later(() => import("./SwingOverlay"), "SwingOverlay"),
  grips: (scene) => [...neutralGrip(scene), ...rideGrip(scene), ...liftGrip(scene), ...pathGrips(scene)],
  traces: true,
};
