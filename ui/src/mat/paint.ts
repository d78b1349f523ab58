/** Draws one instant of a plan into a prepared SVG, by setting attributes. Nothing here makes elements. */
import type { Picture } from "@/api/picture";
import { shown } from "@/look/number";
import type { Projection } from "./projection";

export function polyline(p: Projection, values: Float32Array, indices: Iterable<number>): string {
  let path = "";
  for (const i of indices) {
    const [x, y, z] = [values[i], values[i + 1], values[i + 2]];
    path += `${path ? "L" : "M"}${p.u(x, y, z).toFixed(1)} ${p.v(x, y, z).toFixed(1)}`;
  }
  return path;
}

function* range(from: number, count: number, stride: number): Iterable<number> {
  for (let i = 0; i < count; i++) yield from + i * stride;
}

/** Puts words into an element that holds nothing else, in place: its text is changed, no node is made anew. */
export function write(into: Element | null | undefined, words: string) {
  const text = into?.firstChild;
  if (!(text instanceof Text)) into?.replaceChildren(new Text(words));
  else if (text.data !== words) text.data = words;
}

/** Below the floor by more than this is no rounding, mm. */
const THROUGH_MM = -1;

/** From where a caster, wheel or skid stands up to the underside of the body: what holds it. */
function strutOf(p: Projection, picture: Picture, sample: number, foot: number): string {
  const { points, frame } = picture.data;
  const [from, to] = picture.sections[0].points;
  const start = sample * picture.width.frame + from * 3;
  const rim = (to - from) / 2;
  let z = 0;
  for (let k = 0; k < rim; k++) z += frame[start + k * 3 + 2] / rim;
  const [fx, fy, fz] = [points[foot], points[foot + 1], points[foot + 2]];
  if (fz >= z) return "";
  return `M${p.u(fx, fy, fz).toFixed(1)} ${p.v(fx, fy, fz).toFixed(1)}L${p.u(fx, fy, z).toFixed(1)} ${p.v(fx, fy, z).toFixed(1)}`;
}

function find(root: Element, selector: string): SVGElement | null {
  return root.querySelector(selector);
}

/** One instant: frame, legs, feet, polygon, centre of mass. */
export function paint(root: Element, picture: Picture, sample: number, p: Projection): void {
  const { data, width } = picture;
  const points = data.points;
  const base = sample * width.points;
  for (const [n, leg] of picture.legs.entries()) {
    const group = root.querySelector(`[data-leg="${n}"]`);
    if (!group) continue;
    const [from, to] = leg.points;
    const start = base + from * 3;
    const sole = start + (to - from - 1) * 3;
    const strut = leg.role === "support" ? strutOf(p, picture, sample, sole) : "";
    const d = polyline(p, points, range(start, to - from, 3)) + strut;
    // What ends under the floor does not stand there: it is drawn as what it is, a leg that does not reach.
    group.classList.toggle("astray", points[sole + 2] < THROUGH_MM);
    for (const path of group.querySelectorAll("path")) path.setAttribute("d", d);
    const circles = group.querySelectorAll("circle");
    for (let k = 0; k < circles.length; k++) {
      const i = start + k * 3;
      const circle = circles[k];
      circle.setAttribute("cx", p.u(points[i], points[i + 1], points[i + 2]).toFixed(1));
      circle.setAttribute("cy", p.v(points[i], points[i + 1], points[i + 2]).toFixed(1));
    }
    const down = data.contact[sample * picture.legs.length + n] > 0.5;
    group.classList.toggle("down", down);
    const label = group.querySelector("text");
    if (label) {
      const foot = start + (to - from - 1) * 3;
      const hip = start;
      const fu = p.u(points[foot], points[foot + 1], points[foot + 2]);
      const fv = p.v(points[foot], points[foot + 1], points[foot + 2]);
      const du = fu - p.u(points[hip], points[hip + 1], points[hip + 2]);
      const plan = p.view === "plan";
      label.setAttribute("x", (fu + (plan ? (du < 0 ? -13 : 13) : 0)).toFixed(1));
      label.setAttribute("y", (fv + (plan ? 5 : 20)).toFixed(1));
      label.setAttribute("text-anchor", plan ? (du < 0 ? "end" : "start") : "middle");
    }
  }
  const frames = root.querySelectorAll(".m-frame");
  const each = picture.sections.map((s) => outline(p, data.frame, sample * width.frame, s.points));
  for (const [n, path] of frames.entries()) path.setAttribute("d", frames.length > 1 ? (each[n] ?? "") : each.join(""));
  const soles = find(root, ".m-soles");
  if (soles) soles.setAttribute("d", solesOf(p, picture, sample));
  const nose = find(root, ".m-nose");
  if (nose) nose.setAttribute("d", noseOf(p, data.frame, sample * width.frame, picture.sections[0].points));
  paintSupport(root, picture, sample, p);
}

/** Soles and rims by their outlines, and the balls that feet stand on. */
function solesOf(p: Projection, picture: Picture, sample: number): string {
  const { data, width } = picture;
  let d = "";
  let at = sample * width.soles;
  for (const count of picture.soles) {
    d += `${polyline(p, data.soles, range(at, count, 3))}Z`;
    at += 3 * count;
  }
  for (const { points, round_mm } of picture.legs) {
    const r = round_mm * p.fit.scale;
    if (!r) continue;
    const i = sample * width.points + (points[1] - 1) * 3;
    const [x, y, z] = data.points.subarray(i, i + 3);
    const [u, v] = [p.u(x, y, z), p.v(x, y, z)].map((c) => c.toFixed(1));
    d += `M${u} ${v}m${-r} 0a${r} ${r} 0 1 0 ${2 * r} 0a${r} ${r} 0 1 0 ${-2 * r} 0Z`;
  }
  return d;
}

/** A section: from above its upper rim; else both rims, and a few edges between them. */
function outline(p: Projection, frame: Float32Array, start: number, [from, to]: number[]): string {
  const rim = (to - from) / 2;
  const low = start + from * 3;
  const high = low + rim * 3;
  const upper = `${polyline(p, frame, range(high, rim, 3))}Z`;
  if (p.view === "plan") return upper;
  let d = `${polyline(p, frame, range(low, rim, 3))}Z${upper}`;
  for (let k = 0; k < rim; k += Math.max(1, rim / 4)) d += polyline(p, frame, [low + k * 3, high + k * 3]);
  return d;
}

/** A small arrow on the front edge of the body's upper side. */
function noseOf(p: Projection, frame: Float32Array, start: number, [from, to]: number[]): string {
  const rim = (to - from) / 2;
  const high = start + (from + rim) * 3;
  const mean = (ks: number[], c: number) => ks.reduce((sum, k) => sum + frame[high + k * 3 + c], 0) / ks.length;
  // The rim begins right behind, or behind, and runs counter-clockwise: its front is half way round.
  const front = rim === 4 ? [1, 2] : [rim / 2];
  const all = Array.from({ length: rim }, (_, k) => k);
  const tip = [0, 1, 2].map((c) => mean(front, c));
  const middle = [0, 1, 2].map((c) => mean(all, c));
  const back = tip.map((v, c) => v + (middle[c] - v) * 0.24);
  const left = [-(tip[1] - middle[1]), tip[0] - middle[0], 0].map((v) => v * 0.16);
  const at = (v: number[]) => `${p.u(v[0], v[1], v[2]).toFixed(1)} ${p.v(v[0], v[1], v[2]).toFixed(1)}`;
  const wing = (side: number) => at(back.map((v, c) => v + side * left[c]));
  return `M${wing(1)}L${at(tip)}L${wing(-1)}`;
}

function paintSupport(root: Element, picture: Picture, sample: number, p: Projection): void {
  const { data, width } = picture;
  const polygon = find(root, ".m-polygon");
  if (polygon) {
    const count = data.polygon_count[sample];
    const start = sample * width.polygon;
    let path = "";
    for (let k = 0; k < count; k++) {
      const x = data.polygon[start + 2 * k];
      const y = data.polygon[start + 2 * k + 1];
      path += `${path ? "L" : "M"}${p.u(x, y, 0).toFixed(1)} ${p.v(x, y, 0).toFixed(1)}`;
    }
    polygon.setAttribute("d", path ? `${path}Z` : "");
  }
  const com = find(root, ".m-com");
  if (com) {
    const i = sample * 3;
    const at: Spot = [data.com[i], data.com[i + 1], data.com[i + 2]];
    const under = overFloor(picture, sample);
    const [u, v] = seen(p, p.view === "plan" ? under : at);
    com.setAttribute("transform", `translate(${u} ${v})`);
    paintPlumb(find(root, ".m-plumb"), data.plumb ? at : null, under, p);
    const margin = data.margin_mm[sample];
    // What lives by its timing is not judged by its margin.
    com.classList.toggle("outside", picture.balance === "static" && margin <= 0);
    write(com.querySelector("text"), `margin ${shown(margin, Math.abs(margin) < 9.95 ? 1 : 0)} mm`);
  }
}

type Spot = [number, number, number];

/** Where a plumb line from the centre of mass meets the floor: on a slope not under the upright. */
export function overFloor({ data }: Picture, sample: number): Spot {
  const { com, plumb } = data;
  return plumb ? [plumb[2 * sample], plumb[2 * sample + 1], 0] : [com[3 * sample], com[3 * sample + 1], 0];
}

function seen(p: Projection, at: Spot): [string, string] {
  return [p.u(...at).toFixed(1), p.v(...at).toFixed(1)];
}

/** From the centre of mass down to the floor, and through its foot a level line, square to it; on the plan from the foot
 * of the upright, which is uphill. at: null where the floor is level. */
function paintPlumb(group: Element | null, at: Spot | null, under: Spot, p: Projection): void {
  if (!group) return;
  const flat = p.view === "plan" || p.view === "orbit";
  const [low, floor] = seen(p, under);
  let [path, end] = ["", ["0", "0"]];
  if (at && flat) {
    end = seen(p, [at[0], at[1], 0]);
    path = `M${end.join(" ")}L${low} ${floor}`;
  } else if (at) {
    const [u, v] = seen(p, at);
    const along = [(Number(floor) - Number(v)) * LEVEL, (Number(low) - Number(u)) * LEVEL];
    const [left, right] = [-1, 1].map((way) => [Number(low) + way * along[0], Number(floor) - way * along[1]]);
    // The word stands where the line is above the floor.
    end = (left[1] < right[1] ? left : right).map(String);
    path = `M${u} ${v}L${low} ${floor}M${left.join(" ")}L${right.join(" ")}`;
  }
  group.querySelector("path")?.setAttribute("d", path);
  const text = group.querySelector("text");
  if (!text) return;
  write(text, path && !flat ? "level" : "");
  text.setAttribute("x", end[0]);
  text.setAttribute("y", String(Number(end[1]) - 8));
}

/** The level line is so long to each side, as a share of the plumb line. */
const LEVEL = 0.6;

/** The path of one leg's foot over the cycle. */
export function footTrace(picture: Picture, leg: number, p: Projection): string {
  const point = picture.legs[leg].points[1] - 1;
  const { points } = picture.data;
  const stride = picture.width.points;
  return `${polyline(p, points, range(point * 3, picture.samples, stride))}Z`;
}

/** The way of the centre of mass over the cycle, on the floor. */
export function comTrace(picture: Picture, p: Projection): string {
  const { com } = picture.data;
  let path = "";
  for (let k = 0; 3 * k < com.length; k++) {
    const at: Spot = p.view === "plan" ? overFloor(picture, k) : [com[3 * k], com[3 * k + 1], com[3 * k + 2]];
    path += `${path ? "L" : "M"}${seen(p, at).join(" ")}`;
  }
  return `${path}Z`;
}
