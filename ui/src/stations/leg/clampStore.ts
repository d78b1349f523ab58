/** The leg on the clamp: where its foot is held, what the server says of it, and which view is the main one. */

import { create } from "zustand";
import { fetched, type Motion, type Project, posted, type Schemas } from "@/api/client";
import { limbOf } from "@/bench/edits";
import { inWords } from "@/bench/holding";

export type LegView = Schemas["LegView"];
export type ClampView = "side" | "plan" | "front";
export type SoleTurn = Schemas["SoleTurn"];
export type LineView = Schemas["LineView"];
type Place = [number, number, number];

interface Clamp {
  limb: string;
  foot: Place | null;
  /** How the sole is asked to lie; only soles that follow their leg heed it. */
  sole: SoleTurn;
  view: ClampView;
  state: LegView | null;
  refusal: string | null;
  working: boolean;
  line: LineView | null;
  /** A leg just taken, whose best view is not chosen yet. */
  fresh: boolean;
}

export const useClamp = create<Clamp>(() => ({
  limb: "",
  foot: null,
  sole: { toe_deg: 0, pitch_deg: 0, roll_deg: 0 },
  view: "side",
  state: null,
  refusal: null,
  working: false,
  line: null,
  fresh: true,
}));

const get = useClamp.getState;
const set = useClamp.setState;

/** Where the foot stands at mid-stance, in the body frame. */
export function stanceOf(project: Project, motion: Motion, leg: string): Place {
  const limb = limbOf(project, leg);
  const [x, y] = limb?.neutral_mm ?? [0, 0];
  const [sx, sy] = motion.pose.shift_mm;
  return [x - sx, y - sy, -motion.pose.ride_height_mm];
}

interface Job {
  project: Project;
  limb: string;
  foot_mm: Place;
  sole: SoleTurn;
  views: ClampView[];
}

let running = false;
let waiting: Job | null = null;

/** One request in flight, one waiting, the latest wins. Slices that were not asked for stay as they were. */
export function ask(project: Project, limb: string, foot: Place, views: ClampView[]): void {
  waiting = { project, limb, foot_mm: foot, sole: get().sole, views };
  if (!running) void run();
}

/** The view that shows the leg's own plane: from the front for legs that reach sideways, from the side for others. */
function bestView(state: LegView): ClampView {
  const across = (k: number) => {
    const values = state.points.map((p) => p[k]);
    return Math.max(...values) - Math.min(...values);
  };
  return across(1) > across(0) + 1 ? "front" : "side";
}

async function run(): Promise<void> {
  running = true;
  while (waiting) {
    const job: Job = waiting;
    waiting = null;
    try {
      const answer = await fetched("/api/clamp", posted(job));
      const state = (await answer.json()) as LegView;
      const before = get().state;
      if (before && before.limb === state.limb)
        state.slices = [...state.slices, ...before.slices.filter((s) => !job.views.includes(s.plane))];
      set({ state, refusal: null, ...(get().fresh ? { view: bestView(state), fresh: false } : {}) });
    } catch (error) {
      if (!waiting) set({ refusal: inWords(error) });
    }
  }
  running = false;
}

/** Hold the foot somewhere; while dragging the reach is left as it was. */
export function hold(project: Project, foot: Place, dragging: boolean): void {
  set({ foot, line: null });
  ask(project, get().limb, foot, dragging ? [] : ["side", "plan", "front"]);
}

export function takeLeg(project: Project, motion: Motion, limb: string): void {
  const foot = stanceOf(project, motion, limb);
  const same = get().state?.limb === limb;
  const sole = { toe_deg: limbOf(project, limb)?.toe_deg ?? 0, pitch_deg: 0, roll_deg: 0 };
  set({ limb, foot, sole, line: null, state: same ? get().state : null, fresh: !same });
  ask(project, limb, foot, ["side", "plan", "front"]);
}

/** Turn the sole to a slope, or its toes aside. */
export function turnSole(project: Project, sole: SoleTurn): void {
  const { limb, foot } = get();
  set({ sole, line: null });
  if (foot) ask(project, limb, foot, ["side", "plan", "front"]);
}

/** The draft has changed under the foot: ask again for the same place. */
export function askAgain(project: Project): void {
  const { limb, foot } = get();
  if (foot && limbOf(project, limb)) ask(project, limb, foot, ["side", "plan", "front"]);
}
