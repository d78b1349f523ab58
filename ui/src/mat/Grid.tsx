/** The cutting mat: a line every 10 mm, a stronger one every 50 mm, further apart when the drawing is small. */
import { useId } from "react";
import type { Fit } from "./projection";

export function gridStep(fit: Fit): number {
  return fit.scale * 10 >= 5 ? 10 : fit.scale * 50 >= 5 ? 50 : 250;
}

export function Grid({ fit }: { fit: Fit }) {
  const id = useId();
  const step = gridStep(fit) * fit.scale;
  const line = (size: number, className: string, name: string) => (
    <pattern id={`${id}${name}`} x={fit.x} y={fit.y} width={size} height={size} patternUnits="userSpaceOnUse">
      <path d={`M0 0H${size}M0 0V${size}`} className={className} />
    </pattern>
  );
  return (
    <>
      <defs>
        {line(step, "m-grid-fine", "fine")}
        {line(step * 5, "m-grid-strong", "strong")}
      </defs>
      <rect width="100%" height="100%" fill={`url(#${id}fine)`} />
      <rect width="100%" height="100%" fill={`url(#${id}strong)`} />
    </>
  );
}
