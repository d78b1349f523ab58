/** The share of its stall torque that each servo of the chosen leg holds over the cycle, with the limit. */
import type { Picture } from "@/api/picture";

const WIDE = 300;
const HIGH = 104;
const LEFT = 38;
const DASHES = ["", "6 3", "2 3", "9 3 2 3", "1 2", "12 4", "4 4"];

export function ShareTrace({ picture, leg, limit }: { picture: Picture; leg: string; limit: number }) {
  const { load, samples, cycle_s } = picture;
  const share = picture.data.load_share;
  const servos = load?.servos ?? [];
  const own = servos.map((s, n) => ({ ...s, n })).filter((s) => s.limb === leg);
  const at = (n: number, k: number) => Math.abs(share[k * servos.length + n]);
  const top = Math.max(limit * 1.15, ...own.flatMap(({ n }) => Array.from({ length: samples }, (_, k) => at(n, k))));
  const y = (value: number) => HIGH - 16 - (value / top) * (HIGH - 26);
  const x = (k: number) => LEFT + (k / Math.max(1, samples - 1)) * (WIDE - LEFT - 4);
  return (
    <svg
      className="share-trace"
      viewBox={`0 0 ${WIDE} ${HIGH + 14 * Math.max(0, Math.ceil(own.length / 3) - 1)}`}
      role="img"
      aria-label={`Share of the stall torque held by the servos of ${leg} over the cycle, ${Math.round(top * 100)} % at most`}
    >
      <path className="axis" d={`M${LEFT} 6V${HIGH - 16}H${WIDE - 2}`} />
      <path className="limit" d={`M${LEFT} ${y(limit)}H${WIDE - 2}`} />
      <text x={LEFT - 4} y={y(limit) + 4} textAnchor="end">
        {Math.round(limit * 100)} %
      </text>
      <text x={LEFT - 4} y={HIGH - 14} textAnchor="end">
        0
      </text>
      <text x={WIDE - 2} y={HIGH - 2} textAnchor="end">
        {shownSeconds(cycle_s)}
      </text>
      {own.map(({ n, place, joint }, row) => (
        <g key={place}>
          <polyline
            strokeDasharray={DASHES[row % DASHES.length]}
            points={Array.from({ length: samples }, (_, k) => `${x(k).toFixed(1)},${y(at(n, k)).toFixed(1)}`).join(" ")}
          />
          <path
            className="key"
            strokeDasharray={DASHES[row % DASHES.length]}
            d={`M${LEFT + (row % 3) * 86} ${HIGH - 5 + 14 * Math.floor(row / 3)}h22`}
          />
          <text x={LEFT + 26 + (row % 3) * 86} y={HIGH - 2 + 14 * Math.floor(row / 3)}>
            {joint}
          </text>
        </g>
      ))}
    </svg>
  );
}

const shownSeconds = (value: number) => `${Number(value.toFixed(2))} s`;
