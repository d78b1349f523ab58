/** What is done on the bench: opening, editing, undoing, trying a remedy. */
import { produce } from "immer";
import {
  type AnyMotion,
  fetched,
  isGait,
  type Motion,
  type MotionOf,
  type Project,
  posted,
  type Remedy,
  type SavedWalker,
  type Schemas,
} from "@/api/client";
import { drawnOver, evaluateDraft, type Finding, over, type Picture, type Rest } from "@/api/picture";
import { newDraft } from "@/api/searches";
import { gaitOf } from "./edits";
import { evaluateLatest } from "./evaluator";
import { forget, withoutRefused } from "./holding";
import { playhead } from "./playhead";
import { saveDraft } from "./saver";
import { type Bench, type PickKind, useBench } from "./state";

const get = useBench.getState;
const set = useBench.setState;

/** Project as it was when the present drag or run of key presses began. */
let before: Project | null = null;

export function openWalker(saved: SavedWalker, motion: string | null, leg: string | null): void {
  const draft = saved.project;
  const names = draft.motions.map((m) => m.name);
  const legs = draft.walker.limbs.map((l) => l.name);
  before = null;
  const missing = [
    motion && !names.includes(motion) ? `no motion called ${motion}` : "",
    leg && !legs.includes(leg) ? `no limb called ${leg}` : "",
  ].filter(Boolean);
  set({
    saved,
    notice: missing.length ? `The address asked for what is not here: ${missing.join(", ")}.` : "",
    draft,
    motion: motion && names.includes(motion) ? motion : (names[0] ?? ""),
    leg: leg && legs.includes(leg) ? leg : (legs[0] ?? ""),
    picture: null,
    drawn: null,
    pictured: null,
    refusal: null,
    held: null,
    picked: { kind: "limb", index: 0 },
    ghost: null,
    settled: null,
    open: null,
    saveState: "saved",
    saveError: null,
    conflict: null,
    past: [],
    future: [],
  });
  evaluate();
}

export function closeWalker(): void {
  newDraft();
  playhead.stop();
  set({ saved: null, draft: null, picture: null, drawn: null, pictured: null, ghost: null, conflict: null });
}

/** Once the hand has rested for so long, everything is asked for. */
const REST_MS = 180;
let rest = 0;

/** Ask for the draft's plan: all of it, or while a hand moves what the open station shows. */
export function evaluate(glimpse = false): void {
  const { draft, motion, station } = get();
  window.clearTimeout(rest);
  rest = 0;
  set({ waiting: true });
  if (glimpse) rest = window.setTimeout(() => evaluate(), REST_MS);
  if (!draft || !motion) {
    set({ picture: null, drawn: null, pictured: null, waiting: false });
    return;
  }
  evaluateLatest({
    project: draft,
    motion,
    station: glimpse && station ? station : undefined,
    rest: restOf(draft),
    drawn: (fresh) => {
      const { picture } = get();
      set({ drawn: picture && drawnOver(picture, fresh) });
    },
    done: (fresh) => {
      const picture = over(get().picture, fresh);
      playhead.setCycle(picture.cycle_s, picture.samples);
      const { open } = get();
      // What is open stays open, where it is about another part of the machine by now too.
      const same = (f: Finding) => keyOf(f) === open;
      const alike = (f: Finding) => f.code === open?.split(" ")[0];
      const kept = picture.findings.find(same) ?? picture.findings.find(alike);
      const first = picture.findings[0];
      set({
        picture,
        drawn: null,
        pictured: draft,
        refusal: null,
        waiting: get().draft !== draft || glimpse,
        open: kept ? keyOf(kept) : first && first.severity === "stop" ? keyOf(first) : null,
      });
    },
    failed: (error) => {
      if (!get().dragging && takeBackRefused(error, draft)) return;
      set({ refusal: error.message, drawn: null, waiting: false });
    },
  });
}

/** At the frame one measures a machine that stands still, or is folded while its fold is what is picked. */
function restOf(draft: Project): Rest | null {
  const { station, picked } = get();
  if (station !== "frame" || !draft.motions.some(isGait)) return null;
  return picked.kind === "carried" && draft.walker.folded ? "folded" : "standing";
}

/** Whether the draft is now one without what was refused. */
export function takeBackRefused(error: Error, draft: Project): boolean {
  const { pictured, past, picture, motion } = get();
  if (get().draft !== draft) return true;
  const mended = withoutRefused(error, draft, pictured);
  if (!mended) return false;
  before = null;
  newDraft();
  const last = past.at(-1);
  const undone = last && JSON.stringify(last) === JSON.stringify(mended.draft);
  // What was open may be gone with what is taken back.
  const left = mended.draft.motions.map((m) => m.name);
  const open = [motion, picture?.motion ?? ""].find((name) => left.includes(name)) ?? left[0] ?? "";
  set({
    draft: mended.draft,
    motion: open,
    held: mended.held,
    refusal: null,
    past: undone ? past.slice(0, -1) : past,
    ghost: null,
  });
  evaluate();
  saveDraft();
  return true;
}

/** What is picked on the drawing of the frame. */
export function pick(kind: PickKind, index = 0): void {
  const was = get().picked;
  if (was.kind === kind && was.index === index) return;
  set({ picked: { kind, index } });
  if (kind === "carried" || was.kind === "carried") evaluate();
}

export function keyOf(finding: Finding): string {
  return `${finding.code} ${finding.subject}`;
}

/** Change the draft. The drawing follows at once; `commit` is called when the hand lets go. */
export function edit(change: (draft: Project) => void, commitNow = false): void {
  const { draft, picture } = get();
  if (!draft) return;
  const next = produce(draft, change);
  if (next === draft) {
    if (commitNow) commit();
    return;
  }
  if (!before) {
    before = draft;
    if (picture?.whole) set({ settled: picture });
  }
  newDraft();
  forget();
  set({ draft: next, saveState: "unsaved", ghost: null });
  evaluate(!commitNow);
  if (commitNow) commit();
}

/** Change the gait on screen: the open motion, or the walker's first gait where that is of another kind. */
export function editMotion(change: (motion: Motion, draft: Project) => void, commitNow = false): void {
  edit((draft) => {
    const motion = gaitOf(draft, get().motion);
    if (motion) change(motion, draft);
  }, commitNow);
}

/** Change the motion that is open, of whatever kind. */
export function editAny(change: (motion: AnyMotion, draft: Project) => void, commitNow = false): void {
  edit((draft) => {
    const motion = draft.motions.find((m) => m.name === get().motion);
    if (motion) change(motion, draft);
  }, commitNow);
}

/** A change of the open motion, if it is of that kind. */
export function editKind<K extends AnyMotion["kind"] & string>(
  kind: K,
  change: (motion: MotionOf<K>, draft: Project) => void,
): void {
  editAny((motion, draft) => {
    if (motion.kind === kind) change(motion as MotionOf<K>, draft);
  }, true);
}

/** A change of one leg that those like it follow, where legs are kept alike: the server says how. */
export async function editLeg(leg: string, change: (draft: Project) => void): Promise<void> {
  const was = get().draft;
  edit(change, !get().mirrored);
  if (!get().mirrored || !was) return;
  const own = get().draft;
  if (own === was) return;
  try {
    const body = { project: own, before: was, action: "follow", limb: leg };
    const answer = (await (await fetched("/api/frame", posted(body))).json()) as Schemas["EditedProject"];
    // Whatever has changed it meanwhile ends with a save of its own: half of that is none.
    if (get().draft !== own) return;
    edit((draft) => void Object.assign(draft, answer.project));
  } catch (error) {
    if (takeBackRefused(error as Error, own as Project)) return;
  }
  commit();
}

/** The hand let go: one step of undo, and a save. */
export function commit(): void {
  const { draft, past, picture } = get();
  set({ dragging: false });
  if (picture?.checking.length || rest) evaluate();
  if (!before || !draft) return;
  if (JSON.stringify(before) !== JSON.stringify(draft)) {
    set({ past: [...past.slice(-99), before], future: [] });
    saveDraft();
  } else if (get().saveState === "unsaved" && JSON.stringify(get().saved?.project) === JSON.stringify(draft)) {
    // Taken back to where it was by the same hand: there is nothing to save.
    set({ saveState: "saved" });
  }
  before = null;
}

export function replaceDraft(project: Project, motion?: string): void {
  edit((draft) => void Object.assign(draft, project));
  if (motion) chooseMotion(motion);
  commit();
}

export function undo(): void {
  travel("past", "future");
}

export function redo(): void {
  travel("future", "past");
}

function travel(from: "past" | "future", to: "past" | "future"): void {
  commit();
  const state = get();
  const project = state[from].at(-1);
  if (!project || !state.draft) return;
  newDraft();
  const still = project.motions.some((m) => m.name === state.motion);
  const legs = project.walker.limbs.map((l) => l.name);
  set({
    [from]: state[from].slice(0, -1),
    [to]: [...state[to], state.draft],
    draft: project,
    motion: still ? state.motion : (project.motions[0]?.name ?? ""),
    leg: legs.includes(state.leg) ? state.leg : (legs[0] ?? ""),
    ghost: null,
    settled: state.picture,
  } as Partial<Bench>);
  evaluate();
  saveDraft();
}

export function chooseMotion(name: string): void {
  set({ motion: name, ghost: null, open: null, settled: null });
  evaluate();
}

export function chooseLeg(name: string): void {
  set({ leg: name });
}

export function stepLeg(by: number): void {
  const names = get().draft?.walker.limbs.map((l) => l.name) ?? [];
  const at = names.indexOf(get().leg);
  if (names.length) set({ leg: names[(at + by + names.length) % names.length] });
}

export function openFinding(key: string | null): void {
  set({ open: key, ghost: null });
}

/** Move the playhead to the worst instant of the open finding, or of the margin. */
export function goToWorst(): void {
  const { picture, open } = get();
  const finding = picture?.findings.find((f) => keyOf(f) === open) ?? picture?.findings[0];
  const time = finding?.where.time_s ?? picture?.worst?.time_s;
  if (time === undefined || time === null) return;
  if (finding?.where.leg) set({ leg: finding.where.leg });
  playhead.stop();
  playhead.seek(time);
}

/** Show a plan that is not of the draft: what a drive pad asks for. The next evaluation takes its place. */
export function showPicture(picture: Picture): void {
  playhead.setCycle(picture.cycle_s, picture.samples);
  set({ picture, drawn: null });
}

let trial = 0;

/** Ghost what a remedy would make of the walk. */
export async function tryRemedy(remedy: Remedy): Promise<void> {
  const asked = ++trial;
  const picture = await evaluateDraft(remedy.project, get().motion);
  if (asked === trial) set({ ghost: { picture, title: remedy.title } });
}

export function dropGhost(): void {
  trial++;
  set({ ghost: null });
}

export function keepRemedy(remedy: Remedy): void {
  dropGhost();
  replaceDraft(remedy.project);
}
