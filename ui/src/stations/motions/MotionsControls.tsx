import { type AnyMotion, isGait, type Motion, type Project, type Schemas } from "@/api/client";
import { freshMotion, gaitOf, isPlain, legsOf } from "@/bench/edits";
import { useBench } from "@/bench/state";
import { chooseMotion, edit } from "@/bench/store";
import { Choice } from "@/controls/Choice";
import { Figures } from "@/controls/Figures";
import { JobLinks } from "@/controls/JobLinks";
import { NumberBox } from "@/controls/NumberBox";
import { Editor } from "./Editor";
import { JOBS } from "./jobs";

const KINDS: [AnyMotion["kind"] | "pose", string][] = [
  ["phase_gait", "Walks"],
  ["pose", "Standing poses"],
  ["joint_pose", "Poses of joints"],
  ["keyframes", "By frames"],
  ["transition", "From one into another"],
  ["programme", "In a row"],
  ["free_walk", "By the next-leg rule"],
  ["swings", "Joints that swing"],
];

function kindOf(motion: AnyMotion): AnyMotion["kind"] | "pose" {
  if (motion.kind === "phase_gait" && motion.legs.every((l) => l.duty === 1)) return "pose";
  return motion.kind ?? "phase_gait";
}

/** Everything the walker can do, by kind; below, what the open one is made of, and what is made of them all. */
export function MotionsControls({ project }: { project: Project; motion: Motion }) {
  const name = useBench((s) => s.motion);
  const motion = project.motions.find((m) => m.name === name);
  return (
    <>
      <JobLinks jobs={JOBS} />
      <nav className="motion-kinds" aria-label="Motions by kind">
        {KINDS.map(([kind, label]) => {
          const own = project.motions.filter((m) => kindOf(m) === kind);
          if (!own.length) return null;
          return (
            <section key={kind} aria-label={label}>
              <h3>{label}</h3>
              <div>
                {own.map((m) => (
                  <button
                    key={m.name}
                    type="button"
                    className={m.name === name ? "chip chosen" : "chip"}
                    aria-pressed={m.name === name}
                    onClick={() => chooseMotion(m.name)}
                  >
                    {m.name}
                  </button>
                ))}
              </div>
            </section>
          );
        })}
      </nav>
      <Add project={project} />
      {motion && <Editor project={project} motion={motion} />}
      <Figures at="motions" />
      <Course project={project} />
    </>
  );
}

/** How long the course is that the open walk is timed over. */
function Course({ project }: { project: Project }) {
  const timed = useBench((s) => s.picture?.figures.some((f) => f.name === "course_s"));
  if (!timed) return null;
  return (
    <NumberBox
      label="Course to walk"
      value={project.floor.course_mm}
      unit="mm"
      step={100}
      min={10}
      max={100000}
      onValue={(v) =>
        edit((draft) => {
          draft.floor.course_mm = v;
        }, true)
      }
    />
  );
}

const ADDS: [string, (project: Project) => AnyMotion | null][] = [
  ["a standing pose", addPose],
  ["a pose of joints", (p) => ({ kind: "joint_pose", name: freshMotion(p, "Centred"), joints: [] })],
  ["the folded pose", addFold],
  ["from one into another", addTransition],
  ["motions in a row", addProgramme],
  ["frames by hand", addFrames],
  ["a walk by the next-leg rule", addFreeWalk],
  [
    "joints that swing",
    (p) => ({ kind: "swings", name: freshMotion(p, "Swings"), cycle_s: 1, joints: [], goes: "on" }),
  ],
];

function addPose(project: Project): AnyMotion | null {
  const base = gaitOf(project, useBench.getState().motion);
  if (!base) return null;
  return {
    ...structuredClone(base),
    name: freshMotion(project, "Pose"),
    gait: "custom",
    twist: { vx_mm_s: 0, vy_mm_s: 0, omega_deg_s: 0 },
    legs: base.legs.map((l) => ({ ...l, phase: 0, duty: 1 })),
    pose: { ...structuredClone(base.pose), sway: [] },
    pauses: [],
    moves_of_arms: [],
    balance: "static",
  };
}

function addFold(project: Project): AnyMotion | null {
  return {
    kind: "joint_pose",
    name: freshMotion(project, "Folded"),
    joints: structuredClone(project.walker.folded?.joints ?? []),
  };
}

function addTransition(project: Project): AnyMotion | null {
  const { motion } = useBench.getState();
  const plain = project.motions.filter(isPlain).map((m) => m.name);
  const start = plain.includes(motion) ? motion : plain[0];
  const end = plain.find((n) => n !== start) ?? start;
  if (!start) return null;
  return {
    kind: "transition",
    name: freshMotion(project, `${start} to ${end}`.slice(0, 50)),
    start: { motion: start, phase: 0 },
    end: { motion: end, phase: 0 },
    pose_s: 1,
    flows: true,
  };
}

function addProgramme(project: Project): AnyMotion | null {
  const walk = gaitOf(project, useBench.getState().motion);
  if (!walk) return null;
  const stands = walk.legs.every((l) => l.duty === 1);
  return {
    kind: "programme",
    name: freshMotion(project, "Course"),
    parts: [{ motion: walk.name, amount: stands ? 1 : 4, by: stands ? "seconds" : "cycles" }],
    pose_s: 1,
    flows: true,
  };
}

function addFreeWalk(project: Project): AnyMotion | null {
  const like = project.motions.filter(isGait).find((m) => m.legs.every((l) => l.duty < 1) && !m.inverted);
  if (!like) return null;
  const still = { vx_mm_s: 0, vy_mm_s: 0, omega_deg_s: 0 };
  return {
    kind: "free_walk",
    name: freshMotion(project, "By the rule"),
    like: like.name,
    ways: [
      { from_s: 0.2, twist: { ...like.twist } as Schemas["Twist"] },
      { from_s: 5, twist: { ...still, omega_deg_s: 12 } },
      { from_s: 8, twist: still },
    ],
    takes_s: 12,
  };
}

function addFrames(project: Project): AnyMotion | null {
  const base = gaitOf(project, useBench.getState().motion);
  if (!base) return null;
  const frame = (name: string) => ({
    name,
    move_s: 0.6,
    hold_s: 0.2,
    pose: { ...structuredClone(base.pose), sway: [] },
    feet: legsOf(project).map((l) => ({
      limb: l.name,
      at_mm: [l.neutral_mm?.[0] ?? 0, l.neutral_mm?.[1] ?? 0, 0] as [number, number, number],
    })),
    joints: [],
    ease: [],
  });
  return {
    kind: "keyframes",
    name: freshMotion(project, "Frames"),
    frames: [frame("First"), frame("Second")],
    repeats: true,
    twist: { vx_mm_s: 0, vy_mm_s: 0, omega_deg_s: 0 },
    judged: true,
  };
}

function Add({ project }: { project: Project }) {
  const add = (index: number) => {
    const made = ADDS[index][1](project);
    if (!made) return;
    edit((draft) => {
      draft.motions.push(made);
    }, true);
    chooseMotion(made.name);
    // What was added is edited just below its name.
    document.querySelector(".controls")?.scrollTo(0, 0);
  };
  return (
    <Choice label="Add" value="" disabled={project.motions.length >= 64} onValue={(chosen) => add(Number(chosen))}>
      <option value="" disabled>
        a motion …
      </option>
      {ADDS.map(([label], n) => (
        <option key={label} value={n}>
          {label}
        </option>
      ))}
    </Choice>
  );
}
