/** Leg: one leg on the clamp, its reach, its levers and its working. */

import { limbOf } from "@/bench/edits";
import { useBench } from "@/bench/state";
import type { Station } from "../station";
import { LegControls } from "./LegControls";
import { LegMain } from "./LegMain";

export const LEG: Station = {
  name: "leg",
  label: "Leg",
  group: "Build",
  view: "side",
  key: (project) => {
    const limb = limbOf(project, useBench.getState().leg);
    if (!limb) return "";
    if (!limb.joints.length) return "a support, no joints";
    // As it is told for a starting shape: from the hip to the foot, without what leads aside to it.
    const long = limb.links.reduce((sum, link) => sum + (link.name === "hip" ? 0 : link.length_mm), 0);
    return `${limb.joints.length} joint${limb.joints.length === 1 ? "" : "s"} · ${Math.round(long)} mm`;
  },
  Controls: LegControls,
  Main: LegMain,
  whole: true,
  strip: "none",
};
