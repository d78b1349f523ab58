/** A search under way: how far it is, and a button that stops it. */
import { stopSearch, useProgress } from "@/api/searches";

export function Working({ kind, busy }: { kind: string; busy: boolean }) {
  const progress = useProgress(kind, busy);
  if (!busy) return null;
  return (
    <div className="working-on">
      <progress max={progress?.of ?? 1} value={progress?.done ?? 0} aria-label="How far it is" />
      <span role="status">{progress ? `${progress.what}, ${progress.done + 1} of ${progress.of}` : "Working …"}</span>
      <button type="button" className="do" onClick={() => stopSearch(kind)}>
        Stop
      </button>
    </div>
  );
}
