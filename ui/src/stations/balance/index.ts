/** Balance: does it stand at every instant, and what moves the body over its feet. */
import "./balance.css";
import { figure } from "@/api/picture";
import { withUnit } from "@/look/number";
import { massGrips, neutralGrip, rideGrip, shiftGrip, swayGrip } from "@/mat/grips";
import { later } from "../later";
import type { Station } from "../station";

export const BALANCE: Station = {
  name: "balance",
  label: "Balance",
  group: "Judge",
  view: "plan",
  gaitOnly: true,
  key: (_project, _motion, picture) => {
    if (!picture) return "";
    if (picture.balance === "dynamic") {
      const room = figure(picture, "pushing_room_mm");
      const lean = figure(picture, "lean_deg");
      const ahead = figure(picture, "pushing_ahead_mm");
      if (ahead) return `${withUnit(ahead.value, "mm", 0)} to toes`;
      if (room) return `${withUnit(room.value, "mm", 0)} inside soles`;
      return lean ? `leans ${withUnit(lean.value, "°", 1)}` : "dynamic";
    }
    const worst = picture.worst;
    if (!worst) return "no foot down";
    const digits = Math.abs(worst.margin_mm) < 9.95 ? 1 : 0;
    return `${withUnit(worst.margin_mm, "mm", digits)} at ${worst.time_s.toFixed(2)} s`;
  },
  Controls: later(() => import("./BalanceControls"), "BalanceControls"),
  Told: later(() => import("./BalanceTold"), "BalanceTold"),
  Overlay: later(() => import("./PushOverlay"), "PushOverlay"),
  grips: (scene) => [
    ...massGrips(scene),
    ...neutralGrip(scene),
    ...shiftGrip(scene),
    ...swayGrip(scene),
    ...rideGrip(scene),
  ],
  traces: true,
  margin: true,
};
