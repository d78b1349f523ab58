/** From the pack to the servos, and the part of it that is seen to now. */
import type { Schemas } from "@/api/client";

const PARTS = [
  ["pack", "pack"],
  ["fuse", "fuse"],
  ["switch", "stop switch"],
  ["regulator", "regulator"],
] as const;

export function SupplyLine({ part }: { part: NonNullable<Schemas["Card"]["part"]> }) {
  return (
    <svg
      className="limb-turned supply-line"
      viewBox="0 0 640 330"
      role="img"
      aria-label={`From the pack to the servos: the ${part}`}
    >
      <path className="wire" d="M70 130H600" />
      <path className={part === "ground" ? "wire here" : "wire"} d="M70 130V250H600M330 250V292" />
      {PARTS.map(([name, label], n) => (
        <g key={name} className={name === part ? "pin here" : "pin"}>
          <rect x={16 + n * 128} y={95} width={104} height={70} rx={6} />
          <text x={68 + n * 128} y={136} textAnchor="middle">
            {label}
          </text>
        </g>
      ))}
      <text x={602} y={120} textAnchor="end">
        servos
      </text>
      <text x={602} y={240} textAnchor="end">
        their ground
      </text>
      <text x={344} y={300}>
        logic ground
      </text>
    </svg>
  );
}
