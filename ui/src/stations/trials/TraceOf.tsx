/** A trial's trace in its line of the log: opened, or brought in. */
import { FileButton } from "@/controls/FileButton";
import type { Line } from "./log";
import { useOpened } from "./traces";

interface Props {
  line: Line;
  walker: number;
  open: boolean;
  refused: string;
  onBring: (file: File) => void;
}

export function TraceOf({ line, walker, open, refused, onBring }: Props) {
  const { number } = line;
  return (
    <>
      {line.traced && (
        <button
          type="button"
          className="link-button"
          aria-expanded={open}
          onClick={() => useOpened.setState(open ? { walker: 0, number: 0 } : { walker, number })}
        >
          {open ? "Close" : "Open"}
          <span className="visually-hidden"> the trace of trial {number}</span>
        </button>
      )}{" "}
      <FileButton label={`Trace of trial ${number} as CSV`} accept=".csv,.txt" className="link-button" onFile={onBring}>
        {line.traced ? "Another" : "Bring in"}
        <span className="visually-hidden"> a trace for trial {number}</span>
      </FileButton>
      {refused && (
        <small className="off" role="alert">
          {refused}
        </small>
      )}
    </>
  );
}
