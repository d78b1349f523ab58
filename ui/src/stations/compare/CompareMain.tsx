/** Machines side by side: a figure a row, a machine a column, what is best in a row marked. */
import { useEffect } from "react";
import type { Schemas } from "@/api/client";
import type { Picture } from "@/api/picture";
import { useBench } from "@/bench/state";
import { mass, shown, withUnit } from "@/look/number";
import { compare, useCompare } from "./compareStore";

type Figure = Schemas["Standing"];

function text(figure: Figure | undefined): string {
  if (!figure || figure.value === null) return "–";
  if (figure.name === "mass_g") return mass(figure.value);
  return figure.unit ? withUnit(figure.value, figure.unit, figure.digits) : shown(figure.value, figure.digits);
}

/** The best value of a row, or null where all are alike or none is better. */
function best(row: (Figure | undefined)[]): number | null {
  const values = row.flatMap((f) => (f && f.value !== null ? [f.value * f.better] : []));
  if (values.length < 2 || !row[0]?.better) return null;
  const top = Math.max(...values);
  return values.every((v) => Math.abs(v - top) < 1e-6) ? null : top;
}

export function CompareMain({ width, height }: { picture: Picture; leg: string; width: number; height: number }) {
  const project = useBench((s) => s.pictured);
  const { found, refusal, choices, busy } = useCompare();
  // biome-ignore lint/correctness/useExhaustiveDependencies: asked again when the draft or the choice changes
  useEffect(() => {
    if (project) void compare(project);
  }, [project, choices]);
  const rows = found?.rivals[0]?.figures ?? [];
  return (
    <div className="compare" style={{ width, height }} aria-busy={busy}>
      {refusal && (
        <p className="page-fault" role="alert">
          {refusal}
        </p>
      )}
      {!found && !refusal && <p className="compare-wait">Walking each of them once …</p>}
      {found && (
        <table>
          <caption className="visually-hidden">Machines side by side</caption>
          <thead>
            <tr>
              <th scope="col">
                <span className="visually-hidden">Figure</span>
              </th>
              {found.rivals.map((r, n) => (
                <th scope="col" key={`${r.name}${n}`}>
                  {r.name}
                  <small>
                    {r.legs}; {r.motion}
                  </small>
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map((row, k) => {
              const figures = found.rivals.map((r) => r.figures[k]);
              const top = best(figures);
              return (
                <tr key={row.name}>
                  <th scope="row">{row.label}</th>
                  {figures.map((f, n) => {
                    const wins = top !== null && f?.value != null && Math.abs(f.value * f.better - top) < 1e-6;
                    return (
                      <td key={found.rivals[n].name + String(n)} className={wins ? "best" : undefined}>
                        {text(f)}
                        {wins && <span className="best-mark"> best</span>}
                      </td>
                    );
                  })}
                </tr>
              );
            })}
          </tbody>
        </table>
      )}
    </div>
  );
}
