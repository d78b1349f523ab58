/** On the side and front view: what is left under the chosen leg's foot, and what lies in its way. */
import { limbOf } from "@/bench/edits";
import { shown, withUnit } from "@/look/number";
import type { Scene } from "../station";

const ASIDE = 34;

export function SwingOverlay({ scene }: { scene: Scene }) {
  const { project, motion, picture, leg, p } = scene;
  const limb = limbOf(project, leg);
  const clear = picture.clearances.find((c) => c.leg === leg);
  const sag = clear?.sag_mm ?? null;
  if (!limb?.neutral_mm || !clear || sag === null || (p.view !== "side" && p.view !== "front")) return null;
  const [x, y] = limb.neutral_mm;
  const right = p.u(x, y, 0) + ASIDE;
  const v = (mm: number) => p.v(x, y, mm);
  const stack = [
    ["uneven", clear.uneven_mm],
    ["droop", clear.droop_mm],
    ["sag", sag],
  ] as const;
  const sum = [
    `lifted ${withUnit(clear.height_mm, "mm", 1)}`,
    `− sag ${shown(sag, 1)}${clear.assumed ? ", assumed" : ""}`,
    `− droop ${shown(clear.droop_mm, 1)}`,
    ...(clear.uneven_mm ? [`− floor ${shown(clear.uneven_mm, 1)}`] : []),
  ];
  const ahead = right > p.u(0, 0, 0);
  let from = 0;
  const { obstacle_mm, obstacle_at, pile_mm } = project.floor;
  const stroke = picture.legs.find((l) => l.name === leg)?.stroke_mm ?? 0;
  const way = (motion.twist.vx_mm_s ?? 0) < 0 ? -1 : 1;
  const at = x + (obstacle_at - 0.5) * stroke * way;
  return (
    <g className={clear.stale ? "m-budget stale" : "m-budget"}>
      {pile_mm > 0 && <path className="pile" d={`M${p.u(x, y, 0) - 90} ${v(pile_mm)}h180`} />}
      {obstacle_mm !== null && p.view === "side" && (
        <path className="obstacle" d={`M${p.u(at, y, 0) - 5} ${v(0)}V${v(obstacle_mm)}h10V${v(0)}Z`} />
      )}
      {stack.map(([name, mm]) => {
        const low = from;
        from += mm;
        return mm > 0.05 ? (
          <rect key={name} className={name} x={right} y={v(from)} width="8" height={Math.max(1, v(low) - v(from))} />
        ) : null;
      })}
      <path className="left" d={`M${right + 4} ${v(from)}V${v(clear.height_mm)}`} />
      <text x={right + 4} y={v(clear.height_mm) - 8} textAnchor="middle">
        {withUnit(clear.height_mm - sag - clear.droop_mm - clear.uneven_mm, "mm", 1)} clear
      </text>
      {/* What it is made of stands under the floor, where nothing else is drawn, towards the middle. */}
      <text className="sum" x={right + 4} y={v(0) + 44} textAnchor={ahead ? "end" : "start"}>
        {sum.join(" ")}
      </text>
    </g>
  );
}
