/** What each foot's sensor reads over one cycle, over the stance that it is told, with the threshold between. */
import type { Schemas } from "@/api/client";
import { shown, withUnit } from "@/look/number";
import { across, LEFT, points, RIGHT, Times, TOLD } from "./overCycle";

const ROW = 40;
const TOP = 24;
const BOTTOM = 20;

interface Props {
  feet: Schemas["FootView"][];
  period: number;
  width: number;
}

export function FeetChart({ feet, period, width }: Props) {
  const height = TOP + feet.length * ROW + BOTTOM;
  const wide = width - TOLD;
  const x = across(wide, feet[0].seen.length);
  return (
    <svg width={width} height={height} role="img" aria-label="What the feet read over one cycle" className="over-cycle">
      <text x={LEFT} y={15} className="title">
        Feet
        <tspan className="aside" dx={10}>
          bars: told down
        </tspan>
      </text>
      <text x={wide + 2} y={15} className="aside">
        threshold · lands
      </text>
      {feet.map((foot, n) => (
        <Foot key={foot.limb} foot={foot} top={TOP + n * ROW} x={x} wide={wide} />
      ))}
      <Times period={period} width={wide} y={height - 5} />
    </svg>
  );
}

function Foot({
  foot,
  top,
  x,
  wide,
}: {
  foot: Schemas["FootView"];
  top: number;
  x: (n: number) => number;
  wide: number;
}) {
  const low = Math.min(...foot.seen, foot.threshold ?? Number.POSITIVE_INFINITY);
  const high = Math.max(...foot.seen, foot.threshold ?? Number.NEGATIVE_INFINITY);
  const y = (v: number) => top + ROW - 6 - ((v - low) / Math.max(high - low, 1e-9)) * (ROW - 12);
  const late = foot.lands_ms;
  return (
    <g>
      <text x={LEFT - 6} y={top + ROW / 2 + 4} textAnchor="end" className="limb">
        {foot.limb}
      </text>
      {spans(foot.down).map(([from, to]) => (
        <rect key={from} className="down" x={x(from)} y={top + 3} width={x(to) - x(from)} height={ROW - 6} />
      ))}
      {foot.threshold !== null && (
        <line className="threshold" x1={LEFT} x2={wide - RIGHT} y1={y(foot.threshold)} y2={y(foot.threshold)} />
      )}
      <polyline className="seen" points={points(foot.seen, x, y)} />
      <text x={wide + 2} y={top + ROW / 2 - 2}>
        {foot.threshold === null ? "none" : `${shown(foot.threshold)} ± ${shown(foot.off_by ?? 0)}`}
      </text>
      <text x={wide + 2} y={top + ROW / 2 + 13}>
        {late === null ? "–" : `${late >= 0.5 ? "+" : ""}${withUnit(late, "ms")}`}
      </text>
    </g>
  );
}

/** From … to, in places, of each run of what is so; the last may end with the cycle. */
function spans(flags: boolean[]): [number, number][] {
  const found: [number, number][] = [];
  flags.forEach((on, n) => {
    if (!on) return;
    if (n > 0 && flags[n - 1]) found[found.length - 1][1] = n + 1;
    else found.push([n, n + 1]);
  });
  return found;
}
