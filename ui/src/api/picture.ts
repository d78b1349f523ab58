/** A plan as it comes over the wire: a JSON head and one buffer of 32-bit floats, read in place. */
import { fetched, type Project, posted } from "./client";

export interface Figure {
  name: string;
  label: string;
  value: number;
  unit: string;
  digits: number;
  working: string[];
  time_s: number | null;
}

export interface Finding {
  code: string;
  severity: "stop" | "warn" | "note";
  title: string;
  message: string;
  subject: string;
  where: { leg: string | null; joint: string | null; time_s: number | null };
}

export interface LegLayout {
  name: string;
  points: [number, number];
  joints: [number, number];
  joint_names: string[];
  role: "leg" | "support" | "arm";
  stroke_mm: number;
}

/** What is left under a foot at the top of its swing. */
export interface Budget {
  leg: string;
  height_mm: number;
  sag_mm: number;
  droop_mm: number;
  uneven_mm: number;
  left_mm: number;
  assumed: boolean;
}

interface Head {
  motion: string;
  kind: string;
  /** Whether it starts again where it ends. */
  repeats: boolean;
  balance: "static" | "dynamic";
  /** What it is made of, with the time each begins. */
  pieces: { name: string; start_s: number }[];
  /** Where feet were put down, in order: limb, x, y on the floor. */
  footprints: [number, number, number][];
  budgets: Budget[];
  cycle_s: number;
  samples: number;
  legs: LegLayout[];
  joint_limits_deg: [number, number][];
  joint_speed_deg_s: (number | null)[];
  worst: { margin_mm: number; time_s: number } | null;
  figures: Figure[];
  findings: Finding[];
  arrays: { name: string; shape: number[]; offset: number }[];
}

/** Arrays by name, flat, samples first; `width` gives the numbers per sample. */
export interface Picture extends Head {
  data: Record<string, Float32Array>;
  width: Record<string, number>;
}

export function decode(buffer: ArrayBuffer): Picture {
  const length = new DataView(buffer).getUint32(0, true);
  const head = JSON.parse(new TextDecoder().decode(new Uint8Array(buffer, 4, length))) as Head;
  const floats = new Float32Array(buffer, 4 + length);
  const data: Record<string, Float32Array> = {};
  const width: Record<string, number> = {};
  for (const { name, shape, offset } of head.arrays) {
    const size = shape.reduce((a, b) => a * b, 1);
    data[name] = floats.subarray(offset, offset + size);
    width[name] = shape.slice(1).reduce((a, b) => a * b, 1);
  }
  return { ...head, data, width };
}

export async function evaluateDraft(project: Project, motion: string): Promise<Picture> {
  const response = await fetched("/api/evaluate", posted({ project, motion }));
  return decode(await response.arrayBuffer());
}

export async function evaluateSaved(walker: number): Promise<Picture> {
  return decode(await (await fetched(`/api/walkers/${walker}/plan`)).arrayBuffer());
}

export function figure(picture: Picture | null, name: string): Figure | undefined {
  return picture?.figures.find((f) => f.name === name);
}

/** The sample that is on at a time. */
export function sampleAt(picture: Picture, time: number): number {
  const index = Math.floor((time / picture.cycle_s) * picture.samples + 1e-6);
  return Math.min(picture.samples - 1, Math.max(0, index));
}
