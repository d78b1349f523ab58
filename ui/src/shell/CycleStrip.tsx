/** One bar per leg over the cycle, the margin trace, and the playhead: the same on every station. */
import "./strip.css";
import { type KeyboardEvent, type PointerEvent, useEffect, useRef, useState, useSyncExternalStore } from "react";
import type { Motion } from "@/api/client";
import type { Picture } from "@/api/picture";
import { setPhase } from "@/bench/edits";
import { playhead } from "@/bench/playhead";
import { useBench } from "@/bench/state";
import { chooseLeg, commit, editMotion } from "@/bench/store";
import { write } from "@/mat/paint";
import { snapped, takenAlong } from "@/stations/timing/stripWays";

const LEFT = 92;
const RIGHT = 18;

export function CycleStrip({ motion, height }: { motion: Motion | null; height: number }) {
  const box = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(1138);
  useEffect(() => {
    const watch = new ResizeObserver(([entry]) => setWidth(Math.floor(entry.contentRect.width)));
    if (box.current) watch.observe(box.current);
    return () => watch.disconnect();
  }, []);
  const picture = useBench((s) => s.picture);
  const leg = useBench((s) => s.leg);
  const keep = useBench((s) => s.draft?.limits.margin_mm ?? 0);
  const inner = Math.max(100, width - LEFT - RIGHT);
  const trace = Math.max(30, Math.min(90, height * 0.26));
  const stepping = picture?.legs.flatMap((l, n) => (l.role === "leg" ? [{ name: l.name, n }] : [])) ?? [];
  const rows = motion?.legs.length ?? stepping.length;
  const pitch = (height - 14 - trace) / Math.max(1, rows);
  const bar = Math.max(10, Math.min(24, pitch - 3));
  return (
    <div className="strip-drawing" ref={box}>
      <svg width={width} height={height} role="group" aria-label="Timing of the legs over one cycle">
        <rect
          className="s-seek"
          x={LEFT}
          y={0}
          width={inner}
          height={height}
          onPointerDown={(event) => {
            event.currentTarget.setPointerCapture(event.pointerId);
            seekTo(event, inner);
          }}
          onPointerMove={(event) => event.buttons && seekTo(event, inner)}
        />
        {!motion &&
          picture &&
          stepping.map(({ name, n }, row) => (
            <Runs
              key={name}
              picture={picture}
              leg={name}
              column={n}
              y={8 + row * pitch}
              height={bar}
              inner={inner}
              chosen={name === leg}
            />
          ))}
        {!motion && picture && <Pieces picture={picture} inner={inner} height={height} />}
        {motion?.legs.map((timing, n) => (
          <Bar
            key={timing.limb}
            leg={timing.limb}
            phase={timing.phase}
            duty={timing.duty}
            y={8 + n * pitch}
            height={bar}
            inner={inner}
            cycle={motion.cycle_s}
            chosen={timing.limb === leg}
          />
        ))}
        {picture && <Trace picture={picture} keep={keep} y={height - trace - 3} height={trace} inner={inner} />}
        <Playhead height={height} inner={inner} />
      </svg>
    </div>
  );
}

function seekTo(event: PointerEvent<SVGElement>, inner: number): void {
  const left = event.currentTarget.ownerSVGElement!.getBoundingClientRect().left + LEFT;
  const share = Math.min(0.99999, Math.max(0, (event.clientX - left) / inner));
  playhead.stop();
  playhead.seek(share * playhead.cycle);
}

interface RunsProps {
  picture: Picture;
  leg: string;
  column: number;
  y: number;
  height: number;
  inner: number;
  chosen: boolean;
}

/** Who is on the ground when, read from the plan: for motions whose timing is not the builder's own. */
function Runs({ picture, leg, column, y, height, inner, chosen }: RunsProps) {
  const { samples, legs, data } = picture;
  let path = "";
  let start = -1;
  for (let k = 0; k <= samples; k++) {
    const down = k < samples && data.contact[k * legs.length + column] > 0.5;
    if (down && start < 0) start = k;
    if (!down && start >= 0) {
      path += `M${LEFT + (start / samples) * inner} ${y}h${((k - start) / samples) * inner}v${height}h${(-(k - start) / samples) * inner}Z`;
      start = -1;
    }
  }
  return (
    <g className={chosen ? "s-bar chosen" : "s-bar"}>
      <text x={LEFT - 10} y={y + height - 4} textAnchor="end">
        {leg}
      </text>
      <rect className="s-swing" x={LEFT} y={y} width={inner} height={height} />
      <path className="s-stance" d={path} />
    </g>
  );
}

/** Where one part of a motion ends and the next begins. */
function Pieces({ picture, inner, height }: { picture: Picture; inner: number; height: number }) {
  return (
    <g className="s-pieces">
      {picture.pieces.slice(1).map((piece) => (
        <path key={piece.start_s} d={`M${LEFT + (piece.start_s / picture.cycle_s) * inner} 0V${height}`}>
          <title>{piece.name}</title>
        </path>
      ))}
    </g>
  );
}

interface BarProps {
  leg: string;
  phase: number;
  duty: number;
  y: number;
  height: number;
  inner: number;
  cycle: number;
  chosen: boolean;
}

function setLegDuty(motion: Motion, leg: string, duty: number): void {
  const found = motion.legs.find((l) => l.limb === leg);
  if (found) found.duty = Math.round(Math.min(0.99, Math.max(0.05, duty)) * 1000) / 1000;
}

/** The leg and those locked to it, by the same way round. */
function movePhase(motion: Motion, leg: string, phase: number): void {
  const own = motion.legs.find((l) => l.limb === leg);
  if (!own) return;
  const by = phase - own.phase;
  for (const name of takenAlong(motion, leg)) {
    const other = motion.legs.find((l) => l.limb === name);
    if (other) setPhase(motion, name, other.phase + by);
  }
  setPhase(motion, leg, phase);
}

function Bar({ leg, phase, duty, y, height, inner, cycle, chosen }: BarProps) {
  const end = phase + duty;
  const pieces =
    end <= 1
      ? [[phase, end]]
      : [
          [phase, 1],
          [0, end - 1],
        ];
  const lift = end % 1;
  return (
    <g className={chosen ? "s-bar chosen" : "s-bar"}>
      <text x={LEFT - 10} y={y + height - 4} textAnchor="end">
        {leg}
      </text>
      <rect className="s-swing" x={LEFT} y={y} width={inner} height={height} />
      <Grip
        label={`${leg} touchdown`}
        value={`${(phase * cycle).toFixed(2)} s, ${(phase * 100).toFixed(0)} % of the cycle`}
        leg={leg}
        inner={inner}
        from={phase}
        put={(m, share) => movePhase(m, leg, snapped(share))}
        nudge={0.01}
      >
        {pieces.map(([a, b]) => (
          <rect key={a} className="s-stance" x={LEFT + a * inner} y={y} width={(b - a) * inner} height={height} />
        ))}
      </Grip>
      {duty < 1 && (
        <Grip
          label={`${leg} lift-off`}
          value={`duty ${duty.toFixed(2)}`}
          leg={leg}
          inner={inner}
          from={duty}
          put={(m, share) => {
            for (const name of [leg, ...takenAlong(m, leg)]) setLegDuty(m, name, snapped(share));
          }}
          nudge={0.01}
        >
          <rect className="s-end" x={LEFT + lift * inner - 5} y={y - 1} width={10} height={height + 2} rx="2" />
        </Grip>
      )}
    </g>
  );
}

interface GripProps {
  label: string;
  value: string;
  leg: string;
  inner: number;
  from: number;
  nudge: number;
  put: (motion: Motion, share: number) => void;
  children: React.ReactNode;
}

function Grip({ label, value, leg, inner, from, nudge, put, children }: GripProps) {
  const start = useRef<{ x: number; from: number } | null>(null);
  const down = (event: PointerEvent<SVGGElement>) => {
    event.preventDefault();
    event.currentTarget.setPointerCapture(event.pointerId);
    event.currentTarget.focus();
    start.current = { x: event.clientX, from };
    chooseLeg(leg);
    useBench.setState({ dragging: true });
  };
  const drag = (event: PointerEvent) => {
    const held = start.current;
    if (held) editMotion((m) => put(m, held.from + (event.clientX - held.x) / inner));
  };
  const up = () => {
    if (start.current) commit();
    start.current = null;
  };
  const key = (event: KeyboardEvent) => {
    const step = { ArrowLeft: -1, ArrowRight: 1, ArrowDown: -1, ArrowUp: 1 }[event.key];
    if (!step) return;
    event.preventDefault();
    event.stopPropagation();
    chooseLeg(leg);
    editMotion((m) => put(m, from + step * nudge * (event.shiftKey ? 5 : 1)), true);
  };
  return (
    <g
      className="s-grip"
      tabIndex={0}
      role="slider"
      aria-label={label}
      aria-valuetext={value}
      aria-valuenow={Math.round(from * 100)}
      aria-valuemin={0}
      aria-valuemax={100}
      onPointerDown={down}
      onPointerMove={drag}
      onPointerUp={up}
      onPointerCancel={up}
      onKeyDown={key}
    >
      {children}
    </g>
  );
}

interface TraceProps {
  picture: Picture;
  keep: number;
  y: number;
  height: number;
  inner: number;
}

/** The margin over the cycle; of a walk that lives by its timing, how far inside its soles it pushes. */
function traced(picture: Picture) {
  const { data } = picture;
  if (picture.balance === "static" || !data.push_room_mm)
    return { t: data.trace_time_s, m: data.trace_margin_mm, ok: data.trace_supported, name: "margin" };
  return { t: data.time_s, m: data.push_room_mm, ok: data.push_room_mm.map(() => 1), name: "pushes" };
}

/** The margin over the cycle, with its scale, and the limit below which it warns. */
function Trace({ picture, keep, y, height, inner }: TraceProps) {
  const { t, m, ok, name } = traced(picture);
  let low = 0;
  let high = 10;
  for (let k = 0; k < m.length; k++) {
    if (!ok[k]) continue;
    low = Math.min(low, m[k]);
    high = Math.max(high, m[k]);
  }
  const v = (value: number) => y + height - ((value - low) / (high - low)) * height;
  let path = "";
  for (let k = 0; k <= m.length; k++) {
    const i = k % m.length;
    if (!ok[i]) continue;
    const x = LEFT + ((k < m.length ? t[i] : picture.cycle_s) / picture.cycle_s) * inner;
    path += `${path ? "L" : "M"}${x.toFixed(1)} ${v(m[i]).toFixed(1)}`;
  }
  // What is not judged by its margin is not told one.
  if (picture.balance !== "static" && !picture.data.push_room_mm)
    return (
      <g className="s-trace">
        <text x={LEFT + 8} y={y + height / 2 + 4}>
          It keeps moving: its margin does not tell whether it falls.
        </text>
      </g>
    );
  const text = (value: number) => `${(Math.round(value) || 0).toFixed(0).replace("-", "−")} mm`;
  const apart = (value: number) => Math.abs(v(0) - v(value)) > 13;
  const marks = [high, ...(low < 0 ? [low] : []), ...(apart(high) && (low === 0 || apart(low)) ? [0] : [])];
  return (
    <g className="s-trace">
      <text className="s-name" x={4} y={y + height / 2 + 4}>
        {name}
      </text>
      {marks.map((value) => (
        <text key={value} x={LEFT - 8} y={Math.min(y + height, Math.max(y + 9, v(value) + 4))} textAnchor="end">
          {text(value)}
        </text>
      ))}
      <path className="s-zero" d={`M${LEFT} ${v(0).toFixed(1)}h${inner}`} />
      {keep > 0 && keep < high && (
        <path className="s-keep" d={`M${LEFT} ${v(keep).toFixed(1)}h${inner}`}>
          <title>{`Margin to keep: ${text(keep)}`}</title>
        </path>
      )}
      <path className="s-margin" d={path} />
      {picture.worst && (
        <circle
          className="s-worst"
          r="4"
          cx={LEFT + (picture.worst.time_s / picture.cycle_s) * inner}
          cy={v(picture.worst.margin_mm)}
        />
      )}
    </g>
  );
}

function Playhead({ height, inner }: { height: number; inner: number }) {
  const group = useRef<SVGGElement>(null);
  useEffect(
    () =>
      playhead.subscribe((time) => {
        group.current?.setAttribute("transform", `translate(${(LEFT + (time / playhead.cycle) * inner).toFixed(1)} 0)`);
      }),
    [inner],
  );
  return (
    <g className="s-playhead" ref={group}>
      <path d={`M0 0V${height}`} />
      <path className="tip" d="M-7 0h14L0 10z" />
    </g>
  );
}

const SPEEDS = [0.1, 0.25, 0.5, 1];

export function PlayBox() {
  const cycle = useBench((s) => s.picture?.cycle_s ?? 0);
  const clock = useRef<HTMLElement>(null);
  useSyncExternalStore(playhead.watch, playhead.state);
  useEffect(() => playhead.subscribe((time) => write(clock.current, `${time.toFixed(2)} s`)), []);
  return (
    <div className="play-box">
      <b ref={clock}>0.00 s</b>
      <span>of {Number(cycle.toFixed(3))} s</span>
      <div>
        <button type="button" className="do" onClick={() => playhead.toggle()} title="Space">
          {playhead.playing ? "Stop" : "Play"}
        </button>
        <button
          type="button"
          className="do"
          aria-label={`Play speed ${playhead.speed}`}
          onClick={() => playhead.setSpeed(SPEEDS[(SPEEDS.indexOf(playhead.speed) + 1) % SPEEDS.length])}
        >
          {playhead.speed}×
        </button>
      </div>
    </div>
  );
}
