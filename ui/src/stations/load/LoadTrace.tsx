/** Over the cycle: what the servos of the chosen leg hold, how far they lag, what its foot carries and pushes, or what
 * the servos of each supply draw. */
import { useState } from "react";
import type { Picture } from "@/api/picture";
import { FewWays } from "@/controls/FewWays";

const WIDE = 300;
const HIGH = 104;
const LEFT = 38;
const DASHES = ["", "6 3", "2 3", "9 3 2 3", "1 2", "12 4", "4 4"];

type Way = "share" | "lag" | "foot" | "supply";
const WAYS = [
  ["share", "Held"],
  ["lag", "Lag"],
  ["foot", "Foot"],
  ["supply", "Supply"],
] as const;

interface Line {
  name: string;
  at: (k: number) => number;
}

interface Drawn {
  about: string;
  lines: Line[];
  /** Its limit, in the values' own unit; none where there is none. */
  limit?: number;
  said: (value: number) => string;
}

export function LoadTrace({ picture, leg, limit }: { picture: Picture; leg: string; limit: number }) {
  const [way, setWay] = useState<Way>("share");
  const drawn = drawnOf(picture, leg, limit, way);
  return (
    <>
      <FewWays label="Over the cycle" ways={WAYS} value={way} onValue={setWay} />
      <Trace picture={picture} {...drawn} />
    </>
  );
}

function drawnOf(picture: Picture, leg: string, limit: number, way: Way): Drawn {
  const { load, data } = picture;
  const servos = load?.servos ?? [];
  const own = servos.map((s, n) => ({ name: s.joint, n, limb: s.limb })).filter((s) => s.limb === leg);
  const of = (values: Float32Array) =>
    own.map(({ name, n }) => ({ name, at: (k: number) => Math.abs(values[k * servos.length + n]) }));
  if (way === "lag")
    return { about: `Lag of the servos of ${leg}`, lines: of(data.load_lag), said: (v) => `${Number(v.toFixed(1))}°` };
  if (way === "foot") {
    const feet = load?.feet ?? [];
    const f = feet.indexOf(leg);
    const part = (k: number, axis: number) => data.load_feet[3 * (k * feet.length + f) + axis];
    const lines = [
      { name: "carries", at: (k: number) => part(k, 2) },
      { name: "pushes", at: (k: number) => Math.hypot(part(k, 0), part(k, 1)) },
    ];
    return {
      about: `What the foot of ${leg} carries and pushes`,
      lines: f < 0 ? [] : lines,
      limit: load?.weight_n,
      said: (v) => `${Number(v.toFixed(1))} N`,
    };
  }
  if (way === "supply") {
    const supplies = load?.supplies ?? [];
    const gives = supplies.flatMap((s) => s.gives_a ?? []);
    return {
      about: "What the servos of each supply draw",
      lines: supplies.map((s, n) => ({
        name: s.name ?? "all servos",
        at: (k: number) => data.load_amperes[k * supplies.length + n],
      })),
      limit: gives.length ? Math.min(...gives) : undefined,
      said: (v) => `${Number(v.toFixed(1))} A`,
    };
  }
  return {
    about: `Share of the stall torque held by the servos of ${leg}`,
    lines: of(data.load_share),
    limit,
    said: (v) => `${Math.round(100 * v)} %`,
  };
}

function Trace({ picture, about, lines, limit, said }: Drawn & { picture: Picture }) {
  const { samples, cycle_s } = picture;
  const rows = Array.from({ length: samples }, (_, k) => k);
  const most = Math.max(...lines.flatMap(({ at }) => rows.map(at)), 1e-9);
  const top = Math.max(most, limit ?? most) * 1.12;
  const y = (value: number) => HIGH - 16 - (value / top) * (HIGH - 26);
  const x = (k: number) => LEFT + (k / Math.max(1, samples - 1)) * (WIDE - LEFT - 4);
  const mark = limit ?? most;
  return (
    <svg
      className="share-trace"
      viewBox={`0 0 ${WIDE} ${HIGH + 14 * Math.max(0, Math.ceil(lines.length / 3) - 1)}`}
      role="img"
      aria-label={`${about} over the cycle, ${said(most)} at most`}
    >
      <path className="axis" d={`M${LEFT} 6V${HIGH - 16}H${WIDE - 2}`} />
      <path className={limit === undefined ? "most" : "limit"} d={`M${LEFT} ${y(mark)}H${WIDE - 2}`} />
      <text x={LEFT - 4} y={y(mark) + 4} textAnchor="end">
        {said(mark)}
      </text>
      <text x={LEFT - 4} y={HIGH - 14} textAnchor="end">
        0
      </text>
      <text x={WIDE - 2} y={HIGH - 2} textAnchor="end">
        {shownSeconds(cycle_s)}
      </text>
      {lines.map(({ name, at }, row) => (
        <g key={name}>
          <polyline
            strokeDasharray={DASHES[row % DASHES.length]}
            points={rows.map((k) => `${x(k).toFixed(1)},${y(at(k)).toFixed(1)}`).join(" ")}
          />
          <path
            className="key"
            strokeDasharray={DASHES[row % DASHES.length]}
            d={`M${LEFT + (row % 3) * 86} ${HIGH - 5 + 14 * Math.floor(row / 3)}h22`}
          />
          <text x={LEFT + 26 + (row % 3) * 86} y={HIGH - 2 + 14 * Math.floor(row / 3)}>
            {name}
          </text>
        </g>
      ))}
    </svg>
  );
}

const shownSeconds = (value: number) => `${Number(value.toFixed(2))} s`;
