/** Poses made by hand: which comes when, how long it takes, where the chosen leg's foot is in it. */

import type { MotionOf, Project, Schemas } from "@/api/client";
import { playhead } from "@/bench/playhead";
import { useBench } from "@/bench/state";
import { editKind } from "@/bench/store";
import { Choice } from "@/controls/Choice";
import { LegPicker } from "@/controls/LegPicker";
import { NumberBox } from "@/controls/NumberBox";
import { Remove } from "@/controls/Remove";
import { Switch } from "@/controls/Switch";

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
  return (
    <fieldset className="made-of">
      <legend>Frames</legend>
      <Switch
        label="Repeats"
        value={motion.repeats ?? true}
        onValue={(on) =>
          put((m) => {
            m.repeats = on;
          })
        }
      />
      <Switch
        label="May be stopped anywhere: judge its balance"
        value={motion.judged ?? true}
        onValue={(on) =>
          put((m) => {
            m.judged = on;
          })
        }
      />
      {!(motion.judged ?? true) && <p className="hint">Unjudged: it lives by tipping, rocking or a thrown mass.</p>}
      <LegPicker />
      <ol className="frames">
        {motion.frames.map((frame, n) => {
          const foot = frame.feet?.find((f) => f.limb === leg);
          return (
            <li key={`${n} ${frame.name}`}>
              <div className="frame-head">
                <button type="button" className="link-button" onClick={() => playhead.seek(reach[n])}>
                  {frame.name}
                </button>
                <NumberBox
                  label="in"
                  value={frame.move_s ?? 0.5}
                  unit="s"
                  step={0.05}
                  min={0}
                  max={60}
                  onValue={(v) =>
                    put((m) => {
                      m.frames[n].move_s = v;
                    })
                  }
                />
                <NumberBox
                  label="held"
                  value={frame.hold_s ?? 0}
                  unit="s"
                  step={0.05}
                  min={0}
                  max={60}
                  onValue={(v) =>
                    put((m) => {
                      m.frames[n].hold_s = v;
                    })
                  }
                />
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
              {foot && (
                <div className="number-grid links">
                  {(["forward", "left", "up"] as const).map((axis, k) => (
                    <NumberBox
                      key={axis}
                      label={`${leg} ${axis}`}
                      value={foot.at_mm[k]}
                      unit="mm"
                      step={1}
                      min={-2000}
                      max={2000}
                      onValue={(v) =>
                        put((m) => {
                          const own = m.frames[n].feet?.find((f) => f.limb === leg);
                          if (own) own.at_mm[k] = v;
                        })
                      }
                    />
                  ))}
                </div>
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
              <div className="number-grid links">
                <Body
                  label="ride height"
                  value={frame.pose.ride_height_mm}
                  onValue={(v) =>
                    put((m) => {
                      m.frames[n].pose.ride_height_mm = v;
                    })
                  }
                />
                <Body
                  label="body forward"
                  value={frame.pose.shift_mm?.[0] ?? 0}
                  onValue={(v) =>
                    put((m) => {
                      m.frames[n].pose.shift_mm = [v, m.frames[n].pose.shift_mm?.[1] ?? 0];
                    })
                  }
                />
                <Body
                  label="body left"
                  value={frame.pose.shift_mm?.[1] ?? 0}
                  onValue={(v) =>
                    put((m) => {
                      m.frames[n].pose.shift_mm = [m.frames[n].pose.shift_mm?.[0] ?? 0, v];
                    })
                  }
                />
              </div>
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

function Body({ label, value, onValue }: { label: string; value: number; onValue: (value: number) => void }) {
  return <NumberBox label={label} value={value} unit="mm" step={1} min={-3000} max={3000} onValue={onValue} />;
}
