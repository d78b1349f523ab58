/** The handles that stations put on the drawing. */
import type { Project } from "@/api/client";
import { endsOf, firstJoint, limbOf, setFolded, setMount, setMountTurn, setNeutral } from "@/bench/edits";
import { useBench } from "@/bench/state";
import { edit, editMotion, pick } from "@/bench/store";
import { LEVERS } from "@/controls/levers";
import { withUnit } from "@/look/number";
import type { Scene } from "@/stations/station";
import type { Grip } from "./Handle";
import { type Projection, towards } from "./projection";

const whole = (value: number) => Math.round(value);

/** The chosen leg's foot at mid-stance, in plan. */
export function neutralGrip({ project, leg, mirrored, p }: Scene): Grip[] {
  const limb = limbOf(project, leg);
  if (!limb?.neutral_mm || p.view !== "plan") return [];
  const [x, y] = limb.neutral_mm;
  let from = [x, y];
  return [
    {
      id: "neutral",
      label: `Neutral foot position of ${leg}`,
      text: `${whole(x)} mm forward, ${whole(y)} mm left`,
      u: p.u(x, y, 0),
      v: p.v(x, y, 0),
      along: "both",
      take: () => {
        from = [x, y];
      },
      move: (dx, dy) => edit((draft) => setNeutral(draft, leg, whole(from[0] + dx), whole(from[1] + dy), mirrored)),
    },
  ];
}

/** Where the chosen leg is mounted, in plan, and which way it points. */
export function mountGrips(scene: Scene): Grip[] {
  const { project, leg, mirrored, p } = scene;
  const limb = limbOf(project, leg);
  if (!limb || p.view !== "plan") return [];
  const [mx, my, mz] = mountAt(scene);
  const [x, y] = limb.mount.at_mm;
  // A section that is bent turns with it what is mounted there.
  const bent = bentBy(scene, limb.section);
  const turn = (limb.mount.yaw_deg * Math.PI) / 180 + bent;
  const [tx, ty] = [mx + 34 * Math.cos(turn), my + 34 * Math.sin(turn)];
  let from = [x, y];
  let tip = [tx, ty];
  const half = (value: number) => Math.round(value * 2) / 2;
  return [
    {
      id: "mount",
      label: `Mount of ${leg}`,
      text: `${half(x)} mm forward, ${half(y)} mm left`,
      u: p.u(mx, my, mz),
      v: p.v(mx, my, mz),
      shape: "square",
      along: "both",
      take: () => {
        from = [x, y];
      },
      move: (dx, dy) => {
        const [ox, oy] = [dx * Math.cos(bent) + dy * Math.sin(bent), dy * Math.cos(bent) - dx * Math.sin(bent)];
        edit((draft) => setMount(draft, leg, half(from[0] + ox), half(from[1] + oy), mirrored));
      },
    },
    {
      id: "mount-turn",
      label: `Which way ${leg} points`,
      text: `${whole(limb.mount.yaw_deg)}° from straight ahead, to the left`,
      u: p.u(tx, ty, mz),
      v: p.v(tx, ty, mz),
      along: "both",
      take: () => {
        tip = [tx, ty];
      },
      move: (dx, dy) => {
        const yaw = ((Math.atan2(tip[1] + dy - my, tip[0] + dx - mx) - bent) * 180) / Math.PI;
        edit((draft) => setMountTurn(draft, leg, "yaw", whole(yaw), mirrored));
      },
    },
  ];
}

/** The body's height, in side and front view. */
export function rideGrip({ motion, p }: Scene): Grip[] {
  if (p.view !== "side" && p.view !== "front") return [];
  const height = motion.pose.ride_height_mm;
  let from = height;
  return [
    {
      id: "ride",
      label: "Ride height on the drawing",
      text: withUnit(height, "mm"),
      u: p.u(0, 0, height),
      v: p.v(0, 0, height),
      shape: "up",
      along: "vertical",
      take: () => {
        from = height;
      },
      move: (_dx, _dy, dz) =>
        editMotion((m) => {
          m.pose.ride_height_mm = Math.max(1, whole(from + dz));
        }),
    },
  ];
}

/** The top of the chosen leg's swing, in side and front view. */
export function liftGrip({ project, motion, leg, p }: Scene): Grip[] {
  const limb = limbOf(project, leg);
  if (!limb?.neutral_mm || (p.view !== "side" && p.view !== "front")) return [];
  const lift = motion.lift_mm;
  const [x, y] = limb.neutral_mm;
  let from = lift;
  return [
    {
      id: "lift",
      label: "Lift on the drawing",
      text: withUnit(lift, "mm"),
      u: p.u(x, y, lift),
      v: p.v(x, y, lift),
      shape: "up",
      along: "vertical",
      take: () => {
        from = lift;
      },
      move: (_dx, _dy, dz) =>
        editMotion((m) => {
          m.lift_mm = Math.max(0, whole(from + dz));
        }),
    },
  ];
}

/** The masses that ride on the body. */
export function massGrips(scene: Scene): Grip[] {
  return ridingGrips(
    scene,
    "mass",
    (draft) => draft.walker.masses,
    (mass) => `${whole(mass.mass_g)} g`,
  );
}

/** What drags, where it hangs on the body. */
export function dragGrips(scene: Scene): Grip[] {
  return ridingGrips(
    scene,
    "drag",
    (draft) => draft.walker.drags,
    (drag) => withUnit(drag.pull_n, "N"),
  );
}

function ridingGrips<T extends { name: string; on?: string; at_mm?: [number, number, number] }>(
  { project, motion, p }: Scene,
  kind: "mass" | "drag",
  listed: (project: Project) => T[],
  weighs: (thing: T) => string,
): Grip[] {
  if (p.view === "orbit") return [];
  const lift = motion.pose.ride_height_mm;
  return listed(project).flatMap((thing, index) => {
    if (thing.on !== "body" || !thing.at_mm) return [];
    const [x, y, z] = thing.at_mm;
    let from = [x, y, z];
    return [
      {
        id: `${kind}-${index}`,
        label: `${thing.name}, ${weighs(thing)}`,
        text: `${whole(x)} mm forward, ${whole(y)} mm left, ${whole(z)} mm up`,
        u: p.u(x, y, z + lift),
        v: p.v(x, y, z + lift),
        shape: kind === "mass" ? ("square" as const) : ("hook" as const),
        name: thing.name,
        along: "both" as const,
        take: () => {
          from = [x, y, z];
          if (useBench.getState().station === "frame") pick(kind, index);
        },
        move: (dx: number, dy: number, dz: number) =>
          edit((draft) => {
            listed(draft)[index].at_mm = [whole(from[0] + dx), whole(from[1] + dy), whole(from[2] + dz)];
          }),
      },
    ];
  });
}

/** Where the body stands over its feet, in plan: held by the middle of its back edge. */
export function shiftGrip({ project, motion, p }: Scene): Grip[] {
  if (p.view !== "plan") return [];
  const [x, y] = motion.pose.shift_mm;
  const back = x - project.walker.sections[0].size_mm[0] / 2;
  let from = [x, y];
  return [
    {
      id: "shift",
      label: "Body over its feet",
      text: `${whole(x)} mm forward, ${whole(y)} mm left`,
      u: p.u(back, y, 0),
      v: p.v(back, y, 0),
      along: "both",
      take: () => {
        from = [...motion.pose.shift_mm];
      },
      move: (dx, dy) =>
        editMotion((m) => {
          m.pose.shift_mm = [whole(from[0] + dx), whole(from[1] + dy)];
        }),
    },
  ];
}

/** Where the chosen limb's mount is on the drawing. */
export function mountAt({ picture, leg }: Scene): [number, number, number] {
  const layout = picture.legs.find((l) => l.name === leg);
  const i = (layout?.points[0] ?? 0) * 3;
  const [x, y, z] = picture.data.points.subarray(i, i + 3);
  return [x, y, z];
}

/** How far a section is turned about the upright on the drawing, rad to the left: by its rim's first edge. */
function bentBy({ project, picture }: Scene, name: string): number {
  const section = picture.sections.find((s) => s.name === name);
  const shape = project.walker.sections.find((s) => s.name === name)?.shape;
  if (!section) return 0;
  const at = (k: number) => picture.data.frame.subarray((section.points[0] + k) * 3);
  // Of a box the first edge points ahead; of a round its first point and the one across from it do.
  const [one, two] = [at(0), at(shape === "round" ? (section.points[1] - section.points[0]) / 4 : 1)];
  return Math.atan2(two[1] - one[1], two[0] - one[0]);
}

export function screen(p: Projection, at: [number, number, number]): [number, number] {
  return [p.u(...at), p.v(...at)];
}

/** The control points of the chosen leg's path, in side view, over its step as seen from the travel frame. */
export function pathGrips({ project, motion, picture, leg, p }: Scene): Grip[] {
  const limb = limbOf(project, leg);
  const points = motion.swing.points ?? [];
  if (!limb?.neutral_mm || p.view !== "side" || !points.length) return [];
  const stroke = picture.legs.find((l) => l.name === leg)?.stroke_mm ?? 0;
  const way = (motion.twist.vx_mm_s ?? 0) < 0 ? -1 : 1;
  const [x, y] = limb.neutral_mm;
  const span = Math.max(10, stroke) * way;
  const lift = Math.max(1, motion.lift_mm);
  return points.map(([along, height], n) => {
    const at: [number, number, number] = [x - span / 2 + along * span, y, height * lift];
    let from = [along, height];
    return {
      id: `path-${n}`,
      label: `Point ${n + 1} of the foot path`,
      text: `${along.toFixed(2)} of the way, ${height.toFixed(2)} of the lift`,
      u: p.u(...at),
      v: p.v(...at),
      name: `${n + 1}`,
      along: "both" as const,
      take: () => {
        from = [along, height];
      },
      move: (dx: number, _dy: number, dz: number) =>
        editMotion((m) => {
          const put = (value: number, low: number, high: number) =>
            Math.round(Math.min(high, Math.max(low, value)) * 100) / 100;
          m.swing.points[n] = [put(from[0] + dx / span, -2, 3), put(from[1] + dz / lift, 0, 4)];
        }),
    };
  });
}

/** The chosen limb's joints on the drawing of the folded machine: each turned by the end of what it carries. */
export function foldGrips({ project, picture, leg, p }: Scene): Grip[] {
  const { rest_joints, rest_axes, rest_joints_deg } = picture.data;
  const limb = limbOf(project, leg);
  const pose = project.walker.folded;
  if (!limb || !pose || !rest_axes || p.view === "orbit") return [];
  const first = firstJoint(project, limb);
  const [ahead, left, up] = towards(p.view);
  const count = rest_axes.length / 3;
  const held: Grip[] = [];
  limb.joints.forEach((joint, n) => {
    const at = (values: Float32Array, k: number) => [...values.subarray(3 * k, 3 * k + 3)] as Vector;
    const [centre, tip, axis] = [
      at(rest_joints, first + n),
      at(rest_joints, count + first + n),
      at(rest_axes, first + n),
    ];
    const off = less(tip, centre);
    const slides = joint.kind === "slide";
    // Seen along its axis a joint can be turned by hand, seen across it a slide be pushed.
    const faced = Math.abs(axis[0] * ahead + axis[1] * left + axis[2] * up);
    if (!dot(off, off) || (slides ? faced > 0.8 : faced < 0.4)) return;
    const place: [number, number] = [p.u(...tip), p.v(...tip)];
    if (held.some((g) => Math.hypot(g.u - place[0], g.v - place[1]) < 12)) return;
    const { low, high, unit } = endsOf(joint);
    const now = rest_joints_deg[first + n];
    let from = now;
    held.push({
      id: `fold-${joint.name}`,
      label: `${limb.name} ${joint.name}, folded, on the drawing`,
      text: withUnit(whole(now), unit),
      u: place[0],
      v: place[1],
      along: "both",
      take: () => {
        from = now;
      },
      move: (dx, dy, dz) => {
        const by = slides ? dot([dx, dy, dz], axis) : turnedBy(off, [off[0] + dx, off[1] + dy, off[2] + dz], axis);
        const value = Math.min(high, Math.max(low, whole(from + by)));
        edit((draft) => setFolded(draft, limb.name, joint.name, value));
      },
    });
  });
  return held;
}

type Vector = [number, number, number];
const less = (a: Vector, b: Vector): Vector => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
const dot = (a: Vector, b: Vector) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];

/** By how many degrees about the axis the hand went from one place to the other. */
function turnedBy(from: Vector, to: Vector, axis: Vector): number {
  const flat = (v: Vector): Vector => {
    const along = dot(v, axis);
    return [v[0] - along * axis[0], v[1] - along * axis[1], v[2] - along * axis[2]];
  };
  const [a, b] = [flat(from), flat(to)];
  const cross: Vector = [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]];
  return (Math.atan2(dot(cross, axis), dot(a, b)) * 180) / Math.PI;
}

/** How far the body sways, in plan: the corner of the rectangle it keeps within. */
export function swayGrip({ project, motion, p }: Scene): Grip[] {
  if (p.view !== "plan" || motion.legs.every((l) => l.duty === 1)) return [];
  const [sx, sy] = motion.pose.shift_mm;
  const [x, y] = [LEVERS.sway_x.read(motion, project), LEVERS.sway_y.read(motion, project)];
  let from = [x, y];
  const half = (value: number) => Math.max(0, Math.round(value * 2) / 2);
  return [
    {
      id: "sway",
      label: "Sway of the body",
      text: `${half(y)} mm sideways, ${half(x)} mm fore and aft`,
      u: p.u(sx + x, sy + y, 0),
      v: p.v(sx + x, sy + y, 0),
      name: "sway",
      along: "both",
      take: () => {
        from = [x, y];
      },
      move: (dx, dy) =>
        editMotion((m, draft) => {
          LEVERS.sway_x.write(m, half(from[0] + dx), draft);
          LEVERS.sway_y.write(m, half(from[1] + dy), draft);
        }),
    },
  ];
}
