/** On the plan of a walk that lives by its timing: where its mass goes over the cycle, and where it pushes on the
 * floor, with both at the playhead. */
import { type Picture, sampleAt } from "@/api/picture";
import { shown } from "@/look/number";
import { usePainted } from "@/mat/usePainted";
import type { Scene } from "../station";

export function PushOverlay({ scene }: { scene: Scene }) {
  const drawn = usePainted(scene, draw);
  const { picture, p } = scene;
  if (!picture.data.push || p.view !== "plan") return null;
  return (
    <g className="m-push" ref={drawn}>
      <path className="mass-trail" d={trail(picture, scene, picture.data.com, 3)} />
      <path className="push-trail" d={trail(picture, scene, picture.data.push, 2)} />
      <path className="push-now" />
      <text />
    </g>
  );
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
  text.textContent =
    room >= 0 ? `pushes here, ${shown(room, 0)} mm inside` : `pushes here, ${shown(-room, 0)} mm outside`;
  text.classList.toggle("over", room < 0);
  text.setAttribute("x", String(u + 14));
  text.setAttribute("y", String(v - 10));
}
