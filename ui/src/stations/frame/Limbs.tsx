/** Whole limbs: mirrored, copied, set round a circle, removed, relabelled. The server does it, so that all that hangs on
 * them follows. */
import { useState } from "react";
import Form from "react-bootstrap/Form";
import { useCatalogue } from "@/api/catalogue";
import { fetched, type Project, posted, type Schemas } from "@/api/client";
import { chooseLeg, replaceDraft, useBench } from "@/bench/store";
import { NumberBox } from "@/controls/NumberBox";

type Action = Schemas["FrameEdit"]["action"];

export function Limbs({ project, leg }: { project: Project; leg: string }) {
  const schemes = useCatalogue()?.label_schemes ?? [];
  const [count, setCount] = useState(6);
  const [refusal, setRefusal] = useState("");
  const act = async (action: Action, more: Partial<Schemas["FrameEdit"]> = {}) => {
    try {
      const body = { project, action, limb: leg, count, scheme: "", ...more };
      const answer = (await (await fetched("/api/frame", posted(body))).json()) as Schemas["EditedProject"];
      setRefusal("");
      replaceDraft(answer.project);
      const names = answer.project.walker.limbs.map((l) => l.name);
      if (!names.includes(useBench.getState().leg)) chooseLeg(names[0]);
    } catch (error) {
      setRefusal((error as Error).message);
    }
  };
  return (
    <details className="fold">
      <summary>Limbs</summary>
      <div className="button-row">
        <button type="button" className="do" onClick={() => void act("mirror")}>
          Mirror {leg}
        </button>
        <button type="button" className="do" onClick={() => void act("copy")}>
          Copy {leg}
        </button>
        <button type="button" className="do" onClick={() => void act("remove")}>
          Remove {leg}
        </button>
      </div>
      <div className="round-row">
        <NumberBox label="Round a circle, in all" value={count} unit="" step={1} min={2} max={12} onValue={setCount} />
        <button type="button" className="do" onClick={() => void act("repeat", { count: Math.round(count) })}>
          Set {leg} round
        </button>
      </div>
      <Form.Group controlId="labels" className="inline-select">
        <Form.Label>Label legs by</Form.Label>
        <Form.Select size="sm" value="" onChange={(event) => void act("relabel", { scheme: event.target.value })}>
          <option value="" disabled>
            choose
          </option>
          {schemes.map((s) => (
            <option key={s.name} value={s.name}>
              {s.about}
            </option>
          ))}
        </Form.Select>
      </Form.Group>
      {refusal && (
        <p className="fault" role="alert">
          {refusal}
        </p>
      )}
    </details>
  );
}
