/** Motions made of others: one into another, and several in a row. */

import type { MotionOf, Project, Schemas } from "@/api/client";
import { isPlain } from "@/bench/edits";
import { useBench } from "@/bench/state";
import { editKind } from "@/bench/store";
import { Choice } from "@/controls/Choice";
import { NumberBox } from "@/controls/NumberBox";
import { Remove } from "@/controls/Remove";
import { Switch } from "@/controls/Switch";
import { MotionSelect } from "./MotionSelect";

export function TransitionEditor({ project, motion }: { project: Project; motion: MotionOf<"transition"> }) {
  const put = (change: (m: MotionOf<"transition">) => void) => editKind("transition", change);
  return (
    <fieldset className="made-of">
      <legend>{motion.flows ? "At a walk, where it can" : "By way of standing"}</legend>
      {(["start", "end"] as const).map((end) => (
        <div key={end} className="transition-end">
          <MotionSelect
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
      <Flows motion={motion} onFlows={(flows) => put((m) => void Object.assign(m, { flows }))} />
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

const BY: [Schemas["Portion"]["by"] & string, string, string][] = [
  ["cycles", "cycles", ""],
  ["distance_mm", "mm", "mm"],
  ["turn_deg", "°", "°"],
  ["seconds", "seconds", "s"],
];

function usualBy(project: Project, name: string): Schemas["Portion"] {
  const motion = project.motions.find((m) => m.name === name);
  const rests =
    motion?.kind === "joint_pose" || (motion?.kind === "phase_gait" && motion.legs.every((l) => l.duty === 1));
  return { motion: name, amount: rests ? 1 : 2, by: rests ? "seconds" : "cycles" };
}

export function ProgrammeEditor({ project, motion }: { project: Project; motion: MotionOf<"programme"> }) {
  const put = (change: (m: MotionOf<"programme">) => void) => editKind("programme", change);
  const first = project.motions.find(isPlain);
  return (
    <fieldset className="made-of">
      <legend>{motion.flows ? "In a row" : "In a row, each from rest to rest"}</legend>
      <ol className="parts">
        {motion.parts.map((part, n) => (
          // Parts have no name of their own; the same motion may come twice.
          <li key={`${n} ${part.motion}`}>
            <Choice
              quiet
              label={`Part ${n + 1}, motion`}
              value={part.motion}
              onValue={(name) =>
                put((m) => {
                  m.parts[n] = usualBy(project, name);
                })
              }
            >
              {project.motions.filter(isPlain).map((m) => (
                <option key={m.name}>{m.name}</option>
              ))}
            </Choice>
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
            <Choice
              quiet
              label={`Part ${n + 1}, counted in`}
              value={part.by ?? "cycles"}
              choices={BY.map(([name, label]) => ({ name, label }))}
              onValue={(by) =>
                put((m) => {
                  m.parts[n].by = by as Schemas["Portion"]["by"];
                })
              }
            />
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
            <Remove
              label={`Part ${n + 1}: remove`}
              disabled={motion.parts.length < 2}
              onRemove={() =>
                put((m) => {
                  m.parts.splice(n, 1);
                })
              }
            />
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
      <Flows motion={motion} onFlows={(flows) => put((m) => void Object.assign(m, { flows }))} />
      <PieceList />
    </fieldset>
  );
}

/** Whether walks take up each other's way without coming to rest. */
function Flows({ motion, onFlows }: { motion: { flows?: boolean }; onFlows: (flows: boolean) => void }) {
  return (
    <>
      <Switch label="Walks flow into each other" value={motion.flows ?? false} onValue={(on) => onFlows(on)} />
      {motion.flows && (
        <p className="hint">
          Where two differ in more than their way and sway (pace, order, lift, pose), it stands between them.
        </p>
      )}
    </>
  );
}
