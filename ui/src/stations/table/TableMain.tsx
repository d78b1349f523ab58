import { useEffect, useLayoutEffect, useRef, useState } from "react";
import type { Picture } from "@/api/picture";
import { sampleAt } from "@/api/picture";
import { playhead } from "@/bench/playhead";
import { shown } from "@/look/number";
import { JointPlot } from "./JointPlot";

const ROW = 24;
const HEAD = 48;
/** Height of the time axis, which the lowest plot carries for all. */
const AXIS = 24;

/** The rows of all joints, windowed, the playhead's row lit; below, the chosen leg's joints as traces. */
export function TableMain({
  picture,
  leg,
  width,
  height,
}: {
  picture: Picture;
  leg: string;
  width: number;
  height: number;
}) {
  const layout = picture.legs.find((l) => l.name === leg) ?? picture.legs[0];
  const plots = Math.round(height * 0.62);
  const each = Math.floor((plots - AXIS) / layout.joint_names.length);
  return (
    <div className="table-main" style={{ width, height }}>
      <Rows picture={picture} leg={leg} height={height - plots} />
      <div className="plots" style={{ height: plots }}>
        {layout.joint_names.map((name, k) => (
          <JointPlot
            key={`${layout.name} ${name}`}
            picture={picture}
            column={layout.joints[0] + k}
            title={`${layout.name} ${name}`}
            width={width}
            height={each + (k === layout.joint_names.length - 1 ? AXIS : 0)}
            axis={k === layout.joint_names.length - 1 ? AXIS : 0}
          />
        ))}
      </div>
    </div>
  );
}

function Rows({ picture, leg, height }: { picture: Picture; leg: string; height: number }) {
  const [top, setTop] = useState(0);
  const scroller = useRef<HTMLDivElement>(null);
  const body = useRef<HTMLTableSectionElement>(null);
  const { samples, legs, data, width } = picture;
  const columns = width.joints_deg;
  const first = Math.max(0, Math.min(samples - 1, Math.floor(top / ROW) - 4));
  const last = Math.min(samples, first + Math.ceil(height / ROW) + 8);

  const light = (time: number): number => {
    const at = sampleAt(picture, time);
    body.current?.querySelector(".lit")?.classList.remove("lit");
    body.current?.querySelector(`[data-row="${at}"]`)?.classList.add("lit");
    return at;
  };
  // Scrolling brings rows that were not there when the playhead last moved.
  useLayoutEffect(() => {
    light(playhead.time);
  });
  // biome-ignore lint/correctness/useExhaustiveDependencies: light is remade on every render and reads only the picture
  useEffect(() => {
    let lit = -1;
    return playhead.subscribe((time) => {
      const at = light(time);
      const box = scroller.current;
      if (box && at !== lit) {
        const y = at * ROW;
        if (y < box.scrollTop || y > box.scrollTop + box.clientHeight - HEAD - ROW) box.scrollTop = y - ROW;
      }
      lit = at;
    });
  }, [picture]);

  return (
    <section
      className="rows"
      style={{ height }}
      ref={scroller}
      // biome-ignore lint/a11y/noNoninteractiveTabindex: a scrolling region must be reachable by keyboard
      tabIndex={0}
      aria-label="Joint angle table"
      onScroll={(event) => setTop(event.currentTarget.scrollTop)}
    >
      <table aria-rowcount={samples + 1}>
        <thead>
          <tr>
            <th scope="col" rowSpan={2}>
              Time, s
            </th>
            {legs.map((l) => (
              <th
                key={l.name}
                scope="colgroup"
                colSpan={l.joint_names.length}
                className={l.name === leg ? "chosen" : ""}
              >
                {l.name}, °
              </th>
            ))}
          </tr>
          <tr>
            {legs.flatMap((l) =>
              l.joint_names.map((j) => (
                <th key={`${l.name} ${j}`} scope="col" className={l.name === leg ? "chosen" : ""}>
                  {j}
                </th>
              )),
            )}
          </tr>
        </thead>
        <tbody ref={body}>
          {first > 0 && (
            <tr style={{ height: first * ROW }}>
              <td />
            </tr>
          )}
          {Array.from({ length: last - first }, (_, k) => first + k).map((row) => (
            <tr key={row} data-row={row} aria-rowindex={row + 2} style={{ height: ROW }}>
              <th scope="row">{data.time_s[row].toFixed(2)}</th>
              {Array.from({ length: columns }, (_, c) => (
                <td key={c}>{shown(data.joints_deg[row * columns + c], 1)}</td>
              ))}
            </tr>
          ))}
          {last < samples && (
            <tr style={{ height: (samples - last) * ROW }}>
              <td />
            </tr>
          )}
        </tbody>
      </table>
    </section>
  );
}
