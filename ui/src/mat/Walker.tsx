/** The elements that `paint` fills in: one walker, solid or ghosted. */
import type { LegLayout } from "@/api/picture";

interface Props {
  legs: LegLayout[];
  /** How many sections are told apart, to be picked one by one; by default all are drawn as one. */
  sections?: number;
  chosen?: string;
  labels?: boolean;
  support?: boolean;
  margin?: boolean;
  ghost?: boolean;
  onChoose?: (leg: string) => void;
  onPick?: (part: Part, section: number) => void;
}

export type Part = "body" | "link" | "joint" | "foot";

export function Walker({ legs, sections = 1, chosen, labels, support = true, margin, ghost, onChoose, onPick }: Props) {
  return (
    <g className={ghost ? "m-walker m-ghost" : "m-walker"}>
      {support && <path className="m-polygon" />}
      {Array.from({ length: sections }, (_, n) => (
        <path key={n} className="m-frame" onPointerDown={onPick && (() => onPick("body", n))} />
      ))}
      <path className="m-soles" />
      <path className="m-nose" />
      {legs.map((leg, n) => (
        <g
          key={leg.name}
          data-leg={n}
          className={`m-leg${leg.name === chosen ? " chosen" : ""}`}
          onPointerDown={
            onChoose &&
            ((event) => {
              onChoose(leg.name);
              const part = (event.target as Element).classList;
              onPick?.(part.contains("m-foot") ? "foot" : part.contains("m-joint") ? "joint" : "link", 0);
            })
          }
        >
          {onChoose && <path className="m-hit" />}
          <path className="m-links" />
          {Array.from({ length: leg.points[1] - leg.points[0] }, (_, k) => (
            <circle
              key={k}
              className={k === leg.points[1] - leg.points[0] - 1 ? "m-foot" : "m-joint"}
              r={k === leg.points[1] - leg.points[0] - 1 ? 6 : 3}
            />
          ))}
          {labels && <text className="m-label">{leg.name}</text>}
        </g>
      ))}
      {support && (
        <g className="m-plumb">
          <path />
          {labels && <text />}
        </g>
      )}
      {support && (
        <g className="m-com">
          <circle r="8" />
          <path d="M-13 0H13M0 -13V13" />
          {margin && (
            <text x="15" y="-10" className="m-margin">
              0 mm
            </text>
          )}
        </g>
      )}
    </g>
  );
}
