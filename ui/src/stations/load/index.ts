/** Load: what each foot carries, what each servo holds, and how far the machine gives. */
import "./load.css";
import { figure } from "@/api/picture";
import { later } from "../later";
import type { Station } from "../station";

export const LOAD: Station = {
  name: "load",
  label: "Load",
  group: "Judge",
  view: "side",
  key: (_project, _motion, picture) => {
    const held = figure(picture, "held_share");
    if (held) return `${Math.round(held.value)} % of a stall`;
    const along = figure(picture, "held_rms");
    return along ? `${Math.round(along.value)} % all along` : "not judged";
  },
  told: (picture) => Boolean(figure(picture, "held_share") ?? figure(picture, "held_rms")),
  Controls: later(() => import("./LoadControls"), "LoadControls"),
  Overlay: later(() => import("./LoadOverlay"), "LoadOverlay"),
};
