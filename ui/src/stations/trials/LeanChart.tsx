/** How it leans over one cycle: as told, dashed, and as its sensor told, with how far that spreads. */
import type { Schemas } from "@/api/client";
import { shown, withUnit } from "@/look/number";
import { across, LEFT, points, RIGHT, Times, TOLD } from "./overCycle";

const HEIGHT = 132;
const TOP = 24;
const BOTTOM = 20;
const SCALES = [1, 2, 3, 5, 7, 10, 15, 20];

interface Props {
  lean: Schemas["LeanView"];
  period: number;
  placed: boolean;
  width: number;
}

export function LeanChart({ lean, period, placed, width }: Props) {
  const reach = lean.seen.map((v, n) => Math.abs(v) + lean.spread[n]);
  const most = Math.max(0.5, ...reach, ...lean.told.map(Math.abs));
  const scale = SCALES.find((s) => s >= most) ?? Math.ceil(most / 10) * 10;
  const wide = width - TOLD;
  const y = (v: number) => TOP + ((scale - v) / (2 * scale)) * (HEIGHT - TOP - BOTTOM);
  const x = across(wide, lean.seen.length);
  const over = lean.seen.map((v, n) => v + lean.spread[n]);
  const under = lean.seen.map((v, n) => v - lean.spread[n]);
  const up = lean.way === "roll" ? "right side down" : "nose down";
  return (
    <svg width={width} height={HEIGHT} role="img" aria-label={`Its ${lean.way} over one cycle`} className="over-cycle">
      <text x={LEFT} y={15} className="title">
        {lean.way === "roll" ? "Roll" : "Pitch"}
        <tspan className="aside" dx={10}>
          up: {up} · dashed: {placed ? "told" : "told, anywhere in the cycle"}
        </tspan>
      </text>
      {[scale, 0, -scale].map((v) => (
        <g key={v}>
          <line x1={LEFT} x2={wide - RIGHT} y1={y(v)} y2={y(v)} />
          <text x={LEFT - 6} y={y(v) + 4} textAnchor="end">
            {withUnit(v, "°")}
          </text>
        </g>
      ))}
      <polygon className="spread" points={`${points(over, x, y)} ${points(under, x, y, true)}`} />
      <polyline className="told" points={points(lean.told, x, y)} />
      <polyline className="seen" points={points(lean.seen, x, y)}>
        <title>{`${shown(lean.seen_deg, 1)}° each way with the stride; ${shown(100 * lean.again)} % of it comes again`}</title>
      </polyline>
      <Times period={period} width={wide} y={HEIGHT - 5} />
      <text x={wide + 2} y={y(0) - 4}>
        ± {withUnit(lean.seen_deg, "°", 1)} a stride
      </text>
      <text x={wide + 2} y={y(0) + 11}>
        told ± {withUnit(lean.told_deg, "°", 1)}
      </text>
    </svg>
  );
}
