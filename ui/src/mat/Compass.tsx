/** Arrows in the corner of the plan: which way the machine faces, and which way a sloping floor rises. */
import { sampleAt } from "@/api/picture";
import type { Scene } from "@/stations/station";
import { usePainted } from "./usePainted";

const ARROW = "M35 40V6M29 14L35 4L41 14";

export function Forward() {
  return (
    <svg className="forward" width="70" height="56" viewBox="0 0 70 56" aria-hidden="true">
      <path d={ARROW} />
      <text x="35" y="53" textAnchor="middle">
        forward
      </text>
    </svg>
  );
}

export function Uphill({ scene }: { scene: Scene }) {
  const drawn = usePainted(scene, turned);
  return (
    <svg className="forward uphill" width="90" height="62" viewBox="-10 -4 90 62" aria-hidden="true">
      <g ref={drawn}>
        <path d={ARROW} />
        <text x="35" y="55" textAnchor="middle">
          uphill {scene.project.floor.slope_deg}°
        </text>
      </g>
    </svg>
  );
}

/** As the machine faces at the playhead: from where the plumb line meets the floor to under the mass. */
function turned(group: SVGGElement, { picture }: Scene, time: number) {
  const { com, plumb } = picture.data;
  if (!plumb) return;
  const k = sampleAt(picture, time);
  const left = Math.atan2(com[3 * k + 1] - plumb[2 * k + 1], com[3 * k] - plumb[2 * k]);
  group.querySelector("path")?.setAttribute("transform", `rotate(${((-left * 180) / Math.PI).toFixed(1)} 35 22)`);
}
