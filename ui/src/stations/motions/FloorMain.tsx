/** The way over the floor: the path of the body's middle, footprints in order, and where the walker is now. */
import { useEffect, useMemo, useRef } from "react";
import { type Picture, sampleAt } from "@/api/picture";
import { playhead } from "@/bench/playhead";
import { shown, withUnit } from "@/look/number";

const PAD = 40;

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
        if (here.current) stand(here.current, picture, k / 3, scale);
      }),
    [picture, travel, u, v, scale],
  );
  const last = (picture.samples - 1) * 3;
  const names = picture.legs.map((l) => l.name);
  const first = picture.footprints.find(([limb]) => names[limb] === leg);
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
          <path className="floor-frame" />
          {picture.legs.map((l, n) => (
            <g key={l.name} data-leg={n} className={l.name === leg ? "floor-leg chosen" : "floor-leg"}>
              <path />
              <circle r="3.2" />
            </g>
          ))}
          <path className="floor-nose" d="M0 -9L6 7L0 4L-6 7Z" />
        </g>
        {first && (
          <text className="footprint-name" x={u(first[1], first[2]) + 8} y={v(first[1], first[2]) + 4}>
            {leg}
          </text>
        )}
      </svg>
      <p className="caption">
        The floor from above, {step} mm grid. Ends {shown(travel[last])} mm ahead, {shown(travel[last + 1])} mm left,
        turned {withUnit((travel[last + 2] * 180) / Math.PI, "°")}.
      </p>
    </div>
  );
}

/** The walker where it is, in its own directions: ahead is up, left is left. */
function stand(group: SVGGElement, picture: Picture, k: number, scale: number): void {
  const { points, frame, contact } = picture.data;
  const place = (data: Float32Array, width: number, n: number) => {
    const at = k * width + n * 3;
    return `${(-data[at + 1] * scale).toFixed(1)} ${(-data[at] * scale).toFixed(1)}`;
  };
  const [from, to] = picture.sections[0].points;
  const corners = Array.from({ length: (to - from) / 2 }, (_, n) => place(frame, picture.width.frame, from + n));
  group.querySelector(".floor-frame")?.setAttribute("d", `M${corners.join("L")}Z`);
  for (const limb of group.querySelectorAll<SVGGElement>(".floor-leg")) {
    const n = Number(limb.dataset.leg);
    const [from, to] = picture.legs[n].points;
    const way = Array.from({ length: to - from }, (_, i) => place(points, picture.width.points, from + i));
    const [x, y] = way[way.length - 1].split(" ");
    limb.firstElementChild?.setAttribute("d", `M${way.join("L")}`);
    limb.lastElementChild?.setAttribute("cx", x);
    limb.lastElementChild?.setAttribute("cy", y);
    limb.classList.toggle("down", contact[k * picture.width.contact + n] > 0.5);
  }
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
  // The walker itself stands out over its way.
  const { points } = picture.data;
  let around = 0;
  for (let n = 0; n < picture.width.points; n += 3)
    around = Math.max(around, Math.abs(points[n]), Math.abs(points[n + 1]));
  for (let k = 0; k < picture.samples; k += Math.max(1, Math.floor(picture.samples / 200))) {
    xs.push(travel[k * 3] - around, travel[k * 3] + around);
    ys.push(travel[k * 3 + 1] - around, travel[k * 3 + 1] + around);
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
