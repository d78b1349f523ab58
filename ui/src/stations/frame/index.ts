/** Frame: the machine's dimensions and masses. */

import "./frame.css";
import { figure } from "@/api/picture";
import { legsOf } from "@/bench/edits";
import { useBench } from "@/bench/state";
import { pick } from "@/bench/store";
import { mass } from "@/look/number";
import { dragGrips, foldGrips, massGrips, mountGrips, neutralGrip } from "@/mat/grips";
import { later } from "../later";
import type { Station } from "../station";
import { foldingBox } from "./foldingBox";
import { frameLines } from "./lines";

const carried = () => useBench.getState().picked.kind === "carried";

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
  onPick: (part, section) => {
    // Of the folded machine a limb is chosen on the drawing, and its angles stay in the column.
    if (carried()) return;
    pick(part === "link" ? "limb" : part === "joint" ? "joints" : part, section);
  },
  round: (project, picture, view) => (carried() ? foldingBox(project, picture, view) : null),
  grips: (scene) =>
    carried()
      ? foldGrips(scene)
      : [...massGrips(scene), ...dragGrips(scene), ...mountGrips(scene), ...neutralGrip(scene)],
  lines: (scene) => (carried() ? [] : frameLines(scene)),
};
