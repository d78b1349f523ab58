/** Table: the rows the controller plays, each joint against its limits, and the download. */
import "./table.css";
import { figure } from "@/api/picture";
import { later } from "../later";
import type { Station } from "../station";

export const TABLE: Station = {
  name: "table",
  label: "Table",
  group: "Run",
  view: "side",
  key: (_project, _motion, picture) => {
    const rows = figure(picture, "rows");
    return rows ? `${rows.value} rows` : "";
  },
  Controls: later(() => import("./TableControls"), "TableControls"),
  Main: later(() => import("./TableMain"), "TableMain"),
};
