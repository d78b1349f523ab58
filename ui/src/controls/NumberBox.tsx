/** A number one can type into: decimal comma understood, arrow keys step, a sentence when it cannot be read. */
import { type KeyboardEvent, useEffect, useId, useState } from "react";
import { digitsOf, read, roundTo, shown } from "@/look/number";

interface Props {
  id?: string;
  label: string;
  value: number;
  unit: string;
  step: number;
  min: number;
  max: number;
  /** Hide the label from sight; it is still read out. */
  quiet?: boolean;
  onValue: (value: number) => void;
}

function plain(value: number, step: number): string {
  const digits = Math.max(digitsOf(step), Number.isInteger(roundTo(value, 0.001)) ? 0 : 1);
  const text = shown(value, digits);
  return text.includes(".") ? text.replace(/0+$/, "").replace(/\.$/, "") : text;
}

export function NumberBox({ id, label, value, unit, step, min, max, quiet, onValue }: Props) {
  const own = useId();
  const name = id ?? own;
  const [text, setText] = useState<string | null>(null);
  const [fault, setFault] = useState<string | null>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: a value from elsewhere replaces what was being typed
  useEffect(() => {
    setText(null);
    setFault(null);
  }, [value]);

  const judge = (typed: string): number | null => {
    const number = read(typed);
    if (number === null) setFault(`${label}: type a number, such as ${plain((min + max) / 2, step)}.`);
    else if (number < min || number > max)
      setFault(`${label}: from ${plain(min, step)} to ${plain(max, step)} ${unit}, got ${plain(number, step)}.`);
    else {
      setFault(null);
      return number;
    }
    return null;
  };
  const accept = () => {
    if (text === null) return;
    const number = judge(text);
    if (number === null) return;
    setText(null);
    if (Math.abs(number - value) > 1e-9) onValue(number);
  };
  const key = (event: KeyboardEvent<HTMLInputElement>) => {
    if (event.key === "Enter") accept();
    else if (event.key === "Escape") {
      setText(null);
      setFault(null);
    } else if (event.key === "ArrowUp" || event.key === "ArrowDown") {
      event.preventDefault();
      const by = (event.key === "ArrowUp" ? step : -step) * (event.shiftKey ? 10 : 1);
      const next = roundTo((text === null ? value : (read(text) ?? value)) + by, step);
      if (next >= min && next <= max) onValue(next);
    }
  };
  return (
    <span className={`number-box${fault ? " faulty" : ""}`}>
      <label htmlFor={name} className={quiet ? "visually-hidden" : undefined}>
        {label}
      </label>
      <span className="number-cell">
        <input
          id={name}
          value={text ?? plain(value, step)}
          inputMode="decimal"
          autoComplete="off"
          spellCheck={false}
          size={Math.max(3, (text ?? plain(value, step)).length)}
          aria-invalid={fault ? true : undefined}
          aria-describedby={fault ? `${name}-fault` : undefined}
          onChange={(event) => {
            setText(event.target.value);
            if (fault) judge(event.target.value);
          }}
          onBlur={accept}
          onKeyDown={key}
          onFocus={(event) => event.target.select()}
        />
        {unit && <span className="unit">{unit}</span>}
      </span>
      {fault && (
        <span className="fault" role="alert" id={`${name}-fault`}>
          {fault}
        </span>
      )}
    </span>
  );
}
