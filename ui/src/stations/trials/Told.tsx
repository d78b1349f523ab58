/** One thing that a log or a trace tells, and what to do about it. */
import type { ReactNode } from "react";
import type { Seen } from "./log";

export function Told({ each, children }: { each: Seen; children?: ReactNode }) {
  return (
    <article className="what">
      <h3>
        {each.title} {each.code && <small>{each.code}</small>}
      </h3>
      <p>{each.message}</p>
      <p className="hint">{each.do}</p>
      {children}
    </article>
  );
}
