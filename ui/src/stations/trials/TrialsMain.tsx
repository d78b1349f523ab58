/** What the floor says: how far each trial got of its way, what all of them tell, and every trial as it was logged. */

import type { Project } from "@/api/client";
import type { Picture } from "@/api/picture";
import { useBench } from "@/bench/state";
import { replaceDraft } from "@/bench/store";
import { isoTime, shown, withUnit } from "@/look/number";
import { type Line, type Seen, useLog, useReread, withdraw } from "./log";
import { WayChart } from "./WayChart";

export function TrialsMain({ width, height }: { picture: Picture; leg: string; width: number; height: number }) {
  const walker = useBench((s) => s.saved?.id) ?? 0;
  const motion = useBench((s) => s.motion);
  const log = useLog();
  const saved = useBench((s) => (s.saveState === "saved" ? s.saved?.number : undefined));
  const reread = useReread();
  if (!log) return <div className="trials" style={{ width, height }} aria-busy="true" />;
  const { trials, seen } = log;
  const current = log.revision === saved;
  const own = trials.filter((t) => t.trial.motion === motion && !t.withdrawn);
  return (
    <div className="trials" style={{ width, height }}>
      {trials.length === 0 ? (
        <div className="trials-none">
          <h2>No trial yet</h2>
          <p>
            Let {motion} walk for a while along a string on the floor. Write down how long, how far along the string,
            how far beside it. The log holds it against what was told, floor by floor, and says what it comes to.
          </p>
        </div>
      ) : (
        <>
          <div className="trials-top">
            <WayChart lines={own} motion={motion} width={Math.max(320, Math.floor(width * 0.46))} height={210} />
            <section className="seen" aria-label="What the trials tell">
              <h2>What they tell</h2>
              {seen.length === 0 && <p className="hint">Nothing that wants doing.</p>}
              {seen.map((each) => (
                <What key={each.message} each={each} may={current} />
              ))}
            </section>
          </div>
          <table>
            <caption className="visually-hidden">Trials, the newest first</caption>
            <thead>
              <tr>
                <th scope="col">Trial</th>
                <th scope="col">Walked</th>
                <th scope="col">Got</th>
                <th scope="col">of told</th>
                <th scope="col">Beside, in 1 m</th>
                <th scope="col">Fell, dragged</th>
                <th scope="col">Changed</th>
                <th scope="col">
                  <span className="visually-hidden">Whether it counts</span>
                </th>
              </tr>
            </thead>
            <tbody>
              {trials.map((line) => (
                <Row
                  key={line.number}
                  line={line}
                  onWithdraw={() => void withdraw(walker, line.number, !line.withdrawn).then(reread)}
                />
              ))}
            </tbody>
          </table>
          <p>
            <a href={`/api/walkers/${walker}/trials.csv`} download>
              The log as CSV
            </a>
          </p>
        </>
      )}
    </div>
  );
}

/** may: its change is one of the draft as it stands. */
function What({ each, may }: { each: Seen; may: boolean }) {
  return (
    <article className="what">
      <h3>
        {each.title} {each.code && <small>{each.code}</small>}
      </h3>
      <p>{each.message}</p>
      <p className="hint">{each.do}</p>
      {each.project && (
        <button type="button" className="do" disabled={!may} onClick={() => replaceDraft(each.project as Project)}>
          {each.change}
        </button>
      )}
    </article>
  );
}

const DASH = "–";

function Row({ line, onWithdraw }: { line: Line; onWithdraw: () => void }) {
  const { trial, covered, drift_mm_m: drift } = line;
  const off = covered !== null && (covered < 0.8 || covered > 1.2);
  return (
    <tr className={line.withdrawn ? "withdrawn" : undefined}>
      <th scope="row">
        {line.number}{" "}
        <small>
          {isoTime(line.at)}, r{line.revision}
        </small>
        {trial.note && <small className="note">{trial.note}</small>}
      </th>
      <td>
        {trial.motion}
        <small>
          on {trial.floor}
          {trial.gives && ", soft"}
          {trial.soles !== "as they were" && `, soles ${trial.soles}`}
        </small>
      </td>
      <td>
        {trial.along_mm == null ? DASH : withUnit(trial.along_mm, "mm")}
        <small>in {withUnit(trial.time_s, "s", 1)}</small>
      </td>
      <td className={off ? "off" : undefined}>{covered === null ? DASH : `${shown(100 * covered)} %`}</td>
      <td>
        {drift === null ? DASH : withUnit(Math.abs(drift), "mm")}
        {drift !== null && <small>{drift < 0 ? "right" : "left"}</small>}
      </td>
      <td className={trial.falls ? "off" : undefined}>
        {trial.falls ? `fell ${trial.falls}×` : ""}
        {trial.dragged?.length ? <small>{trial.dragged.join(", ")}</small> : !trial.falls && DASH}
      </td>
      <td title={line.changed.join("\n")}>
        {line.changes === 0 ? DASH : line.changes === 1 ? line.changed[0] : `${line.changes} fields`}
      </td>
      <td>
        <button type="button" className="link-button" onClick={onWithdraw}>
          {line.withdrawn ? "Put back" : "Leave out"}
          <span className="visually-hidden"> trial {line.number}</span>
        </button>
      </td>
    </tr>
  );
}
