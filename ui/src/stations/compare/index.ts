/** Compare: two to four machines by the same figures. */

import type { Station } from "../station";
import { CompareControls } from "./CompareControls";
import { CompareMain } from "./CompareMain";

export const COMPARE: Station = {
  name: "compare",
  label: "Compare",
  group: "Judge",
  view: "plan",
  key: () => "side by side",
  Controls: CompareControls,
  Main: CompareMain,
  whole: true,
  strip: "none",
};
