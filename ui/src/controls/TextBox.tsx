/** A name or a note one can type: one line, taken on Enter or on leaving. */
import { useEffect, useState } from "react";

interface Props {
  label: string;
  value: string;
  onValue: (value: string) => void;
  className?: string;
  /** Whether nothing may stand in it. */
  mayBeEmpty?: boolean;
}

export function TextBox({ label, value, onValue, className, mayBeEmpty }: Props) {
  const [text, setText] = useState(value);
  useEffect(() => setText(value), [value]);
  const accept = () => {
    const name = text.trim().slice(0, 60);
    if ((name || mayBeEmpty) && name !== value) onValue(name);
    else setText(value);
  };
  return (
    <input
      className={`text-box ${className ?? ""}`}
      aria-label={label}
      value={text}
      maxLength={60}
      onChange={(event) => setText(event.target.value)}
      onBlur={accept}
      onKeyDown={(event) => {
        if (event.key === "Enter") accept();
        if (event.key === "Escape") setText(value);
      }}
    />
  );
}
