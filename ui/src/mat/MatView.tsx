/** One view of the walker on the mat. The main one takes overlays, handles and dimension lines as children. */
import "./mat.css";
import { type ReactNode, useEffect, useLayoutEffect, useRef } from "react";
import type { Picture } from "@/api/picture";
import { sampleAt } from "@/api/picture";
import { playhead } from "@/bench/playhead";
import type { ViewName } from "@/bench/state";
import { chooseLeg } from "@/bench/store";
import { comTrace, footTrace, paint } from "./paint";
import { type Fit, type Projection, projection } from "./projection";
import { Sheet } from "./Sheet";
import { type Part, Walker } from "./Walker";

interface Props {
  view: ViewName;
  picture: Picture;
  fit: Fit;
  width: number;
  height: number;
  chosen?: string;
  main?: boolean;
  margin?: boolean;
  traces?: boolean;
  ghost?: Picture | null;
  /** A fixed instant instead of the playhead's. */
  time?: number;
  onPick?: (part: Part, section: number) => void;
  label: string;
  children?: (p: Projection) => ReactNode;
}

export function MatView(props: Props) {
  const { view, picture, fit, width, height, chosen, main, margin, traces, ghost, time, onPick, label, children } =
    props;
  const own = useRef<SVGGElement>(null);
  const other = useRef<SVGGElement>(null);
  const p = projection(view, fit);
  const current = useRef({ picture, ghost, p, time });
  current.current = { picture, ghost, p, time };

  const draw = (at: number) => {
    const { picture, ghost, p, time } = current.current;
    if (own.current) paint(own.current, picture, sampleAt(picture, time ?? at), p);
    if (ghost && other.current) {
      const share = (time ?? at) / picture.cycle_s;
      paint(other.current, ghost, sampleAt(ghost, share * ghost.cycle_s), p);
    }
  };
  // biome-ignore lint/correctness/useExhaustiveDependencies: draw reads what it needs from the ref; what React makes anew or takes the classes of is drawn again
  useLayoutEffect(() => draw(playhead.time), [picture, ghost, view, fit, time, chosen, margin]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: draw reads what it needs from the ref
  useEffect(() => playhead.subscribe(draw), []);

  return (
    <Sheet
      fit={fit}
      width={width}
      height={height}
      label={label}
      main={main}
      floor={view === "side" || view === "front" ? p.v(0, 0, 0) : undefined}
    >
      {traces && (
        <>
          {picture.legs.map((leg, n) => (
            <path
              key={leg.name}
              className={`m-trace${leg.name === chosen ? " chosen" : ""}`}
              d={footTrace(picture, n, p)}
            />
          ))}
          <path className="m-com-trace" d={comTrace(picture, p)} />
        </>
      )}
      {ghost && (
        <g ref={other}>
          <Walker legs={ghost.legs} ghost />
        </g>
      )}
      <g ref={own}>
        <Walker
          legs={picture.legs}
          sections={main ? picture.sections.length : 1}
          chosen={chosen}
          labels={main}
          margin={margin}
          onChoose={main ? chooseLeg : undefined}
          onPick={main ? onPick : undefined}
        />
      </g>
      {children?.(p)}
    </Sheet>
  );
}
