/** Totals of mass, price and print time against their budgets, and the parts list to take along. */
import { useEffect, useState } from "react";
import { fetched, type Project, posted, type Schemas } from "@/api/client";
import { edit } from "@/bench/store";
import { NumberBox } from "@/controls/NumberBox";
import { Remove } from "@/controls/Remove";
import { mass, shown } from "@/look/number";

const STEPS: Record<string, number> = { mass_g: 50, price: 5, print_h: 1 };

export function Ledger({ project }: { project: Project }) {
  const [parts, setParts] = useState<Schemas["Parts"] | null>(null);
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
  return (
    <fieldset className="ledger">
      <legend>Totals</legend>
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
      <label className="choice" htmlFor="currency">
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
    </fieldset>
  );
}
