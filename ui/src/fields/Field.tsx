/** One field of the project, drawn by what kind of thing it is. A new kind is one function here and one line below. */

import type { ReactElement } from "react";
import type { FormField, Path } from "@/bench/paths";
import { Choice } from "@/controls/Choice";
import { Maybe } from "@/controls/Maybe";
import { NumberBox } from "@/controls/NumberBox";
import { Switch } from "@/controls/Switch";
import { TextBox } from "@/controls/TextBox";
import { type Nested, type Told, useForms } from "./told";

interface Props {
  field: FormField;
  value: unknown;
  path: Path;
  told?: Told;
  about?: string;
  nested: Nested;
  onValue: (value: unknown) => void;
}

const FARTHEST = 1e6;

export function Field(props: Props) {
  const { field, value, told, onValue } = props;
  const label = told?.label ?? field.label;
  const said = value !== null || field.kind === "choice" || told?.choices !== undefined;
  const firm = !field.optional || told?.choices || told?.firm;
  return (
    <Maybe
      label={label}
      said={said}
      unsaid={told?.unsaid ?? "not said"}
      onSet={() => onValue(told?.usual ?? usual(field))}
      onUnset={firm ? undefined : () => onValue(null)}
    >
      {said && (KINDS[field.kind] ?? Nothing)(props)}
    </Maybe>
  );
}

function usual(field: FormField): unknown {
  if (field.kind === "numbers") return (field.parts ?? []).map(() => Math.max(0, field.low ?? 0));
  return field.low ?? 0;
}

function ends(field: FormField, told?: Told): { min: number; max: number } {
  const low = told?.low ?? field.low ?? -FARTHEST;
  return { min: field.above && low === field.low ? low + 1e-6 : low, max: told?.high ?? field.high ?? FARTHEST };
}

function OneNumber({ field, value, path, told, about, onValue }: Props): ReactElement {
  const label = told?.label ?? field.label;
  return (
    <NumberBox
      label={label}
      about={about}
      value={value as number}
      unit={told?.unit ?? field.unit ?? ""}
      step={told?.step ?? field.step ?? 1}
      path={path.join(".")}
      {...ends(field, told)}
      onValue={(v) => onValue(field.kind === "whole" ? Math.round(v) : v)}
    />
  );
}

/** A place or a size: two or three numbers on one line, each under what it counts. */
function Numbers({ field, value, path, told, about, onValue }: Props): ReactElement {
  const label = told?.label ?? field.label;
  const all = value as number[];
  return (
    <div className="numbers">
      <span className="numbers-label">
        {label}
        {field.unit && <small> {field.unit}</small>}
      </span>
      {all.map((one, k) => (
        <span key={field.parts?.[k]} className="numbers-part">
          <small aria-hidden="true">{field.parts?.[k]}</small>
          <NumberBox
            quiet
            label={`${label}, ${field.parts?.[k]}`}
            about={about}
            value={one}
            unit=""
            step={told?.step ?? field.step ?? 1}
            path={[...path, k].join(".")}
            {...ends(field, told)}
            onValue={(v) => onValue(all.map((was, n) => (n === k ? v : was)))}
          />
        </span>
      ))}
    </div>
  );
}

function Flag({ field, value, told, about, onValue }: Props): ReactElement {
  return (
    <Switch
      label={told?.label ?? field.label}
      about={about}
      value={value as boolean}
      onValue={(checked) => onValue(checked)}
    />
  );
}

function OneOf({ field, value, told, about, onValue }: Props): ReactElement {
  return (
    <Choice
      label={told?.label ?? field.label}
      about={about}
      value={(value as string | null) ?? ""}
      choices={told?.choices ?? field.choices ?? []}
      none={field.optional ? (told?.unsaid ?? "as usual") : undefined}
      onValue={(name) => onValue(name || null)}
    />
  );
}

function Words(props: Props): ReactElement {
  const { field, value, told, about, onValue } = props;
  if (told?.choices) return OneOf(props);
  return (
    <div className="choice">
      <span aria-hidden="true">{told?.label ?? field.label}</span>
      <TextBox
        label={[about, told?.label ?? field.label].filter(Boolean).join(", ")}
        value={(value as string | null) ?? ""}
        mayBeEmpty={field.default === ""}
        onValue={onValue}
      />
    </div>
  );
}

/** One of several kinds of a thing, with the fields that kind has. */
function Either(props: Props): ReactElement {
  const { field, value, path, told, about, nested: FieldForm } = props;
  const kind = (value as { kind: string }).kind;
  return (
    <div className="either">
      <EitherPick {...props} kind={kind} />
      <FieldForm of={field.kinds?.[kind] ?? ""} at={path} about={about ?? told?.label ?? field.label} columns={2} />
    </div>
  );
}

function EitherPick({ field, told, about, onValue, kind }: Props & { kind: string }) {
  const forms = useForms();
  const choices = Object.entries(field.kinds ?? {}).map(([name, model]) => ({
    name,
    label: forms[model]?.find((f) => f.name === "kind")?.choices?.[0]?.label ?? name,
  }));
  const fresh = (name: string) =>
    Object.fromEntries(
      (forms[field.kinds?.[name] ?? ""] ?? []).map((f) => [
        f.name,
        f.name === "kind" ? name : (f.default ?? FIRST[f.name] ?? f.low ?? 0),
      ]),
    );
  return (
    <Choice
      label={told?.label ?? field.label}
      about={about}
      value={kind}
      choices={choices}
      onValue={(name) => onValue(fresh(name))}
    />
  );
}

/** What a sole begins with where its own document says nothing. */
const FIRST: Record<string, number> = {
  radius_mm: 8,
  length_mm: 60,
  width_mm: 40,
  radius_fore_mm: 120,
  radius_side_mm: 120,
};

function Group({ field, path, told, about, nested: FieldForm }: Props): ReactElement {
  return <FieldForm of={field.of ?? ""} at={path} about={about} legend={told?.label ?? field.label} />;
}

function Nothing(): ReactElement {
  return <i hidden />;
}

const KINDS: Record<string, (props: Props) => ReactElement> = {
  number: OneNumber,
  whole: OneNumber,
  numbers: Numbers,
  flag: Flag,
  choice: OneOf,
  text: Words,
  either: Either,
  form: Group,
};
