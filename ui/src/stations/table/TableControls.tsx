import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useCatalogue } from "@/api/catalogue";
import {
  client,
  download,
  fetched,
  type Motion,
  type Project,
  posted,
  Refusal,
  type Schemas,
  told,
} from "@/api/client";
import { inWords } from "@/bench/holding";
import { useBench } from "@/bench/state";
import { edit } from "@/bench/store";
import { AskAnyway } from "@/controls/AskAnyway";
import { Caution } from "@/controls/Caution";
import { Choice } from "@/controls/Choice";
import { Figures } from "@/controls/Figures";
import { LegPicker } from "@/controls/LegPicker";
import { NumberBox } from "@/controls/NumberBox";
import { Switch } from "@/controls/Switch";
import { FieldForm } from "@/fields/FieldForm";
import { isoTime } from "@/look/number";

export function TableControls({ project }: { project: Project; motion: Motion }) {
  const motion = useBench((s) => s.motion);
  const saved = useBench((s) => s.saved);
  const saveState = useBench((s) => s.saveState);
  const formats = useCatalogue()?.formats ?? [];
  const [format, setFormat] = useState("csv");
  const [decimals, setDecimals] = useState(2);
  const [message, setMessage] = useState("");
  const queries = useQueryClient();
  const walker = saved?.id ?? 0;
  const exports = useQuery({
    queryKey: ["exports", walker],
    queryFn: () =>
      told<Schemas["Exports"]>(
        client.GET("/api/walkers/{walker_id}/exports", { params: { path: { walker_id: walker } } }),
      ),
    enabled: walker > 0,
  }).data?.exports;
  const places = project.walker.drives.flatMap((d) => d.servos.map((s) => s.name));
  const measured = new Set(project.electrics.items.filter((i) => i.centre !== null).map((i) => i.place));
  const assumed = places.filter((p) => !measured.has(p)).length;
  const kind = formats.find((f) => f.name === format);
  const findings = useBench((s) => s.picture?.findings);
  const lines = findings?.filter((f) => f.severity === "stop").map((f) => `${f.code}: ${f.message}`) ?? [];
  const stops = lines.length;
  const [facts, setFacts] = useState(false);
  const [values, setValues] = useState("angles");
  const [cut, setCut] = useState(false);
  const [refused, setRefused] = useState<string[] | null>(null);

  const write = async (anyway: boolean) => {
    if (!saved) return;
    setMessage("");
    if (!anyway && stops) {
      setRefused(lines);
      return;
    }
    setRefused(null);
    try {
      const body = {
        revision: saved.number,
        motion,
        format,
        decimals,
        anyway,
        facts: facts && kind?.beside,
        values,
        cut: anyway && cut,
      };
      const name = await download(await fetched(`/api/walkers/${saved.id}/exports`, posted(body)));
      setMessage(`Wrote ${name}.`);
      await queries.invalidateQueries({ queryKey: ["exports", walker] });
    } catch (error) {
      if (error instanceof Refusal && error.status === 409) setRefused([error.message]);
      else setMessage(inWords(error));
    }
  };

  return (
    <>
      <LegPicker />
      <Choice label="Format" value={format} choices={formats} onValue={(chosen) => setFormat(chosen)} />
      <p className="hint">{kind?.about}</p>
      <Choice label="Values" value={values} choices={VALUES} onValue={(chosen) => setValues(chosen)} />
      {values !== "angles" && assumed > 0 && (
        <p className="hint">
          Assumed, not measured, of {assumed} servos: their middle or µs per degree. It stands in the file.
        </p>
      )}
      {project.electrics.stop_switch === null && <p className="caution">No stop switch is declared.</p>}
      <div className="number-grid">
        {kind?.decimals === null && values === "angles" && (
          <NumberBox
            label="Decimals of a degree"
            value={decimals}
            unit=""
            step={1}
            min={0}
            max={4}
            onValue={setDecimals}
          />
        )}
        <NumberBox
          label="Row period"
          value={project.controller.frame_period_ms}
          unit="ms"
          step={1}
          min={2}
          max={100}
          onValue={(v) =>
            edit((draft) => {
              draft.controller.frame_period_ms = v;
            }, true)
          }
        />
      </div>
      <FieldForm of="Controller" at={["controller"]} fields={["memory_kb"]} told={{ memory_kb: MEMORY }} />
      {kind?.beside && (
        <Switch label="What it is, as # lines after the last row" value={facts} onValue={(on) => setFacts(on)} />
      )}
      {geared(project) && values === "angles" && (
        <p className="hint">
          Values are joint angles. Where a rod, gear or cord drives a joint, its servo stands at another angle.
        </p>
      )}
      {project.against_sag !== "off" && (
        <p className="hint">
          Rows lead the drawn pose by what the servos give under the load, so that it stands as drawn (Load, held
          against sag).
        </p>
      )}
      <Switch label="If written anyway, hold values at their limits" value={cut} onValue={setCut} />
      <Caution />
      <button
        type="button"
        className="btn btn-dark w-100"
        disabled={saveState === "saving" || saveState === "unsaved"}
        onClick={() => void write(false)}
      >
        {saveState === "saving" || saveState === "unsaved" ? "Saving first …" : `Download ${motion}`}
      </button>
      {refused && <AskAnyway lines={refused} onAnyway={() => void write(true)} onHide={() => setRefused(null)} />}
      <p className="hint" role="status">
        {message}
      </p>
      <Figures at="table" />
      {exports && exports.length > 0 && (
        <section className="exports" aria-label="Written tables">
          <h3>Written</h3>
          <ol>
            {exports.slice(0, 20).map((line) => (
              <li key={line.id}>
                <span>
                  {line.motion}, {line.format} <small>from revision {line.revision}</small>
                </span>
                <small>
                  {isoTime(line.created_at)} <code title={line.sha256}>{line.sha256.slice(0, 10)}</code>
                </small>
              </li>
            ))}
          </ol>
        </section>
      )}
    </>
  );
}

const MEMORY = { usual: 8, unsaid: "not said", unit: "kB", step: 1 };

const VALUES = [
  { name: "angles", label: "joint angles" },
  { name: "pulses", label: "pulses, µs, or counts" },
  { name: "ticks", label: "ticks of the boards" },
];

/** Whether some servo turns otherwise than its joint. */
function geared(project: Project): boolean {
  return (project.walker.drives ?? []).some((d) => d.kind !== "direct" && d.kind !== "riding");
}
