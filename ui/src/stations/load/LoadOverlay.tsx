/** On the drawing: what the floor does to each foot, what each servo of the chosen leg holds, where the pushing point
 * is, and the frame as it gives. */
import { sampleAt } from "@/api/picture";
import { shown } from "@/look/number";
import { write } from "@/mat/paint";
import { usePainted } from "@/mat/usePainted";
import type { Scene } from "../station";

/** The whole weight on one foot is an arrow so long. */
const WEIGHT_PX = 150;
const BAR = { wide: 9, high: 44 };
/** What it gives is a few tenths of a millimetre and of a degree: drawn so many times as large. */
const TIMES = 10;

export function LoadOverlay({ scene }: { scene: Scene }) {
  const drawn = usePainted(scene, draw);
  const { picture, leg } = scene;
  const load = picture.load;
  if (!load || load.not_told) return null;
  const own = load.servos.filter((s) => s.limb === leg);
  return (
    <g className="m-load" ref={drawn}>
      <path className="sagged" />
      <path className="carries" />
      <path className="pushes" />
      <path className="zmp" />
      {own.map((s) => (
        <g key={s.place} data-servo={s.place}>
          <rect className="bar" width={BAR.wide} height={BAR.high} />
          <rect className="taken" width={BAR.wide} />
          <text />
          <text className="joint" x={BAR.wide + 4} y={BAR.high - 18}>
            {s.joint}
          </text>
        </g>
      ))}
      <text className="sag-told" />
    </g>
  );
}

function draw(group: SVGGElement, { picture, leg, p }: Scene, time: number) {
  const { load, data, width, legs } = picture;
  if (!load || !data.load_feet) return;
  const k = sampleAt(picture, time);
  const points = data.points.subarray(k * width.points);
  const at = (n: number): [number, number, number] => [points[3 * n], points[3 * n + 1], points[3 * n + 2]];
  const flat = p.view === "plan";
  let [carries, pushes] = ["", ""];
  load.feet.forEach((name, f) => {
    const layout = legs.find((l) => l.name === name);
    if (!layout) return;
    const [fx, fy, fz] = data.load_feet.subarray(k * width.load_feet + 3 * f, k * width.load_feet + 3 * f + 3);
    const [x, y, z] = at(layout.points[1] - 1);
    const [u, v] = [p.u(x, y, z), p.v(x, y, z)];
    const scale = WEIGHT_PX / load.weight_n;
    if (fz < 0.01 * load.weight_n) return;
    if (flat) {
      const r = Math.sqrt(fz / load.weight_n) * 34;
      carries += `M${u - r} ${v}a${r} ${r} 0 1 0 ${2 * r} 0a${r} ${r} 0 1 0 ${-2 * r} 0`;
    } else {
      const top = v - fz * scale;
      carries += `M${u} ${v}V${top}M${u - 5} ${top + 7}L${u} ${top}L${u + 5} ${top + 7}`;
    }
    // Grip is small beside weight: three times as long.
    const [gu, gv] = [p.u(fx, fy, 0) - p.u(0, 0, 0), p.v(fx, fy, 0) - p.v(0, 0, 0)].map(
      (g) => (g / p.fit.scale) * scale * 3,
    );
    if (Math.hypot(gu, gv) > 2) pushes += `M${u} ${v}l${gu} ${gv}`;
  });
  put(group, ".carries", carries);
  put(group, ".pushes", pushes);
  const [zx, zy] = data.load_zmp.subarray(2 * k, 2 * k + 2);
  const [zu, zv] = [p.u(zx, zy, 0), p.v(zx, zy, 0)];
  put(group, ".zmp", `M${zu - 7} ${zv}L${zu} ${zv - 7}L${zu + 7} ${zv}L${zu} ${zv + 7}Z`);
  const [sag, sx, sy, sz, tx, ty, tz] = data.load_sag.subarray(7 * k, 7 * k + 7);
  const frame = data.frame.subarray(k * width.frame, k * width.frame + width.frame);
  let outline = "";
  // A section is two rims of as many points.
  for (const {
    points: [from, to],
  } of flat ? [] : picture.sections)
    for (let n = from; n < to; n++) {
      const rim = n === from || n === (from + to) / 2;
      const [x, y, z] = [frame[3 * n], frame[3 * n + 1], frame[3 * n + 2]];
      const gone: [number, number, number] = [
        x + TIMES * (sx + ty * z - tz * y),
        y + TIMES * (sy + tz * x - tx * z),
        z + TIMES * (sz + tx * y - ty * x),
      ];
      outline += `${rim ? "M" : "L"}${p.u(...gone)} ${p.v(...gone)}`;
    }
  put(group, ".sagged", outline);
  const told = group.querySelector(".sag-told");
  if (told) {
    write(told, flat ? "" : `gives ${shown(sag, 1)} mm under its weight, drawn × ${TIMES}`);
    told.setAttribute("x", "20");
    told.setAttribute("y", "44");
  }
  const layout = legs.find((l) => l.name === leg);
  if (!layout) return;
  let row = 0;
  const placed: [number, number][] = [];
  load.servos.forEach((servo, n) => {
    if (servo.limb !== leg) return;
    const own = group.querySelector(`[data-servo="${CSS.escape(servo.place)}"]`);
    const share = Math.abs(data.load_share[k * load.servos.length + n]);
    const [x, y, z] = at(Math.min(layout.points[0] + row, layout.points[1] - 1));
    // Those that would cover each other stand side by side.
    let [u, v] = [p.u(x, y, z) + 12, p.v(x, y, z) - BAR.high - 6];
    while (placed.some(([a, b]) => Math.abs(a - u) < 62 && Math.abs(b - v) < BAR.high + 8)) u += 62;
    placed.push([u, v]);
    own?.setAttribute("transform", `translate(${u} ${v})`);
    const high = Math.min(1, share) * BAR.high;
    const held = own?.querySelector(".taken");
    held?.setAttribute("y", String(BAR.high - high));
    held?.setAttribute("height", String(high));
    held?.classList.toggle("over", share > 1);
    const text = own?.querySelector("text");
    write(text, `${Math.round(100 * share)} %`);
    text?.setAttribute("x", String(BAR.wide + 4));
    text?.setAttribute("y", String(BAR.high - 2));
    row++;
  });
}

function put(group: SVGGElement, name: string, d: string) {
  group.querySelector(name)?.setAttribute("d", d);
}
