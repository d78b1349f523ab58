/** One of several, with its label beside it; a quiet one says its label only to those who hear it. */
import { type ReactNode, useId } from "react";
import Form from "react-bootstrap/Form";

interface Props {
  label: string;
  /** What the label begins with for those who hear it: "L1 tibia". */
  about?: string;
  value: string;
  onValue: (value: string) => void;
  disabled?: boolean;
  quiet?: boolean;
  describedBy?: string;
  choices?: readonly { name: string; label: string }[];
  /** What stands for none of them. */
  none?: string;
  children?: ReactNode;
}

export function Choice(props: Props) {
  const { label, about, value, onValue, disabled, quiet, describedBy, choices, none, children } = props;
  const id = useId();
  const select = (
    <Form.Select
      id={id}
      size="sm"
      aria-label={quiet ? label : undefined}
      aria-describedby={describedBy}
      value={value}
      disabled={disabled}
      onChange={(event) => onValue(event.target.value)}
    >
      {none !== undefined && <option value="">{none}</option>}
      {choices?.map((choice) => (
        <option key={choice.name} value={choice.name}>
          {choice.label}
        </option>
      ))}
      {children}
    </Form.Select>
  );
  if (quiet) return select;
  return (
    <div className="choice">
      <label htmlFor={id}>
        {about && <span className="visually-hidden">{about}, </span>}
        {label}
      </label>
      {select}
    </div>
  );
}
