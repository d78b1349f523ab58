import Form from "react-bootstrap/Form";
import type { AnyMotion, Project } from "@/api/client";
import { isPlain } from "@/bench/edits";

interface NameProps {
  id: string;
  label: string;
  value: string;
  project: Project;
  onName: (name: string) => void;
  which?: (motion: AnyMotion) => boolean;
}

/** A motion to choose, by default from those that are not themselves made of others. */
export function MotionSelect({ id, label, value, project, onName, which }: NameProps) {
  return (
    <Form.Group controlId={id} className="inline-select">
      <Form.Label>{label}</Form.Label>
      <Form.Select size="sm" value={value} onChange={(event) => onName(event.target.value)}>
        {project.motions.filter(which ?? isPlain).map((m) => (
          <option key={m.name}>{m.name}</option>
        ))}
      </Form.Select>
    </Form.Group>
  );
}
