/** The whole set in one action: as long strides as may be, with what limits each, and what is left out. */
import { Fragment, useState } from "react";
import { useCatalogue } from "@/api/catalogue";
import type { Project, Schemas } from "@/api/client";
import { legsOf } from "@/bench/edits";
import { Choice } from "@/controls/Choice";
import { NumberBox } from "@/controls/NumberBox";
import { Switch } from "@/controls/Switch";
import { inColumn } from "@/look/dryRun";
import { shown, withUnit } from "@/look/number";
import { FoundWalks } from "./FoundWalks";

type Found = Schemas["SetView"];

/** Of more legs the server tries no other orders. */
const ORDERS_TRIED = 5;

export function MakeSet({ project }: { project: Project }) {
  const legs = legsOf(project).length;
  const gaits = useCatalogue()?.gaits.filter((g) => g.legs === legs) ?? [];
  const [gait, setGait] = useState("");
  const [oneOrder, setOneOrder] = useState(false);
  const [mixture, setMixture] = useState<[number, number, number]>([0, 0, 0]);
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
      {legs <= ORDERS_TRIED && (
        <Switch
          label="Legs in one order, so that rows of different ways may be mixed"
          value={oneOrder}
          onValue={setOneOrder}
        />
      )}
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
      <FoundWalks<Found>
        project={project}
        path="/api/motion-set"
        kind="motion_set"
        body={{ gait: gait || null, mixture: mixture.some(Boolean) ? mixture : null, one_order: oneOrder }}
        find="Find the strides"
        columns={["Motion", "Stroke", "Pace", "Dry run"]}
        rows={(view) => rowsOf(view, (name) => gaits.find((g) => g.name === name)?.label)}
        keep="Keep the set"
        kept="Kept. Undo takes it back."
      />
    </>
  );
}

function rowsOf(view: Found, labelOf: (gait: string) => string | undefined) {
  return (
    <>
      {view.made.map((m) => (
        <Fragment key={m.name}>
          <tr>
            <th scope="row">
              {(m.unjudged || m.run?.goes_badly) && (
                <i className={`mark ${m.run?.goes_badly ? "warn" : "open"}`} aria-hidden="true" />
              )}{" "}
              {m.name}
              {m.unjudged && <small>not judged: {m.unjudged}</small>}
              {m.gait !== view.gait && labelOf(m.gait) && <small className="order">{labelOf(m.gait)}</small>}
            </th>
            <td>{m.stroke_mm ? withUnit(m.stroke_mm, "mm") : ""}</td>
            <td>
              {m.speed_mm_s > 0 && `${shown(m.speed_mm_s)} mm/s`}
              {m.turn_deg_s !== 0 && ` ${shown(m.turn_deg_s, 1)}°/s`}
              {m.cycle_s > view.made[0].cycle_s && <small>slower, a cycle in {withUnit(m.cycle_s, "s", 1)}</small>}
            </td>
            <td className="went">{inColumn(m.run)}</td>
          </tr>
          {m.limited_by && (
            <tr className="why">
              <td colSpan={4}>
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
          <td colSpan={3}>left out</td>
        </tr>
      ))}
    </>
  );
}
