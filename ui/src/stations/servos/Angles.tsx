/** Two angles and more: what a servo was told and what was read, and the middle and µs per degree they come to. */
import { useState } from "react";
import type { Project } from "@/api/client";
import { edit } from "@/bench/store";
import { Choice } from "@/controls/Choice";
import { NumberBox } from "@/controls/NumberBox";
import { Remove } from "@/controls/Remove";
import { shown } from "@/look/number";
import { benchEdit, now, useBenchView } from "./bench";

export function Angles({ project }: { project: Project }) {
  const view = useBenchView(project);
  const items = project.electrics.items;
  const [chosen, setChosen] = useState("");
  const [said, setSaid] = useState("");
  const index = Math.max(
    0,
    items.findIndex((i) => i.name === chosen),
  );
  const item = items[index];
  const servo = view?.servos.find((s) => s.place === item?.place);
  if (!item)
    return (
      <>
        <p className="hint">No servo has a number yet. Readings belong to the servo, not to the joint it sits in.</p>
        <button type="button" className="do" onClick={() => void benchEdit("number")}>
          Number the servos
        </button>
      </>
    );
  const put = (change: (one: typeof item) => void) =>
    edit((draft) => {
      change(draft.electrics.items[index]);
      draft.electrics.items[index].read_on = now();
    }, true);
  const unit = servo?.unit ?? "µs";
  return (
    <>
      <p className="hint">
        Tell it two angles or more, read the horn on the protractor. Three servos of a type tell for the rest; one more
        than 2° off keeps its own.
      </p>
      <Choice
        label="Servo"
        value={item.name}
        choices={items.map((i) => ({ name: i.name, label: `no. ${i.name}${i.place ? `, ${i.place}` : ", a spare"}` }))}
        onValue={(name) => {
          setSaid("");
          setChosen(name);
        }}
      />
      <table className="bench-table">
        <thead>
          <tr>
            <th scope="col">Told, {unit}</th>
            <th scope="col">Read, °</th>
            <th scope="col">
              <span className="visually-hidden">Remove</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {item.readings.map((reading, n) => (
            // Readings have no name of their own.
            <tr key={`reading ${n + 1}`}>
              <td>
                <NumberBox
                  quiet
                  label={`Reading ${n + 1}, told`}
                  value={reading.told}
                  unit=""
                  step={unit === "µs" ? 10 : 50}
                  min={-1e6}
                  max={1e6}
                  path={`electrics.items.${index}.readings.${n}.told`}
                  onValue={(v) =>
                    put((one) => {
                      one.readings[n].told = v;
                    })
                  }
                />
              </td>
              <td>
                <NumberBox
                  quiet
                  label={`Reading ${n + 1}, read`}
                  value={reading.horn_deg}
                  unit=""
                  step={1}
                  min={-3600}
                  max={3600}
                  path={`electrics.items.${index}.readings.${n}.horn_deg`}
                  onValue={(v) =>
                    put((one) => {
                      one.readings[n].horn_deg = v;
                    })
                  }
                />
              </td>
              <td>
                <Remove
                  label={`Remove reading ${n + 1}`}
                  onRemove={() =>
                    put((one) => {
                      one.readings.splice(n, 1);
                    })
                  }
                />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <div className="row-of-buttons">
        <button
          type="button"
          className="do"
          disabled={item.readings.length >= 24}
          onClick={() =>
            put((one) => {
              const taken = one.readings.map((r) => r.horn_deg);
              const angle =
                [0, 40, -40, 20, -20, ...Array.from({ length: 24 }, (_, k) => k + 1)].find((a) => !taken.includes(a)) ??
                0;
              const told = Math.round(
                (servo?.centre ?? 1500) + angle * (servo?.per_deg ?? 10) * (servo?.direction ?? 1),
              );
              one.readings.push({ told, horn_deg: angle });
            })
          }
        >
          Add a reading
        </button>
        <button
          type="button"
          className="do keep"
          disabled={item.readings.length < 2}
          onClick={async () => setSaid(await benchEdit("calibrate", { item: item.name }))}
        >
          Work it out
        </button>
        <button
          type="button"
          className="do"
          onClick={async () => setSaid(await benchEdit("replace", { item: item.name }))}
        >
          It was replaced
        </button>
      </div>
      <p className="said-line" role="status">
        {said}
      </p>
      <dl className="bench-facts">
        <div>
          <dt>Middle</dt>
          <dd>{item.centre === null ? "not measured" : `${shown(item.centre, 1)} ${unit}`}</dd>
        </div>
        <div>
          <dt>{unit} per degree</dt>
          <dd>
            {servo
              ? `${shown(servo.per_deg, 2)}${servo.assumed.some((a) => a.includes("per degree")) ? ", assumed" : ""}`
              : "a spare"}
          </dd>
        </div>
        <div>
          <dt>Turns</dt>
          <dd>{item.direction === 1 ? "as is" : "the other way round"}</dd>
        </div>
        <div>
          <dt>Read on</dt>
          <dd>{item.read_on || "never"}</dd>
        </div>
      </dl>
    </>
  );
}
