/** How a foot swings: its path, its lifts, its lead, how it lands; for all legs, and for the chosen one where it differs. */
import Form from "react-bootstrap/Form";
import { useCatalogue } from "@/api/catalogue";
import type { Motion } from "@/api/client";
import { useBench } from "@/bench/state";
import { editMotion } from "@/bench/store";
import { Choice } from "@/controls/Choice";
import { NumberBox } from "@/controls/NumberBox";

export function Path({ motion }: { motion: Motion }) {
  const paths = useCatalogue()?.foot_paths ?? [];
  const leg = useBench((s) => s.leg);
  const path = paths.find((p) => p.name === motion.foot_path);
  const swing = motion.swing;
  const own = motion.legs.find((l) => l.limb === leg);
  const soft = path?.smooth || swing.matched;
  const points = swing.points?.length ? swing.points : (path?.points ?? []);
  return (
    <>
      <Form.Group controlId="foot-path" className="inline-select">
        <Form.Label>Foot path</Form.Label>
        <Form.Select
          size="sm"
          value={motion.foot_path}
          aria-describedby="path-about"
          onChange={(event) =>
            editMotion((m) => {
              m.foot_path = event.target.value;
              // Its usual points, so that there is something to drag.
              m.swing.points = structuredClone(paths.find((p) => p.name === m.foot_path)?.points ?? []);
              if (!paths.find((p) => p.name === m.foot_path)?.smooth && !m.swing.matched) m.swing.landing_mm_s = 0;
            }, true)
          }
        >
          {(paths.length ? paths : [{ name: motion.foot_path, label: motion.foot_path }]).map((p) => (
            <option key={p.name} value={p.name}>
              {p.label}
            </option>
          ))}
        </Form.Select>
      </Form.Group>
      <p className="hint" id="path-about">
        {path?.about}
      </p>
      <div className="form-fields columns-2">
        <LiftBox
          label="Lift at start"
          value={swing.lift_start_mm ?? motion.lift_mm}
          put={(m, v) => {
            m.swing.lift_start_mm = v === m.lift_mm ? null : v;
          }}
        />
        <LiftBox
          label="Lift at end"
          value={swing.lift_end_mm ?? motion.lift_mm}
          put={(m, v) => {
            m.swing.lift_end_mm = v === m.lift_mm ? null : v;
          }}
        />
        <NumberBox
          label="Across early"
          value={swing.early ?? 0}
          unit=""
          step={0.05}
          min={-0.3}
          max={0.3}
          onValue={(v) =>
            editMotion((m) => {
              m.swing.early = v;
            }, true)
          }
        />
        {soft && (
          <NumberBox
            label="Lands at"
            value={swing.landing_mm_s ?? 0}
            unit="mm/s"
            step={5}
            min={0}
            max={1000}
            onValue={(v) =>
              editMotion((m) => {
                m.swing.landing_mm_s = v;
              }, true)
            }
          />
        )}
      </div>
      <Form.Check
        type="switch"
        id="matched"
        label="Lift off and land matched to the ground"
        checked={swing.matched ?? false}
        onChange={(event) =>
          editMotion((m) => {
            m.swing.matched = event.target.checked;
            if (!m.swing.matched && !path?.smooth) m.swing.landing_mm_s = 0;
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
      {own && (
        <fieldset className="own-swing form-fields">
          <NumberBox
            label={`Lift of ${leg}`}
            value={own.lift_mm ?? motion.lift_mm}
            unit="mm"
            step={1}
            min={0}
            max={1000}
            onValue={(v) =>
              editMotion((m) => {
                const found = m.legs.find((l) => l.limb === leg);
                if (found) found.lift_mm = v === m.lift_mm ? null : v;
              }, true)
            }
          />
          <Choice
            label={`Path of ${leg}`}
            value={own.foot_path ?? ""}
            onValue={(chosen) =>
              editMotion((m) => {
                const found = m.legs.find((l) => l.limb === leg);
                if (found) found.foot_path = chosen || null;
              }, true)
            }
          >
            <option value="">as the others</option>
            {paths.map((p) => (
              <option key={p.name} value={p.name}>
                {p.label}
              </option>
            ))}
          </Choice>
        </fieldset>
      )}
    </>
  );
}

interface LiftProps {
  label: string;
  value: number;
  put: (motion: Motion, value: number) => void;
}

function LiftBox({ label, value, put }: LiftProps) {
  return (
    <NumberBox
      label={label}
      value={value}
      unit="mm"
      step={1}
      min={0}
      max={1000}
      onValue={(v) => editMotion((m) => put(m, v), true)}
    />
  );
}
