/** The way over the floor: the path of the body's middle, footprints in order, and where the walker is now. */
import { useEffect, useMemo, useRef } from "react";
import { type Picture, sampleAt } from "@/api/picture";
import { playhead } from "@/bench/playhead";
import { shown, withUnit } from "@/look/number";

const PAD = 54;

interface Props {
  picture: Picture;
  leg: string;
  width: number;
  height: number;
}

export function FloorMain({ picture, leg, width, height }: Props) {
  const here = useRef<SVGGElement>(null);
  const { travel } = picture.data;
  const drawing = useMemo(() => lay(picture, width, height), [picture, width, height]);
  const { u, v, scale, path, step } = drawing;
  useEffect(
    () =>
      playhead.subscribe((time) => {
        const k = sampleAt(picture, time) * 3;
        const turn = (-travel[k + 2] * 180) / Math.PI;
        here.current?.setAttribute(
          "transform",
          `translate(${u(travel[k], travel[k + 1]).toFixed(1)} ${v(travel[k], travel[k + 1]).toFixed(1)}) rotate(${turn.toFixed(1)})`,
        );
      }),
    [picture, travel, u, v],
  );
  const last = (picture.samples - 1) * 3;
  const names = picture.legs.map((l) => l.name);
  const many = picture.footprints.length > 80;
  return (
    <div className="floor-main" style={{ width, height }}>
      <svg width={width} height={height} role="img" aria-label={`Way of ${picture.motion} over the floor`}>
        <defs>
          <pattern
            id="floor-grid"
            x={u(0, 0)}
            y={v(0, 0)}
            width={step * scale}
            height={step * scale}
            patternUnits="userSpaceOnUse"
          >
            <path d={`M0 0H${step * scale}M0 0V${step * scale}`} className="m-grid-strong" />
          </pattern>
        </defs>
        <rect width={width} height={height} className="floor-mat" />
        <rect width={width} height={height} fill="url(#floor-grid)" />
        {picture.footprints.map(([limb, x, y], n) => (
          <g key={`${limb} ${n}`} className={names[limb] === leg ? "footprint chosen" : "footprint"}>
            <circle cx={u(x, y)} cy={v(x, y)} r={names[limb] === leg ? 4 : 2.6} />
            {!many && names[limb] === leg && (
              <text x={u(x, y) + 7} y={v(x, y) + 4}>
                {names[limb]}
              </text>
            )}
          </g>
        ))}
        <path className="floor-path" d={path} />
        <g className="floor-start">
          <circle cx={u(0, 0)} cy={v(0, 0)} r="5" />
          <text x={u(0, 0) + 9} y={v(0, 0) + 18}>
            start
          </text>
        </g>
        <g className="floor-here" ref={here}>
          <path d="M0 -15L10 11L0 6L-10 11Z" />
        </g>
      </svg>
      <p className="caption">
        The floor from above, {step} mm grid. Ends {shown(travel[last])} mm ahead, {shown(travel[last + 1])} mm left,
        turned {withUnit((travel[last + 2] * 180) / Math.PI, "°")}.
      </p>
    </div>
  );
}

/** Ahead is up on the page, left is left. */
function lay(picture: Picture, width: number, height: number) {
  const { travel } = picture.data;
  const xs = [0];
  const ys = [0];
  for (let k = 0; k < picture.samples; k++) {
    xs.push(travel[k * 3]);
    ys.push(travel[k * 3 + 1]);
  }
  for (const [, x, y] of picture.footprints) {
    xs.push(x);
    ys.push(y);
  }
  const [x0, x1, y0, y1] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
  const scale = Math.min((width - 2 * PAD) / Math.max(120, y1 - y0), (height - 2 * PAD) / Math.max(120, x1 - x0));
  const [mx, my] = [(x0 + x1) / 2, (y0 + y1) / 2];
  const u = (_x: number, y: number) => width / 2 - (y - my) * scale;
  const v = (x: number, _y: number) => height / 2 - (x - mx) * scale;
  const every = Math.max(1, Math.floor(picture.samples / 600));
  let path = "";
  for (let k = 0; k < picture.samples; k += every) {
    const [x, y] = [travel[k * 3], travel[k * 3 + 1]];
    path += `${path ? "L" : "M"}${u(x, y).toFixed(1)} ${v(x, y).toFixed(1)}`;
  }
  const step = [10, 50, 100, 250, 500, 1000, 2500].find((s) => s * scale >= 24) ?? 5000;
  return { u, v, scale, path, step };
}
