/** What was measured of a built leg: lengths, zeros and play, and the drift of its foot over its height. */

import { useState } from "react";
import { fetched, type Limb, type Project, posted, type Schemas } from "@/api/client";
import { inWords } from "@/bench/holding";
import { edit } from "@/bench/store";
import { Fold } from "@/controls/Fold";
import { NumberBox } from "@/controls/NumberBox";
import { Refused } from "@/controls/Refused";
import { Remove } from "@/controls/Remove";
import { shown, withUnit } from "@/look/number";

type Truth = Schemas["MeasuredLimb"];

function truthOf(project: Project, limb: string): Truth | undefined {
  return project.walker.as_built.limbs.find((m) => m.limb === limb);
}

function change(limb: string, apply: (truth: Truth) => void): void {
  edit((draft) => {
    let truth = truthOf(draft, limb);
    if (!truth) {
      truth = { limb, link_length_mm: {}, joint_zero_deg: {}, joint_play_deg: {}, drift: [] };
      draft.walker.as_built.limbs.push(truth);
    }
    apply(truth);
  }, true);
}

/** A value as measured; the same as drawn is no measurement. */
function put(group: Record<string, number>, name: string, value: number, drawn: number): void {
  if (Math.abs(value - drawn) < 1e-9) delete group[name];
  else group[name] = value;
}

export function AsBuilt({ project, limb }: { project: Project; limb: Limb }) {
  const truth = truthOf(project, limb.name);
  return (
    <Fold name="As built">
      <p className="hint">
        What was measured is laid over the drawing: the table stays as drawn, the walk shows what comes of it.
      </p>
      <fieldset className="number-grid">
        <legend>Measured lengths</legend>
        {limb.links.map((link) => (
          <NumberBox
            key={link.name}
            label={`${link.name}, measured`}
            value={truth?.link_length_mm[link.name] ?? link.length_mm}
            unit="mm"
            step={0.5}
            min={0}
            max={2000}
            onValue={(v) => change(limb.name, (t) => put(t.link_length_mm, link.name, v, link.length_mm))}
          />
        ))}
      </fieldset>
      <fieldset className="number-grid stops">
        <legend>Joints: zero off, and play end to end</legend>
        {limb.joints.map((joint) => (
          <div key={joint.name} className="pair">
            <span>{joint.name}</span>
            <NumberBox
              quiet
              label={`${joint.name}, zero off`}
              value={truth?.joint_zero_deg[joint.name] ?? 0}
              unit="°"
              step={0.5}
              min={-60}
              max={60}
              onValue={(v) => change(limb.name, (t) => put(t.joint_zero_deg, joint.name, v, 0))}
            />
            <NumberBox
              quiet
              label={`${joint.name}, play`}
              value={truth?.joint_play_deg[joint.name] ?? 0}
              unit="°"
              step={0.1}
              min={0}
              max={20}
              onValue={(v) => change(limb.name, (t) => put(t.joint_play_deg, joint.name, v, 0))}
            />
          </div>
        ))}
      </fieldset>
    </Fold>
  );
}

/** Readings at a few heights, and which joint's zero or link's length explains them. */
export function Drift({ project, limb }: { project: Project; limb: Limb }) {
  const readings = truthOf(project, limb.name)?.drift ?? [];
  const [found, setFound] = useState<Schemas["Explanations"] | null>(null);
  const [refusal, setRefusal] = useState("");
  const explain = async () => {
    try {
      const answer = await fetched("/api/drift", posted({ project, limb: limb.name }));
      setFound((await answer.json()) as Schemas["Explanations"]);
      setRefusal("");
    } catch (error) {
      setFound(null);
      setRefusal(inWords(error));
    }
  };
  const take = (e: Schemas["Explanation"]) =>
    change(limb.name, (t) => {
      if (e.kind === "zero")
        t.joint_zero_deg[e.part] = Math.round(((t.joint_zero_deg[e.part] ?? 0) + e.amount) * 100) / 100;
      else {
        const drawn = limb.links.find((k) => k.name === e.part)?.length_mm ?? 0;
        t.link_length_mm[e.part] = Math.round(((t.link_length_mm[e.part] ?? drawn) + e.amount) * 100) / 100;
      }
    });
  return (
    <Fold name="Drift with height">
      <p className="hint">
        Hold the foot on one spot, raise and lower the body, and read how far the foot stands off at each height.
      </p>
      <div className="drift-row head" aria-hidden="true">
        <span>height</span>
        <span>forward</span>
        <span>left</span>
        <i />
      </div>
      {readings.map((r, n) => (
        <div key={n} className="drift-row">
          {[r.height_mm, r.drift_mm[0], r.drift_mm[1]].map((value, k) => (
            <NumberBox
              key={["height", "forward", "left"][k]}
              quiet
              label={`Reading ${n + 1}, ${["height", "forward", "left"][k]}`}
              value={value}
              unit="mm"
              step={k ? 0.5 : 5}
              min={-3000}
              max={3000}
              onValue={(v) =>
                change(limb.name, (t) => {
                  if (k === 0) t.drift[n].height_mm = v;
                  else t.drift[n].drift_mm[k - 1] = v;
                })
              }
            />
          ))}
          <Remove
            label={`Remove reading ${n + 1}`}
            onRemove={() => change(limb.name, (t) => void t.drift.splice(n, 1))}
          />
        </div>
      ))}
      <div className="button-row">
        <button
          type="button"
          className="do"
          onClick={() =>
            change(limb.name, (t) => {
              const last = t.drift[t.drift.length - 1]?.height_mm ?? 30;
              t.drift.push({ height_mm: last + 30, drift_mm: [0, 0] });
            })
          }
        >
          Add a reading
        </button>
        <button type="button" className="do" disabled={readings.length < 2} onClick={() => void explain()}>
          Explain
        </button>
      </div>
      <Refused why={refusal} />
      {found && (
        <ol className="explanations">
          {found.explanations.slice(0, 5).map((e) => (
            <li key={`${e.kind}${e.part}`}>
              <span>
                {e.part} {e.kind === "zero" ? "zero" : "length"} {e.amount < 0 ? "−" : "+"}
                {withUnit(Math.abs(e.amount), e.unit, 1)}
                <small> leaves {shown(e.left_mm, 1)} mm</small>
              </span>
              <button type="button" className="do" onClick={() => take(e)}>
                Record
              </button>
            </li>
          ))}
        </ol>
      )}
    </Fold>
  );
}
