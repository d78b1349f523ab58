import { useCatalogue } from "@/api/catalogue";
import type { Motion, Project } from "@/api/client";
import { limbOf } from "@/bench/edits";
import { useBench } from "@/bench/state";
import { Figures } from "@/controls/Figures";
import { Fold } from "@/controls/Fold";
import { LegPicker } from "@/controls/LegPicker";
import { NumberBox } from "@/controls/NumberBox";
import { shown, withUnit } from "@/look/number";
import { hold, type LegView, type SoleTurn, takeLeg, turnSole, useClamp } from "./clampStore";
import { AsBuilt, Drift } from "./Measured";
import { StraightTest } from "./StraightTest";

const AXES = ["forward", "left", "up"] as const;

/** What the foot is asked, what the joints do for it, and the tests of the bench. */
export function LegControls({ project, motion }: { project: Project; motion: Motion }) {
  const leg = useBench((s) => s.leg);
  const { state, foot } = useClamp();
  const limb = limbOf(project, leg);
  const family = useCatalogue()?.families.find((f) => f.name === limb?.family);
  if (!limb?.neutral_mm || !foot || !state || state.limb !== leg) return <LegPicker />;
  const mount = limb.mount.at_mm;
  return (
    <>
      <LegPicker />
      <fieldset className="number-grid links">
        <legend>Foot of {leg} from its mount</legend>
        {AXES.map((axis, k) => (
          <NumberBox
            key={axis}
            label={axis}
            value={Math.round((foot[k] - mount[k]) * 100) / 100}
            unit="mm"
            step={0.5}
            min={-2000}
            max={2000}
            onValue={(v) => hold(project, foot.map((f, n) => (n === k ? v + mount[k] : f)) as typeof foot, false)}
          />
        ))}
      </fieldset>
      {family?.pose && <Sole project={project} leg={leg} />}
      <p className="clamp-state" role="status">
        {verdict(state)}{" "}
        <button type="button" className="link-button" onClick={() => takeLeg(project, motion, leg)}>
          Back to stance
        </button>
      </p>
      <Joints state={state} />
      <Figures at="leg" />
      <Working state={state} figure={family?.figure ?? ""} />
      <StraightTest project={project} limb={limb} foot={foot} />
      <AsBuilt project={project} limb={limb} />
      <Drift project={project} limb={limb} />
    </>
  );
}

const TURNS: [keyof SoleTurn, string][] = [
  ["toe_deg", "toes left"],
  ["pitch_deg", "toes down"],
  ["roll_deg", "lean right"],
];

/** How the sole is to lie: level, or tilted to a slope. */
function Sole({ project, leg }: { project: Project; leg: string }) {
  const sole = useClamp((s) => s.sole);
  return (
    <fieldset className="number-grid links">
      <legend>Sole of {leg} against the body</legend>
      {TURNS.map(([key, label]) => (
        <NumberBox
          key={key}
          label={label}
          value={sole[key] ?? 0}
          unit="°"
          step={1}
          min={-60}
          max={60}
          onValue={(v) => turnSole(project, { ...sole, [key]: v })}
        />
      ))}
    </fieldset>
  );
}

function verdict(state: LegView): string {
  const missing = Math.hypot(...state.missing);
  if (state.short_mm > 0.05) return `Out of reach by ${withUnit(state.short_mm, "mm", 1)}.`;
  if (missing > 0.05)
    return `Slips ${withUnit(missing, "mm", 1)}${state.tilt_deg > 0.05 ? `, sole ${withUnit(state.tilt_deg, "°", 1)} out of true` : ""}.`;
  if (state.tilt_deg > 0.05) return `Reached, the sole ${withUnit(state.tilt_deg, "°", 1)} out of true.`;
  const room = state.slices.length ? Math.min(...state.slices.map((s) => s.edge_mm)) : null;
  const stops = state.joints.filter((j) => j.value < j.low - 1e-6 || j.value > j.high + 1e-6);
  if (stops.length) return `${stops.map((j) => j.label).join(" and ")} past its end stop.`;
  return room === null ? "Reached." : `Reached, ${withUnit(room, "mm")} to the nearest edge.`;
}

function Joints({ state }: { state: LegView }) {
  return (
    <table className="joint-table">
      <caption className="visually-hidden">Joints at this place of the foot</caption>
      <thead>
        <tr>
          <th scope="col">Joint</th>
          <th scope="col">at</th>
          <th scope="col">foot per °</th>
          <th scope="col">push at 1 N·m</th>
        </tr>
      </thead>
      <tbody>
        {state.joints.map((j) => {
          const over = j.value < j.low - 1e-6 || j.value > j.high + 1e-6;
          const share = Math.min(1, Math.max(0, (j.value - j.low) / (j.high - j.low)));
          return (
            <tr key={j.name} className={over ? "over" : undefined}>
              <th scope="row">
                {j.label}
                <span className="travel" aria-hidden="true">
                  <i style={{ left: `${share * 100}%` }} />
                </span>
              </th>
              <td>{withUnit(j.value, j.unit, 1)}</td>
              <td>{withUnit(j.per_unit_mm, "mm", 2)}</td>
              <td>{j.newtons_per_nm === null ? "" : withUnit(j.newtons_per_nm, "N", 1)}</td>
            </tr>
          );
        })}
      </tbody>
      {(state.straight_mm !== null || state.give_mm_per_n) && (
        <tfoot>
          {state.straight_mm !== null && (
            <tr>
              <td colSpan={4}>
                In this pose {withUnit(state.straight_mm, "mm", 1)} short of straight
                {state.knee_deg_per_mm !== null &&
                  `; the knee turns ${shown(state.knee_deg_per_mm, 1)}° for each mm in or out`}
              </td>
            </tr>
          )}
          {state.give_mm_per_n && (
            <tr>
              <td colSpan={4}>
                Sprung horns: each newton up on the foot moves it {withUnit(state.give_mm_per_n[2], "mm", 2)} up and{" "}
                {withUnit(Math.hypot(state.give_mm_per_n[0], state.give_mm_per_n[1]), "mm", 2)} aside
              </td>
            </tr>
          )}
        </tfoot>
      )}
    </table>
  );
}

function Working({ state, figure }: { state: LegView; figure: string }) {
  const open = useClamp((s) => s.working);
  return (
    <Fold name="Show the working" open={open} onOpen={(working) => useClamp.setState({ working })}>
      {state.steps.length === 0 ? (
        <p className="hint">
          {state.short_mm > 0.001
            ? "Out of reach, so there is no triangle to solve."
            : "A free chain has no closed form; its joints are searched for."}
        </p>
      ) : (
        <ol className="steps">
          {state.steps.map((step, n) => (
            <li key={n}>
              <b>{step.symbol}</b>
              {step.formula ? (
                <>
                  {" = "}
                  {step.formula}
                  <br />
                  <span className="numbers">
                    = {step.numbers} = <b>{withText(step.value, step.unit)}</b>
                  </span>
                </>
              ) : (
                <>
                  {" = "}
                  <b>{withText(step.value, step.unit)}</b>
                </>
              )}
              {step.about && <small> {step.about}</small>}
            </li>
          ))}
        </ol>
      )}
      {figure && (
        <>
          <p className="hint">At zero</p>
          <pre className="zero-pose">{figure}</pre>
        </>
      )}
    </Fold>
  );
}

function withText(value: string, unit: string): string {
  return unit === "°" ? `${value}°` : unit ? `${value} ${unit}` : value;
}
