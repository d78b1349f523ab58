/** Totals of mass, price and print time against their budgets, and the parts list to take along. */
import { useEffect, useState } from "react";
import { download, fetched, type Project, posted, type Schemas } from "@/api/client";
import { useBench } from "@/bench/state";
import { edit } from "@/bench/store";
import { NumberBox } from "@/controls/NumberBox";
import { Remove } from "@/controls/Remove";
import { mass, shown } from "@/look/number";

const STEPS: Record<string, number> = { mass_g: 50, price: 5, print_h: 1 };

export function Ledger({ project }: { project: Project }) {
  const [parts, setParts] = useState<Schemas["Parts"] | null>(null);
  const [lost, setLost] = useState<string[] | null>(null);
  const saved = useBench((s) => s.saved?.id);
  useEffect(() => {
    let live = true;
    fetched("/api/parts", posted({ project }))
      .then((answer) => answer.json())
      .then((found) => live && setParts(found))
      .catch(() => undefined);
    return () => {
      live = false;
    };
  }, [project]);
  const budget = (name: string, value: number | null) =>
    edit((draft) => {
      draft.budget[name as "mass_g" | "price" | "print_h"] = value;
    }, true);
  const model = async (kind: "urdf" | "mjcf") => {
    const answer = (await (await fetched(`/api/walkers/${saved}/${kind}`)).json()) as Schemas["Written"];
    const file = new Response(answer.text, {
      headers: { "Content-Disposition": `attachment; filename="${answer.file_name}"` },
    });
    await download(file);
    setLost(answer.lost);
  };
  return (
    <details className="fold" open>
      <summary>Totals</summary>
      <div className="ledger-row head" aria-hidden="true">
        <span />
        <span>now</span>
        <span>budget</span>
        <i />
      </div>
      {parts?.totals.map((total) => {
        const over = total.budget !== null && total.value > total.budget;
        const text = total.name === "mass_g" ? mass(total.value) : `${shown(total.value, 1)} ${total.unit}`;
        return (
          <div key={total.name} className={over ? "ledger-row over" : "ledger-row"}>
            <span>{total.label}</span>
            <b>{text.trim()}</b>
            {total.budget === null ? (
              <button type="button" className="link-button" onClick={() => budget(total.name, Math.ceil(total.value))}>
                Set
              </button>
            ) : (
              <NumberBox
                quiet
                label={`${total.label}, budget`}
                value={total.budget}
                unit={total.unit}
                step={STEPS[total.name]}
                min={0}
                max={100000}
                onValue={(v) => budget(total.name, v)}
              />
            )}
            {total.budget === null ? (
              <i />
            ) : (
              <Remove label={`No budget for ${total.label}`} onRemove={() => budget(total.name, null)} />
            )}
            {over && total.budget !== null && <p className="fault">{shown(total.value - total.budget, 1)} over.</p>}
          </div>
        );
      })}
      <label className="inline-select" htmlFor="currency">
        Prices in
        <input
          id="currency"
          className="form-control form-control-sm"
          defaultValue={project.walker.currency}
          key={project.walker.currency}
          maxLength={12}
          onBlur={(event) => {
            const said = event.target.value.trim();
            if (said !== project.walker.currency)
              edit((draft) => {
                draft.walker.currency = said;
              }, true);
          }}
        />
      </label>
      <div className="button-row">
        <button
          type="button"
          className="do"
          onClick={() => void fetched(`/api/walkers/${saved}/parts`).then((answer) => download(answer))}
        >
          Parts list, CSV
        </button>
        <button type="button" className="do" onClick={() => void model("urdf")}>
          URDF
        </button>
        <button type="button" className="do" onClick={() => void model("mjcf")}>
          MJCF
        </button>
      </div>
      {lost && (
        <div className="hint" role="status">
          Written. Not in the file:
          <ul>
            {lost.map((line) => (
              <li key={line}>{line}</li>
            ))}
          </ul>
        </div>
      )}
    </details>
  );
}
