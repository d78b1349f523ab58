import type { AnyMotion, Project } from "@/api/client";
import { isPlain } from "@/bench/edits";
import { Choice } from "@/controls/Choice";

interface NameProps {
  label: string;
  value: string;
  project: Project;
  onName: (name: string) => void;
  which?: (motion: AnyMotion) => boolean;
}

/** A motion to choose, by default from those that are not themselves made of others. */
export function MotionSelect({ label, value, project, onName, which }: NameProps) {
  return (
    <Choice label={label} value={value} onValue={onName}>
      {project.motions.filter(which ?? isPlain).map((m) => (
        <option key={m.name}>{m.name}</option>
      ))}
    </Choice>
  );
}
