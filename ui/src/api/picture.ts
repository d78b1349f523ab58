/** A plan as it comes over the wire: a JSON head and one buffer of 32-bit floats, read in place. */
import { fetched, type Project, posted, type Schemas } from "./client";

type Head = Schemas["PictureHead"];

/** A figure; stale where it is from before the hand began to move, and was not asked for since. */
export type Figure = Schemas["FigureView"] & { stale?: boolean };
/** A finding; checking where it is from before the hand began to move, and was not asked for since. */
export type Finding = Schemas["FindingView"] & { checking?: boolean };
/** What is taken off under a foot; stale where its sag is from before. */
export type Clearance = Schemas["ClearanceView"] & { stale?: boolean };
export type LegLayout = Schemas["LegLayout"];

/** Arrays by name, flat, samples first; `width` gives the numbers per sample. */
export interface Picture extends Omit<Head, "figures" | "findings" | "clearances"> {
  clearances: Clearance[];
  figures: Figure[];
  findings: Finding[];
  /** Codes that are known from before alone. */
  checking: string[];
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
  return { ...head, checking: [], data, width };
}

export type Rest = "standing" | "folded";

/** With a station: only what it needs while a handle is dragged. With a rest: the machine at rest beside it. */
export async function evaluateDraft(
  project: Project,
  motion: string,
  station?: string,
  rest?: Rest | null,
): Promise<Picture> {
  const body = { project, motion, station: station ?? null, rest: rest ?? null };
  return decode(await (await fetched("/api/evaluate", posted(body))).arrayBuffer());
}

/** The machine at rest as a picture of one instant, with every foot down; null where none was asked for. */
export function atRest(picture: Picture): Picture | null {
  const { plumb: _, ...data } = picture.data;
  const { rest_points, rest_frame, rest_soles, rest_com } = data;
  if (!rest_points) return null;
  const none = new Float32Array(0);
  return {
    ...picture,
    samples: 1,
    data: {
      ...data,
      points: rest_points,
      frame: rest_frame,
      soles: rest_soles,
      com: rest_com,
      polygon: none,
      polygon_count: new Float32Array(1),
      contact: new Float32Array(picture.legs.length).fill(1),
      // Nobody judges a machine at rest by its margin.
      margin_mm: Float32Array.of(Number.NaN),
    },
  };
}

/** How far it sags is from before the hand began to move, where it was not asked for since. */
function withSag(fresh: Clearance, before: Picture): Clearance {
  if (fresh.sag_mm !== null) return fresh;
  const old = before.clearances.find((c) => c.leg === fresh.leg);
  return { ...fresh, sag_mm: old?.sag_mm ?? null, stale: true };
}

/** What was asked for anew, and what was not as it was before, marked so. */
export function over(before: Picture | null, fresh: Picture): Picture {
  if (fresh.whole || !before || before.motion !== fresh.motion) return fresh;
  const asked = (code: string) => code in fresh.judged;
  const figures = new Set(fresh.figures.map((f) => f.name));
  return {
    ...fresh,
    clearances: fresh.clearances.length ? fresh.clearances.map((c) => withSag(c, before)) : before.clearances,
    checking: Object.keys({ ...before.judged }).filter((code) => !asked(code)),
    judged: { ...before.judged, ...fresh.judged },
    findings: [
      ...fresh.findings,
      ...before.findings.filter((f) => !asked(f.code)).map((f) => ({ ...f, checking: true })),
    ],
    figures: [
      ...fresh.figures,
      ...before.figures.filter((f) => !figures.has(f.name)).map((f) => ({ ...f, stale: true })),
    ],
  };
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
