import { useBench } from "@/bench/state";
import { chooseLeg } from "@/bench/store";

/** Which leg the controls and the solid drawing are about. */
export function LegPicker() {
  const leg = useBench((s) => s.leg);
  const legs = useBench((s) => s.draft?.walker.limbs);
  return (
    <fieldset className="leg-picker">
      <legend className="visually-hidden">Leg</legend>
      {legs?.map((l) => (
        <button
          key={l.name}
          type="button"
          className={l.name === leg ? "chosen" : undefined}
          aria-pressed={l.name === leg}
          onClick={() => chooseLeg(l.name)}
        >
          {l.name}
        </button>
      ))}
    </fieldset>
  );
}
