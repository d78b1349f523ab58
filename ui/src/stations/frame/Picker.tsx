/** What the column is about: the frame, or one limb; and which side of it. Pointing at the drawing chooses the same. */
import type { Project } from "@/api/client";
import { type PickKind, useBench } from "@/bench/state";
import { chooseLeg, pick } from "@/bench/store";

export const FRAME_SIDES: [PickKind, string][] = [
  ["body", "Body"],
  ["mass", "Masses"],
  ["drag", "Drags"],
  ["lead", "Leads"],
  ["carried", "Fits"],
];
export const LIMB_SIDES: [PickKind, string][] = [
  ["limb", "Leg"],
  ["joints", "Joints"],
  ["foot", "Foot"],
  ["servos", "Servos"],
];

export function isOfFrame(kind: PickKind): boolean {
  return FRAME_SIDES.some(([name]) => name === kind);
}

export function Picker({ project, onAdd }: { project: Project; onAdd: () => void }) {
  const { kind } = useBench((s) => s.picked);
  const leg = useBench((s) => s.leg);
  const frame = isOfFrame(kind);
  const choose = (name: string) => {
    chooseLeg(name);
    if (frame) pick("limb");
  };
  return (
    <>
      <fieldset className="leg-picker wrap">
        <legend className="visually-hidden">Frame or limb</legend>
        <button
          type="button"
          className={frame ? "chosen" : undefined}
          aria-pressed={frame}
          onClick={() => pick("body")}
        >
          Frame
        </button>
        {project.walker.limbs.map((l) => {
          const on = !frame && l.name === leg;
          return (
            <button
              key={l.name}
              type="button"
              className={on ? "chosen" : undefined}
              aria-pressed={on}
              onClick={() => choose(l.name)}
            >
              {l.name}
            </button>
          );
        })}
        <button type="button" aria-label="Add a limb" title="Add a limb" onClick={onAdd}>
          +
        </button>
      </fieldset>
      <fieldset className="sides">
        <legend className="visually-hidden">{frame ? "Of the frame" : `Of ${leg}`}</legend>
        {(frame ? FRAME_SIDES : LIMB_SIDES).map(([name, label]) => (
          <button
            key={name}
            type="button"
            className={name === kind ? "chosen" : undefined}
            aria-pressed={name === kind}
            onClick={() => pick(name)}
          >
            {label}
          </button>
        ))}
      </fieldset>
    </>
  );
}
