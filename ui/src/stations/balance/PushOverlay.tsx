/** Of a walk that lives by its timing: on the plan, where its mass goes over the cycle and where it pushes on the floor,
 * with both at the playhead; from every side, the machine as it leans while it is on two feet. */
import { figure, type Picture, sampleAt } from "@/api/picture";
import { shown } from "@/look/number";
import { overFloor, write } from "@/mat/paint";
import { usePainted } from "@/mat/usePainted";
import type { Scene } from "../station";

export function PushOverlay({ scene }: { scene: Scene }) {
  return (
    <>
      <Pushes scene={scene} />
      <Halted scene={scene} />
      <Leans scene={scene} />
    </>
  );
}

function Leans({ scene }: { scene: Scene }) {
  const drawn = usePainted(scene, leaned);
  if (!scene.picture.data.lean || scene.p.view === "orbit") return null;
  return (
    <g className="m-lean" ref={drawn}>
      <path />
      <text x="14" y="44" />
    </g>
  );
}

/** The frame and the legs turned about the line between the two feet that stand. */
function leaned(group: SVGGElement, { picture, p }: Scene, time: number) {
  const { lean, frame, points } = picture.data;
  if (!lean) return;
  const k = sampleAt(picture, time);
  const [angle, px, py, ax, ay] = lean.subarray(5 * k, 5 * k + 5);
  const [c, s] = [Math.cos(-angle), Math.sin(-angle)];
  const put = (all: Float32Array, n: number, first: boolean) => {
    const [dx, dy, dz] = [all[3 * n] - px, all[3 * n + 1] - py, all[3 * n + 2]];
    const along = (ax * dx + ay * dy) * (1 - c);
    const at: [number, number, number] = [
      px + dx * c + ay * dz * s + ax * along,
      py + dy * c - ax * dz * s + ay * along,
      dz * c + (ax * dy - ay * dx) * s,
    ];
    return `${first ? "M" : "L"}${p.u(...at).toFixed(1)} ${p.v(...at).toFixed(1)}`;
  };
  let path = "";
  if (Math.abs(angle) > LEAST) {
    const rims = frame.subarray(k * picture.width.frame);
    for (const { points: ends } of picture.sections)
      for (let n = ends[0]; n < ends[1]; n++) path += put(rims, n, n === ends[0] || n === (ends[0] + ends[1]) / 2);
    const joints = points.subarray(k * picture.width.points);
    for (const { points: ends } of picture.legs)
      for (let n = ends[0]; n < ends[1]; n++) path += put(joints, n, n === ends[0]);
  }
  group.querySelector("path")?.setAttribute("d", path);
  write(group.querySelector("text"), path ? `leans ${shown((Math.abs(angle) * 180) / Math.PI, 1)}° here` : "");
}

/** Less is not seen, rad. */
const LEAST = 0.002;
// A letter of a label is about so wide, px.
const LETTER = 7.2;

function Pushes({ scene }: { scene: Scene }) {
  const drawn = usePainted(scene, draw);
  const { picture, p } = scene;
  if (!picture.data.push || p.view !== "plan") return null;
  return (
    <g className="m-push" ref={drawn}>
      <path className="mass-trail" d={massTrail(picture, scene)} />
      <path className="push-trail" d={trail(picture, scene, picture.data.push, 2)} />
      <path className="push-now" />
      <text />
    </g>
  );
}

/** Where the mass would come to rest, were it halted here: from its mark to there. */
function Halted({ scene }: { scene: Scene }) {
  const drawn = usePainted(scene, halted);
  if (!scene.picture.data.halted || scene.p.view !== "plan") return null;
  return (
    <g className="m-halted" ref={drawn}>
      <path />
      <text />
    </g>
  );
}

function halted(group: SVGGElement, { picture, p }: Scene, time: number) {
  const { halted: rests, halted_mm: rooms } = picture.data;
  if (!rests) return;
  const k = sampleAt(picture, time);
  const [x, y] = overFloor(picture, k);
  const [from, down] = [p.u(x, y, 0), p.v(x, y, 0)];
  const [u, v] = [p.u(rests[2 * k], rests[2 * k + 1], 0), p.v(rests[2 * k], rests[2 * k + 1], 0)];
  group.querySelector("path")?.setAttribute("d", `M${from} ${down}L${u} ${v}M${u - 6} ${v - 6}h12v12h-12Z`);
  const text = group.querySelector("text");
  if (!text) return;
  const room = rooms[k];
  write(text, `halted ${shown(room, Math.abs(room) < 9.95 ? 1 : 0)} mm`);
  text.classList.toggle("over", room < 0);
  // Under the margin, beside its mark.
  text.setAttribute("x", String(from + 15));
  text.setAttribute("y", String(down + 14));
}

function massTrail(picture: Picture, scene: Scene): string {
  const { plumb, com } = picture.data;
  return plumb ? trail(picture, scene, plumb, 2) : trail(picture, scene, com, 3);
}

function trail(picture: Picture, { p }: Scene, data: Float32Array, width: number): string {
  let path = "";
  for (let k = 0; k < picture.samples; k++) {
    const [x, y] = [data[k * width], data[k * width + 1]];
    path += `${path ? "L" : "M"}${p.u(x, y, 0).toFixed(1)} ${p.v(x, y, 0).toFixed(1)}`;
  }
  return path;
}

function draw(group: SVGGElement, { picture, p }: Scene, time: number) {
  const { push, push_room_mm: rooms } = picture.data;
  if (!push) return;
  const k = sampleAt(picture, time);
  const [u, v] = [p.u(push[2 * k], push[2 * k + 1], 0), p.v(push[2 * k], push[2 * k + 1], 0)];
  group.querySelector(".push-now")?.setAttribute("d", `M${u - 8} ${v}L${u} ${v - 8}L${u + 8} ${v}L${u} ${v + 8}Z`);
  const text = group.querySelector("text");
  if (!text) return;
  const room = rooms[k];
  // Of what rocks sideways over its soles' edges, toes and heels alone are told.
  const [within, beyond] = figure(picture, "pushing_ahead_mm")
    ? ["from toes and heels", "past toes or heels"]
    : ["inside", "outside"];
  const words = `pushes here, ${shown(Math.abs(room), 0)} mm ${room >= 0 ? within : beyond}`;
  write(text, words);
  text.classList.toggle("over", room < 0);
  // Towards the edge it is told on the other side, where there is room for the words.
  const edge = group.ownerSVGElement?.width.baseVal.value ?? Number.POSITIVE_INFINITY;
  const right = u + 14 + words.length * LETTER < edge;
  text.setAttribute("text-anchor", right ? "start" : "end");
  text.setAttribute("x", String(right ? u + 14 : u - 14));
  // Over the handles of the masses, which lie about on the same line.
  text.setAttribute("y", String(v - 28));
}
