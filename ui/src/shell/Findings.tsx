import "./findings.css";
import { useQuery } from "@tanstack/react-query";
import { Link, useLocation } from "react-router";
import { useCatalogue } from "@/api/catalogue";
import type { Remedy, Schemas } from "@/api/client";
import { type Finding, figure, type Picture } from "@/api/picture";
import { search } from "@/api/searches";
import { askForMore, useDryRun } from "@/bench/dryRuns";
import { forget } from "@/bench/holding";
import { useBench } from "@/bench/state";
import { dropGhost, goToWorst, keepRemedy, keyOf, openFinding, tryRemedy, undo } from "@/bench/store";
import { useUnjudged } from "@/bench/unjudged";
import { Working } from "@/controls/Working";
import { inShort, type Run } from "@/look/dryRun";
import { withUnit } from "@/look/number";

/** The tray of findings: one line each, one open with what mends it. Its height never changes. */
export function Findings() {
  const picture = useBench((s) => s.picture);
  const open = useBench((s) => s.open);
  const refusal = useBench((s) => s.refusal);
  const held = useBench((s) => s.held);
  const notice = useBench((s) => s.notice);
  const unjudged = useUnjudged();
  const station = useBench((s) => s.station);
  const judgements = useCatalogue()?.judgements ?? [];
  // A note stands where something can be done about it, and takes no room elsewhere.
  const noted = (code: string) => judgements.find((j) => j.code === code)?.stations.includes(station) ?? false;
  const findings = (picture?.findings ?? []).filter((f) => f.severity !== "note" || noted(f.code));
  const sound = findings.every((f) => f.severity === "note");
  const dry = useDryRun();
  const badly = dry.run !== null && dry.run.goes_badly !== "";
  return (
    <section className="findings" aria-label="Findings">
      <h2>
        Findings <span>{findings.length > 0 && findings.length}</span>
      </h2>
      <div className="findings-list">
        {held && (
          <div className="finding open" role="alert">
            <i className="mark stop" aria-hidden="true" />
            <div>
              <p>{held.sentence}</p>
              <p className="small">That one is not taken; all else is, and is saved.</p>
              <button type="button" className="do" onClick={forget}>
                Well
              </button>
            </div>
          </div>
        )}
        {notice && (
          <div className="finding open" role="status">
            <i className="mark note" aria-hidden="true" />
            <div>
              <p>{notice}</p>
              <button type="button" className="do" onClick={() => useBench.setState({ notice: "" })}>
                Well
              </button>
            </div>
          </div>
        )}
        {refusal && picture && (
          <div className="finding open" role="alert">
            <i className="mark stop" aria-hidden="true" />
            <div>
              <p>{refusal}</p>
              <p className="small">The drawing shows the last that could be solved. Nothing of this is saved.</p>
              <button type="button" className="do" onClick={undo}>
                Undo
              </button>
            </div>
          </div>
        )}
        {!sound &&
          findings.map((finding) => <Line key={keyOf(finding)} finding={finding} open={keyOf(finding) === open} />)}
        {picture && sound && !refusal && picture.checking.length > 0 && (
          <div className="finding">
            <i className="mark checking" aria-hidden="true" />
            <p>Checking …</p>
          </div>
        )}
        {picture && sound && !refusal && picture.checking.length === 0 && !badly && (
          <div className="finding">
            <i className={`mark ${unjudged.length ? "open" : "well"}`} aria-hidden="true" />
            <p>
              {unjudged.length ? `Nothing found. Not judged: ${unjudged.join("; ")}.` : wellSaid(picture)}
              {picture.at_speed[picture.motion] && ` No start or stop of its own: ${picture.at_speed[picture.motion]}.`}
              {dry.run && !dry.old && ` ${inShort(dry.run)}`}
            </p>
          </div>
        )}
        {picture && !refusal && badly && dry.run && <WentBadly run={dry.run} old={dry.old} />}
        {picture && !refusal && !sound && !badly && dry.run && (
          <div className={`finding${dry.old ? " old" : ""}`}>
            <i className={`mark well${dry.old ? " old" : ""}`} aria-hidden="true" />
            <p>{inShort(dry.run)}</p>
          </div>
        )}
        {sound &&
          findings.map((finding) => <Line key={keyOf(finding)} finding={finding} open={keyOf(finding) === open} />)}
      </div>
    </section>
  );
}

/** Nothing is found on paper, or little, and yet: it is told here, and at Balance what is behind it. */
function WentBadly({ run, old }: { run: Run; old: boolean }) {
  const { search } = useLocation();
  const walker = useBench((s) => s.saved?.id);
  return (
    <div className={`finding${old ? " old" : " open"}`}>
      <i className="mark warn" aria-hidden="true" />
      <div>
        <p>
          <span className="visually-hidden">Warning{old ? ", checking" : ""}: </span>
          {inShort(run)}
        </p>
        {!old && (
          <Link className="do" to={`/walkers/${walker}/balance${search}`} onClick={askForMore}>
            What mends it
          </Link>
        )}
      </div>
    </div>
  );
}

/** What is well, in one sentence with its number. */
function wellSaid(picture: Picture): string {
  const digits = (mm: number) => (mm < 9.95 ? 1 : 0);
  if (picture.balance === "static") {
    const worst = picture.worst?.margin_mm;
    return `Sound. May stop anywhere: worst ${worst === undefined ? "none" : withUnit(worst, "mm", digits(worst))}.`;
  }
  const room = figure(picture, "pushing_room_mm")?.value;
  const ahead = figure(picture, "pushing_ahead_mm")?.value;
  const lean = figure(picture, "lean_deg")?.value;
  if (ahead !== undefined)
    return `Sound while it keeps moving: pushes ${withUnit(ahead, "mm", digits(ahead))} from toes and heels.`;
  if (room !== undefined)
    return `Sound while it keeps moving: pushes ${withUnit(room, "mm", digits(room))} inside its soles.`;
  return lean === undefined
    ? "Sound while it keeps moving."
    : `Sound while it keeps moving: leans ${withUnit(lean, "°", 1)}.`;
}

function Line({ finding, open }: { finding: Finding; open: boolean }) {
  const key = keyOf(finding);
  const severity = finding.severity === "stop" ? "Stop" : finding.severity === "warn" ? "Warning" : "Note";
  return (
    <div className={`finding${open ? " open" : ""}${finding.checking ? " old" : ""}`}>
      <i className={`mark ${finding.severity}`} aria-hidden="true" />
      <div>
        <button
          type="button"
          className="finding-head"
          aria-expanded={open}
          onClick={() => openFinding(open ? null : key)}
        >
          <span className="visually-hidden">
            {severity}
            {finding.checking ? ", checking" : ""}:{" "}
          </span>
          {open ? finding.title : finding.message}
          {open && <small>{finding.code}</small>}
        </button>
        {open && (
          <>
            <p>{finding.message}</p>
            <Mend finding={finding} />
          </>
        )}
      </div>
    </div>
  );
}

function Mend({ finding }: { finding: Finding }) {
  const draft = useBench((s) => s.pictured);
  const motion = useBench((s) => s.motion);
  const dragging = useBench((s) => s.dragging);
  const { data, isFetching, error, refetch } = useQuery({
    queryKey: ["remedies", finding.code, finding.subject, motion, draft],
    queryFn: async () => {
      const asked = { project: draft, motion, finding: { code: finding.code, subject: finding.subject } };
      return (await search("/api/remedies", asked)).json() as Promise<Schemas["Remedies"]>;
    },
    enabled: draft !== null && !dragging,
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 60_000,
    retry: false,
  });
  return (
    <div className="mend">
      {finding.where.time_s !== null && (
        <button type="button" className="link-button" onClick={goToWorst}>
          Show the instant <kbd>W</kbd>
        </button>
      )}
      <Working kind="remedies" busy={isFetching} />
      {error && !isFetching && (
        <p className="small" role="alert">
          {error.message}{" "}
          <button type="button" className="link-button" onClick={() => void refetch()}>
            Look again
          </button>
        </p>
      )}
      {data?.remedies.length === 0 && (
        <p className="small">
          No single change within reach clears this without another stop. Try two at once, or let its walks be found
          anew: Motions, Start over from the machine.
        </p>
      )}
      {data?.remedies.map((remedy) => (
        <RemedyLine key={remedy.title} remedy={remedy} />
      ))}
    </div>
  );
}

function RemedyLine({ remedy }: { remedy: Remedy }) {
  const tried = useBench((s) => s.ghost?.title === remedy.title);
  const change = remedy.changes[0];
  return (
    <div className="remedy">
      <span>
        {remedy.title}
        {change && (
          <small>
            {change.label} {withUnit(change.before, "", change.digits)} →{" "}
            {withUnit(change.after, change.unit, change.digits)}
          </small>
        )}
      </span>
      <button
        type="button"
        className="do"
        aria-pressed={tried}
        aria-label={`Try: ${remedy.title}`}
        onClick={() => (tried ? dropGhost() : void tryRemedy(remedy))}
      >
        Try
      </button>
      <button type="button" className="do keep" aria-label={`Keep: ${remedy.title}`} onClick={() => keepRemedy(remedy)}>
        Keep
      </button>
    </div>
  );
}
