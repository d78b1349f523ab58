/** Frame: the machine's dimensions and masses. */

import { figure } from "@/api/picture";
import { legsOf } from "@/bench/edits";
import { mass } from "@/look/number";
import { massGrips, mountGrips, neutralGrip } from "@/mat/grips";
import type { Station } from "../station";
import { FrameControls } from "./FrameControls";
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
  Controls: FrameControls,
  grips: (scene) => [...massGrips(scene), ...mountGrips(scene), ...neutralGrip(scene)],
  lines: frameLines,
};
