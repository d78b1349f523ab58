/** Whole limbs: mirrored, copied, set round a circle, removed, relabelled. The server does it, so that all that hangs on
 * them follows. */
import { useState } from "react";
import Form from "react-bootstrap/Form";
import { useCatalogue } from "@/api/catalogue";
import { fetched, type Project, posted, type Schemas } from "@/api/client";
import { useBench } from "@/bench/state";
import { chooseLeg, replaceDraft } from "@/bench/store";
import { NumberBox } from "@/controls/NumberBox";

type Action = Schemas["FrameEdit"]["action"];

export function Limbs({ project, leg }: { project: Project; leg: string }) {
  const catalogue = useCatalogue();
  const schemes = catalogue?.label_schemes ?? [];
  const families = catalogue?.families.filter((f) => f.name !== "fixed") ?? [];
  const limb = project.walker.limbs.find((l) => l.name === leg);
  const [count, setCount] = useState(6);
  const [refusal, setRefusal] = useState("");
  const act = async (action: Action, more: Partial<Schemas["FrameEdit"]> = {}) => {
    try {
      const alike = useBench.getState().mirrored;
      const usual = { scheme: "", role: "leg", family: "", axis: "yaw" } as const;
      const body = { project, action, limb: leg, count, alike, ...usual, ...more };
      const answer = (await (await fetched("/api/frame", posted(body))).json()) as Schemas["EditedProject"];
      setRefusal("");
      replaceDraft(answer.project);
      const names = answer.project.walker.limbs.map((l) => l.name);
      if (action === "add") chooseLeg(names[names.length - 1]);
      else if (!names.includes(useBench.getState().leg)) chooseLeg(names[0]);
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
      {limb && limb.joints.length > 0 && (
        <Form.Group controlId="family" className="inline-select">
          <Form.Label>Kind of leg</Form.Label>
          <Form.Select
            size="sm"
            value={limb.family}
            onChange={(event) => void act("refit", { family: event.target.value })}
          >
            {families.map((f) => (
              <option key={f.name} value={f.name}>
                {f.label}
              </option>
            ))}
          </Form.Select>
        </Form.Group>
      )}
      <Form.Group controlId="add-limb" className="inline-select">
        <Form.Label>Add</Form.Label>
        <Form.Select
          size="sm"
          value=""
          onChange={(event) => {
            const [role, family] = event.target.value.split("/");
            if (role === "section") void act("section", { axis: family as "yaw" });
            else void act("add", { role: role as "leg", family });
          }}
        >
          <option value="" disabled>
            choose
          </option>
          <option value="arm/serial">a head or arm</option>
          <option value="support/">a caster</option>
          <option value="section/yaw">a section behind, hinged in yaw</option>
          <option value="section/pitch">a section behind, hinged in pitch</option>
          <option value="section/roll">a section behind, hinged in roll</option>
          {families.map((f) => (
            <option key={f.name} value={`leg/${f.name}`}>
              a leg, {f.label}
            </option>
          ))}
        </Form.Select>
      </Form.Group>
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
