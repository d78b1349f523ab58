/** A form from the server's own document: name the model, the place and the fields, and they are there, with their
 * bounds, units and defaults. */
import { memo, type ReactNode, useContext } from "react";
import type { Project } from "@/api/client";
import { type FormField, type Path, putAt, valueAt } from "@/bench/paths";
import { useBench } from "@/bench/state";
import { edit, editLeg } from "@/bench/store";
import { Field } from "./Field";
import { LegOf, type Told, useForms } from "./told";

interface Props {
  of: string;
  at: Path;
  /** The fields, in this order; by default all but names and kinds. */
  fields?: string[];
  told?: Record<string, Told>;
  /** What each label begins with for those who hear it: "L1 tibia". */
  about?: string;
  legend?: ReactNode;
  /** Short numbers side by side, so many a line. */
  columns?: 1 | 2 | 3;
}

const HIDDEN = new Set(["name", "kind"]);

export function FieldForm({ of, at, fields, told, about, legend, columns = 1 }: Props) {
  const forms = useForms();
  const leg = useContext(LegOf);
  const all = forms[of] ?? [];
  const asked = fields
    ? fields.flatMap((name) => all.filter((f) => f.name === name))
    : all.filter((f) => !HIDDEN.has(f.name));
  const rows = asked.map((field) => (
    <Placed key={field.name} field={field} at={[...at, field.name]} told={told?.[field.name]} about={about} leg={leg} />
  ));
  return (
    <fieldset className={`form-fields columns-${columns}`}>
      {legend && <legend>{legend}</legend>}
      {rows}
    </fieldset>
  );
}

interface PlacedProps {
  field: FormField;
  at: Path;
  told?: Told;
  about?: string;
  leg: string | null;
}

/** One field at its place in the draft. It is drawn anew where its own value changes, and nowhere else. */
const Placed = memo(function Placed({ field, at, told, about, leg }: PlacedProps) {
  const value = useBench((s) => valueAt(s.draft, at));
  if (value === undefined) return null;
  const put = (next: unknown) => changeField(at, next, leg);
  return <Field field={field} value={value} path={at} told={told} about={about} nested={FieldForm} onValue={put} />;
}, alike);

/** Paths and words are written out at every call; it is what they say that counts. */
function alike(was: PlacedProps, now: PlacedProps): boolean {
  return (
    was.field === now.field &&
    was.about === now.about &&
    was.leg === now.leg &&
    was.at.join() === now.at.join() &&
    JSON.stringify(was.told) === JSON.stringify(now.told)
  );
}

export function changeField(at: Path, value: unknown, leg: string | null): void {
  const change = (draft: Project) => putAt(draft, at, value);
  if (leg) void editLeg(leg, change);
  else edit(change, true);
}
