import { useEffect, useRef } from "react";

/** Why what was just asked was not done, brought into view; nothing where it was. */
export function Refused({ why }: { why: string | null }) {
  const line = useRef<HTMLParagraphElement>(null);
  useEffect(() => {
    if (why) line.current?.scrollIntoView({ block: "nearest" });
  }, [why]);
  return why ? (
    <p className="fault" role="alert" ref={line}>
      {why}
    </p>
  ) : null;
}
