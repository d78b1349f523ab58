/** A section made larger, smaller or round: what was mounted on its edge stays there. */
import type { Project } from "@/api/client";

const NEAR_MM = 1.5;
const half = (value: number) => Math.round(value * 2) / 2;

type Section = Project["walker"]["sections"][number];

/** The place on the edge that a mount is nearest to, in its own direction from the middle. */
function onEdge(section: Section, x: number, y: number): [number, number] {
  const [long, wide] = [section.size_mm[0] / 2, section.size_mm[1] / 2];
  const away = Math.hypot(x, y);
  if (away < 1e-6) return [x, y];
  if (section.shape === "round") return [(x / away) * long, (y / away) * long];
  const grow = Math.min(long / Math.max(1e-9, Math.abs(x)), wide / Math.max(1e-9, Math.abs(y)));
  return [x * grow, y * grow];
}

function isOnEdge(section: Section, x: number, y: number): boolean {
  const [long, wide] = [section.size_mm[0] / 2, section.size_mm[1] / 2];
  if (section.shape === "round") return Math.abs(Math.hypot(x, y) - long) < NEAR_MM;
  const [dx, dy] = [Math.abs(Math.abs(x) - long), Math.abs(Math.abs(y) - wide)];
  return (dx < NEAR_MM && Math.abs(y) < wide + NEAR_MM) || (dy < NEAR_MM && Math.abs(x) < long + NEAR_MM);
}

function move(draft: Project, section: Section, place: (x: number, y: number) => [number, number]): void {
  for (const limb of draft.walker.limbs) {
    if (limb.section !== section.name || !limb.joints.length) continue;
    const [x, y, z] = limb.mount.at_mm;
    const [u, v] = place(x, y).map(half);
    limb.mount.at_mm = [u, v, z];
    if (limb.neutral_mm) limb.neutral_mm = [half(limb.neutral_mm[0] + u - x), half(limb.neutral_mm[1] + v - y)];
  }
}

/** Those mounts that are on the edge now, moved by `place`; the section is changed between. */
function carry(
  draft: Project,
  index: number,
  change: (section: Section) => void,
  stretch: (x: number, y: number) => [number, number],
): void {
  const section = draft.walker.sections[index];
  const was = { ...section, size_mm: [...section.size_mm] } as Section;
  change(section);
  move(draft, section, (x, y) => {
    if (!isOnEdge(was, x, y)) return [x, y];
    const [u, v] = stretch(x, y);
    return section.shape === "round" ? onEdge(section, u, v) : [u, v];
  });
}

export function resize(draft: Project, index: number, axis: number, value: number): void {
  const { size_mm: was, shape } = draft.walker.sections[index];
  const factor = value / Math.max(1e-9, was[axis]);
  const both = shape === "round" && axis === 0;
  carry(
    draft,
    index,
    (section) => {
      section.size_mm[axis] = value;
      if (both) section.size_mm[1] = value;
    },
    (x, y) => [axis === 0 ? x * factor : x, axis === 1 || both ? y * factor : y],
  );
}

export function reshape(draft: Project, index: number, shape: Section["shape"]): void {
  carry(
    draft,
    index,
    (section) => {
      section.shape = shape;
      if (shape === "round") section.size_mm[1] = section.size_mm[0];
    },
    (x, y) => [x, y],
  );
}

export function mountsToTheEdge(draft: Project, index: number): void {
  const section = draft.walker.sections[index];
  move(draft, section, (x, y) => onEdge(section, x, y));
}
