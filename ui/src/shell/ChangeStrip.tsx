/** Before → after: the figures that the present or latest change moves, and the findings it brings or clears. */
import { useCatalogue } from "@/api/catalogue";
import { useBench } from "@/bench/state";
import { withUnit } from "@/look/number";

const MOST = 3;

// Whatever else moves: a weight that is put on is told of here.
const ALWAYS = ["mass_g", "com_height_mm"];

export function ChangeStrip() {
  const figures = (useCatalogue()?.figures ?? []).filter((f) => f.compared).map((f) => f.name);
  const told = [...ALWAYS, ...figures.filter((f) => !ALWAYS.includes(f))];
  const before = useBench((s) => s.settled);
  const after = useBench((s) => s.picture);
  const dragging = useBench((s) => s.dragging);
  const waiting = useBench((s) => s.waiting);
  if (!before || !after || before.motion !== after.motion)
    return <p className="change-strip quiet">Change something: its effect is told here.</p>;
  const moved = told.flatMap((name) => {
    const old = before.figures.find((f) => f.name === name);
    const now = after.figures.find((f) => f.name === name);
    if (!old || !now || now.stale || Math.abs(now.value - old.value) < 0.5 * 10 ** -now.digits) return [];
    return [
      {
        name,
        label: now.label,
        old: withUnit(old.value, "", old.digits),
        now: withUnit(now.value, now.unit, now.digits),
      },
    ];
  });
  const codes = (list: typeof after.findings) =>
    new Set(list.filter((f) => !after.checking.includes(f.code)).map((f) => f.code));
  const [had, has] = [codes(before.findings), codes(after.findings)];
  const fresh = [...has].filter((c) => !had.has(c));
  const cleared = [...had].filter((c) => !has.has(c));
  return (
    <dl className="change-strip" aria-label={dragging ? "What this change would do" : "What the last change did"}>
      {moved.length === 0 && fresh.length + cleared.length === 0 && (
        <dt>{waiting || !after.whole ? "Working it out …" : "No figure moved"}</dt>
      )}
      {fresh.length + cleared.length > 0 && (
        <div>
          <dt>Findings</dt>
          <dd>
            {fresh.map((c) => (
              <b key={c} className="fresh">
                +{c}{" "}
              </b>
            ))}
            {cleared.map((c) => (
              <span key={c}>−{c} </span>
            ))}
          </dd>
        </div>
      )}
      {moved.slice(0, MOST).map((m) => (
        <div key={m.name}>
          <dt>{m.label}</dt>
          <dd>
            {m.old} → <b>{m.now}</b>
          </dd>
        </div>
      ))}
    </dl>
  );
}
