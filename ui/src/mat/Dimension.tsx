/** A dimension line whose number can be typed into. Drawn in SVG, its field laid over it in HTML. */
import { NumberBox } from "@/controls/NumberBox";

export interface DimensionLine {
  id: string;
  label: string;
  value: number;
  unit?: string;
  /** The two ends of the line on the mat, and where its number goes. */
  from: [number, number];
  to: [number, number];
  at?: [number, number];
  min: number;
  max: number;
  set(value: number): void;
}

const TICK = 5;

export function DimensionArrow({ line }: { line: DimensionLine }) {
  const [[x1, y1], [x2, y2]] = [line.from, line.to];
  const size = Math.hypot(x2 - x1, y2 - y1) || 1;
  const [nx, ny] = [(-(y2 - y1) / size) * TICK, ((x2 - x1) / size) * TICK];
  const d = `M${x1} ${y1}L${x2} ${y2}M${x1 - nx} ${y1 - ny}L${x1 + nx} ${y1 + ny}M${x2 - nx} ${y2 - ny}L${x2 + nx} ${y2 + ny}`;
  return <path className="m-dimension" d={d} />;
}

/** Of a number, with its unit. */
const [WIDE, HIGH] = [88, 26];

/** Where each line's number goes: below another's, where it would lie on that. */
export function numbersApart(lines: DimensionLine[]): Map<string, [number, number]> {
  const found = new Map<string, [number, number]>();
  for (const line of lines) {
    const [x, wanted] = line.at ?? [(line.from[0] + line.to[0]) / 2, (line.from[1] + line.to[1]) / 2];
    let y = wanted;
    const others = [...found.values()];
    for (let tried = 0; tried < others.length; tried++) {
      const under = others.find(([u, v]) => Math.abs(u - x) < WIDE && Math.abs(v - y) < HIGH);
      if (!under) break;
      y = under[1] + HIGH;
    }
    found.set(line.id, [x, y]);
  }
  return found;
}

interface FieldProps {
  line: DimensionLine;
  at: [number, number] | undefined;
  width: number;
  height: number;
}

export function DimensionField({ line, at, width, height }: FieldProps) {
  const [x, y] = at ?? line.from;
  const style = {
    left: Math.min(width - 44, Math.max(44, x)),
    top: Math.min(height - 14, Math.max(14, y)),
  };
  return (
    <div className="m-dimension-field" style={style}>
      <NumberBox
        id={`dim-${line.id}`}
        label={line.label}
        value={line.value}
        unit={line.unit ?? "mm"}
        step={0.5}
        min={line.min}
        max={line.max}
        onValue={line.set}
        quiet
      />
    </div>
  );
}
