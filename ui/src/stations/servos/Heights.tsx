/** All servos centred, every foot measured by ruler: which joint to trim, and the limp it would have caused. */
import { useState } from "react";
import type { Project } from "@/api/client";
import { edit } from "@/bench/store";
import { NumberBox } from "@/controls/NumberBox";
import { shown } from "@/look/number";
import { benchEdit, useBenchView } from "./bench";

export function Heights({ project }: { project: Project }) {
  const view = useBenchView(project);
  const [said, setSaid] = useState("");
  const measured = project.electrics.rest_heights;
  const begin = () =>
    edit((draft) => {
      draft.electrics.rest_heights = Object.entries(view?.rests_mm ?? {}).map(([limb, height_mm]) => ({
        limb,
        height_mm,
      }));
    }, true);
  if (!measured.length)
    return (
      <>
        <p className="hint">
          Machine on its stand, every servo told its middle. Measure from the bench up to each foot, by ruler.
        </p>
        <button type="button" className="do" onClick={begin}>
          Begin
        </button>
      </>
    );
  return (
    <>
      <p className="hint">From the bench up to each foot, every servo at its middle.</p>
      <table className="bench-table">
        <thead>
          <tr>
            <th scope="col">Leg</th>
            <th scope="col">Foot over the bench, mm</th>
            <th scope="col">Off, mm</th>
            <th scope="col">Trim</th>
          </tr>
        </thead>
        <tbody>
          {measured.map((m, n) => {
            const trim = view?.trims.find((t) => t.limb === m.limb);
            return (
              <tr key={m.limb}>
                <th scope="row">{m.limb}</th>
                <td>
                  <NumberBox
                    quiet
                    label={`${m.limb}, foot over the bench`}
                    value={m.height_mm}
                    unit=""
                    step={0.5}
                    min={-1000}
                    max={3000}
                    onValue={(v) =>
                      edit((draft) => {
                        draft.electrics.rest_heights[n].height_mm = v;
                      }, true)
                    }
                  />
                </td>
                <td>{trim ? shown(trim.off_mm, 1) : ""}</td>
                <td>
                  {trim?.place && Math.abs(trim.off_mm) > 0.3
                    ? `${trim.place} ${shown(trim.trim_deg, 1)}°, ${shown(trim.told, 0)} ${trim.unit}${trim.rod && ` or ${trim.rod}`}`
                    : "none"}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      <p className="said-line" role="status">
        {said || `It would limp by ${shown(view?.limp_mm ?? 0, 1)} mm.`}
      </p>
      <div className="row-of-buttons">
        <button type="button" className="do keep" onClick={async () => setSaid(await benchEdit("trim"))}>
          Trim by these
        </button>
        <button
          type="button"
          className="do"
          onClick={() =>
            edit((draft) => {
              draft.electrics.rest_heights = [];
            }, true)
          }
        >
          Put them away
        </button>
      </div>
    </>
  );
}
