/** Which leg should lift next at the playhead, for the way it walks or a new one; and the rule, for a small controller. */

import { useState } from "react";
import { fetched, type Motion, type Project, posted, type Schemas } from "@/api/client";
import { gaitOf } from "@/bench/edits";
import { inWords } from "@/bench/holding";
import { playhead } from "@/bench/playhead";
import { useBench } from "@/bench/state";
import { NumberBox } from "@/controls/NumberBox";
import { withUnit } from "@/look/number";

export function NextLeg({ project }: { project: Project }) {
  const motion = gaitOf(
    project,
    useBench((s) => s.motion),
  );
  return motion ? <Asking project={project} motion={motion} /> : null;
}

function Asking({ project, motion }: { project: Project; motion: Motion }) {
  const [way, setWay] = useState<[number, number, number] | null>(null);
  const [found, setFound] = useState<{ at: number; view: Schemas["NextLeg"] } | null>(null);
  const [said, setSaid] = useState("");
  const now: [number, number, number] = way ?? [
    motion.twist.vx_mm_s ?? 0,
    motion.twist.vy_mm_s ?? 0,
    motion.twist.omega_deg_s ?? 0,
  ];
  const ask = async (to: [number, number, number]) => {
    playhead.stop();
    try {
      const [vx_mm_s, vy_mm_s, omega_deg_s] = to;
      const body = { project, motion: motion.name, time_s: playhead.time, vx_mm_s, vy_mm_s, omega_deg_s };
      const answer = await fetched("/api/next-leg", posted(body));
      setFound({ at: playhead.time, view: (await answer.json()) as Schemas["NextLeg"] });
      setSaid("");
    } catch (error) {
      setSaid(inWords(error));
    }
  };
  const turn = (k: number, v: number) => {
    const next = [...now] as [number, number, number];
    next[k] = v;
    setWay(next);
    void ask(next);
  };
  return (
    <>
      <p className="hint">Stop the playhead where the way changes, and say the new way.</p>
      <div className="number-grid links">
        <NumberBox
          label="forward"
          value={now[0]}
          unit="mm/s"
          step={5}
          min={-3000}
          max={3000}
          onValue={(v) => turn(0, v)}
        />
        <NumberBox
          label="left"
          value={now[1]}
          unit="mm/s"
          step={5}
          min={-3000}
          max={3000}
          onValue={(v) => turn(1, v)}
        />
        <NumberBox
          label="turn left"
          value={now[2]}
          unit="°/s"
          step={1}
          min={-720}
          max={720}
          onValue={(v) => turn(2, v)}
        />
      </div>
      <button type="button" className="do" onClick={() => void ask(now)}>
        At the playhead
      </button>
      <p className="hint" role="status">
        {said}
      </p>
      {found && (
        <>
          <table className="set-table">
            <caption>At {found.at.toFixed(2)} s, the next first</caption>
            <thead>
              <tr>
                <th scope="col">Leg</th>
                <th scope="col">stroke left</th>
                <th scope="col">margin without</th>
              </tr>
            </thead>
            <tbody>
              {found.view.legs.map((l) => (
                <tr key={l.leg} className={l.may ? undefined : "left-out"}>
                  <th scope="row">
                    {l.leg}
                    {!l.may && <small>{l.beside_air ? "beside one in the air" : "too little margin without it"}</small>}
                  </th>
                  <td>{l.left_s === null ? "never" : withUnit(l.left_s, "s", 2)}</td>
                  <td>{l.margin_mm === null ? "none" : withUnit(l.margin_mm, "mm")}</td>
                </tr>
              ))}
            </tbody>
          </table>
          <ol className="rule">
            {found.view.rule.map((line) => (
              <li key={line}>{line}</li>
            ))}
          </ol>
        </>
      )}
    </>
  );
}
