/** One of several, with its label beside it. */
import { type ReactNode, useId } from "react";

interface Props {
  label: string;
  value: string;
  onValue: (value: string) => void;
  disabled?: boolean;
  children: ReactNode;
}

export function Choice({ label, value, onValue, disabled, children }: Props) {
  const id = useId();
  return (
    <div className="inline-add">
      <label htmlFor={id}>{label}</label>
      <select
        id={id}
        className="form-select form-select-sm"
        value={value}
        disabled={disabled}
        onChange={(event) => onValue(event.target.value)}
      >
        {children}
      </select>
    </div>
  );
}
