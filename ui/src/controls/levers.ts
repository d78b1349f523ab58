/** The sliders' reading and writing of the draft; names and meaning as the server's levers. */
import { setDuty } from "@/bench/edits";
import type { LeverSpec } from "./LeverSlider";

export const LEVERS = {
  vx: {
    name: "vx",
    label: "Speed forward",
    unit: "mm/s",
    low: -200,
    high: 250,
    step: 1,
    typed: [-3000, 3000],
    read: (m) => m.twist.vx_mm_s,
    write: (m, v) => {
      m.twist.vx_mm_s = v;
    },
  },
  vy: {
    name: "vy",
    label: "Speed left",
    unit: "mm/s",
    low: -150,
    high: 150,
    step: 1,
    typed: [-3000, 3000],
    read: (m) => m.twist.vy_mm_s,
    write: (m, v) => {
      m.twist.vy_mm_s = v;
    },
  },
  omega: {
    name: "omega",
    label: "Turn left",
    unit: "°/s",
    low: -60,
    high: 60,
    step: 0.5,
    typed: [-720, 720],
    read: (m) => m.twist.omega_deg_s,
    write: (m, v) => {
      m.twist.omega_deg_s = v;
    },
  },
  cycle: {
    name: "cycle",
    label: "Cycle time",
    unit: "s",
    low: 0.2,
    high: 6,
    step: 0.02,
    typed: [0.1, 60],
    read: (m) => m.cycle_s,
    write: (m, v) => {
      m.cycle_s = v;
    },
  },
  lift: {
    name: "lift",
    label: "Lift",
    unit: "mm",
    low: 0,
    high: 80,
    step: 1,
    typed: [0, 1000],
    read: (m) => m.lift_mm,
    write: (m, v) => {
      m.lift_mm = v;
    },
  },
  duty: {
    name: "duty",
    label: "Duty, all legs",
    unit: "",
    low: 0.4,
    high: 0.96,
    step: 0.01,
    typed: [0.05, 0.99],
    read: (m) => m.legs.reduce((sum, leg) => sum + leg.duty, 0) / m.legs.length,
    write: setDuty,
  },
  ride_height: {
    name: "ride_height",
    label: "Ride height",
    unit: "mm",
    low: 20,
    high: 260,
    step: 1,
    typed: [1, 3000],
    read: (m) => m.pose.ride_height_mm,
    write: (m, v) => {
      m.pose.ride_height_mm = v;
    },
  },
  shift_x: {
    name: "shift_x",
    label: "Body forward",
    unit: "mm",
    low: -60,
    high: 60,
    step: 1,
    typed: [-3000, 3000],
    read: (m) => m.pose.shift_mm[0],
    write: (m, v) => {
      m.pose.shift_mm[0] = v;
    },
  },
  shift_y: {
    name: "shift_y",
    label: "Body left",
    unit: "mm",
    low: -60,
    high: 60,
    step: 1,
    typed: [-3000, 3000],
    read: (m) => m.pose.shift_mm[1],
    write: (m, v) => {
      m.pose.shift_mm[1] = v;
    },
  },
  roll: {
    name: "roll",
    label: "Lean right",
    unit: "°",
    low: -20,
    high: 20,
    step: 0.5,
    typed: [-60, 60],
    read: (m) => m.pose.roll_deg,
    write: (m, v) => {
      m.pose.roll_deg = v;
    },
  },
  yaw: {
    name: "yaw",
    label: "Twist left",
    unit: "°",
    low: -20,
    high: 20,
    step: 0.5,
    typed: [-60, 60],
    read: (m) => m.pose.yaw_deg,
    write: (m, v) => {
      m.pose.yaw_deg = v;
    },
  },
  search: {
    name: "search",
    label: "Search depth",
    unit: "mm",
    low: 0,
    high: 40,
    step: 1,
    typed: [0, 500],
    read: (m) => m.swing?.search_mm ?? 0,
    write: (m, v) => {
      m.swing.search_mm = v;
    },
  },
  pitch: {
    name: "pitch",
    label: "Nose down",
    unit: "°",
    low: -20,
    high: 20,
    step: 0.5,
    typed: [-60, 60],
    read: (m) => m.pose.pitch_deg,
    write: (m, v) => {
      m.pose.pitch_deg = v;
    },
  },
} satisfies Record<string, LeverSpec>;
