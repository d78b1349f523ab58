/** On the frame's drawing: the edge of the body, where a plus follows the pointer to add a limb, and the box it folds
 * into. */
import { type PointerEvent, useState } from "react";
import { useBench } from "@/bench/state";
import { chooseLeg, pick } from "@/bench/store";
import { withUnit } from "@/look/number";
import type { Scene } from "../station";
import { useAdding } from "./adding";
import { foldingBox } from "./foldingBox";

export function FrameOverlay({ scene }: { scene: Scene }) {
  const kind = useBench((s) => s.picked.kind);
  if (kind === "carried") return <FoldingBox scene={scene} />;
  return (
    <>
      {scene.p.view === "plan" && <Edge scene={scene} />}
      <Trailing scene={scene} />
      <Carried scene={scene} />
    </>
  );
}

function Edge({ scene }: { scene: Scene }) {
  const { project, motion, p } = scene;
  const [hover, setHover] = useState<[number, number] | null>(null);
  const { size_mm, shape } = project.walker.sections[0];
  const [sx, sy] = motion.pose.shift_mm;
  const [long, wide] = [size_mm[0] / 2, size_mm[1] / 2];
  const rim: [number, number][] =
    shape === "round"
      ? Array.from({ length: 32 }, (_, k) => [long * Math.cos((k * Math.PI) / 16), long * Math.sin((k * Math.PI) / 16)])
      : [
          [-long, -wide],
          [long, -wide],
          [long, wide],
          [-long, wide],
        ];
  const d = `${rim.map(([x, y], k) => `${k ? "L" : "M"}${p.u(x + sx, y + sy, 0)} ${p.v(x + sx, y + sy, 0)}`).join("")}Z`;
  const point = (event: PointerEvent<SVGPathElement>): [number, number] => {
    const box = event.currentTarget.ownerSVGElement!.getBoundingClientRect();
    const [du, dv] = [event.clientX - box.left - p.u(sx, sy, 0), event.clientY - box.top - p.v(sx, sy, 0)];
    const [x, y] = [-dv / p.fit.scale, -du / p.fit.scale];
    // Onto the edge.
    const grow =
      shape === "round"
        ? long / Math.max(1e-6, Math.hypot(x, y))
        : Math.min(long / Math.max(1e-6, Math.abs(x)), wide / Math.max(1e-6, Math.abs(y)));
    return [Math.round(x * grow * 2) / 2, Math.round(y * grow * 2) / 2];
  };
  return (
    <g className="m-edge-plus">
      {/* The keys add a limb by the + among the limbs. */}
      {/* biome-ignore lint/a11y/noStaticElementInteractions: a second way, for the pointer */}
      <path
        d={d}
        onPointerMove={(event) => setHover(point(event))}
        onPointerLeave={() => setHover(null)}
        onClick={() => hover && useAdding.setState({ at: hover })}
      >
        <title>Add a limb here</title>
      </path>
      {hover && (
        <g transform={`translate(${p.u(hover[0] + sx, hover[1] + sy, 0)} ${p.v(hover[0] + sx, hover[1] + sy, 0)})`}>
          <circle r="11" />
          <path className="plus" d="M-6 0H6M0 -6V6" />
        </g>
      )}
    </g>
  );
}

/** Servos where they sit, and leads on their way; pointing at one picks it. */
function Carried({ scene }: { scene: Scene }) {
  const { project, picture, p } = scene;
  const { kind, index } = useBench((s) => s.picked);
  const leg = useBench((s) => s.leg);
  const { rest_servos, rest_leads } = picture.data;
  if (!rest_servos) return null;
  const at = (values: Float32Array, n: number): [number, number] => {
    const [x, y, z] = values.subarray(3 * n, 3 * n + 3);
    return [p.u(x, y, z), p.v(x, y, z)];
  };
  const limbOf = (servo: string) =>
    project.walker.drives.find((d) => d.servos.some((s) => s.name === servo))?.joints[0].split("/")[0] ?? "";
  return (
    <g className="m-carried">
      {/* The keys pick them in the column. */}
      {picture.servos.map((servo, n) => {
        const [u, v] = at(rest_servos, n);
        const limb = limbOf(servo);
        return (
          <rect
            key={servo}
            className={limb !== leg ? undefined : kind === "servos" ? "picked" : "own"}
            // Beside its joint, which is pointed at too.
            x={u + 7}
            y={v - 18}
            width={10}
            height={10}
            rx={2}
            onPointerDown={(event) => {
              event.stopPropagation();
              chooseLeg(limb);
              pick("servos");
            }}
          >
            <title>{servo}</title>
          </rect>
        );
      })}
      {picture.leads.map((lead, n) => {
        const [from, to] = lead.points;
        const way = Array.from({ length: to - from }, (_, k) => at(rest_leads, from + k).join(",")).join(" ");
        return (
          <polyline
            key={lead.name}
            className={kind === "lead" && index === n ? "picked" : undefined}
            points={way}
            onPointerDown={(event) => {
              event.stopPropagation();
              pick("lead", n);
            }}
          >
            <title>{lead.name}</title>
          </polyline>
        );
      })}
    </g>
  );
}

/** What drags, in plan: where it trails off to. */
function Trailing({ scene }: { scene: Scene }) {
  const { project, motion, p } = scene;
  if (p.view !== "plan") return null;
  const [sx, sy] = motion.pose.shift_mm;
  return (
    <g className="m-trailing">
      {project.walker.drags.map((drag) => {
        const [x, y] = drag.at_mm;
        const [u, v] = [p.u(x + sx, y + sy, 0), p.v(x + sx, y + sy, 0)];
        return (
          <g key={drag.name} transform={`translate(${u} ${v})`}>
            <path d="M0 8q9 12 0 24t0 24" />
            <text x="10" y="46">
              {withUnit(drag.pull_n, "N")}
            </text>
          </g>
        );
      })}
    </g>
  );
}

/** The box round the folded machine. */
function FoldingBox({ scene }: { scene: Scene }) {
  const { project, picture, p } = scene;
  const box = foldingBox(project, picture, p.view);
  if (!box) return null;
  const { x, y, scale } = p.fit;
  const [left, top] = [x + scale * box.left, y + scale * box.top];
  return (
    <g className="m-folding-box">
      <rect x={left} y={top} width={scale * (box.right - box.left)} height={scale * (box.bottom - box.top)} />
      <text x={left + 6} y={top - 6}>
        its box
      </text>
    </g>
  );
}
