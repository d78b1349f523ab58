/** The first evening as a list to tick off: what is open of each step, where it is done, and its sheet. */
import { useState } from "react";
import { Link, useLocation } from "react-router";
import type { Motion, Project } from "@/api/client";
import { useBench } from "@/bench/state";
import { Caution } from "@/controls/Caution";
import { Choice } from "@/controls/Choice";
import { Figures } from "@/controls/Figures";
import { JobLinks } from "@/controls/JobLinks";
import { benchEdit, useBenchView } from "./bench";
import { JOBS } from "./jobs";

/** Where each step is done; those without stand on the drawing of the boards. */
const DONE_AT: Record<string, string> = {
  meter: "supply",
  horn: "horns",
  way: "check",
  angles: "angles",
  heights: "heights",
};

const PAPERS = [
  { name: "a4", label: "A4" },
  { name: "letter", label: "Letter" },
];

export function ServosControls({ project }: { project: Project; motion: Motion }) {
  const view = useBenchView(project);
  const { search } = useLocation();
  const walker = useBench((s) => s.saved?.id);
  const saved = useBench((s) => s.saveState === "saved");
  const [paper, setPaper] = useState("a4");
  const to = (job: string | undefined, step?: string) => {
    const params = new URLSearchParams(search);
    if (step) params.set("step", step);
    else params.delete("step");
    if (job) params.set("job", job);
    else params.delete("job");
    return `?${params}`;
  };
  return (
    <>
      <JobLinks jobs={JOBS} />
      <ol className="evening" aria-label="A first evening">
        {view?.steps.map((step) => (
          <li key={step.name} className={step.done ? "done" : undefined}>
            <input
              type="checkbox"
              className="form-check-input"
              checked={step.done}
              disabled={step.left !== "" || (step.done && !project.electrics.done.includes(step.name))}
              aria-label={`${step.label}: done`}
              onChange={() => void benchEdit("step", { step: step.name })}
            />
            <span>
              <Link to={to(DONE_AT[step.name])} title={step.how}>
                {step.label}
              </Link>
              {step.left && <small>{step.left}</small>}
            </span>
            <Link to={to("bench", step.name)} className="at-bench-link">
              bench<span className="visually-hidden"> for {step.label}</span>
            </Link>
            {step.sheet && saved && (
              <a href={`/api/walkers/${walker}/sheets/${step.sheet}?paper=${paper}`} download>
                sheet<span className="visually-hidden"> for {step.label}</span>
              </a>
            )}
          </li>
        ))}
      </ol>
      <Choice label="Sheets on" value={paper} choices={PAPERS} onValue={setPaper} />
      <Figures at="servos" />
      <Caution>
        On a stand, feet in the air, stop switch within reach. Buzzing or hot: switch off. Lithium packs on a fireproof
        surface, never alone; data sheets, local rules and licensed practice go first.
      </Caution>
    </>
  );
}
