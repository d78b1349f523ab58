/** The control map: what each input does in each mode of the hand-held, and the set written in one archive. */

import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useCatalogue } from "@/api/catalogue";
import { download, fetched, type Project, posted } from "@/api/client";
import { inWords } from "@/bench/holding";
import { useBench } from "@/bench/state";
import { edit } from "@/bench/store";
import { Caution } from "@/controls/Caution";
import { Choice } from "@/controls/Choice";
import { Remove } from "@/controls/Remove";
import { TextBox } from "@/controls/TextBox";

export function Controls({ project }: { project: Project }) {
  const axes = project.walker.limbs.flatMap((l) => (l.feet.length ? [] : l.joints.map((j) => `${l.name}/${j.name}`)));
  const targets = [...project.motions.map((m) => m.name), ...axes];
  const add = () =>
    edit((draft) => {
      const taken = new Set(draft.controls.map((c) => c.input));
      let n = draft.controls.length + 1;
      while (taken.has(`Button ${n}`)) n++;
      draft.controls.push({
        mode: draft.controls.at(-1)?.mode ?? "Walk",
        input: `Button ${n}`,
        shift: false,
        does: "motion",
        target: targets[0],
      });
    }, true);
  return (
    <>
      <ol className="control-map">
        {project.controls.map((c, n) => (
          <li key={`${c.mode} ${c.input} ${c.shift}`}>
            <TextBox
              label={`Control ${n + 1}, mode`}
              value={c.mode}
              onValue={(v) =>
                edit((draft) => {
                  draft.controls[n].mode = v;
                }, true)
              }
            />
            <TextBox
              label={`Control ${n + 1}, input`}
              value={c.input}
              onValue={(v) =>
                edit((draft) => {
                  draft.controls[n].input = v;
                }, true)
              }
            />
            <label className="shift">
              <input
                type="checkbox"
                checked={c.shift ?? false}
                aria-label={`Control ${n + 1}, with shift`}
                onChange={(event) =>
                  edit((draft) => {
                    draft.controls[n].shift = event.target.checked;
                  }, true)
                }
              />
              shift
            </label>
            <Choice
              quiet
              label={`Control ${n + 1}, does`}
              value={c.target}
              onValue={(target) =>
                edit((draft) => {
                  draft.controls[n].target = target;
                  draft.controls[n].does = axes.includes(target) ? "axis" : "motion";
                }, true)
              }
            >
              {targets.map((t) => (
                <option key={t}>{t}</option>
              ))}
            </Choice>
            <Remove
              label={`Remove control ${n + 1}`}
              onRemove={() =>
                edit((draft) => {
                  draft.controls.splice(n, 1);
                }, true)
              }
            />
          </li>
        ))}
      </ol>
      <button type="button" className="do" onClick={add} disabled={!targets.length || project.controls.length >= 200}>
        Add a control
      </button>
      <WriteSet />
    </>
  );
}

function WriteSet() {
  const saved = useBench((s) => s.saved);
  const saveState = useBench((s) => s.saveState);
  const formats = useCatalogue()?.formats ?? [];
  const [format, setFormat] = useState("csv");
  const [said, setSaid] = useState("");
  const queries = useQueryClient();
  const write = async () => {
    if (!saved) return;
    try {
      const body = { revision: saved.number, format, decimals: 2 };
      const answer = await fetched(`/api/walkers/${saved.id}/sets`, posted(body));
      const out = decodeURIComponent(answer.headers.get("X-Left-Out") ?? "");
      const name = await download(answer);
      setSaid(`Wrote ${name}.${out ? ` Left out, since a stop stands against them: ${out}.` : ""}`);
      await queries.invalidateQueries({ queryKey: ["exports", saved.id] });
    } catch (error) {
      setSaid(inWords(error));
    }
  };
  return (
    <>
      <p className="hint">
        One archive: a table for every motion, which of them may be blended row by row, this map, the start and the
        fail-safe pose.
      </p>
      <Choice label="Tables as" value={format} onValue={(chosen) => setFormat(chosen)}>
        {formats.map((f) => (
          <option key={f.name} value={f.name}>
            {f.label}
          </option>
        ))}
      </Choice>
      <Caution />
      <button
        type="button"
        className="do"
        disabled={saveState === "saving" || saveState === "unsaved"}
        onClick={() => void write()}
      >
        {saveState === "saving" || saveState === "unsaved" ? "Saving first …" : "Download the set"}
      </button>
      <p className="hint" role="status">
        {said}
      </p>
    </>
  );
}
