/** When heads, arms and moving masses move within the cycle. */
import type { Motion, Project } from "@/api/client";
import { editMotion } from "@/bench/store";
import { NumberBox } from "@/controls/NumberBox";
import { Remove } from "@/controls/Remove";

export function Arms({ project, motion }: { project: Project; motion: Motion }) {
  const joints = project.walker.limbs.flatMap((l) =>
    l.feet.length ? [] : l.joints.map((j) => ({ limb: l.name, joint: j.name })),
  );
  if (!joints.length) return null;
  const moves = motion.moves_of_arms ?? [];
  const fields = [
    ["to", "goes to", "°", -720, 720, 1],
    ["at", "at share", "", 0, 0.999, 0.01],
    ["back_at", "back at share", "", 0, 0.999, 0.01],
    ["takes", "takes share", "", 0.01, 0.5, 0.01],
  ] as const;
  return (
    <fieldset className="arms">
      <legend>Heads and arms in the cycle</legend>
      {moves.map((move, n) => (
        <div key={`${n} ${move.limb} ${move.joint}`}>
          <p className="said">
            <span>
              {move.limb} {move.joint}
            </span>
            <Remove
              label={`Remove the move of ${move.limb} ${move.joint}`}
              onRemove={() => editMotion((m) => void m.moves_of_arms.splice(n, 1), true)}
            />
          </p>
          <div className="number-grid four">
            {fields.map(([field, label, unit, low, high, step]) => (
              <NumberBox
                key={field}
                label={label}
                value={move[field] ?? 0.1}
                unit={unit}
                step={step}
                min={low}
                max={high}
                onValue={(v) =>
                  editMotion((m) => {
                    m.moves_of_arms[n][field] = v;
                  }, true)
                }
              />
            ))}
          </div>
        </div>
      ))}
      <div className="row-of-buttons">
        {joints
          .filter((j) => !moves.some((m) => m.limb === j.limb && m.joint === j.joint))
          .map((j) => (
            <button
              key={`${j.limb} ${j.joint}`}
              type="button"
              className="do"
              onClick={() =>
                editMotion((m) => void m.moves_of_arms.push({ ...j, to: 20, at: 0, back_at: 0.5, takes: 0.2 }), true)
              }
            >
              Move {j.limb} {j.joint}
            </button>
          ))}
      </div>
    </fieldset>
  );
}
