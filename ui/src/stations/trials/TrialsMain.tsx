/** What the floor says: how far each trial got of its way, what all of them tell, and every trial as it was logged. */

import { useState } from "react";
import type { Project } from "@/api/client";
import type { Picture } from "@/api/picture";
import { inWords } from "@/bench/holding";
import { useBench } from "@/bench/state";
import { replaceDraft } from "@/bench/store";
import { isoTime, shown, withUnit } from "@/look/number";
import { type Line, useLog, useReread, withdraw } from "./log";
import { TakeIn } from "./TakeIn";
import { Told } from "./Told";
import { TraceOf } from "./TraceOf";
import { TracePanel } from "./TracePanel";
import { useBringIn, useOpened } from "./traces";
import { WayChart } from "./WayChart";

export function TrialsMain({ width, height }: { picture: Picture; leg: string; width: number; height: number }) {
  const walker = useBench((s) => s.saved?.id) ?? 0;
  const motion = useBench((s) => s.motion);
  const log = useLog();
  const saved = useBench((s) => (s.saveState === "saved" ? s.saved?.number : undefined));
  const reread = useReread();
  const opened = useOpened();
  const bringIn = useBringIn(walker);
  const [refused, setRefused] = useState<{ number: number; why: string } | null>(null);
  if (!log) return <div className="trials" style={{ width, height }} aria-busy="true" />;
  const { trials, seen } = log;
  const current = log.revision === saved;
  const own = trials.filter((t) => t.trial.motion === motion && !t.withdrawn);
  const open = opened.walker === walker ? trials.find((t) => t.number === opened.number && t.traced) : undefined;
  // Of a motion that goes on.
  const went = trials.find((t) => t.planned.asked_mm !== null || t.planned.turned_deg !== 0);
  const bring = async (number: number, file: File) => {
    setRefused(null);
    try {
      await bringIn(number, file);
      useOpened.setState({ walker, number });
    } catch (error) {
      setRefused({ number, why: inWords(error) });
    }
  };
  return (
    <div className="trials" style={{ width, height }}>
      {trials.length === 0 ? (
        <div className="trials-none">
          <h2>No trial yet</h2>
          <p>
            Let {motion} walk for a while along a string on the floor. Write down how long, how far along the string,
            how far beside it. The log holds it against what was told, floor by floor, and says what it comes to.
          </p>
          <p>
            <TakeIn walker={walker} onTaken={reread} />
          </p>
        </div>
      ) : (
        <>
          {open ? (
            <TracePanel
              walker={walker}
              number={open.number}
              width={width - 40}
              onClose={() => useOpened.setState({ walker: 0, number: 0 })}
            />
          ) : (
            <div className="trials-top">
              <WayChart lines={own} motion={motion} width={Math.max(320, Math.floor(width * 0.46))} height={210} />
              <section className="seen" aria-label="What the trials tell">
                <h2>What they tell</h2>
                {seen.length === 0 && <p className="hint">Nothing that wants doing.</p>}
                {seen.map((each) => (
                  <Told key={each.message} each={each}>
                    {each.project && (
                      <button
                        type="button"
                        className="do"
                        disabled={!current}
                        onClick={() => replaceDraft(each.project as Project)}
                      >
                        {each.change}
                      </button>
                    )}
                  </Told>
                ))}
              </section>
            </div>
          )}
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
                <th scope="col">Trace</th>
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
                  walker={walker}
                  open={open?.number === line.number}
                  refused={refused?.number === line.number ? refused.why : ""}
                  onBring={(file) => void bring(line.number, file)}
                  onWithdraw={() => void withdraw(walker, line.number, !line.withdrawn).then(reread)}
                />
              ))}
            </tbody>
          </table>
          <p>
            <a href={`/api/walkers/${walker}/trials.csv`} download>
              The log as CSV
            </a>
            {" · "}
            <TakeIn walker={walker} onTaken={reread} />
          </p>
          <p className="hint">
            A trace is a CSV of what the machine's own sensors told: <code>time_s</code> or <code>time_ms</code>,{" "}
            <code>roll_deg</code>, <code>pitch_deg</code>, and what a foot's sensor reads under its leg's name; three
            cycles or more.{" "}
            {went && (
              <a href={`/api/walkers/${walker}/trials/${went.number}/stand-in-trace.csv`} download>
                A made-up one of trial {went.number}
              </a>
            )}
          </p>
        </>
      )}
    </div>
  );
}

const DASH = "–";

interface RowProps {
  line: Line;
  walker: number;
  open: boolean;
  /** Why the file that was brought in last is no trace. */
  refused: string;
  onBring: (file: File) => void;
  onWithdraw: () => void;
}

function Row({ line, walker, open, refused, onBring, onWithdraw }: RowProps) {
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
        <TraceOf line={line} walker={walker} open={open} refused={refused} onBring={onBring} />
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
