/** What may be said or not: a line that says so with a button to set it, or the thing itself with one to take it back. */
import type { ReactNode } from "react";
import { Remove } from "./Remove";

interface Props {
  label: string;
  said: boolean;
  /** What stands there where it is not. */
  unsaid: string;
  onSet: () => void;
  /** Without: it cannot be taken back. */
  onUnset?: () => void;
  children: ReactNode;
}

export function Maybe({ label, said, unsaid, onSet, onUnset, children }: Props) {
  if (!said)
    return (
      <p className="said">
        <span>{label}</span>
        <span>{unsaid}</span>
        <button type="button" className="link-button" aria-label={`Set: ${label}`} onClick={onSet}>
          Set
        </button>
      </p>
    );
  if (!onUnset) return children;
  return (
    <div className="optional">
      {children}
      <Remove label={`${label}: ${unsaid}`} onRemove={onUnset} />
    </div>
  );
}
