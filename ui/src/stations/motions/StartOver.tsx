/** The walks of a machine from the machine alone, in place of all it has. */
import { Fragment, useState } from "react";
import type { Project, Schemas } from "@/api/client";
import { search } from "@/api/searches";
import { useBench } from "@/bench/state";
import { replaceDraft } from "@/bench/store";
import { Working } from "@/controls/Working";
import { shown, withUnit } from "@/look/number";

type Found = Schemas["FreshSet"];

/** What a cycle brings it on: nothing of what stands, or has an end. */
function wayOf(walk: Found["made"][number]): string {
  const parts = [];
  if (walk.stride_mm && walk.stride_mm >= 1) parts.push(withUnit(walk.stride_mm, "mm"));
  if (walk.turn_deg && Math.abs(walk.turn_deg) >= 0.5) parts.push(`${shown(walk.turn_deg, 1)}°`);
  return parts.join(", ");
}

export function StartOver({ project }: { project: Project }) {
  const [found, setFound] = useState<{ of: Project; view: Found } | null>(null);
  const [said, setSaid] = useState("");
  const [busy, setBusy] = useState(false);
  const make = async () => {
    setBusy(true);
    setSaid("");
    try {
      const answer = await search("/api/fresh-set", { project });
      setFound({ of: project, view: (await answer.json()) as Found });
    } catch (error) {
      setSaid((error as Error).message);
    }
    setBusy(false);
  };
  const keep = () => {
    if (!found) return;
    const { motion } = useBench.getState();
    const names = found.view.project.motions.map((m) => m.name);
    replaceDraft(found.view.project, names.includes(motion) ? motion : names[0]);
    setFound(null);
    setSaid("Kept. Undo brings the others back.");
  };
  const changed = found !== null && found.of !== project;
  return (
    <>
      <p className="hint">
        Walks made from the machine alone, whatever it has. Two legs walk by their timing, as soles and ankles let them;
        more legs by the gait such machines begin with, four trot besides; feet that cannot but slide crawl. Each walk
        ahead gets its start and its stop.
      </p>
      <button type="button" className="do" disabled={busy} onClick={() => void make()}>
        Find its walks
      </button>
      <Working kind="fresh_set" busy={busy} />
      <p className="hint" role="status">
        {said}
      </p>
      {found && (
        <>
          <table className="set-table">
            <caption className="visually-hidden">Its walks</caption>
            <thead>
              <tr>
                <th scope="col">Motion</th>
                <th scope="col">A cycle goes</th>
                <th scope="col">Takes</th>
              </tr>
            </thead>
            <tbody>
              {found.view.made.map((m) => (
                <Fragment key={m.name}>
                  <tr>
                    <th scope="row">
                      <i className={`mark ${m.severity ?? (m.unjudged ? "open" : "well")}`} aria-hidden="true" />{" "}
                      {m.name}
                    </th>
                    <td>{wayOf(m)}</td>
                    <td>{shown(m.cycle_s, 2)} s</td>
                  </tr>
                  {(m.against || m.unjudged) && (
                    <tr className="why">
                      <td colSpan={3}>{m.against ?? `not judged: ${m.unjudged}`}</td>
                    </tr>
                  )}
                </Fragment>
              ))}
            </tbody>
          </table>
          {changed && <p className="hint">The walker has changed since; find them anew.</p>}
          <p className="hint">
            All {project.motions.length} motions it has now are replaced, and what names them goes.
          </p>
          <button type="button" className="do keep" disabled={changed} onClick={keep}>
            Keep these walks
          </button>
        </>
      )}
    </>
  );
}
