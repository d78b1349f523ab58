/** A dry run: the walk on the floor as its servos give, and as other servos, looser joints and another floor would have
 * it; what it covers beside what is planned, and what would have it go well. */
import { useEffect, useRef } from "react";
import type { Project, Schemas } from "@/api/client";
import { useSearched } from "@/api/searched";
import { useMoreAsked } from "@/bench/dryRuns";
import { replaceDraft } from "@/bench/store";
import { Fold, openFold } from "@/controls/Fold";
import { Working } from "@/controls/Working";
import { inWords, percent, type Run } from "@/look/dryRun";

type View = Schemas["DryRunView"];

const FOLD = "Dry run";

/** The track shows so much of the way. */
const MOST = 1.6;

export function DryRun({ project }: { project: Project }) {
  const { found, old, busy, fault, ask } = useSearched<View>("/api/dry-run", project);
  const [asked, told] = useMoreAsked();
  const place = useRef<HTMLParagraphElement>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: once each time more is asked for
  useEffect(() => {
    if (!asked) return;
    told();
    openFold(FOLD);
    const show = () => place.current?.scrollIntoView({ block: "start" });
    show();
    // What it comes to is longer than the question was.
    void ask().then(() => requestAnimationFrame(show));
  }, [asked]);
  return (
    <Fold name={FOLD} open>
      <p className="hint" ref={place}>
        On the floor as its servos give, from its own start to its own stop. Nothing is put right.
      </p>
      <button type="button" className="do" disabled={busy} onClick={() => void ask()}>
        {found ? "Run it again" : "Run it"}
      </button>
      <Working kind="dry_run" busy={busy} />
      {fault && (
        <p className="refused" role="alert">
          {fault}
        </p>
      )}
      {found && !busy && (
        <div className="dry-run" data-old={old || undefined}>
          {old && <p className="hint">Changed since: this is how it went before.</p>}
          <p className="outcome" data-well={found.runs[0].goes_badly === "" || undefined}>
            {inWords(found.runs[0])}
          </p>
          <ul>
            <li className="heads" aria-hidden="true">
              <span>{noWay(found.runs) ? "" : "0 to 160 % of its way"}</span>
              <span>{noWay(found.runs) ? "a cycle" : "goes"}</span>
              <span>leans</span>
            </li>
            {found.runs.map((run) => (
              <OneRun key={run.machine} run={run} well={found.wanted} />
            ))}
          </ul>
          {found.runs[0].goes_badly !== "" && <Mends found={found.mends} />}
        </div>
      )}
    </Fold>
  );
}

function OneRun({ run, well: [low, high] }: { run: Run; well: View["wanted"] }) {
  const at = (share: number) => `${(100 * Math.min(Math.max(share, 0), MOST)) / MOST}%`;
  return (
    <li data-well={run.goes_badly === "" || undefined}>
      <span className="which">{run.machine}</span>
      {run.covers === null ? (
        <span className="words">{run.goes_badly || "stays up"}</span>
      ) : (
        <span className="way" aria-hidden="true">
          <i className="well" style={{ left: at(low), width: at(high - low) }} />
          <i className="plan" style={{ left: at(1) }} />
          <i className="went" style={{ left: at(run.covers) }} />
        </span>
      )}
      {run.fell_s === null && (
        <>
          <span className="covers">
            {run.covers === null ? run.goes_mm !== null && `${run.goes_mm.toFixed(0)} mm` : percent(run.covers)}
          </span>
          <span className="leans">{run.leans_deg.toFixed(1)}°</span>
        </>
      )}
    </li>
  );
}

function Mends({ found }: { found: View["mends"] }) {
  if (!found.length) return <p className="hint">None of what was tried has it go well.</p>;
  return (
    <ul className="mends">
      {found.map((mend) => (
        <li key={mend.title}>
          <span>
            {mend.title}: {inWords(mend.run).toLowerCase()}
          </span>
          <button type="button" className="do" onClick={() => replaceDraft(mend.project as Project)}>
            Keep
          </button>
        </li>
      ))}
    </ul>
  );
}

/** Whether their plan tells no way that they might cover. */
function noWay(runs: Run[]): boolean {
  return runs.every((run) => run.covers === null);
}
