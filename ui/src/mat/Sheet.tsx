/** What a view is drawn on: the mat on a layer of its own, and over it the drawing, painted without it as it moves. */
import { memo, type ReactNode } from "react";
import { Grid } from "./Grid";
import type { Fit } from "./projection";

interface Props {
  fit: Fit;
  width: number;
  height: number;
  label: string;
  main?: boolean;
  /** How far down the floor lies, where it is seen from the side, px. */
  floor?: number;
  children: ReactNode;
}

export function Sheet({ fit, width, height, label, main, floor, children }: Props) {
  return (
    <span className="m-sheet" style={{ width, height }}>
      <Ground fit={fit} width={width} height={height} floor={floor} />
      <svg
        className={main ? "m-view main" : "m-view"}
        width={width}
        height={height}
        viewBox={`0 0 ${width} ${height}`}
        role={main ? "group" : "img"}
        aria-label={label}
      >
        {children}
      </svg>
    </span>
  );
}

const Ground = memo(function Ground({ fit, width, height, floor }: Pick<Props, "fit" | "width" | "height" | "floor">) {
  const at = floor?.toFixed(1);
  const hatch = Array.from({ length: Math.ceil(width / 14) }, (_, k) => `M${k * 14 + 8} ${at}l-7 8`);
  return (
    <svg className="m-ground" width={width} height={height} viewBox={`0 0 ${width} ${height}`} aria-hidden="true">
      <Grid fit={fit} />
      {at !== undefined && (
        <>
          <path className="m-floor" d={`M0 ${at}H${width}`} />
          <path className="m-hatch" d={hatch.join("")} />
        </>
      )}
    </svg>
  );
});
