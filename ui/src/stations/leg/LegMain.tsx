/** The clamp: one leg, large, with its reach, its triangles and a foot to drag; the other two views beside it. */
import { useEffect, useRef } from "react";
import type { Project } from "@/api/client";
import type { Picture } from "@/api/picture";
import { gaitOf, limbOf } from "@/bench/edits";
import { useBench } from "@/bench/state";
import { withUnit } from "@/look/number";
import { gridStep } from "@/mat/Grid";
import { type Grip, Handle } from "@/mat/Handle";
import { type Extent, type Fit, fitTo, type Projection, projection, stillFits, VIEW_LABELS } from "@/mat/projection";
import { Sheet } from "@/mat/Sheet";
import { askAgain, type ClampView, hold, type LegView, takeLeg, useClamp } from "./clampStore";

const VIEWS: ClampView[] = ["side", "plan", "front"];
const SMALL = 226;
const PAD = { left: 46, right: 46, top: 52, bottom: 46 };
const SMALL_PAD = { left: 14, right: 14, top: 28, bottom: 14 };

interface Props {
  picture: Picture;
  leg: string;
  width: number;
  height: number;
}

export function LegMain({ leg, width, height }: Props) {
  const project = useBench((s) => s.pictured);
  const motion = useBench((s) => (s.draft ? gaitOf(s.draft, s.motion) : undefined));
  const { state, refusal, view, limb } = useClamp();
  const steps = project ? limbOf(project, leg)?.neutral_mm != null : false;
  // biome-ignore lint/correctness/useExhaustiveDependencies: a new leg is taken at its stance, a new draft asks again
  useEffect(() => {
    if (project && motion && steps) takeLeg(project, motion, leg);
  }, [leg, steps, motion?.name]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: only a changed draft asks again
  useEffect(() => {
    if (project && steps && limb === leg) askAgain(project);
  }, [project]);
  if (!steps)
    return (
      <Empty width={width} height={height} text={`${leg} does not step, so it has no foot to hold. Choose a leg.`} />
    );
  if (!state || !project || state.limb !== leg)
    return <Empty width={width} height={height} text={refusal ?? "Solving the leg …"} />;
  // What is worked on keeps its room.
  const small = Math.min(SMALL, Math.round(width * 0.3));
  const main = width - small;
  return (
    <div className="clamp" style={{ width, height }}>
      <div className="main-view" style={{ width: main, height }}>
        <ClampDrawing key={view} main view={view} state={state} project={project} width={main} height={height} />
        <p className="caption">
          {leg} from the {view === "plan" ? "top" : view}, on the clamp
        </p>
      </div>
      <div className="small-views" style={{ width: small }}>
        {VIEWS.filter((v) => v !== view).map((v) => (
          <button
            key={v}
            type="button"
            className="small-view"
            aria-label={`Make ${VIEW_LABELS[v]} the main view`}
            onClick={() => useClamp.setState({ view: v })}
          >
            <span className="small-label">{VIEW_LABELS[v]}</span>
            <ClampDrawing view={v} state={state} project={project} width={small} height={Math.floor(height / 2)} />
          </button>
        ))}
      </div>
    </div>
  );
}

function Empty({ width, height, text }: { width: number; height: number; text: string }) {
  return (
    <div className="waiting" style={{ width, height }} role="status">
      {text}
    </div>
  );
}

/** A ring's two numbers as a place: the third is the foot's. */
function lifted(view: ClampView, ring: number[][], foot: number[]): [number, number, number][] {
  return ring.map(([a, b]) =>
    view === "side" ? [a, foot[1], b] : view === "plan" ? [a, b, foot[2]] : [foot[0], a, b],
  );
}

function extentOf(p: Projection, points: number[][]): Extent {
  const us = points.map(([x, y, z]) => p.u(x, y, z));
  const vs = points.map(([x, y, z]) => p.v(x, y, z));
  return { left: Math.min(...us), right: Math.max(...us), top: Math.min(...vs), bottom: Math.max(...vs) };
}

function path(p: Projection, points: number[][], closed = false): string {
  const text = points.map(([x, y, z], n) => `${n ? "L" : "M"}${p.u(x, y, z).toFixed(1)} ${p.v(x, y, z).toFixed(1)}`);
  return text.join("") + (closed && text.length ? "Z" : "");
}

interface DrawingProps {
  main?: boolean;
  view: ClampView;
  state: LegView;
  project: Project;
  width: number;
  height: number;
}

function ClampDrawing({ main, view, state, project, width, height }: DrawingProps) {
  const working = useClamp((s) => s.working);
  const line = useClamp((s) => s.line);
  const kept = useRef<Fit | null>(null);
  const rings = state.slices
    .filter((s) => s.plane === view)
    .flatMap((s) => s.rings.map((r) => lifted(view, r, state.foot)));
  const unit = projection(view, { scale: 1, x: 0, y: 0 });
  const box = extentOf(unit, [...state.points, state.target, ...rings.flat()]);
  if (!kept.current || (!useBench.getState().dragging && !stillFits(box, kept.current, width, height)))
    kept.current = fitTo(box, width, height, main ? PAD : SMALL_PAD);
  const fit = kept.current;
  const p = projection(view, fit);
  const at = (point: number[]): [number, number] => [
    p.u(point[0], point[1], point[2]),
    p.v(point[0], point[1], point[2]),
  ];
  const edge = state.slices.find((s) => s.plane === view)?.edge_mm;
  const [fu, fv] = at(state.foot);
  const missed = Math.hypot(...state.missing) > 0.05;
  const section = project.walker.sections[0].size_mm;
  const corners = boxOf(view, section);
  return (
    <Sheet fit={fit} width={width} height={height} label={`${VIEW_LABELS[view]} view of leg ${state.limb}`} main={main}>
      <path className="m-reach" d={rings.map((r) => path(p, r, true)).join("")} fillRule="evenodd" />
      <path className="m-frame clamp-frame" d={path(p, corners, true)} />
      {line && <path className="m-line" d={path(p, line.path)} />}
      <g className="m-leg chosen down">
        <path className="m-links" d={path(p, state.points)} />
        {state.sole.length > 0 && <path className="m-soles" d={path(p, state.sole, true)} />}
        {state.points.slice(0, -1).map((point, n) => {
          const [u, v] = at(point);
          return <circle key={n} className="m-joint" r={main ? 4 : 2.5} cx={u} cy={v} />;
        })}
      </g>
      {main && working && state.triangles.map((t, n) => <TriangleMarks key={n} triangle={t} at={at} />)}
      {missed && <path className="m-miss" d={path(p, [state.foot, state.target])} />}
      {main && edge !== undefined && (
        <text className={edge < 0 ? "m-edge outside" : "m-edge"} x={fu + 16} y={fv + (state.sole.length ? 44 : 24)}>
          {edge < 0 ? "out of reach" : `${withUnit(edge, "mm")} to the edge`}
        </text>
      )}
      {main ? (
        <Handle grip={footGrip(project, state, at(state.target))} view={view} fit={fit} />
      ) : (
        <circle className="m-foot" r={5} cx={fu} cy={fv} />
      )}
      {main && (
        <text className="m-scale" x={width - 12} y={height - 12} textAnchor="end">
          {gridStep(fit)} mm grid
        </text>
      )}
    </Sheet>
  );
}

function boxOf(view: ClampView, [l, w, h]: number[]): number[][] {
  const [a, b] = view === "side" ? [l / 2, h / 2] : view === "plan" ? [l / 2, w / 2] : [w / 2, h / 2];
  const place = (x: number, y: number): number[] =>
    view === "side" ? [x, 0, y] : view === "plan" ? [x, y, 0] : [0, x, y];
  return [place(-a, -b), place(a, -b), place(a, b), place(-a, b)];
}

function TriangleMarks({
  triangle,
  at,
}: {
  triangle: LegView["triangles"][number];
  at: (p: number[]) => [number, number];
}) {
  const points = triangle.corners.map(at);
  const [[u0, v0], [u1, v1], [u2, v2]] = points;
  // Seen edge on, a triangle says nothing.
  if (Math.abs((u1 - u0) * (v2 - v0) - (u2 - u0) * (v1 - v0)) < 2400) return null;
  const middle = [0, 1].map((k) => (points[0][k] + points[1][k] + points[2][k]) / 3);
  const out = (u: number, v: number, by: number): [number, number] => {
    const size = Math.hypot(u - middle[0], v - middle[1]) || 1;
    return [u + ((u - middle[0]) / size) * by, v + ((v - middle[1]) / size) * by];
  };
  return (
    <g className="m-triangle">
      <path d={`M${points.map((q) => q.map((n) => n.toFixed(1)).join(" ")).join("L")}Z`} />
      {triangle.sides.map((text, k) => {
        const next = points[(k + 1) % 3];
        const [u, v] = out((points[k][0] + next[0]) / 2, (points[k][1] + next[1]) / 2, 18);
        return (
          <text key={text || k} x={u} y={v} textAnchor="middle">
            {text}
          </text>
        );
      })}
      {triangle.angles.map((text, k) => {
        const [u, v] = out(points[k][0], points[k][1], 20);
        return (
          <text key={text || k} className="angle" x={u} y={v} textAnchor="middle">
            {text}
          </text>
        );
      })}
    </g>
  );
}

function footGrip(project: Project, state: LegView, [u, v]: [number, number]): Grip {
  let from = [...state.target] as [number, number, number];
  const whole = (n: number) => Math.round(n * 2) / 2;
  const [x, y, z] = state.target;
  return {
    id: "clamp-foot",
    label: `Foot of ${state.limb}`,
    text: `${Math.round(x)} mm forward, ${Math.round(y)} mm left, ${Math.round(z)} mm up from the middle of the body`,
    u,
    v,
    along: "both",
    take: () => {
      // Where it is held, which may be ahead of what has been answered.
      from = [...(useClamp.getState().foot ?? state.target)] as [number, number, number];
    },
    move: (dx, dy, dz) => hold(project, [whole(from[0] + dx), whole(from[1] + dy), whole(from[2] + dz)], true),
    drop: () => askAgain(project),
  };
}
