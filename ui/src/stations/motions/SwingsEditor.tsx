/** Joints that swing to and fro: how far each goes, about what, and when in the cycle it is furthest. */
import type { MotionOf, Project } from "@/api/client";
import { endsOf } from "@/bench/edits";
import { editKind } from "@/bench/store";
import { Choice } from "@/controls/Choice";
import { NumberBox } from "@/controls/NumberBox";
import { Remove } from "@/controls/Remove";

type Swings = MotionOf<"swings">;

const GOES = [
  { name: "on", label: "on and on" },
  { name: "from_rest", label: "from rest into its swings" },
  { name: "to_rest", label: "from its swings to rest" },
];

export function SwingsEditor({ project, motion }: { project: Project; motion: Swings }) {
  const put = (change: (m: Swings) => void) => editKind("swings", change);
  const joints = project.walker.limbs.flatMap((m) => m.joints.map((j) => `${m.name}/${j.name}`));
  return (
    <fieldset className="made-of">
      <legend>Joints that swing</legend>
      <NumberBox
        label="Cycle"
        value={motion.cycle_s}
        unit="s"
        step={0.02}
        min={0.1}
        max={60}
        path="cycle_s"
        onValue={(v) =>
          put((m) => {
            m.cycle_s = v;
          })
        }
      />
      <Choice
        label="Goes"
        value={motion.goes ?? "on"}
        choices={GOES}
        onValue={(name) =>
          put((m) => {
            m.goes = name as Swings["goes"];
          })
        }
      />
      <ol className="swings">
        {(motion.joints ?? []).map((swing, n) => {
          const limb = project.walker.limbs.find((m) => m.name === swing.limb);
          const joint = limb?.joints.find((j) => j.name === swing.joint);
          const { unit, low, high } = joint ? endsOf(joint) : { unit: "°", low: -180, high: 180 };
          const about = `${swing.limb} ${swing.joint}`;
          const box = (name: "swing" | "middle" | "at", label: string, ends: [number, number], step: number) => (
            <NumberBox
              label={label}
              about={about}
              value={swing[name] ?? 0}
              unit={name === "at" ? "of the cycle" : unit}
              step={step}
              min={ends[0]}
              max={ends[1]}
              onValue={(v) =>
                put((m) => {
                  m.joints[n][name] = v;
                })
              }
            />
          );
          return (
            <li key={`${about} ${n}`}>
              <div className="swings-name">
                <strong>{about}</strong>
                <Remove
                  label={`${about} swings no more`}
                  onRemove={() =>
                    put((m) => {
                      m.joints.splice(n, 1);
                    })
                  }
                />
              </div>
              {box("swing", "to and fro by", [low - high, high - low], 1)}
              {box("middle", "about", [low, high], 1)}
              {box("at", "furthest at", [0, 0.999], 0.01)}
            </li>
          );
        })}
      </ol>
      <Choice
        label="Another joint"
        value=""
        none="choose …"
        choices={joints.map((path) => ({ name: path, label: path.replace("/", " ") }))}
        onValue={(path) =>
          put((m) => {
            const [limb, joint] = path.split("/");
            const own = m.joints.filter((s) => s.limb === limb && s.joint === joint);
            m.joints.push({ limb, joint, middle: 0, swing: 5, at: 0, times: Math.min(6, own.length + 1) });
          })
        }
      />
    </fieldset>
  );
}
