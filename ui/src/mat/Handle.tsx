/** A grip on the drawing: dragged with the pointer, nudged with the arrow keys. */
import { type KeyboardEvent, type PointerEvent, useRef } from "react";
import { useBench, type ViewName } from "@/bench/state";
import { commit } from "@/bench/store";
import { type Fit, moved } from "./projection";

export interface Grip {
  id: string;
  label: string;
  /** What a screen reader says of where it stands. */
  text: string;
  u: number;
  v: number;
  shape?: "round" | "square" | "up" | "hook";
  /** Written beside it. */
  name?: string;
  /** The directions it goes, in the view's plane. */
  along: "both" | "vertical";
  /** Move by millimetres from where it was when the hand took it. */
  move(dx: number, dy: number, dz: number): void;
  /** Called when the hand takes it. */
  take(): void;
  /** Called when the hand lets go, after the draft is committed. */
  drop?(): void;
}

const SHAPES = {
  round: "M-8 0a8 8 0 1 0 16 0a8 8 0 1 0 -16 0",
  square: "M-7 -7H7V7H-7Z",
  hook: "M-7 -7H7V1a7 7 0 0 1 -14 0Z",
  up: "M0 -11L7 -2H-7ZM0 11L7 2H-7Z",
};

export function Handle({ grip, view, fit }: { grip: Grip; view: ViewName; fit: Fit }) {
  const start = useRef<{ u: number; v: number } | null>(null);

  const down = (event: PointerEvent<SVGGElement>) => {
    event.preventDefault();
    event.currentTarget.focus();
    event.currentTarget.setPointerCapture(event.pointerId);
    start.current = { u: event.clientX, v: event.clientY };
    useBench.setState({ dragging: true });
    grip.take();
  };
  const drag = (event: PointerEvent<SVGGElement>) => {
    if (!start.current) return;
    const du = grip.along === "vertical" ? 0 : event.clientX - start.current.u;
    grip.move(...moved(view, fit, du, event.clientY - start.current.v));
  };
  const up = () => {
    if (!start.current) return;
    start.current = null;
    commit();
    grip.drop?.();
  };
  const key = (event: KeyboardEvent) => {
    const by = event.shiftKey ? 10 : 1;
    const step = { ArrowLeft: [-by, 0], ArrowRight: [by, 0], ArrowUp: [0, -by], ArrowDown: [0, by] }[event.key];
    if (!step || (grip.along === "vertical" && step[0])) return;
    event.preventDefault();
    event.stopPropagation();
    grip.take();
    grip.move(...moved(view, { ...fit, scale: 1 }, step[0], step[1]));
    commit();
    grip.drop?.();
  };

  return (
    <g
      className="m-handle"
      data-grip={grip.id}
      transform={`translate(${grip.u.toFixed(1)} ${grip.v.toFixed(1)})`}
      tabIndex={0}
      role="slider"
      aria-label={grip.label}
      aria-valuetext={grip.text}
      aria-valuenow={0}
      onPointerDown={down}
      onPointerMove={drag}
      onPointerUp={up}
      onPointerCancel={up}
      onKeyDown={key}
    >
      <circle r="16" className="m-handle-area" />
      <path d={SHAPES[grip.shape ?? "round"]} />
      {grip.name && (
        <text x="13" y="5">
          {grip.name}
        </text>
      )}
      <title>{`${grip.label}: ${grip.text}. Drag, or use the arrow keys.`}</title>
    </g>
  );
}
