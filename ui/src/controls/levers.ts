/** How sliders read and write the draft; what the levers are called and how far they go, the server says. */
import type { Motion, Project } from "@/api/client";
import { setDuty } from "@/bench/edits";

export interface LeverHand {
  read: (motion: Motion) => number;
  write: (motion: Motion, value: number, draft: Project) => void;
}

export const LEVERS = {
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
  pitch: {
    read: (m) => m.pose.pitch_deg,
    write: (m, v) => {
      m.pose.pitch_deg = v;
    },
  },
} satisfies Record<string, LeverHand>;

export type LeverName = keyof typeof LEVERS;
