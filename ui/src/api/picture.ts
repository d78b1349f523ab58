/** A plan as it comes over the wire: a JSON head and one buffer of 32-bit floats, read in place. */
import { fetched, type ProblemBody, type Project, posted, Refusal, type Schemas } from "./client";

type Head = Schemas["PictureHead"];
type DrawnHead = Schemas["DrawnHead"];

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

/** What is drawn of a plan, before anything of it is judged. */
export type Drawn = DrawnHead & Pick<Picture, "data" | "width">;

function unpacked<H extends DrawnHead>(buffer: ArrayBuffer): H & Pick<Picture, "data" | "width"> {
  const length = new DataView(buffer).getUint32(0, true);
  const head = JSON.parse(new TextDecoder().decode(new Uint8Array(buffer, 4, length))) as H;
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

export function decode(buffer: ArrayBuffer): Picture {
  return { ...unpacked<Head>(buffer), checking: [] };
}

export type Rest = "standing" | "folded";

/** With a station: only what it needs while a handle is dragged. With a rest: the machine at rest beside it. With
 * drawn: called with what is drawn as soon as that is there. */
export async function evaluateDraft(
  project: Project,
  motion: string,
  station?: string,
  rest?: Rest | null,
  drawn?: (drawn: Drawn) => void,
): Promise<Picture> {
  const body = { project, motion, station: station ?? null, rest: rest ?? null, drawn_first: drawn !== undefined };
  const answer = await fetched("/api/evaluate", posted(body));
  if (!drawn) return decode(await answer.arrayBuffer());
  const parts = partsOf(answer);
  const first = unpacked<DrawnHead>(await nextPart(parts));
  drawn(first);
  const told = decode(await nextPart(parts));
  return { ...told, data: { ...first.data, ...told.data }, width: { ...first.width, ...told.width } };
}

/** The next part of an answer; a problem that is told in its place is thrown. */
async function nextPart(parts: AsyncGenerator<Uint8Array<ArrayBuffer>>): Promise<ArrayBuffer> {
  const { value, done } = await parts.next().catch(() => ({ value: undefined, done: true }) as const);
  if (done || !value) throw new Error("Bustle's server does not answer. Is it still running?");
  // No head is as long as a brace in these bytes says.
  if (value[0] === "{".charCodeAt(0) && value[3] !== 0) {
    const problem = JSON.parse(new TextDecoder().decode(value)) as ProblemBody;
    throw new Refusal(problem.status, problem);
  }
  return value.buffer;
}

/** Parts of an answer that come one after the other, each with its length before it. */
async function* partsOf(answer: Response): AsyncGenerator<Uint8Array<ArrayBuffer>> {
  const reader = answer.body?.getReader();
  let held = new Uint8Array(0);
  while (reader) {
    const { value, done } = await reader.read();
    if (done) return;
    const more = new Uint8Array(held.length + value.length);
    more.set(held);
    more.set(value, held.length);
    held = more;
    for (;;) {
      const length = held.length < 4 ? 0 : new DataView(held.buffer).getUint32(0, true);
      if (held.length < 4 || held.length < 4 + length) break;
      yield held.slice(4, 4 + length);
      held = held.slice(4 + length);
    }
  }
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

/** What was drawn just now in a picture from before, while it is being judged; null where that is of another motion,
 * cut otherwise, or of other parts. */
export function drawnOver(before: Picture, drawn: Drawn): Picture | null {
  if (before.motion !== drawn.motion || before.samples !== drawn.samples) return null;
  const parts = ({ legs, sections, soles }: Drawn) =>
    JSON.stringify([legs.map((l) => [l.name, l.points]), sections, soles]);
  if (parts(before) !== parts(drawn)) return null;
  const data = { ...before.data, ...drawn.data };
  return { ...before, ...drawn, data, width: { ...before.width, ...drawn.width } };
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
