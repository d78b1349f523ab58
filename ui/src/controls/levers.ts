/** How sliders read and write the draft; what the levers are called and how far they go, the server says. */
import type { Motion, Project } from "@/api/client";
import { setDuty } from "@/bench/edits";

export interface LeverHand {
  read: (motion: Motion, draft: Project) => number;
  write: (motion: Motion, value: number, draft: Project) => void;
}

type Axis = "x" | "y" | "z";
type Term = Motion["pose"]["sway"][number];

/** The sway along an axis that a hand turns: the first term that has any; its usual harmonic where there is none. */
function termOf(motion: Motion, axis: Axis): Term | undefined {
  return motion.pose.sway.find((t) => t[`${axis}_cos_mm`] || t[`${axis}_sin_mm`]);
}

const NO_SWAY = { x_cos_mm: 0, x_sin_mm: 0, y_cos_mm: 0, y_sin_mm: 0, z_cos_mm: 0, z_sin_mm: 0 };

function swayOf(motion: Motion, axis: Axis): { far: number; when: number } {
  const term = termOf(motion, axis);
  const [c, s] = [term?.[`${axis}_cos_mm`] ?? 0, term?.[`${axis}_sin_mm`] ?? 0];
  const turn = Math.atan2(s, c) / (2 * Math.PI);
  return { far: Math.hypot(c, s), when: c || s ? (turn + 1) % 1 : (resting[axis] ?? 0) };
}

/** When a sway of nothing would be furthest, so that it is not forgotten as one goes through none. */
const resting: Partial<Record<Axis, number>> = {};

export function putSway(motion: Motion, axis: Axis, far: number, when: number): void {
  resting[axis] = when;
  const turn = 2 * Math.PI * when;
  const round = (v: number) => Math.round(v * 1000) / 1000;
  const put = { [`${axis}_cos_mm`]: round(far * Math.cos(turn)), [`${axis}_sin_mm`]: round(far * Math.sin(turn)) };
  const harmonic = termOf(motion, axis)?.harmonic ?? (axis === "z" ? 2 : 1);
  const own = motion.pose.sway.find((t) => t.harmonic === harmonic);
  if (own) Object.assign(own, put);
  else motion.pose.sway.push({ harmonic, ...NO_SWAY, ...put } as Term);
  motion.pose.sway = motion.pose.sway.filter((t) => Object.entries(t).some(([k, v]) => k !== "harmonic" && v !== 0));
}

function farthest(axis: Axis): LeverHand {
  return { read: (m) => swayOf(m, axis).far, write: (m, v) => putSway(m, axis, v, swayOf(m, axis).when) };
}

function whenFarthest(axis: Axis): LeverHand {
  return { read: (m) => swayOf(m, axis).when, write: (m, v) => putSway(m, axis, swayOf(m, axis).far, v % 1) };
}

export const LEVERS = {
  sway_y: farthest("y"),
  sway_y_at: whenFarthest("y"),
  sway_x: farthest("x"),
  sway_x_at: whenFarthest("x"),
  sway_z: farthest("z"),
  sway_z_at: whenFarthest("z"),
  vx: {
    read: (m) => m.twist.vx_mm_s,
    write: (m, v) => {
      m.twist.vx_mm_s = v;
    },
  },
  vy: {
    read: (m) => m.twist.vy_mm_s,
    write: (m, v) => {
      m.twist.vy_mm_s = v;
    },
  },
  omega: {
    read: (m) => m.twist.omega_deg_s,
    write: (m, v) => {
      m.twist.omega_deg_s = v;
    },
  },
  steer: {
    read: (m) => m.steer_mm_m ?? 0,
    write: (m, v) => {
      m.steer_mm_m = v;
    },
  },
  cycle: {
    read: (m) => m.cycle_s,
    write: (m, v) => {
      m.cycle_s = v;
    },
  },
  lift: {
    read: (m) => m.lift_mm,
    write: (m, v) => {
      m.lift_mm = v;
    },
  },
  duty: {
    read: (m) => m.legs.reduce((sum, leg) => sum + leg.duty, 0) / m.legs.length,
    write: setDuty,
  },
  ride_height: {
    read: (m) => m.pose.ride_height_mm,
    write: (m, v) => {
      m.pose.ride_height_mm = v;
    },
  },
  shift_x: {
    read: (m) => m.pose.shift_mm[0],
    write: (m, v) => {
      m.pose.shift_mm[0] = v;
    },
  },
  shift_y: {
    read: (m) => m.pose.shift_mm[1],
    write: (m, v) => {
      m.pose.shift_mm[1] = v;
    },
  },
  roll: {
    read: (m) => m.pose.roll_deg,
    write: (m, v) => {
      m.pose.roll_deg = v;
    },
  },
  yaw: {
    read: (m) => m.pose.yaw_deg,
    write: (m, v) => {
      m.pose.yaw_deg = v;
    },
  },
  search: {
    read: (m) => m.swing?.search_mm ?? 0,
    write: (m, v) => {
      m.swing.search_mm = v;
    },
  },
  slope: {
    read: (_, draft) => draft.floor.slope_deg,
    write: (_, v, draft) => {
      draft.floor.slope_deg = v;
    },
  },
  uphill: {
    read: (_, draft) => draft.floor.uphill_deg,
    write: (_, v, draft) => {
      draft.floor.uphill_deg = v;
    },
  },
  pitch: {
    read: (m) => m.pose.pitch_deg,
    write: (m, v) => {
      m.pose.pitch_deg = v;
    },
  },
} satisfies Record<string, LeverHand>;

/** Each sway, and when it is furthest. */
export const SWAYS = [
  { far: "sway_y", when: "sway_y_at" },
  { far: "sway_x", when: "sway_x_at" },
  { far: "sway_z", when: "sway_z_at" },
] as const;

export type LeverName = keyof typeof LEVERS;
