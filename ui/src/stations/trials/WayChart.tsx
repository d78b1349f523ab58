/** How far each trial of a motion got, as a share of what was told: in the band it does what its plan says. */
import { shown } from "@/look/number";
import type { Line } from "./log";

const LEFT = 44;
const RIGHT = 12;
const TOP = 26;
const BOTTOM = 30;
const MOST = 1.4;

export function WayChart({
  lines,
  motion,
  width,
  height,
}: {
  lines: Line[];
  motion: string;
  width: number;
  height: number;
}) {
  const told = lines.filter((line) => line.covered !== null).reverse();
  const floors = [...new Set(told.map((line) => line.trial.floor.toLowerCase()))];
  const x = (n: number) => LEFT + ((n + 0.5) / Math.max(1, told.length)) * (width - LEFT - RIGHT);
  const y = (share: number) => TOP + (1 - Math.min(MOST, Math.max(0, share)) / MOST) * (height - TOP - BOTTOM);
  return (
    <figure className="way-chart">
      <svg width={width} height={height} role="img" aria-label={`How far ${motion} got, trial by trial`}>
        <text x={LEFT} y={15} className="title">
          {motion}: how far it got of what was told
        </text>
        <rect x={LEFT} y={y(1.2)} width={width - LEFT - RIGHT} height={y(0.8) - y(1.2)} className="band" />
        {[0, 0.5, 1].map((share) => (
          <g key={share}>
            <line x1={LEFT} x2={width - RIGHT} y1={y(share)} y2={y(share)} />
            <text x={LEFT - 6} y={y(share) + 4} textAnchor="end">
              {shown(100 * share)} %
            </text>
          </g>
        ))}
        {floors.map((floor) => (
          <polyline
            key={floor}
            points={told
              .flatMap((line, n) =>
                line.trial.floor.toLowerCase() === floor ? [`${x(n)},${y(line.covered as number)}`] : [],
              )
              .join(" ")}
          />
        ))}
        {told.map((line, n) => {
          const [u, v] = [x(n), y(line.covered as number)];
          const fell = (line.trial.falls ?? 0) > 0;
          return (
            <g key={line.number} className={fell ? "dot fell" : "dot"}>
              <title>{`Trial ${line.number} on ${line.trial.floor}: ${shown(100 * (line.covered as number))} %`}</title>
              {line.trial.gives ? (
                <rect x={u - 5} y={v - 5} width={10} height={10} />
              ) : (
                <circle cx={u} cy={v} r={5.5} />
              )}
              <text x={u} y={height - 12} textAnchor="middle">
                {line.number}
              </text>
            </g>
          );
        })}
        {told.length === 0 && (
          <text x={LEFT + 10} y={y(0.5) - 6}>
            No trial of it says how far it got.
          </text>
        )}
      </svg>
      <figcaption>
        Round: hard floor; square: soft. {told.some((l) => (l.trial.falls ?? 0) > 0) && "Red: it fell. "}A line joins
        trials on one floor.
      </figcaption>
    </figure>
  );
}
