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

export function DimensionField({ line, width, height }: { line: DimensionLine; width: number; height: number }) {
  const [x, y] = line.at ?? [(line.from[0] + line.to[0]) / 2, (line.from[1] + line.to[1]) / 2];
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
