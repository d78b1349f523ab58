/** What stands beside a button that makes a machine move: the stops against it, what of it is assumed, and one line of
 * caution, which each builder may put away for a walker once it is known. */
import { useState } from "react";
import { useBench } from "@/bench/state";
import { useUnjudged } from "@/bench/unjudged";

const KEY = "bustle.caution-put-away";

function putAway(): number[] {
  try {
    return JSON.parse(window.localStorage.getItem(KEY) ?? "[]") as number[];
  } catch {
    return [];
  }
}

export function Caution({ children }: { children?: string }) {
  const walker = useBench((s) => s.saved?.id ?? 0);
  const stops = useBench((s) => s.picture?.findings.filter((f) => f.severity === "stop").length ?? 0);
  const assumed = useBench((s) => s.picture?.clearances.some((c) => c.assumed) ?? false);
  const unjudged = useUnjudged();
  const [away, setAway] = useState(() => putAway().includes(walker));
  const hide = () => {
    window.localStorage.setItem(KEY, JSON.stringify([...new Set([...putAway(), walker])]));
    setAway(true);
  };
  return (
    <div className="caution-box">
      {stops > 0 && (
        <p className="caution">
          {stops === 1 ? "A stop finding stands" : `${stops} stop findings stand`} against this motion.
        </p>
      )}
      {unjudged.length > 0 && (
        <p className="hint">
          <i className="mark open" aria-hidden="true" /> Not judged: {unjudged.join("; ")}.
        </p>
      )}
      {assumed && <p className="hint">Assumed, not measured: how far the servos give.</p>}
      {!away && (
        <p className="hint">
          {children ??
            "First on a stand, feet in the air, a stop switch within reach; fingers out of the joints; a stalled servo burns, a falling walker breaks. Lithium packs and servos: their data sheets go first."}{" "}
          <button type="button" className="link-button" onClick={hide}>
            I know
          </button>
        </p>
      )}
    </div>
  );
}
