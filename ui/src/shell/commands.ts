/** Everything that can be done from the keyboard or the command list, in one place. */
import { playhead } from "@/bench/playhead";
import { type PickKind, useBench, type ViewName } from "@/bench/state";
import { chooseLeg, chooseMotion, goToWorst, pick, redo, stepLeg, undo } from "@/bench/store";
import { VIEW_LABELS } from "@/mat/projection";
import { STATIONS } from "@/stations";
import { takeAway } from "./FilesMenu";

export interface Command {
  label: string;
  keys?: string;
  run: () => void;
}

export type DialogName = "keys" | "palette" | "revisions" | "motions" | "note";

export interface Surroundings {
  goTo: (station: string, job?: string) => void;
  setView: (view: ViewName) => void;
  open: (dialog: DialogName) => void;
  home: () => void;
}

// Letters beyond twelve, of those that do nothing else.
const STATION_KEYS = "1234567890-=acdefg";

export function commands(around: Surroundings): Command[] {
  const { draft } = useBench.getState();
  return [
    { label: playhead.playing ? "Stop the playhead" : "Play the cycle", keys: "Space", run: () => playhead.toggle() },
    { label: "One sample back", keys: ",", run: () => playhead.step(-1) },
    { label: "One sample on", keys: ".", run: () => playhead.step(1) },
    { label: "Previous leg", keys: "PageUp", run: () => stepLeg(-1) },
    { label: "Next leg", keys: "PageDown", run: () => stepLeg(1) },
    { label: "Worst instant of the open finding", keys: "W", run: goToWorst },
    { label: "The evening's next step, at the bench", keys: "N", run: () => around.goTo("servos", "bench") },
    { label: "Undo", keys: "Ctrl Z", run: undo },
    { label: "Redo", keys: "Ctrl Y", run: redo },
    ...STATIONS.map((s, n) => ({
      label: `Station: ${s.label}`,
      keys: STATION_KEYS[n],
      run: () => around.goTo(s.name),
    })),
    ...STATIONS.flatMap((s) => (s.jobs ?? []).map((j) => ({ label: j.label, run: () => around.goTo(s.name, j.name) }))),
    ...(Object.keys(VIEW_LABELS) as ViewName[]).map((v) => ({
      label: `Main view: ${VIEW_LABELS[v]}`,
      run: () => around.setView(v),
    })),
    ...(draft?.motions ?? []).map((m) => ({ label: `Motion: ${m.name}`, run: () => chooseMotion(m.name) })),
    ...(draft?.walker.limbs ?? []).map((l) => ({ label: `Leg: ${l.name}`, run: () => chooseLeg(l.name) })),
    { label: "Revisions: name, compare, return to", run: () => around.open("revisions") },
    { label: "Note on this walker", run: () => around.open("note") },
    { label: "Save as file", run: () => void takeAway("file") },
    { label: "URDF of the machine", run: () => void takeAway("urdf") },
    { label: "MJCF of the machine", run: () => void takeAway("mjcf") },
    { label: "Scale the whole machine", run: () => pickAt(around, "body") },
    { label: "Folded into a box", run: () => pickAt(around, "carried") },
    { label: "Masses", run: () => pickAt(around, "mass") },
    { label: "What drags on it: cable, stick", run: () => pickAt(around, "drag") },
    { label: "Leads", run: () => pickAt(around, "lead") },
    { label: "Kind of leg, links, mounts", run: () => pickAt(around, "limb") },
    { label: "Soles and feet, second foot", run: () => pickAt(around, "foot") },
    { label: "Drives and servos, torque, stiffness", run: () => pickAt(around, "servos") },
    { label: "End stops, link masses", run: () => pickAt(around, "joints") },
    { label: "Motions: rename, copy, remove", run: () => around.open("motions") },
    { label: "Find a command", keys: "Ctrl K", run: () => around.open("palette") },
    { label: "List the keys", keys: "?", run: () => around.open("keys") },
    { label: "Back to the shelf", run: around.home },
  ];
}

function pickAt(around: Surroundings, kind: PickKind): void {
  around.goTo("frame");
  pick(kind);
}

const BY_KEY: Record<string, string> = {
  " ": "Space",
  ",": ",",
  ".": ".",
  PageUp: "PageUp",
  PageDown: "PageDown",
  w: "W",
  W: "W",
  n: "N",
  N: "N",
  "?": "?",
};

/** The command a key press stands for, or undefined. Off inside fields; a focused button takes Space itself. */
export function commandFor(event: KeyboardEvent, around: Surroundings): Command | undefined {
  const target = event.target as HTMLElement;
  const typing =
    target.matches("input:not([type=range]):not([type=checkbox]), textarea, select") || target.isContentEditable;
  const control = event.ctrlKey || event.metaKey;
  const all = commands(around);
  const called = (keys: string) => all.find((c) => c.keys === keys);
  if (control && event.key.toLowerCase() === "k") return called("Ctrl K");
  if (typing) return undefined;
  if (control && event.key.toLowerCase() === "z") return called(event.shiftKey ? "Ctrl Y" : "Ctrl Z");
  if (control && event.key.toLowerCase() === "y") return called("Ctrl Y");
  if (control || event.altKey) return undefined;
  if (event.key === " " && target.closest("button, a, [role=switch], input")) return undefined;
  if ((event.key === "PageUp" || event.key === "PageDown") && target.closest("input[type=range], .rows"))
    return undefined;
  const station = STATION_KEYS.indexOf(event.key);
  if (event.key.length === 1 && station >= 0 && station < STATIONS.length) return called(event.key);
  return BY_KEY[event.key] ? called(BY_KEY[event.key]) : undefined;
}
