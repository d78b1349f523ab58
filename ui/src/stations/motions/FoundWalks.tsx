/** Walks that are searched for, shown row by row, and kept in the draft or not. */

import { type ReactNode, useState } from "react";
import type { Project } from "@/api/client";
import { search } from "@/api/searches";
import { inWords } from "@/bench/holding";
import { useBench } from "@/bench/state";
import { replaceDraft } from "@/bench/store";
import { Working } from "@/controls/Working";

interface Asked<View> {
  project: Project;
  /** Where it is asked, and under which name its progress is told. */
  path: string;
  kind: string;
  body: object;
  find: string;
  columns: string[];
  rows: (view: View) => ReactNode;
  /** What is said before they are kept. */
  warning?: string;
  keep: string;
  kept: string;
}

export function FoundWalks<View extends { project: Project }>(asked: Asked<View>) {
  const { project, kind } = asked;
  const [found, setFound] = useState<{ of: Project; view: View } | null>(null);
  const [said, setSaid] = useState("");
  const [busy, setBusy] = useState(false);
  const find = async () => {
    setBusy(true);
    setSaid("");
    try {
      const answer = await search(asked.path, { project, ...asked.body });
      setFound({ of: project, view: (await answer.json()) as View });
    } catch (error) {
      setSaid(inWords(error));
    }
    setBusy(false);
  };
  const keep = () => {
    if (!found) return;
    const names = found.view.project.motions.map((m) => m.name);
    replaceDraft(
      found.view.project,
      [useBench.getState().motion, "Forward"].find((name) => names.includes(name)) ?? names[0],
    );
    setFound(null);
    setSaid(asked.kept);
  };
  const changed = found !== null && found.of !== project;
  return (
    <>
      <button type="button" className="do" disabled={busy} onClick={() => void find()}>
        {asked.find}
      </button>
      <Working kind={kind} busy={busy} />
      <p className="hint" role="status">
        {said}
      </p>
      {found && (
        <>
          <table className="set-table">
            <caption className="visually-hidden">What was found</caption>
            <thead>
              <tr>
                {asked.columns.map((column) => (
                  <th key={column} scope="col">
                    {column}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>{asked.rows(found.view)}</tbody>
          </table>
          {changed && <p className="hint">The walker has changed since; find them anew.</p>}
          {asked.warning && <p className="hint">{asked.warning}</p>}
          <button type="button" className="do keep" disabled={changed} onClick={keep}>
            {asked.keep}
          </button>
        </>
      )}
    </>
  );
}
