/** One small drawing for each measurement: what is held where. */
import type { ReactElement } from "react";

const FLOOR = <path d="M2 40H70" />;
const BODY = <path d="M18 16h36v7H18zM22 23l-6 8 4 9M50 23l6 8-4 9" />;

const DRAWN: Record<string, ReactElement> = {
  scales: (
    <>
      <path d="M18 10h36v7H18zM22 17l-6 8 4 9M50 17l6 8-4 9" />
      <path d="M2 40H70M12 34h16v6H12M44 34h16v6H44" />
      <path className="said" d="M17 37h6" />
    </>
  ),
  tipped: (
    <>
      {FLOOR}
      <g transform="rotate(24 52 40)">{BODY}</g>
      <path className="said" d="M30 40a22 22 0 0 1 4-14" />
    </>
  ),
  hung: (
    <>
      {FLOOR}
      {BODY}
      <path className="said" d="M36 24v15M33 27l3-3 3 3M33 36l3 3 3-3" />
      <path d="M36 2v14M30 2h12" />
    </>
  ),
  wiggled: (
    <>
      {BODY}
      <path className="said" d="M8 44h18M11 41l-3 3 3 3M23 41l3 3-3 3" />
    </>
  ),
  pulled: (
    <>
      <path d="M6 18h18v20H6zM24 28h28" />
      <circle cx="24" cy="28" r="4" />
      <path className="said" d="M52 28V8M49 12l3-4 3 4" />
    </>
  ),
  pressed: (
    <>
      <path d="M2 36h20q4 0 5 5h18q1-5 5-5h20M27 22h18v19H27z" />
      <path className="said" d="M36 4v14M33 14l3 4 3-4" />
    </>
  ),
  slid: (
    <>
      <path d="M4 42H68L14 20" />
      <path d="M30 20l12 5-3 7-12-5z" />
      <path className="said" d="M50 42a18 18 0 0 0-1-7" />
    </>
  ),
};

export function Sketch({ name }: { name: string }) {
  return (
    <svg className="sketch" viewBox="0 0 72 48" aria-hidden="true">
      {DRAWN[name]}
    </svg>
  );
}
