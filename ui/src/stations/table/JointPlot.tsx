/** One joint over the cycle: its angle against the end stops, its rate against the servo's speed. */
import { useEffect, useMemo, useRef } from "react";
import uPlot from "uplot";
import "uplot/dist/uPlot.min.css";
import type { Picture } from "@/api/picture";
import { playhead } from "@/bench/playhead";

interface Props {
  picture: Picture;
  column: number;
  title: string;
  width: number;
  height: number;
  /** Height of the time axis, 0 for none. */
  axis: number;
}

const INK = "#20302c";
const BRICK = "#a83a26";
const SLATE = "#3d6fa0";

function columnOf(picture: Picture, name: string, column: number): number[] {
  const { samples, data, width } = picture;
  const values = Array.from({ length: samples }, (_, k) => data[name][k * width[name] + column]);
  return [...values, values[0]];
}

export function JointPlot({ picture, column, title, width, height, axis }: Props) {
  const box = useRef<HTMLDivElement>(null);
  const line = useRef<HTMLDivElement>(null);
  const [low, high] = picture.joint_limits_deg[column];
  const speed = picture.joint_speed_deg_s[column];
  const angles = useMemo(() => columnOf(picture, "joints_deg", column), [picture, column]);
  const rates = useMemo(() => columnOf(picture, "rates_deg_s", column), [picture, column]);
  const peak = Math.max(...rates.map(Math.abs));

  useEffect(() => {
    const times = [...picture.data.time_s, picture.cycle_s];
    const flat = (value: number | null) => times.map(() => value);
    const mark = speed ?? Math.max(1, Math.round(peak));
    const top = speed ? speed * 1.15 : Math.max(...rates.map(Math.abs), 1) * 1.2;
    const plot = new uPlot(
      {
        width,
        height: height - 26,
        legend: { show: false },
        cursor: { show: false },
        padding: [6, 0, 0, 0],
        scales: {
          x: { time: false },
          "°": { range: [Math.min(low, ...angles) - 6, Math.max(high, ...angles) + 6] },
          "°/s": { range: [-top, top] },
        },
        axes: [
          {
            size: axis,
            stroke: INK,
            grid: { stroke: "#e3dccb" },
            font: "11px sans-serif",
            space: 80,
            ticks: { size: axis ? 5 : 0 },
            values: (_, marks) => marks.map((t) => (axis ? `${t} s` : "")),
          },
          { scale: "°", size: 46, stroke: INK, grid: { stroke: "#e3dccb" }, font: "11px sans-serif", space: 26 },
          {
            scale: "°/s",
            side: 1,
            size: 50,
            stroke: SLATE,
            grid: { show: false },
            font: "11px sans-serif",
            space: 10,
            // However small the plot, what the servo can do stands at its axis.
            splits: () => [-mark, 0, mark],
            values: (_, marks) => marks.map((v) => v.toFixed(0).replace("-", "−")),
          },
        ],
        series: [
          {},
          { scale: "°/s", stroke: SLATE, width: 1, points: { show: false }, dash: [5, 3] },
          { scale: "°", stroke: INK, width: 2, points: { show: false } },
          { scale: "°", stroke: BRICK, width: 1.5, points: { show: false } },
          { scale: "°", stroke: BRICK, width: 1.5, points: { show: false } },
          { scale: "°/s", stroke: SLATE, width: 1, points: { show: false }, dash: [1, 3] },
          { scale: "°/s", stroke: SLATE, width: 1, points: { show: false }, dash: [1, 3] },
        ],
      },
      [times, rates, angles, flat(low), flat(high), flat(speed), flat(speed ? -speed : null)],
      box.current!,
    );
    // The plot lays itself out after this; the playhead can only be placed then.
    let stop = () => {};
    const placed = window.setTimeout(() => {
      stop = playhead.subscribe((time) => {
        const x = plot.over.offsetLeft + plot.valToPos(time, "x");
        if (line.current) line.current.style.transform = `translateX(${x.toFixed(1)}px)`;
      });
    });
    return () => {
      window.clearTimeout(placed);
      stop();
      plot.destroy();
    };
  }, [picture, width, height, low, high, speed, angles, rates, peak, axis]);

  const text = `${title}: from ${Math.min(...angles).toFixed(0)}° to ${Math.max(...angles).toFixed(0)}°, stops ${low.toFixed(0)}° and ${high.toFixed(0)}°, up to ${peak.toFixed(0)}°/s${speed ? ` of ${speed.toFixed(0)}°/s` : ""}`;
  return (
    <figure className="joint-plot" style={{ height }}>
      <figcaption>
        <strong>{title}</strong>
        <i className="swatch" /> angle
        <i className="swatch stop" /> end stops
        <i className="swatch rate" />
        <span className="rate-note">
          rate, up to {peak.toFixed(0)}°/s{speed ? ` of ${speed.toFixed(0)}°/s` : ""}
        </span>
      </figcaption>
      <div className="plot-box" ref={box} role="img" aria-label={text.replaceAll("-", "−")}>
        <div className="plot-playhead" ref={line} />
      </div>
    </figure>
  );
}
