/** The frame's dimension lines, in the order a builder measures: body, mount, links, stance. */
import { limbOf, setLink, setMount, setNeutral } from "@/bench/edits";
import { edit } from "@/bench/store";
import type { DimensionLine } from "@/mat/Dimension";
import { mountAt, screen } from "@/mat/grips";
import type { Scene } from "../station";
import { resize } from "./resize";

export function frameLines(scene: Scene): DimensionLine[] {
  const { p } = scene;
  if (p.view === "plan") return [...bodyLines(scene), ...mountLines(scene), ...stanceLines(scene)];
  if (p.view === "side" || p.view === "front") return linkLines(scene);
  return [];
}

function bodyLines({ project, motion, leg, p }: Scene): DimensionLine[] {
  const size = project.walker.sections[0].size_mm;
  const [sx, sy] = motion.pose.shift_mm;
  const put = (axis: 0 | 1) => (value: number) => edit((draft) => resize(draft, 0, axis, value), true);
  const [l, w] = [size[0] / 2, size[1] / 2];
  const [u0, v0] = [p.u(sx + l, sy + w, 0), p.v(sx + l, sy + w, 0)];
  const [u1, v1] = [p.u(sx - l, sy - w, 0), p.v(sx - l, sy - w, 0)];
  const across = v1 + 26;
  // On the side away from the chosen leg, whose own lines need the room.
  const away = (limbOf(project, leg)?.mount.at_mm[1] ?? 0) >= 0 ? 1 : -1;
  const along = (away > 0 ? u1 : u0) + away * 18;
  return [
    {
      id: "length",
      label: "Body length",
      value: size[0],
      from: [along, v0],
      to: [along, v1],
      at: [along + away * 32, (v0 + v1) / 2 + 44],
      min: 1,
      max: 2000,
      set: put(0),
    },
    {
      id: "width",
      label: "Body width",
      value: size[1],
      from: [u0, across],
      to: [u1, across],
      at: [(u0 + u1) / 2, across + 15],
      min: 1,
      max: 2000,
      set: put(1),
    },
  ];
}

function mountLines(scene: Scene): DimensionLine[] {
  const { project, leg, mirrored, p } = scene;
  const limb = limbOf(project, leg);
  if (!limb) return [];
  const [x, y] = limb.mount.at_mm;
  const mount = mountAt(scene);
  const [u, v] = screen(p, mount);
  const [cu, cv] = screen(p, [mount[0] - x, mount[1] - y, mount[2]]);
  // Beside a line too short to stand beside, the leg itself would lie under the number.
  const short = Math.abs(v - cv) < 30;
  return [
    {
      id: "mount-x",
      label: `${leg} mount, forward`,
      value: x,
      from: [u, cv],
      to: [u, v],
      at: [u + (u < cu ? -38 : 38), short ? v + 34 : (v + cv) / 2],
      min: -1500,
      max: 1500,
      set: (value) => edit((draft) => setMount(draft, leg, value, y, mirrored), true),
    },
    {
      id: "mount-y",
      label: `${leg} mount, left`,
      value: y,
      from: [cu, v],
      to: [u, v],
      at: [(u + cu) / 2, v + (v > cv ? -15 : 15)],
      min: -1500,
      max: 1500,
      set: (value) => edit((draft) => setMount(draft, leg, x, value, mirrored), true),
    },
  ];
}

function stanceLines(scene: Scene): DimensionLine[] {
  const { project, leg, mirrored, p } = scene;
  const foot = limbOf(project, leg)?.neutral_mm;
  if (!foot) return [];
  const mount = mountAt(scene);
  const [dx, dy] = [foot[0] - mount[0], foot[1] - mount[1]];
  const out = Math.hypot(dx, dy);
  if (out < 1) return [];
  const from = screen(p, [mount[0], mount[1], 0]);
  const to = screen(p, [foot[0], foot[1], 0]);
  const size = Math.hypot(to[0] - from[0], to[1] - from[1]) || 1;
  const [nx, ny] = [(-(to[1] - from[1]) / size) * 20, ((to[0] - from[0]) / size) * 20];
  const side = ny > 0 ? -1 : 1;
  return [
    {
      id: "stance",
      label: `${leg} hip to foot`,
      value: Math.round(out * 10) / 10,
      from: [from[0] + side * nx, from[1] + side * ny],
      to: [to[0] + side * nx, to[1] + side * ny],
      at: [(from[0] + to[0]) / 2 + side * nx * 1.9, (from[1] + to[1]) / 2 + side * ny * 1.9],
      min: 1,
      max: 2000,
      set: (value) =>
        edit((draft) => {
          const k = value / out;
          const at = (v: number) => Math.round(v * 10) / 10;
          setNeutral(draft, leg, at(mount[0] + dx * k), at(mount[1] + dy * k), mirrored);
        }, true),
    },
  ];
}

/** Link lengths beside the links, in the plan's first sample of the chosen leg. */
function linkLines({ project, picture, leg, mirrored, p }: Scene): DimensionLine[] {
  const limb = limbOf(project, leg);
  const layout = picture.legs.find((l) => l.name === leg);
  if (!limb || !layout) return [];
  const at = (k: number): [number, number] => {
    const i = (layout.points[0] + k) * 3;
    const [x, y, z] = picture.data.points.subarray(i, i + 3);
    return [p.u(x, y, z), p.v(x, y, z)];
  };
  return limb.links.flatMap((link, k) => {
    const [from, to] = [at(k), at(k + 1)];
    const size = Math.hypot(to[0] - from[0], to[1] - from[1]);
    if (size < 14) return [];
    const [nx, ny] = [((to[1] - from[1]) / size) * 22, (-(to[0] - from[0]) / size) * 22];
    const side = ny > 0 ? -1 : 1;
    const ends = (end: [number, number]): [number, number] => [end[0] + side * nx, end[1] + side * ny];
    return [
      {
        id: `link-${link.name}`,
        label: `${leg} ${link.name}`,
        value: link.length_mm,
        from: ends(from),
        to: ends(to),
        at: [(from[0] + to[0]) / 2 + side * nx * 2.1, (from[1] + to[1]) / 2 + side * ny * 1.8] as [number, number],
        min: 0,
        max: 2000,
        set: (value: number) => edit((draft) => setLink(draft, leg, link.name, value, mirrored), true),
      },
    ];
  });
}
