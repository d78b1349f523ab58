/** Servos: which servo sits where, on which channel, turning which way; a list to tick off on the first evening. */
import "./servos.css";
import { later } from "../later";
import type { Station } from "../station";
import { JOBS } from "./jobs";

export const SERVOS: Station = {
  name: "servos",
  label: "Servos",
  group: "Build",
  view: "plan",
  key: (project) => {
    const places = project.walker.drives.reduce((sum, d) => sum + d.servos.length, 0);
    const seen = project.electrics.seen.filter((s) => s.saw === "as_told").length;
    return `${seen} of ${places} checked`;
  },
  Controls: later(() => import("./ServosControls"), "ServosControls"),
  Main: later(() => import("./Boards"), "Boards"),
  jobs: JOBS,
  whole: true,
  strip: "none",
};
