/** The whole set in one action: as long strides as may be, with what limits each, and what is left out. */
import { Fragment, useState } from "react";
import { useCatalogue } from "@/api/catalogue";
import type { Project, Schemas } from "@/api/client";
import { search } from "@/api/searches";
import { legsOf } from "@/bench/edits";
import { useBench } from "@/bench/state";
import { replaceDraft } from "@/bench/store";
import { Choice } from "@/controls/Choice";
import { NumberBox } from "@/controls/NumberBox";
import { Working } from "@/controls/Working";
import { shown, withUnit } from "@/look/number";

type Found = Schemas["SetView"];

export function MakeSet({ project }: { project: Project }) {
  const legs = legsOf(project).length;
  const gaits = useCatalogue()?.gaits.filter((g) => g.legs === legs) ?? [];
  const [gait, setGait] = useState("");
  const [mixture, setMixture] = useState<[number, number, number]>([0, 0, 0]);
  const [found, setFound] = useState<{ of: Project; view: Found } | null>(null);
  const [said, setSaid] = useState("");
  const [busy, setBusy] = useState(false);
  const make = async () => {
    setBusy(true);
    setSaid("");
    try {
      const answer = await search("/api/motion-set", {
        project,
        gait: gait || null,
        mixture: mixture.some(Boolean) ? mixture : null,
      });
      setFound({ of: project, view: (await answer.json()) as Found });
      setSaid("");
    } catch (error) {
      setSaid((error as Error).message);
    }
    setBusy(false);
  };
  const keep = () => {
    if (!found) return;
    const { motion } = useBench.getState();
    replaceDraft(found.view.project, found.view.project.motions.some((m) => m.name === motion) ? motion : "Forward");
    setFound(null);
    setSaid("Kept. Undo takes it back.");
  };
  const view = found?.view;
  return (
    <>
      <p className="hint">
        Stand, in place, forward, back, left, right, turns and arcs, each with the longest stride that reach, speed,
        slip and margin allow. Motions of the same names are replaced.
      </p>
      <Choice label="Gait" value={gait} onValue={(chosen) => setGait(chosen)}>
        <option value="">as its walk</option>
        {gaits.map((g) => (
          <option key={g.name} value={g.name}>
            {g.label}
          </option>
        ))}
      </Choice>
      <fieldset className="number-grid links">
        <legend>An arc of your own: parts of each, 0 for none</legend>
        {["forward", "left", "turn left"].map((label, n) => (
          <NumberBox
            key={label}
            label={`${label} part`}
            value={mixture[n]}
            unit=""
            step={0.1}
            min={-10}
            max={10}
            onValue={(v) => setMixture(mixture.map((was, k) => (k === n ? v : was)) as [number, number, number])}
          />
        ))}
      </fieldset>
      <button type="button" className="do" disabled={busy} onClick={() => void make()}>
        Find the strides
      </button>
      <Working kind="motion_set" busy={busy} />
      <p className="hint" role="status">
        {said}
      </p>
      {view && (
        <>
          <table className="set-table">
            <caption className="visually-hidden">The set with {view.gait}</caption>
            <thead>
              <tr>
                <th scope="col">Motion</th>
                <th scope="col">Stroke</th>
                <th scope="col">Pace</th>
              </tr>
            </thead>
            <tbody>
              {view.made.map((m) => (
                <Fragment key={m.name}>
                  <tr>
                    <th scope="row">
                      {m.unjudged && <i className="mark open" aria-hidden="true" />} {m.name}
                      {m.unjudged && <small>not judged: {m.unjudged}</small>}
                    </th>
                    <td>{m.stroke_mm ? withUnit(m.stroke_mm, "mm") : ""}</td>
                    <td>
                      {m.speed_mm_s > 0 && `${shown(m.speed_mm_s)} mm/s`}
                      {m.turn_deg_s !== 0 && ` ${shown(m.turn_deg_s, 1)}°/s`}
                    </td>
                  </tr>
                  {m.limited_by && (
                    <tr className="why">
                      <td colSpan={3}>
                        {m.code}: {m.limited_by}
                      </td>
                    </tr>
                  )}
                </Fragment>
              ))}
              {view.left_out.map((m) => (
                <tr key={m.name} className="left-out">
                  <th scope="row">
                    {m.name}
                    <small>{m.reason}</small>
                  </th>
                  <td colSpan={2}>left out</td>
                </tr>
              ))}
            </tbody>
          </table>
          {found?.of !== project && <p className="hint">The walker has changed since; find them anew.</p>}
          <button type="button" className="do keep" disabled={found?.of !== project} onClick={keep}>
            Keep the set
          </button>
        </>
      )}
    </>
  );
}
