/** A limb more, chosen by its picture, where one pointed. */
import { useState } from "react";
import Modal from "react-bootstrap/Modal";
import { useCatalogue } from "@/api/catalogue";
import type { Project } from "@/api/client";
import { pick } from "@/bench/store";
import Button from "@/controls/Button";
import { NumberBox } from "@/controls/NumberBox";
import { Refused } from "@/controls/Refused";
import DRAWN from "@/shelf/shapes.json";
import { frameEdit } from "./frameEdit";

const LEGS = DRAWN.legs as Record<string, number[]>;

interface Props {
  project: Project;
  at: [number, number] | null;
  onHide: () => void;
}

export function AddLimb({ project, at, onHide }: Props) {
  const families = useCatalogue()?.families.filter((f) => f.name !== "fixed" && !f.open) ?? [];
  // Where nobody pointed, a leg goes where there is most room for it.
  const [place, setPlace] = useState(at);
  const wide = project.walker.sections[0].size_mm[1];
  const [refusal, setRefusal] = useState("");
  const add = async (role: "leg" | "arm" | "support", family: string) => {
    const refused = await frameEdit(project, "add", { role, family, at_mm: place });
    setRefusal(refused);
    if (!refused) {
      pick("limb");
      onHide();
    }
  };
  return (
    <Modal show onHide={onHide} size="lg" scrollable aria-labelledby="add-limb-title">
      <Modal.Header closeButton>
        <Modal.Title id="add-limb-title">Add a limb</Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <div className="place-row">
          {place ? (
            <>
              <span>On the body, at</span>
              {(["forward", "left"] as const).map((label, k) => (
                <NumberBox
                  key={label}
                  label={label}
                  value={place[k]}
                  unit="mm"
                  step={1}
                  min={-1500}
                  max={1500}
                  onValue={(v) => setPlace(k ? [place[0], v] : [v, place[1]])}
                />
              ))}
            </>
          ) : (
            <>
              <span>On the body, where there is room</span>
              <Button size="sm" variant="outline-dark" onClick={() => setPlace([0, wide / 2])}>
                Set the place
              </Button>
            </>
          )}
        </div>
        <Refused why={refusal} />
        <ul className="picture-choice">
          {families.map((f) => (
            <li key={f.name}>
              <button type="button" onClick={() => void add("leg", f.name)}>
                <LegPicture points={LEGS[f.name] ?? []} />
                <b>{f.label}</b>
                <small>{f.about}</small>
              </button>
            </li>
          ))}
          <li>
            <button type="button" onClick={() => void add("leg", "serial")}>
              <LegPicture points={[14, 12, 30, 20, 24, 38, 44, 44, 38, 58]} />
              <b>free chain with a foot</b>
              <small>Up to seven hinges or slides, written as axes and offsets.</small>
            </button>
          </li>
          <li>
            <button type="button" onClick={() => void add("arm", "serial")}>
              <LegPicture points={[14, 52, 14, 26, 48, 14]} />
              <b>head or arm</b>
              <small>Joints and no foot: it looks round, grips, or throws its weight.</small>
            </button>
          </li>
          <li>
            <button type="button" onClick={() => void add("support", "")}>
              <LegPicture points={[32, 10, 32, 48]} wheel />
              <b>caster</b>
              <small>No joints: it carries, and rolls every way. Make it a wheel or a skid at its foot.</small>
            </button>
          </li>
        </ul>
      </Modal.Body>
    </Modal>
  );
}

function LegPicture({ points, wheel }: { points: number[]; wheel?: boolean }) {
  const pairs = Array.from({ length: points.length / 2 }, (_, k) => [points[2 * k], points[2 * k + 1]]);
  return (
    <svg viewBox="0 0 64 64" width="64" height="64" className="leg-picture" aria-hidden="true">
      <polyline points={points.join(" ")} />
      {pairs.slice(0, -1).map(([x, y]) => (
        <circle key={`${x} ${y}`} cx={x} cy={y} r="3" />
      ))}
      {pairs.length > 0 && <circle className="tip" cx={pairs.at(-1)?.[0]} cy={pairs.at(-1)?.[1]} r={wheel ? 9 : 4.5} />}
    </svg>
  );
}
