/** How a foot swings: its path, its lifts, its lead, how it lands; for all legs, and for the chosen one where it differs. */
import { useCatalogue } from "@/api/catalogue";
import type { Motion } from "@/api/client";
import { useBench } from "@/bench/state";
import { editMotion } from "@/bench/store";
import { Choice } from "@/controls/Choice";
import { NumberBox } from "@/controls/NumberBox";
import { Switch } from "@/controls/Switch";
import { FieldForm } from "@/fields/FieldForm";

export function Path({ motion, index }: { motion: Motion; index: number }) {
  const paths = useCatalogue()?.foot_paths ?? [];
  const leg = useBench((s) => s.leg);
  const path = paths.find((p) => p.name === motion.foot_path);
  const swing = motion.swing;
  const own = motion.legs.findIndex((l) => l.limb === leg);
  const at = ["motions", index];
  const soft = path?.smooth || swing.matched;
  const points = swing.points?.length ? swing.points : (path?.points ?? []);
  return (
    <>
      <Choice
        label="Foot path"
        value={motion.foot_path}
        describedBy="path-about"
        choices={paths.length ? paths : [{ name: motion.foot_path, label: motion.foot_path }]}
        onValue={(chosen) =>
          editMotion((m) => {
            m.foot_path = chosen;
            // Its usual points, so that there is something to drag.
            m.swing.points = structuredClone(paths.find((p) => p.name === chosen)?.points ?? []);
            if (!paths.find((p) => p.name === chosen)?.smooth && !m.swing.matched) m.swing.landing_mm_s = 0;
          }, true)
        }
      />
      <p className="hint" id="path-about">
        {path?.about}
      </p>
      <FieldForm
        of="SwingShape"
        at={[...at, "swing"]}
        fields={["lift_start_mm", "lift_end_mm", "early", ...(soft ? ["landing_mm_s"] : [])]}
        told={{
          lift_start_mm: { usual: motion.lift_mm, unsaid: "usual", step: 1 },
          lift_end_mm: { usual: motion.lift_mm, unsaid: "usual", step: 1 },
          early: { step: 0.05 },
        }}
        columns={2}
      />
      <Switch
        label="Lift off and land matched to the ground"
        value={swing.matched ?? false}
        onValue={(matched) =>
          editMotion((m) => {
            m.swing.matched = matched;
            if (!matched && !path?.smooth) m.swing.landing_mm_s = 0;
          }, true)
        }
      />
      {(path?.most_points ?? 0) > 0 && (
        <fieldset className="path-points">
          <legend>Points: share of the way, share of the lift. Drag them on the side view.</legend>
          {points.map(([along, height], n) => (
            <div key={`${n} of ${points.length}`} className="pair">
              <span>Point {n + 1}</span>
              {[along, height].map((value, k) => (
                <NumberBox
                  // Along, then height.
                  key={["along", "height"][k]}
                  quiet
                  label={`Point ${n + 1}, ${k ? "height" : "along"}`}
                  value={Math.round(value * 1000) / 1000}
                  unit=""
                  step={0.05}
                  min={k ? 0 : -2}
                  max={k ? 4 : 3}
                  onValue={(v) =>
                    editMotion((m) => {
                      const all = structuredClone(points);
                      all[n][k] = v;
                      m.swing.points = all;
                    }, true)
                  }
                />
              ))}
            </div>
          ))}
          {points.length < (path?.most_points ?? 0) && (
            <button
              type="button"
              className="do"
              onClick={() =>
                editMotion((m) => {
                  m.swing.points = [...structuredClone(points), [1, points.at(-1)?.[1] ?? 1]];
                }, true)
              }
            >
              Add a point
            </button>
          )}
          {points.length > 1 && (
            <button
              type="button"
              className="do"
              onClick={() =>
                editMotion((m) => {
                  m.swing.points = structuredClone(points).slice(0, -1);
                }, true)
              }
            >
              Remove the last
            </button>
          )}
        </fieldset>
      )}
      {own >= 0 && (
        <FieldForm
          of="LegTiming"
          at={[...at, "legs", own]}
          fields={["lift_mm", "foot_path"]}
          told={{
            lift_mm: { label: `Lift of ${leg}`, usual: motion.lift_mm, unsaid: "as the others", step: 1 },
            foot_path: { label: `Path of ${leg}`, choices: paths, unsaid: "as the others" },
          }}
        />
      )}
    </>
  );
}
