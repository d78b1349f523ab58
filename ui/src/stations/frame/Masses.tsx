import type { Project } from "@/api/client";
import { edit } from "@/bench/store";
import { NumberBox } from "@/controls/NumberBox";
import { Remove } from "@/controls/Remove";
import { TextBox } from "@/controls/TextBox";

/** Everything a mass can ride on. */
function partsOf(project: Project): string[] {
  const links = project.walker.limbs.flatMap((l) => l.links.map((k) => `${l.name}/${k.name}`));
  return [...project.walker.sections.map((s) => s.name), ...links];
}

/** The listed masses. Links and servos have their own, counted in the total. */
export function Masses({ project }: { project: Project }) {
  const axes = ["forward", "left", "up"] as const;
  return (
    <fieldset className="masses">
      <legend>Masses</legend>
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
          <Remove
            label={`Remove ${mass.name}`}
            onRemove={() => edit((draft) => void draft.walker.masses.splice(index, 1), true)}
          />
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
          <span className="mass-at">
            {(["long", "wide", "high"] as const).map((axis, k) => (
              <span key={axis} className="axis">
                <span aria-hidden="true">{axis}</span>
                <NumberBox
                  quiet
                  label={`${mass.name}, ${axis}`}
                  value={mass.size_mm[k]}
                  unit="mm"
                  step={1}
                  min={0}
                  max={2000}
                  onValue={(v) =>
                    edit((draft) => {
                      draft.walker.masses[index].size_mm[k] = v;
                    }, true)
                  }
                />
              </span>
            ))}
          </span>
          <span className="mass-more">
            <select
              className="form-select form-select-sm"
              aria-label={`${mass.name} rides on`}
              value={mass.on}
              onChange={(event) =>
                edit((draft) => {
                  draft.walker.masses[index].on = event.target.value;
                }, true)
              }
            >
              {partsOf(project).map((part) => (
                <option key={part} value={part}>
                  {part.replace("/", " ")}
                </option>
              ))}
            </select>
            {(["price", "print_h"] as const).map((field) => (
              <span key={field} className="axis">
                <span aria-hidden="true">{field === "price" ? "price" : "print h"}</span>
                <NumberBox
                  quiet
                  label={`${mass.name}, ${field === "price" ? "price" : "print hours"}`}
                  value={mass[field]}
                  unit=""
                  step={0.5}
                  min={0}
                  max={100000}
                  onValue={(v) =>
                    edit((draft) => {
                      draft.walker.masses[index][field] = v;
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
