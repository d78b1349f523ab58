/** The whole machine larger or smaller, with what it does to its figures before it is kept. */

import { useState } from "react";
import { client, fetched, type Project, posted, type Schemas, told } from "@/api/client";
import { inWords } from "@/bench/holding";
import { useBench } from "@/bench/state";
import { replaceDraft } from "@/bench/store";
import { NumberBox } from "@/controls/NumberBox";
import { Refused } from "@/controls/Refused";
import { Switch } from "@/controls/Switch";
import { withUnit } from "@/look/number";

interface Tried {
  of: Project;
  project: Project;
  changes: Schemas["Changes"];
}

export function Scale({ project }: { project: Project }) {
  const motion = useBench((s) => s.motion);
  const [factor, setFactor] = useState(1);
  const [all, setAll] = useState(false);
  const [tried, setTried] = useState<Tried | null>(null);
  const [said, setSaid] = useState("");
  const attempt = async () => {
    setSaid("");
    try {
      const body = { project, action: "scale", factor, all_weights: all };
      const scaled = ((await (await fetched("/api/frame", posted(body))).json()) as Schemas["EditedProject"]).project;
      const changes = await told<Schemas["Changes"]>(
        client.POST("/api/changes", { body: { before: project, before_motion: motion, project: scaled, motion } }),
      );
      setTried({ of: project, project: scaled, changes });
    } catch (error) {
      setTried(null);
      setSaid(inWords(error));
    }
  };
  const fresh = tried?.of === project ? tried : null;
  return (
    <fieldset className="scale">
      <legend>Scale the whole machine</legend>
      <div className="scale-row">
        <NumberBox label="Times" value={factor} unit="" step={0.05} min={0.1} max={10} onValue={setFactor} />
        <button type="button" className="do" disabled={factor === 1} onClick={() => void attempt()}>
          Try it
        </button>
      </div>
      <Switch label="Servos, battery and boards grow too" value={all} onValue={(on) => setAll(on)} />
      <Refused why={said} />
      {fresh && (
        <>
          <dl className="figures">
            {fresh.changes.changes.slice(0, 8).map((c) => (
              <div key={c.label} className="figure">
                <dt>{c.label}</dt>
                <dd>
                  {withUnit(c.before, "", c.digits)} → <b>{withUnit(c.after, c.unit, c.digits)}</b>
                </dd>
              </div>
            ))}
          </dl>
          {fresh.changes.new.length > 0 && <p className="hint">New findings: {fresh.changes.new.join(", ")}.</p>}
          <button
            type="button"
            className="do keep"
            onClick={() => {
              replaceDraft(fresh.project);
              setFactor(1);
            }}
          >
            Keep this size
          </button>
        </>
      )}
    </fieldset>
  );
}
