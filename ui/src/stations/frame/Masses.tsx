import type { Project } from "@/api/client";
import { edit } from "@/bench/store";
import { NumberBox } from "@/controls/NumberBox";
import { TextBox } from "@/controls/TextBox";

/** The listed masses. Links and servos have their own, counted in the total. */
export function Masses({ project }: { project: Project }) {
  const axes = ["forward", "left", "up"] as const;
  return (
    <fieldset className="masses">
      <legend>Masses on the body</legend>
      {project.walker.masses.map((mass, index) => (
        <div key={mass.name} className="mass-row">
          <TextBox
            label={`Name of mass ${index + 1}`}
            value={mass.name}
            onValue={(name) =>
              edit((draft) => {
                draft.walker.masses[index].name = name;
              }, true)
            }
          />
          <NumberBox
            quiet
            label={`${mass.name}, weight`}
            value={mass.mass_g}
            unit="g"
            step={1}
            min={0}
            max={100000}
            onValue={(v) =>
              edit((draft) => {
                draft.walker.masses[index].mass_g = v;
              }, true)
            }
          />
          <button
            type="button"
            className="quiet-button"
            aria-label={`Remove ${mass.name}`}
            onClick={() => edit((draft) => void draft.walker.masses.splice(index, 1), true)}
          >
            ×
          </button>
          <span className="mass-at">
            {axes.map((axis, k) => (
              <span key={axis} className="axis">
                <span aria-hidden="true">{axis}</span>
                <NumberBox
                  quiet
                  label={`${mass.name}, ${axis}`}
                  value={mass.at_mm[k]}
                  unit="mm"
                  step={1}
                  min={-3000}
                  max={3000}
                  onValue={(v) =>
                    edit((draft) => {
                      draft.walker.masses[index].at_mm[k] = v;
                    }, true)
                  }
                />
              </span>
            ))}
          </span>
        </div>
      ))}
    </fieldset>
  );
}
