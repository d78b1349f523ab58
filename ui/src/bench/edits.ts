/** Edits of the draft that touch several fields: a leg and its mirror image, all legs alike. */
import { type AnyMotion, isGait, type Joint, type Limb, type Motion, type Project } from "@/api/client";

export function limbOf(project: Project, name: string): Limb | undefined {
  return project.walker.limbs.find((l) => l.name === name);
}

/** The limbs that step: with joints to step with and a foot to stand on. */
export function legsOf(project: Project): Limb[] {
  return project.walker.limbs.filter((l) => l.joints.length > 0 && l.feet.length > 0);
}

/** Where a leg's foot stands at mid-stance; its mount's place for a limb that does not step. */
export function neutralOf(limb: Limb): [number, number] {
  return limb.neutral_mm ?? [limb.mount.at_mm[0], limb.mount.at_mm[1]];
}

/** A joint's two ends in its own unit. */
export function endsOf(joint: Joint): { unit: "°" | "mm"; low: number; high: number } {
  return joint.kind === "slide"
    ? { unit: "mm", low: joint.min_mm, high: joint.max_mm }
    : { unit: "°", low: joint.min_deg, high: joint.max_deg };
}

/** Where a limb's joints begin among all joints. */
export function firstJoint(project: Project, limb: Limb): number {
  const before = project.walker.limbs.slice(0, project.walker.limbs.indexOf(limb));
  return before.reduce((n, l) => n + l.joints.length, 0);
}

/** Hold a joint of the folded machine at a value. */
export function setFolded(draft: Project, limb: string, joint: string, value: number) {
  const pose = draft.walker.folded;
  if (!pose) return;
  pose.joints = pose.joints.filter((a) => a.limb !== limb || a.joint !== joint);
  pose.joints.push({ limb, joint, value });
}

/** The leg across the body: mounted at the same x and the opposite y. */
export function mirrorOf(project: Project, limb: Limb): Limb | undefined {
  const [x, y] = limb.mount.at_mm;
  return project.walker.limbs.find(
    (l) => l !== limb && Math.abs(l.mount.at_mm[0] - x) < 1 && Math.abs(l.mount.at_mm[1] + y) < 1,
  );
}

export function setNeutral(project: Project, name: string, x: number, y: number, mirrored: boolean): void {
  const limb = limbOf(project, name);
  if (!limb) return;
  const other = mirrored ? mirrorOf(project, limb) : undefined;
  limb.neutral_mm = [x, y];
  if (other?.neutral_mm) other.neutral_mm = [x, -y];
}

export function setMount(project: Project, name: string, x: number, y: number, mirrored: boolean): void {
  const limb = limbOf(project, name);
  if (!limb) return;
  const other = mirrored ? mirrorOf(project, limb) : undefined;
  const z = limb.mount.at_mm[2];
  limb.mount.at_mm = [x, y, z];
  if (other) other.mount.at_mm = [x, -y, other.mount.at_mm[2]];
}

/** How high, which way round and with which toes a leg is mounted; its mirror image the other way round. */
export function setMountTurn(
  project: Project,
  name: string,
  what: "up" | "yaw" | "toe",
  value: number,
  mirrored: boolean,
): void {
  const limb = limbOf(project, name);
  if (!limb) return;
  const other = mirrored ? mirrorOf(project, limb) : undefined;
  for (const [one, sign] of [
    [limb, 1],
    [other, -1],
  ] as const) {
    if (!one) continue;
    if (what === "up") one.mount.at_mm[2] = value;
    else if (what === "yaw") one.mount.yaw_deg = sign * value;
    else one.toe_deg = sign * value;
  }
}

/** The offset from the first joint to the second, on every leg of the same family while legs are kept alike. */
export function setHipOffset(project: Project, name: string, axis: number, value: number, alike: boolean): void {
  const chosen = limbOf(project, name);
  for (const limb of project.walker.limbs)
    if (limb === chosen || (alike && limb.family === chosen?.family)) limb.hip_offset_mm[axis] = value;
}

/** A link's length, on every leg of the same family while legs are kept alike. */
export function setLink(project: Project, name: string, link: string, length: number, alike: boolean): void {
  const chosen = limbOf(project, name);
  for (const limb of project.walker.limbs) {
    if (limb !== chosen && !(alike && limb.family === chosen?.family)) continue;
    for (const part of limb.links) if (part.name === link) part.length_mm = length;
  }
}

/** A joint's stop, on every leg of the same family while legs are kept alike. On the other side a joint that turns over
 * in the mirror, as the catalogue says, has its other stop there, at the opposite angle. */
export function setJointLimit(
  project: Project,
  name: string,
  joint: string,
  end: "low" | "high",
  value: number,
  alike: boolean,
  turnsOver: boolean,
): void {
  const chosen = limbOf(project, name);
  for (const limb of project.walker.limbs) {
    if (limb !== chosen && !(alike && limb.family === chosen?.family)) continue;
    for (const part of limb.joints) {
      if (part.name !== joint) continue;
      if (part.kind === "slide") part[end === "low" ? "min_mm" : "max_mm"] = value;
      else {
        const across = turnsOver && chosen !== undefined && limb.mount.at_mm[1] * chosen.mount.at_mm[1] < 0;
        part[(end === "low") !== across ? "min_deg" : "max_deg"] = across ? 0 - value : value;
      }
    }
  }
}

export function setDuty(motion: Motion, duty: number): void {
  for (const leg of motion.legs) leg.duty = duty;
}

/** Phase of one leg; it is then no named gait any more. */
export function setPhase(motion: Motion, leg: string, phase: number): void {
  const timing = motion.legs.find((l) => l.limb === leg);
  if (!timing) return;
  timing.phase = (Math.round((((phase % 1) + 1) % 1) * 1e6) / 1e6) % 1;
  motion.gait = "custom";
}

/** A name not taken yet: the stem, or "Forward 2". */
export function freshMotion(project: Project, stem: string): string {
  const taken = new Set(project.motions.map((m) => m.name.toLowerCase()));
  if (!taken.has(stem.toLowerCase())) return stem;
  const root = stem.replace(/ \d+$/, "").slice(0, 54);
  let n = 2;
  while (taken.has(`${root} ${n}`.toLowerCase())) n++;
  return `${root} ${n}`;
}

/** Every place that names a motion, as something to read and to write. */
function references(draft: Project): { get: () => string | null; set: (name: string) => void }[] {
  const found: { get: () => string | null; set: (name: string) => void }[] = [];
  const add = <T extends object, K extends keyof T>(holder: T, key: K) =>
    found.push({
      get: () => holder[key] as string | null,
      set: (name) => {
        holder[key] = name as T[K];
      },
    });
  for (const m of draft.motions) {
    if (m.kind === "transition") {
      add(m.start, "motion");
      add(m.end, "motion");
    }
    if (m.kind === "programme") for (const part of m.parts) add(part, "motion");
    if (m.kind === "free_walk") add(m, "like");
  }
  for (const control of draft.controls) if (control.does === "motion") add(control, "target");
  for (const walked of draft.walked) add(walked, "motion");
  add(draft.start_up, "pose");
  add(draft.start_up, "fail_safe");
  return found;
}

/** Whether a motion is not itself made of others. */
export function isPlain(motion: AnyMotion): boolean {
  return motion.kind !== "transition" && motion.kind !== "programme" && motion.kind !== "free_walk";
}

/** The motion under another name; everything that names it follows. */
export function renameMotion(draft: Project, was: string, name: string): void {
  for (const reference of references(draft)) if (reference.get() === was) reference.set(name);
  const own = draft.motions.find((m) => m.name === was);
  if (own) own.name = name;
}

/** What is made of a motion, and would lose it with it. */
export function madeOf(project: Project, name: string): string[] {
  return project.motions
    .filter(
      (m) =>
        (m.kind === "transition" && [m.start.motion, m.end.motion].includes(name)) ||
        (m.kind === "programme" && m.parts.some((p) => p.motion === name)) ||
        (m.kind === "free_walk" && m.like === name),
    )
    .map((m) => m.name);
}

/** The walker without the motion, and without what hung on it outside of other motions. */
export function removeMotion(draft: Project, name: string): void {
  draft.motions = draft.motions.filter((m) => m.name !== name) as AnyMotion[];
  draft.controls = draft.controls.filter((c) => c.does !== "motion" || c.target !== name);
  draft.walked = draft.walked.filter((w) => w.motion !== name);
  if (draft.start_up.pose === name) draft.start_up.pose = null;
  if (draft.start_up.fail_safe === name) draft.start_up.fail_safe = null;
}

/** The first motion of a walker that has none: it stands, half as high as its legs are long. */
export function firstPose(project: Project): Motion {
  const legs = legsOf(project);
  const long = Math.max(60, ...legs.map((l) => l.links.reduce((sum, k) => sum + k.length_mm, 0)));
  return {
    kind: "phase_gait",
    name: freshMotion(project, "Stand"),
    gait: "custom",
    legs: legs.map((l) => ({ limb: l.name, phase: 0, duty: 1, lift_mm: null, foot_path: null })),
    cycle_s: 2,
    twist: { vx_mm_s: 0, vy_mm_s: 0, omega_deg_s: 0 },
    foot_path: "cycloid",
    lift_mm: Math.round(long / 10),
    swing: {
      points: [],
      lift_start_mm: null,
      lift_end_mm: null,
      early: 0,
      matched: false,
      landing_mm_s: 0,
      search_mm: 0,
    },
    pose: {
      ride_height_mm: Math.round(long / 2),
      shift_mm: [0, 0],
      roll_deg: 0,
      pitch_deg: 0,
      yaw_deg: 0,
      sway: [],
      bends: [],
    },
    pauses: [],
    joints: [],
    held: [],
    moves_of_arms: [],
    balance: "static",
    inverted: false,
    travel: "asked",
    steer_mm_m: 0,
  };
}

/** The gait of that name; where it is of another kind, the walker's first gait. */
export function gaitOf(project: Project, name: string): Motion | undefined {
  const motion = project.motions.find((m) => m.name === name);
  return isGait(motion) ? motion : project.motions.find(isGait);
}

/** A place that is no more: its servo is a spare, and nothing is wired or fitted there. */
export function unfit(draft: Project, place: string): void {
  const { electrics } = draft;
  for (const item of electrics.items) if (item.place === place) item.place = null;
  electrics.fitted = electrics.fitted.filter((f) => f.place !== place);
  electrics.seen = electrics.seen.filter((s) => s.place !== place && s.instead !== place);
  for (const board of electrics.boards) board.wires = board.wires.filter((w) => w.place !== place);
  for (const bank of electrics.banks) bank.places = bank.places.filter((p) => p !== place);
}
