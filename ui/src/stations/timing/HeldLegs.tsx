/** Legs that take no part in this walk: folded, and held at their joints. */
import type { Motion, Project } from "@/api/client";
import { edit } from "@/bench/store";
import { NumberBox } from "@/controls/NumberBox";

type Limb = Project["walker"]["limbs"][number];

/** A leg out of the walk: held as it is folded, else where its servos are centred. */
export function holdLeg(draft: Project, motion: string, name: string): void {
  const walk = draft.motions?.find((m) => m.name === motion);
  const limb = draft.walker.limbs.find((l) => l.name === name);
  if (walk?.kind !== "phase_gait" || !limb) return;
  walk.legs = walk.legs.filter((l) => l.limb !== name);
  walk.gait = "custom";
  walk.held = [...(walk.held ?? []), { limb: name }];
  const others = (walk.joints ?? []).filter((a) => a.limb !== name);
  walk.joints = [
    ...others,
    ...limb.joints.map((j) => ({ limb: name, joint: j.name, value: heldAt(draft, limb, j.name) })),
  ];
}

function heldAt(draft: Project, limb: Limb, joint: string): number {
  const folded = draft.walker.folded?.joints.find((a) => a.limb === limb.name && a.joint === joint);
  const drive = draft.walker.drives?.find((d) => d.kind === "direct" && d.joints[0] === `${limb.name}/${joint}`);
  return Math.round((folded?.value ?? drive?.servos[0].centre_deg ?? 0) * 10) / 10;
}

/** Back into the walk, half a cycle after the first leg of it. */
function walkAgain(draft: Project, motion: string, name: string): void {
  const walk = draft.motions?.find((m) => m.name === motion);
  if (walk?.kind !== "phase_gait") return;
  const like = walk.legs[0];
  walk.held = (walk.held ?? []).filter((l) => l.limb !== name);
  walk.joints = (walk.joints ?? []).filter((a) => a.limb !== name);
  const phase = Math.round(((like?.phase ?? 0) + 0.5) * 1000) % 1000;
  walk.legs.push({ limb: name, phase: phase / 1000, duty: like?.duty ?? 1, lift_mm: null, foot_path: null });
}

function setJoint(draft: Project, motion: string, limb: string, joint: string, value: number): void {
  const walk = draft.motions?.find((m) => m.name === motion);
  if (walk?.kind !== "phase_gait") return;
  const found = walk.joints?.find((a) => a.limb === limb && a.joint === joint);
  if (found) found.value = value;
  else walk.joints = [...(walk.joints ?? []), { limb, joint, value }];
}

export function HeldLegs({ project, motion }: { project: Project; motion: Motion }) {
  const held = motion.held ?? [];
  if (!held.length) return null;
  return (
    <fieldset className="held-legs">
      <legend>Legs that take no part, held at</legend>
      {held.map(({ limb: name }) => {
        const limb = project.walker.limbs.find((l) => l.name === name);
        return (
          <div key={name} className="held-leg">
            <p className="said">
              <span>{name}</span>
              <button
                type="button"
                className="do"
                aria-label={`Let ${name} walk`}
                onClick={() => edit((draft) => walkAgain(draft, motion.name, name), true)}
              >
                Let it walk
              </button>
            </p>
            {limb?.joints.map((joint) => {
              const own = motion.joints?.find((a) => a.limb === name && a.joint === joint.name);
              const [low, high, unit] =
                joint.kind === "slide" ? [joint.min_mm, joint.max_mm, "mm"] : [joint.min_deg, joint.max_deg, "°"];
              return (
                <NumberBox
                  key={joint.name}
                  label={`${name} ${joint.name}`}
                  value={own?.value ?? heldAt(project, limb, joint.name)}
                  unit={unit}
                  step={1}
                  min={low}
                  max={high}
                  onValue={(v) => edit((draft) => setJoint(draft, motion.name, name, joint.name, v), true)}
                />
              );
            })}
          </div>
        );
      })}
    </fieldset>
  );
}
