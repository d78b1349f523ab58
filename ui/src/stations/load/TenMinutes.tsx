/** What ten minutes with a scale, a ruler and a spring balance tell: each line drawn, read, put beside the plan, taken
 * over. */

import { useState } from "react";
import { useCatalogue } from "@/api/catalogue";
import { client, type Project, type Schemas, told } from "@/api/client";
import { inWords } from "@/bench/holding";
import { useBench } from "@/bench/state";
import { replaceDraft } from "@/bench/store";
import { Fold } from "@/controls/Fold";
import { NumberBox } from "@/controls/NumberBox";
import { shown } from "@/look/number";
import { Sketch } from "./Sketch";

type Option = Schemas["MeasurementOption"];
type Measured = Schemas["Measured"];
type Asked = Schemas["AskedOption"];

const SOUND = "sound";

export function TenMinutes({ project }: { project: Project }) {
  const lines = useCatalogue()?.measurements ?? [];
  return (
    <Fold name="Measured in ten minutes">
      <p className="hint">Each line replaces an assumption. Nothing changes until it is taken over.</p>
      {lines.map((line) => (
        <Line key={line.name} line={line} project={project} />
      ))}
    </Fold>
  );
}

function Line({ line, project }: { line: Option; project: Project }) {
  const motion = useBench((s) => s.motion);
  const [open, setOpen] = useState(false);
  const [values, setValues] = useState<Record<string, number>>({});
  const [found, setFound] = useState<Measured | null>(null);
  const [fault, setFault] = useState("");
  const asked = line.asked.flatMap((a) => (a.each_leg ? feetOf(project, a) : [a]));
  const all = Object.fromEntries(asked.flatMap((a) => (a.usual === null ? [] : [[a.name, a.usual]])));
  const read = { ...all, ...values };
  const put = (name: string, value: number) => {
    setValues({ ...values, [name]: value });
    setFound(null);
  };
  const ask = async () => {
    setFault("");
    try {
      const body = { project, motion, measurement: line.name, values: read };
      setFound(await told<Measured>(client.POST("/api/measured", { body })));
    } catch (error) {
      setFound(null);
      setFault(inWords(error));
    }
  };
  return (
    <section className="measured-line" data-line={line.name}>
      <button type="button" className="measured-name" aria-expanded={open} onClick={() => setOpen(!open)}>
        <Sketch name={line.name} />
        <span>{line.label}</span>
      </button>
      {open && (
        <form
          onSubmit={(event) => {
            event.preventDefault();
            void ask();
          }}
        >
          <p>{line.how}</p>
          {line.care && <p className="care">{line.care}</p>}
          {asked.map((a) => (
            <NumberBox
              key={a.name}
              label={a.label}
              about={line.label}
              value={read[a.name] ?? 0}
              unit={a.unit}
              step={a.high <= 1 ? 1 : 0.5}
              min={a.low}
              max={a.high}
              onValue={(v) => put(a.name, v)}
            />
          ))}
          <button type="submit" className="do">
            Put beside the plan
          </button>
          {fault && (
            <p className="refused" role="alert">
              {fault}
            </p>
          )}
          {found && <Told found={found} />}
        </form>
      )}
    </section>
  );
}

function feetOf(project: Project, asked: Asked): Asked[] {
  const feet = project.walker.limbs.filter((m) => m.feet?.length);
  return feet.map((m) => ({ ...asked, name: m.name, label: m.name }));
}

function Told({ found }: { found: Measured }) {
  return (
    <div role="status">
      <table className="load-table">
        <thead>
          <tr>
            <th scope="col" />
            <th scope="col">planned</th>
            <th scope="col">measured</th>
          </tr>
        </thead>
        <tbody>
          {found.against.map((a) => (
            <tr key={a.what}>
              <th scope="row">{a.what}</th>
              <td>{shown(a.planned, a.digits)}</td>
              <td>
                {shown(a.measured, a.digits)} {a.unit}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {found.turned.length === 0 && <p className="hint">No verdict turns.</p>}
      {found.turned.map((t) => (
        <p key={t.motion + t.code} className={t.after === SOUND ? "hint" : "turned"}>
          {t.motion}: {t.code} {said(t.before)} → {said(t.after)}
        </p>
      ))}
      <button type="button" className="do" onClick={() => replaceDraft(found.project as Project)}>
        Take it over
      </button>
    </div>
  );
}

function said(severity: string): string {
  return severity === SOUND ? SOUND : severity === "stop" ? "stops it" : severity === "warn" ? "warns" : "noted";
}
