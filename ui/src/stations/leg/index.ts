/** Leg: one leg on the clamp, its reach, its levers and its working. */

import "./leg.css";
import { limbOf } from "@/bench/edits";
import { useBench } from "@/bench/state";
import { later } from "../later";
import type { Station } from "../station";

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
  Controls: later(() => import("./LegControls"), "LegControls"),
  Main: later(() => import("./LegMain"), "LegMain"),
  whole: true,
  strip: "none",
};
