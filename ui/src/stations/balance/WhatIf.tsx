/** What a mass would do that is not there yet: every motion's room before and after, the whole's mass and height, and
 * which masses move it most. */

import { useState } from "react";
import { client, type Project, type Schemas, told } from "@/api/client";
import { inWords } from "@/bench/holding";
import { useBench } from "@/bench/state";
import { replaceDraft } from "@/bench/store";
import { Fold } from "@/controls/Fold";
import { NumberBox } from "@/controls/NumberBox";
import { shown, withUnit } from "@/look/number";

type View = Schemas["WhatIfView"];

const PLACES = ["forward", "left", "up"] as const;
const RANKED = 5;

export function WhatIf({ project }: { project: Project }) {
  const motion = useBench((s) => s.motion);
  const [grams, setGrams] = useState(180);
  const [at, setAt] = useState<[number, number, number]>([0, 0, 40]);
  const [found, setFound] = useState<View | null>(null);
  const [fault, setFault] = useState("");
  const ask = async () => {
    setFault("");
    try {
      const taken = new Set((project.walker.masses ?? []).map((m) => m.name));
      const names = ["Added", ...Array.from({ length: 99 }, (_, n) => `Added ${n + 2}`)];
      const name = names.find((n) => !taken.has(n)) ?? "Added";
      const mass = { name, mass_g: grams, at_mm: at, on: project.walker.sections[0].name };
      const body = { project, motion, mass } as Schemas["WhatIfDraft"];
      setFound(await told<View>(client.POST("/api/what-if", { body })));
    } catch (error) {
      setFound(null);
      setFault(inWords(error));
    }
  };
  return (
    <Fold name="What if I add a mass">
      <form
        className="what-if"
        onSubmit={(event) => {
          event.preventDefault();
          void ask();
        }}
      >
        <NumberBox
          label="It weighs"
          about="Added"
          value={grams}
          unit="g"
          step={10}
          min={1}
          max={20000}
          onValue={(v) => {
            setGrams(v);
            setFound(null);
          }}
        />
        {PLACES.map((place, k) => (
          <NumberBox
            key={place}
            label={place}
            about="Added"
            value={at[k]}
            unit="mm"
            step={1}
            min={-2000}
            max={2000}
            onValue={(v) => {
              setAt(at.map((was, n) => (n === k ? v : was)) as typeof at);
              setFound(null);
            }}
          />
        ))}
        <button type="submit" className="do">
          What it would do
        </button>
        {fault && (
          <p className="refused" role="alert">
            {fault}
          </p>
        )}
      </form>
      {found && (
        <div role="status">
          <p>
            {withUnit(found.mass_g[0], "g")} → <strong>{withUnit(found.mass_g[1], "g")}</strong>, its mass{" "}
            {withUnit(found.com_height_mm[0], "mm")} → <strong>{withUnit(found.com_height_mm[1], "mm")}</strong> up
          </p>
          <table className="load-table">
            <thead>
              <tr>
                <th scope="col">room</th>
                <th scope="col">now</th>
                <th scope="col">then</th>
              </tr>
            </thead>
            <tbody>
              {found.motions.map((m) => (
                <tr key={m.motion}>
                  <th scope="row">{m.motion}</th>
                  <td>{m.before_mm === null ? "–" : withUnit(m.before_mm, "mm", 1)}</td>
                  <td className={m.stops.length ? "over" : undefined}>
                    {m.after_mm === null ? "–" : withUnit(m.after_mm, "mm", 1)}
                    {m.stops.length ? `, stops: ${m.stops.join(" ")}` : ""}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
          <p className="hint">
            What moves the whole most:{" "}
            {found.parts
              .slice(0, RANKED)
              .map((p) => `${p.name} ${shown(Math.hypot(...p.moves_mm), 1)} mm`)
              .join(", ")}
            .
          </p>
          <button type="button" className="do" onClick={() => replaceDraft(found.project as Project)}>
            Add it
          </button>
        </div>
      )}
    </Fold>
  );
}
