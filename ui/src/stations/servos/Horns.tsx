/** Which tooth each horn goes on with its servo centred, what that leaves over, and the trim. */
import { useState } from "react";
import type { Project } from "@/api/client";
import { JobLinks } from "@/controls/JobLinks";
import { NumberBox } from "@/controls/NumberBox";
import { FieldForm } from "@/fields/FieldForm";
import { shown } from "@/look/number";
import { benchEdit, putFitted, type Servo, teethFrom, useBenchView } from "./bench";

export function Horns({ project }: { project: Project }) {
  const view = useBenchView(project);
  const [said, setSaid] = useState("");
  const teethless = view?.servos.some((s) => s.teeth === null);
  return (
    <>
      <p className="hint">
        Servo centred, power off, then the horn on. What a tooth leaves over is told to the servo, so that the joint is
        where it was planned; it takes from the trim.
      </p>
      <div className="row-of-buttons">
        <button type="button" className="do" onClick={async () => setSaid(await benchEdit("teeth"))}>
          All on their nearest tooth
        </button>
        <JobLinks jobs={[{ name: "horn-on", label: "At the bench, one by one" }]} />
        <FieldForm of="Electrics" at={["electrics"]} fields={["trim_range_deg"]} />
      </div>
      <p className="said-line" role="status">
        {said || (teethless ? "Where a sheet says no spline teeth, set them under Servo types." : "")}
      </p>
      <table className="bench-table">
        <thead>
          <tr>
            <th scope="col">Servo</th>
            <th scope="col">Joint at, °</th>
            <th scope="col">Tooth</th>
            <th scope="col">Left over, °</th>
            <th scope="col">Trim, °</th>
            <th scope="col">Told</th>
          </tr>
        </thead>
        <tbody>
          {view?.servos.map((s) => (
            <Row key={s.place} servo={s} limit={project.electrics.trim_range_deg} />
          ))}
        </tbody>
      </table>
    </>
  );
}

function Row({ servo, limit }: { servo: Servo; limit: number }) {
  const over = Math.abs(servo.tooth_left_deg + servo.trim_deg) > limit;
  return (
    <tr className={over ? "over" : undefined}>
      <th scope="row">{servo.place}</th>
      <td>{shown(servo.at_deg, 1)}</td>
      <td>{servo.tooth === null ? "?" : teethFrom(servo.tooth)}</td>
      <Degrees servo={servo} label="left over" field="tooth_left_deg" />
      <Degrees servo={servo} label="trim" field="trim_deg" />
      <td>
        {shown(servo.told, 0)} {servo.unit}
      </td>
    </tr>
  );
}

function Degrees({ servo, label, field }: { servo: Servo; label: string; field: "tooth_left_deg" | "trim_deg" }) {
  return (
    <td>
      <NumberBox
        quiet
        label={`${servo.place}, ${label}`}
        value={servo[field]}
        unit=""
        step={0.1}
        min={-60}
        max={60}
        onValue={(v) =>
          putFitted(servo.place, (entry) => {
            entry[field] = v;
          })
        }
      />
    </td>
  );
}
