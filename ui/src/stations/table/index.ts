/** Table: the rows the controller plays, each joint against its limits, and the download. */
import { figure } from "@/api/picture";
import type { Station } from "../station";
import { TableControls } from "./TableControls";
import { TableMain } from "./TableMain";

export const TABLE: Station = {
  name: "table",
  label: "Table",
  group: "Run",
  view: "side",
  key: (_project, _motion, picture) => {
    const rows = figure(picture, "rows");
    return rows ? `${rows.value} rows` : "";
  },
  Controls: TableControls,
  Main: TableMain,
};
