/** Balance: does it stand at every instant, and what moves the body over its feet. */
import "./balance.css";
import { withUnit } from "@/look/number";
import { massGrips, rideGrip, shiftGrip, swayGrip } from "@/mat/grips";
import { later } from "../later";
import type { Station } from "../station";

export const BALANCE: Station = {
  name: "balance",
  label: "Balance",
  group: "Judge",
  view: "plan",
  gaitOnly: true,
  key: (_project, motion, picture) => {
    if (!picture) return "";
    if (motion?.balance === "dynamic") return "dynamic";
    const worst = picture.worst;
    if (!worst) return "no foot down";
    const digits = Math.abs(worst.margin_mm) < 9.95 ? 1 : 0;
    return `${withUnit(worst.margin_mm, "mm", digits)} at ${worst.time_s.toFixed(2)} s`;
  },
  Controls: later(() => import("./BalanceControls"), "BalanceControls"),
  grips: (scene) => [...massGrips(scene), ...shiftGrip(scene), ...swayGrip(scene), ...rideGrip(scene)],
  traces: true,
  margin: true,
};
