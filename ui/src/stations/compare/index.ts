/** Compare: two to four machines by the same figures. */

import "./compare.css";
import { later } from "../later";
import type { Station } from "../station";

export const COMPARE: Station = {
  name: "compare",
  label: "Compare",
  group: "Judge",
  view: "plan",
  key: () => "side by side",
  Controls: later(() => import("./CompareControls"), "CompareControls"),
  Main: later(() => import("./CompareMain"), "CompareMain"),
  whole: true,
  strip: "none",
};
