/** What the open motion is made of, by its kind. */
import Form from "react-bootstrap/Form";
import type { AnyMotion, Motion, Project, Schemas } from "@/api/client";
import { fetched, posted } from "@/api/client";
import { endsOf, isPlain } from "@/bench/edits";
import { editAny, editMotion, replaceDraft, useBench } from "@/bench/store";
import { LeverSlider } from "@/controls/LeverSlider";
import { LEVERS } from "@/controls/levers";
import { NumberBox } from "@/controls/NumberBox";
import { FramesEditor } from "./FramesEditor";
import { FreeWalkEditor } from "./FreeWalkEditor";
import { MotionSelect } from "./MotionSelect";

type Of<K extends AnyMotion["kind"]> = Extract<AnyMotion, { kind?: K }>;

export function Editor({ project, motion }: { project: Project; motion: AnyMotion }) {
  switch (motion.kind) {
    case "transition":
      return <TransitionEditor project={project} motion={motion} />;
    case "programme":
      return <ProgrammeEditor project={project} motion={motion} />;
    case "free_walk":
      return <FreeWalkEditor project={project} motion={motion} />;
    case "joint_pose":
      return <JointPoseEditor project={project} motion={motion} />;
    case "keyframes":
      return (
        <>
          <FramesEditor project={project} motion={motion} />
          <Retold motion={motion.name} label="Tell it by phases" />
        </>
      );
    default:
      return <GaitEditor motion={motion as Motion} />;
  }
}

/** Poses of a standing body, and how a walk is told otherwise. */
function GaitEditor({ motion }: { motion: Motion }) {
  const stands = motion.legs.every((l) => l.duty === 1);
  return (
    <>
      {stands && (
        <fieldset className="pose-levers">
          <legend>Body over planted feet</legend>
          {(["ride_height", "shift_x", "shift_y", "roll", "pitch", "yaw"] as const).map((name) => (
            <LeverSlider key={name} spec={LEVERS[name]} motion={motion} />
          ))}
        </fieldset>
      )}
      {!stands && (
        <>
          <Form.Check
            type="switch"
            id="inverted"
            label="Upside down, on the upper feet"
            checked={motion.inverted ?? false}
            onChange={(event) =>
              editMotion((m) => {
                m.inverted = event.target.checked;
              }, true)
            }
          />
          <div className="row-of-buttons">
            <Retold motion={motion.name} label="Tell it by frames" />
            <WalkedLike motion={motion} />
          </div>
        </>
      )}
    </>
  );
}

/** The machine has walked it like this: larger changes are told against it from now on. */
function WalkedLike({ motion }: { motion: Motion }) {
  const stroke = useBench((s) => s.picture?.figures.find((f) => f.name === "stroke_mm")?.value ?? 0);
  const note = () =>
    editAny((m, draft) => {
      draft.walked = draft.walked.filter((w) => w.motion !== m.name);
      draft.walked.push({
        motion: m.name,
        cycle_s: motion.cycle_s,
        stroke_mm: Math.round(stroke * 100) / 100,
        lift_mm: motion.lift_mm,
      });
    }, true);
  return (
    <button type="button" className="do" onClick={note} title="Later changes by a large factor are told against this">
      It has walked like this
    </button>
  );
}

function Retold({ motion, label }: { motion: string; label: string }) {
  const draft = useBench((s) => s.draft);
  const tell = async () => {
    if (!draft) return;
    try {
      const answer = await fetched("/api/retold", posted({ project: draft, motion }));
      const found = (await answer.json()) as Schemas["AddedView"];
      replaceDraft(found.project, found.name);
    } catch (error) {
      useBench.setState({ refusal: (error as Error).message });
    }
  };
  return (
    <button type="button" className="do" onClick={() => void tell()}>
      {label}
    </button>
  );
}

function TransitionEditor({ project, motion }: { project: Project; motion: Of<"transition"> }) {
  const put = (change: (m: Of<"transition">) => void) =>
    editAny((m) => {
      if (m.kind === "transition") change(m);
    }, true);
  return (
    <fieldset className="made-of">
      <legend>By way of standing</legend>
      {(["start", "end"] as const).map((end) => (
        <div key={end} className="transition-end">
          <MotionSelect
            id={`transition-${end}`}
            label={end === "start" ? "From" : "Into"}
            value={motion[end].motion}
            project={project}
            onName={(name) =>
              put((m) => {
                m[end].motion = name;
              })
            }
          />
          <NumberBox
            label={end === "start" ? "left at phase" : "joined at phase"}
            value={motion[end].phase ?? 0}
            unit=""
            step={0.05}
            min={0}
            max={0.999}
            onValue={(v) =>
              put((m) => {
                m[end].phase = v;
              })
            }
          />
        </div>
      ))}
      <NumberBox
        label="Each change of pose takes"
        value={motion.pose_s ?? 1}
        unit="s"
        step={0.1}
        min={0.1}
        max={60}
        onValue={(v) =>
          put((m) => {
            m.pose_s = v;
          })
        }
      />
      <PieceList />
    </fieldset>
  );
}

/** What happens on the way, with when each begins. */
function PieceList() {
  const pieces = useBench((s) => s.picture?.pieces);
  const whole = useBench((s) => s.picture?.cycle_s ?? 0);
  if (!pieces?.length) return null;
  const shownOnes = pieces.slice(0, 12);
  return (
    <ol className="pieces">
      {shownOnes.map((p, n) => (
        <li key={`${p.start_s} ${p.name}`}>
          <span>{p.name}</span>
          <b>{((pieces[n + 1]?.start_s ?? whole) - p.start_s).toFixed(2)} s</b>
        </li>
      ))}
      {pieces.length > shownOnes.length && <li>and {pieces.length - shownOnes.length} more</li>}
    </ol>
  );
}

const BY: [Schemas["Part"]["by"] & string, string, string][] = [
  ["cycles", "cycles", ""],
  ["distance_mm", "mm", "mm"],
  ["turn_deg", "°", "°"],
  ["seconds", "seconds", "s"],
];

function usualBy(project: Project, name: string): Schemas["Part"] {
  const motion = project.motions.find((m) => m.name === name);
  const rests =
    motion?.kind === "joint_pose" || (motion?.kind === "phase_gait" && motion.legs.every((l) => l.duty === 1));
  return { motion: name, amount: rests ? 1 : 2, by: rests ? "seconds" : "cycles" };
}

function ProgrammeEditor({ project, motion }: { project: Project; motion: Of<"programme"> }) {
  const put = (change: (m: Of<"programme">) => void) =>
    editAny((m) => {
      if (m.kind === "programme") change(m);
    }, true);
  const first = project.motions.find(isPlain);
  return (
    <fieldset className="made-of">
      <legend>In a row, each from rest to rest</legend>
      <ol className="parts">
        {motion.parts.map((part, n) => (
          // Parts have no name of their own; the same motion may come twice.
          <li key={`${n} ${part.motion}`}>
            <select
              className="form-select form-select-sm"
              aria-label={`Part ${n + 1}, motion`}
              value={part.motion}
              onChange={(event) =>
                put((m) => {
                  m.parts[n] = usualBy(project, event.target.value);
                })
              }
            >
              {project.motions.filter(isPlain).map((m) => (
                <option key={m.name}>{m.name}</option>
              ))}
            </select>
            <NumberBox
              quiet
              label={`Part ${n + 1}, how much`}
              value={part.amount ?? 1}
              unit=""
              step={part.by === "distance_mm" ? 10 : part.by === "turn_deg" ? 5 : 1}
              min={0.01}
              max={100000}
              onValue={(v) =>
                put((m) => {
                  m.parts[n].amount = v;
                })
              }
            />
            <select
              className="form-select form-select-sm"
              aria-label={`Part ${n + 1}, counted in`}
              value={part.by ?? "cycles"}
              onChange={(event) =>
                put((m) => {
                  m.parts[n].by = event.target.value as Schemas["Part"]["by"];
                })
              }
            >
              {BY.map(([value, label]) => (
                <option key={value} value={value}>
                  {label}
                </option>
              ))}
            </select>
            <button
              type="button"
              className="link-button"
              aria-label={`Part ${n + 1}: earlier`}
              disabled={n === 0}
              onClick={() =>
                put((m) => {
                  m.parts.splice(n - 1, 0, ...m.parts.splice(n, 1));
                })
              }
            >
              ↑
            </button>
            <button
              type="button"
              className="link-button"
              aria-label={`Part ${n + 1}: remove`}
              disabled={motion.parts.length < 2}
              onClick={() =>
                put((m) => {
                  m.parts.splice(n, 1);
                })
              }
            >
              ×
            </button>
          </li>
        ))}
      </ol>
      <button
        type="button"
        className="do"
        disabled={!first || motion.parts.length >= 200}
        onClick={() =>
          put((m) => {
            const last = m.parts[m.parts.length - 1].motion;
            m.parts.push(usualBy(project, last));
          })
        }
      >
        Add a part
      </button>
    </fieldset>
  );
}

function JointPoseEditor({ project, motion }: { project: Project; motion: Of<"joint_pose"> }) {
  const leg = useBench((s) => s.leg);
  const limb = project.walker.limbs.find((l) => l.name === leg) ?? project.walker.limbs[0];
  const set = motion.joints ?? [];
  const put = (joint: string, value: number, alike: boolean) =>
    editAny((m, draft) => {
      if (m.kind !== "joint_pose") return;
      const own = alike ? draft.walker.limbs.filter((l) => l.family === limb.family) : [limb];
      m.joints = (m.joints ?? []).filter((a) => a.joint !== joint || !own.some((l) => l.name === a.limb));
      for (const l of own) {
        // A yaw or roll of the other side goes the other way.
        const flips = (joint === "yaw" || joint === "roll") && l.mount.at_mm[1] * limb.mount.at_mm[1] < 0;
        m.joints.push({ limb: l.name, joint, value: flips ? -value : value });
      }
    }, true);
  return (
    <fieldset className="number-grid links">
      <legend>Joints, legs of one kind alike; those not set stand at their servo's centre</legend>
      {limb.joints.map((joint) => {
        const { unit, low, high } = endsOf(joint);
        const drive = project.walker.drives.find((d) => d.joints[0] === `${limb.name}/${joint.name}`);
        const centre = drive?.servos[0].centre_deg ?? 0;
        return (
          <NumberBox
            key={joint.name}
            label={`${limb.name} ${joint.name}`}
            value={set.find((a) => a.limb === limb.name && a.joint === joint.name)?.value ?? centre}
            unit={unit}
            step={1}
            min={low}
            max={high}
            onValue={(v) => put(joint.name, v, true)}
          />
        );
      })}
    </fieldset>
  );
}
