/** What charts over one cycle share: where a place in it lies, a line through values, and the time below. */
import { withUnit } from "@/look/number";

export const LEFT = 46;
export const RIGHT = 10;
/** What is told of each line, beside it. */
export const TOLD = 124;

export function across(width: number, count: number): (n: number) => number {
  return (n) => LEFT + (n / count) * (width - LEFT - RIGHT);
}

/** A line through values over a cycle, its first again at the end; backwards for the far side of a band. */
export function points(values: number[], x: (n: number) => number, y: (v: number) => number, back = false): string {
  const found = [...values, values[0]].map((v, n) => `${x(n).toFixed(1)},${y(v).toFixed(1)}`);
  return (back ? found.reverse() : found).join(" ");
}

export function Times({ period, width, y }: { period: number; width: number; y: number }) {
  return [0, 0.25, 0.5, 0.75, 1].map((share) => (
    <text
      key={share}
      x={LEFT + share * (width - LEFT - RIGHT)}
      y={y}
      textAnchor={share === 1 ? "end" : share ? "middle" : "start"}
    >
      {withUnit(share * period, "s", share ? 2 : 0)}
    </text>
  ));
}
