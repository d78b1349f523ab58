/** When heads, arms and moving masses move within the cycle. */
import type { Motion, Project, Schemas } from "@/api/client";
import { editMotion } from "@/bench/store";
import { Remove } from "@/controls/Remove";
import { FieldForm } from "@/fields/FieldForm";

export function Arms({ project, motion }: { project: Project; motion: Motion }) {
  const joints = project.walker.limbs.flatMap((l) =>
    l.feet.length ? [] : l.joints.map((j) => ({ limb: l.name, joint: j.name })),
  );
  if (!joints.length) return null;
  const moves = motion.moves_of_arms ?? [];
  const at = ["motions", project.motions.findIndex((m) => m.name === motion.name)];
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
          <FieldForm
            of="ArmMove"
            at={[...at, "moves_of_arms", n]}
            fields={["to", "at", "back_at", "takes"]}
            told={{ to: { unit: "°", step: 1, low: -720, high: 720 } }}
            about={`${move.limb} ${move.joint}`}
            columns={2}
          />
        </div>
      ))}
      <div className="row-of-buttons">
        {joints.map((j) => {
          const own = moves.filter((m) => m.limb === j.limb && m.joint === j.joint);
          const next = afterThe(own.at(-1));
          return (
            <button
              key={`${j.limb} ${j.joint}`}
              type="button"
              className="do"
              onClick={() => editMotion((m) => void m.moves_of_arms.push({ ...j, ...next }), true)}
            >
              Move {j.limb} {j.joint}
              {own.length ? " again" : ""}
            </button>
          );
        })}
      </div>
    </fieldset>
  );
}

/** Times for a move that begins once the one before is back: half as long in all, so that there is room for it. */
function afterThe(last: Schemas["ArmMove"] | undefined) {
  if (!last) return { to: 20, at: 0, back_at: 0.3, takes: 0.2 };
  const at = share(last.back_at + last.takes);
  const takes = share(Math.max(0.01, last.takes / 2));
  return { to: last.to, at, back_at: share(at + 0.75 * ((last.back_at - last.at + 1) % 1)), takes };
}

const share = (value: number) => Math.round((value % 1) * 100) / 100;
