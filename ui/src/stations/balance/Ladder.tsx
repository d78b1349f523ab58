/** A walk that lives by its timing, tried rung by rung: what must be seen before the next, what speaks against each, and
 * what would fell it first. */
import type { Project, Schemas } from "@/api/client";
import { useSearched } from "@/api/searched";
import { replaceDraft } from "@/bench/store";
import { Fold } from "@/controls/Fold";
import { Working } from "@/controls/Working";
import { inWords } from "@/look/dryRun";

type Climb = Schemas["Ladder"];

export function Ladder({ project }: { project: Project }) {
  const { found, busy, fault, ask } = useSearched<Climb>("/api/ladder", project);
  return (
    <Fold name="Step by step on the floor">
      <p className="hint">From swaying on its place to the whole walk: each is seen to go well before the next.</p>
      {!found && !busy && (
        <button type="button" className="do" onClick={() => void ask()}>
          Make the rungs
        </button>
      )}
      <Working kind="ladder" busy={busy} />
      {fault && (
        <p className="refused" role="alert">
          {fault}
        </p>
      )}
      {found && (
        <>
          <ol className="rungs">
            {found.rungs.map((r) => (
              <li key={r.name} data-severity={r.severity ?? "sound"}>
                <strong>{r.name}</strong>
                <p>{r.seen}</p>
                {r.against && <p className="against">{r.against}</p>}
                {r.run && <p className="hint">Dry run: {inWords(r.run).toLowerCase()}</p>}
                <p className="hint">
                  {r.felled_by
                    ? `Felled first by ${r.felled_by}.`
                    : "Not felled by twice the give, 1° of play or half the grip."}
                </p>
              </li>
            ))}
          </ol>
          <button type="button" className="do" onClick={() => replaceDraft(found.project as Project)}>
            Add them, each with a start and a stop
          </button>
        </>
      )}
      <p className="care">
        It may fall: a clear floor, nobody underneath, pets out. Above 3 kg or 400 mm a tether or a second person.
      </p>
    </Fold>
  );
}
