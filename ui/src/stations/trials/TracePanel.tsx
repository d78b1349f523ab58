/** A trial's trace over one cycle of its plan: how it leaned, what its feet read, and what that tells. */
import { Choice } from "@/controls/Choice";
import { Maybe } from "@/controls/Maybe";
import { NumberBox } from "@/controls/NumberBox";
import { withUnit } from "@/look/number";
import { FeetChart } from "./FeetChart";
import { LeanChart } from "./LeanChart";
import { Told } from "./Told";
import { type Reads, useSensors, useTrace } from "./traces";

const USUAL_FULL = 1023;
const BOTH = 690;

interface Props {
  walker: number;
  number: number;
  width: number;
  onClose: () => void;
}

export function TracePanel({ walker, number, width, onClose }: Props) {
  const { trace, error } = useTrace(walker, number);
  const { loaded, full_scale } = useSensors();
  // Where both do not fit side by side, what it tells stands below.
  const left = width < BOTH ? width : Math.floor(width * 0.54);
  const file = `/api/walkers/${walker}/trials/${number}/trace.csv`;
  return (
    <section className="trace" aria-label={`Trace of trial ${number}`} aria-busy={!trace && !error}>
      <header>
        <h2>
          Trial {number}, its trace
          {trace && (
            <small>
              {trace.motion}, r{trace.revision} · {withUnit(trace.lasts_s, "s", 1)} in {trace.lines} lines · a cycle
              takes {withUnit(trace.period_s, "s", 2)}, told {withUnit(trace.told_s, "s", 2)}
            </small>
          )}
        </h2>
        <a href={file} download>
          The file
        </a>
        <button type="button" className="do" onClick={onClose}>
          Close
        </button>
      </header>
      {error && <p role="alert">{error}</p>}
      {trace && (
        <div className="trials-top">
          <div>
            {trace.leans.map((lean) => (
              <LeanChart key={lean.way} lean={lean} period={trace.told_s} placed={trace.placed} width={left} />
            ))}
            {trace.feet.length > 0 && <FeetChart feet={trace.feet} period={trace.told_s} width={left} />}
          </div>
          <div className="seen">
            {trace.seen.length === 0 && <p>It goes as told: nothing that wants doing.</p>}
            {trace.seen.map((each) => (
              <Told key={each.title + each.message} each={each} />
            ))}
            {trace.feet.length > 0 && (
              <div className="sensors">
                <Choice
                  label="Under load a foot reads"
                  value={loaded}
                  onValue={(reads) => useSensors.setState({ loaded: reads as Reads })}
                >
                  <option value="found out">{trace.more ? "more, as found out" : "less, as found out"}</option>
                  <option value="more">more</option>
                  <option value="less">less</option>
                </Choice>
                <Maybe
                  label="Full scale"
                  said={full_scale !== null}
                  unsaid="not said: nothing told of resistors"
                  onSet={() => useSensors.setState({ full_scale: USUAL_FULL })}
                  onUnset={() => useSensors.setState({ full_scale: null })}
                >
                  <NumberBox
                    label="Full scale"
                    value={full_scale ?? USUAL_FULL}
                    unit=""
                    step={1}
                    min={1}
                    max={1_000_000}
                    onValue={(v) => useSensors.setState({ full_scale: v })}
                  />
                </Maybe>
              </div>
            )}
            {trace.passed_over.length > 0 && (
              <p className="hint">Passed over: {trace.passed_over.slice(0, 8).join(", ")}.</p>
            )}
            {!trace.placed && (
              <p className="hint">
                Nothing in it tells where in the cycle it begins: what is told lies beside it by any amount.
              </p>
            )}
          </div>
        </div>
      )}
    </section>
  );
}
