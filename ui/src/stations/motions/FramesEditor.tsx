/** Poses made by hand: which comes when, how long it takes, where the chosen leg's foot is in it. */

import type { MotionOf, Project, Schemas } from "@/api/client";
import { playhead } from "@/bench/playhead";
import { useBench } from "@/bench/state";
import { editKind } from "@/bench/store";
import { Choice } from "@/controls/Choice";
import { LegPicker } from "@/controls/LegPicker";
import { NumberBox } from "@/controls/NumberBox";
import { Remove } from "@/controls/Remove";
import { FieldForm } from "@/fields/FieldForm";

type Keyframes = MotionOf<"keyframes">;
type Frame = Keyframes["frames"][number];

const EASES: [Schemas["LimbEase"]["ease"], string][] = [
  ["smooth", "smoothly"],
  ["even", "evenly"],
  ["late", "late"],
  ["early", "early"],
];

export function FramesEditor({ project, motion }: { project: Project; motion: Keyframes }) {
  const leg = useBench((s) => s.leg);
  const limb = project.walker.limbs.find((l) => l.name === leg);
  const put = (change: (m: Keyframes) => void) => editKind("keyframes", change);
  const reach = starts(motion);
  const at = ["motions", project.motions.findIndex((m) => m.name === motion.name)];
  return (
    <fieldset className="made-of">
      <legend>Frames</legend>
      <FieldForm of="Keyframes" at={at} fields={["repeats", "judged"]} />
      {!(motion.judged ?? true) && <p className="hint">Unjudged: it lives by tipping, rocking or a thrown mass.</p>}
      <LegPicker />
      <ol className="frames">
        {motion.frames.map((frame, n) => {
          const foot = frame.feet?.findIndex((f) => f.limb === leg) ?? -1;
          return (
            <li key={`${n} ${frame.name}`}>
              <div className="frame-head">
                <button type="button" className="link-button" onClick={() => playhead.seek(reach[n])}>
                  {frame.name}
                </button>
                <button
                  type="button"
                  className="link-button"
                  aria-label={`Copy frame ${frame.name}`}
                  onClick={() =>
                    put((m) => {
                      m.frames.splice(n + 1, 0, { ...structuredClone(frame), name: `${m.frames.length + 1}` });
                    })
                  }
                >
                  Copy
                </button>
                <Remove
                  label={`Remove frame ${frame.name}`}
                  disabled={motion.frames.length < 2}
                  onRemove={() =>
                    put((m) => {
                      m.frames.splice(n, 1);
                    })
                  }
                />
              </div>
              <FieldForm
                of="Keyframe"
                at={[...at, "frames", n]}
                fields={["move_s", "hold_s"]}
                about={frame.name}
                columns={2}
              />
              {foot >= 0 && (
                <FieldForm
                  of="FootAt"
                  at={[...at, "frames", n, "feet", foot]}
                  fields={["at_mm"]}
                  told={{ at_mm: { label: `${leg} at`, step: 1 } }}
                />
              )}
              {limb && !limb.feet.length && limb.joints.length > 0 && (
                <div className="number-grid links">
                  {limb.joints.map((joint) => (
                    <NumberBox
                      key={joint.name}
                      label={`${leg} ${joint.name}`}
                      value={frame.joints?.find((j) => j.limb === leg && j.joint === joint.name)?.value ?? 0}
                      unit={joint.kind === "slide" ? "mm" : "°"}
                      step={1}
                      min={-720}
                      max={720}
                      onValue={(v) =>
                        put((m) => {
                          const own = m.frames[n];
                          own.joints = (own.joints ?? []).filter((j) => j.limb !== leg || j.joint !== joint.name);
                          own.joints.push({ limb: leg, joint: joint.name, value: v });
                        })
                      }
                    />
                  ))}
                </div>
              )}
              <FieldForm
                of="Pose"
                at={[...at, "frames", n, "pose"]}
                fields={["ride_height_mm", "shift_mm"]}
                told={{ ride_height_mm: { step: 1 }, shift_mm: { step: 1 } }}
                about={frame.name}
              />
              <Choice
                label={`${leg} moves`}
                value={easeOf(frame, leg)}
                onValue={(chosen) =>
                  put((m) => {
                    const own = m.frames[n];
                    own.ease = (own.ease ?? []).filter((e) => e.limb !== leg);
                    own.ease.push({ limb: leg, ease: chosen as Schemas["LimbEase"]["ease"] });
                  })
                }
              >
                {EASES.map(([value, label]) => (
                  <option key={value} value={value}>
                    {label}
                  </option>
                ))}
              </Choice>
            </li>
          );
        })}
      </ol>
    </fieldset>
  );
}

function easeOf(frame: Frame, leg: string): string {
  return frame.ease?.find((e) => e.limb === leg)?.ease ?? "smooth";
}

function starts(motion: Keyframes): number[] {
  let now = 0;
  return motion.frames.map((frame, n) => {
    now += n ? (frame.move_s ?? 0.5) : 0;
    const at = now;
    now += frame.hold_s ?? 0;
    return at;
  });
}
