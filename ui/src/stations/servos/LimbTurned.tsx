/** One limb with every servo centred, and where it goes when one of them turns on: the view that shows most of it. */
import type { Servo } from "./bench";

const WIDE = 560;
const HIGH = 330;
const PAD = 60;

/** Across and up on the drawing, from a place of the body. */
function seen(view: Servo["view"], [x, y, z]: number[]): [number, number] {
  if (view === "side") return [x, z];
  if (view === "front") return [-y, z];
  return [-y, x];
}

const CALLED = { side: "from the left", front: "from behind", plan: "from above" };

export function LimbTurned({ servo, still = false }: { servo: Servo; still?: boolean }) {
  const was = servo.limb_mm.map((p) => seen(servo.view, p));
  const goes = (still ? servo.limb_mm : servo.turned_mm).map((p) => seen(servo.view, p));
  const all = [...was, ...goes];
  const [left, right] = [Math.min(...all.map((p) => p[0])), Math.max(...all.map((p) => p[0]))];
  const [low, high] = [Math.min(...all.map((p) => p[1])), Math.max(...all.map((p) => p[1]))];
  const scale = Math.min((WIDE - 2 * PAD) / Math.max(right - left, 40), (HIGH - 2 * PAD) / Math.max(high - low, 40));
  const put = ([a, b]: [number, number]) => [
    WIDE / 2 + (a - (left + right) / 2) * scale,
    HIGH / 2 - (b - (low + high) / 2) * scale,
  ];
  const line = (points: [number, number][]) =>
    points
      .map((p) =>
        put(p)
          .map((v) => v.toFixed(1))
          .join(","),
      )
      .join(" ");
  const [from, to] = [put(was[was.length - 1]), put(goes[goes.length - 1])];
  // Beside the foot, so that the arrow does not lie on the limb.
  const hip = put(was[0]);
  const out = [from[0] - hip[0], from[1] - hip[1]];
  const long = Math.hypot(...out) || 1;
  const aside = [(out[0] / long) * 26, (out[1] / long) * 26];
  return (
    <svg
      className="limb-turned"
      viewBox={`0 0 ${WIDE} ${HIGH}`}
      role="img"
      aria-label={`${still ? servo.place : servo.sees}, seen ${CALLED[servo.view]}`}
    >
      <defs>
        <marker id="goes" markerWidth="5" markerHeight="5" refX="3.4" refY="2.5" orient="auto">
          <path d="M0.5,0.5 L4,2.5 L0.5,4.5" fill="none" className="arrow" strokeWidth="1" />
        </marker>
      </defs>
      <polyline points={line(was)} className="was" />
      <polyline points={line(goes)} className="goes" />
      {goes.map((p, n) => {
        const [x, y] = put(p);
        // Joints have no name of their own here.
        return (
          <circle
            key={`joint ${n + 1}`}
            cx={x}
            cy={y}
            r={n === goes.length - 1 ? 10 : 7}
            className={n === goes.length - 1 ? "foot" : "joint"}
          />
        );
      })}
      {!still && (
        <line
          x1={from[0] + aside[0]}
          y1={from[1] + aside[1]}
          x2={to[0] + aside[0]}
          y2={to[1] + aside[1]}
          className="arrow"
          markerEnd="url(#goes)"
        />
      )}
      <text x={WIDE - 8} y={20} textAnchor="end">
        {CALLED[servo.view]}
      </text>
    </svg>
  );
}
