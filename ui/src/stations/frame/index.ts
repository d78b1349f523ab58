/** Frame: the machine's dimensions and masses. */

import "./frame.css";
import { figure } from "@/api/picture";
import { legsOf } from "@/bench/edits";
import { useBench } from "@/bench/state";
import { pick } from "@/bench/store";
import { mass } from "@/look/number";
import { massGrips, mountGrips, neutralGrip } from "@/mat/grips";
import { later } from "../later";
import type { Station } from "../station";
import { frameLines } from "./lines";

export const FRAME: Station = {
  name: "frame",
  label: "Frame",
  group: "Build",
  view: "plan",
  key: (project, _motion, picture) => {
    const legs = `${legsOf(project).length} legs`;
    const weight = figure(picture, "mass_g");
    return weight ? `${legs} · ${mass(weight.value)}` : legs;
  },
  Controls: later(() => import("./FrameControls"), "FrameControls"),
  Overlay: later(() => import("./FrameOverlay"), "FrameOverlay"),
  still: true,
  strip: "none",
  onPick: (part, section) => pick(part === "link" ? "limb" : part === "joint" ? "joints" : part, section),
  grips: (scene) =>
    useBench.getState().picked.kind === "carried"
      ? []
      : [...massGrips(scene), ...mountGrips(scene), ...neutralGrip(scene)],
  lines: (scene) => (useBench.getState().picked.kind === "carried" ? [] : frameLines(scene)),
};
