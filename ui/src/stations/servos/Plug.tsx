/** A board with its outputs in a row, and the one that the plug goes on to. */
import type { BenchView } from "./bench";

const WIDE = 560;
const HIGH = 330;

export function Plug({ board, channel }: { board: BenchView["boards"][number]; channel: number }) {
  const first = board.kind === "bus" ? 1 : 0;
  const used = Object.keys(board.places).map(Number);
  const count = board.kind === "bus" ? Math.max(8, ...used) : board.channels;
  const pitch = (WIDE - 60) / count;
  return (
    <svg
      className="limb-turned plug"
      viewBox={`0 0 ${WIDE} ${HIGH}`}
      role="img"
      aria-label={`${board.name}, ${board.kind === "bus" ? "address" : "channel"} ${channel} of ${count}`}
    >
      <rect className="board-edge" x={14} y={70} width={WIDE - 28} height={180} rx={8} />
      <text x={WIDE - 20} y={58} textAnchor="end">
        {board.name}
      </text>
      {Array.from({ length: count }, (_, k) => first + k).map((c, k) => {
        const x = 30 + k * pitch;
        const here = c === channel;
        return (
          <g key={c} className={here ? "pin here" : "pin"}>
            {[0, 1, 2].map((row) => (
              <rect key={row} x={x + pitch * 0.2} y={130 + row * 26} width={pitch * 0.6} height={18} rx={2} />
            ))}
            {(here || count <= 16) && (
              <text x={x + pitch / 2} y={230} textAnchor="middle">
                {c}
              </text>
            )}
            {here && <path className="arrow" d={`M${x + pitch / 2} 20V112M${x + pitch / 2 - 10} 98l10 14l10 -14`} />}
          </g>
        );
      })}
    </svg>
  );
}
