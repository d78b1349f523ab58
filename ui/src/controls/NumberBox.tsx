/** A number one can type into: decimal comma understood, arrow keys step, a sentence when it cannot be read. */
import "./controls.css";
import { type KeyboardEvent, useEffect, useId, useRef, useState } from "react";
import { type HeldBack, useBench } from "@/bench/state";
import { redo, undo } from "@/bench/store";
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
  /** What it is of, read out before the label. */
  about?: string;
  /** Its place in the document, so that it can say what was refused of it. */
  path?: string;
  onValue: (value: number) => void;
}

/** Whether what was refused at a place is of this box: it, or the numbers it is one of. */
function belongs(refused: string, own: string): boolean {
  return own === refused || own.startsWith(`${refused}.`);
}

/** The number refused, where it is one of several at that place. */
function numberIn(held: HeldBack, path: string | undefined): number | null {
  const found = Array.isArray(held.value) ? held.value[Number(path?.split(".").at(-1))] : null;
  return typeof found === "number" ? found : null;
}

function plain(value: number, step: number): string {
  const digits = Math.max(digitsOf(step), Number.isInteger(roundTo(value, 0.001)) ? 0 : 1);
  const text = shown(value, digits);
  return text.includes(".") ? text.replace(/0+$/, "").replace(/\.$/, "") : text;
}

export function NumberBox({ id, label, value, unit, step, min, max, quiet, about, path, onValue }: Props) {
  const own = useId();
  const name = id ?? own;
  const [text, setText] = useState<string | null>(null);
  const [fault, setFault] = useState<string | null>(null);
  const held = useBench((s) => (path && s.held && belongs(s.held.path, path) ? s.held : null));
  // biome-ignore lint/correctness/useExhaustiveDependencies: a value from elsewhere replaces what was being typed
  useEffect(() => {
    setText(null);
    setFault(null);
  }, [value]);
  const touched = useRef(false);
  useEffect(() => {
    if (!held) return;
    setFault(held.sentence);
    touched.current = false;
    const refused = typeof held.value === "number" ? held.value : numberIn(held, path);
    if (refused !== null) setText(plain(refused, step));
  }, [held, path, step]);

  const judge = (typed: string): number | null => {
    const number = read(typed);
    if (number === null) setFault(`${label}: type a number, such as ${plain((min + max) / 2, step)}.`);
    else if (number < min || number > max)
      setFault(
        `${label}: from ${plain(min, step)} to ${`${plain(max, step)} ${unit}`.trim()}, got ${plain(number, step)}.`,
      );
    else {
      setFault(null);
      return number;
    }
    return null;
  };
  const accept = () => {
    if (text === null || !touched.current) return;
    const number = judge(text);
    if (number === null) return;
    setText(null);
    if (Math.abs(number - value) > 1e-9) onValue(number);
  };
  const key = (event: KeyboardEvent<HTMLInputElement>) => {
    if (event.key === "Enter") {
      // It takes the number, and does not send off the form that the box may stand in.
      event.preventDefault();
      accept();
    } else if (event.key === "Escape") {
      setText(null);
      setFault(null);
    } else if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "z") {
      // What is typed and not yet taken goes first; then the walker is undone, and the box with it.
      event.preventDefault();
      event.stopPropagation();
      if (text !== null && text !== plain(value, step)) setText(null);
      else if (event.shiftKey) redo();
      else undo();
      setFault(null);
    } else if (event.key === "ArrowUp" || event.key === "ArrowDown") {
      event.preventDefault();
      by((event.key === "ArrowUp" ? 1 : -1) * (event.shiftKey ? 10 : 1));
    }
  };
  const by = (steps: number) => {
    const next = roundTo((text === null ? value : (read(text) ?? value)) + steps * step, step);
    if (next >= min && next <= max) onValue(next);
  };
  return (
    <span className={`number-box${fault ? " faulty" : ""}`}>
      <label htmlFor={name} className={quiet ? "visually-hidden" : undefined}>
        {about && <span className="visually-hidden">{about}, </span>}
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
            touched.current = true;
            setText(event.target.value);
            if (fault) judge(event.target.value);
          }}
          onBlur={accept}
          onKeyDown={key}
          onFocus={(event) => event.target.select()}
        />
        {unit && <span className="unit">{unit}</span>}
        <span className="steppers" aria-hidden="true">
          <button type="button" tabIndex={-1} onPointerDown={(e) => e.preventDefault()} onClick={() => by(-1)}>
            −
          </button>
          <button type="button" tabIndex={-1} onPointerDown={(e) => e.preventDefault()} onClick={() => by(1)}>
            +
          </button>
        </span>
      </span>
      {fault && (
        <span className="fault" role="alert" id={`${name}-fault`}>
          {fault}
        </span>
      )}
    </span>
  );
}
