/** Where the box the folded machine has to fit is on a view: about the machine's middle, and on the floor. */
import type { Project } from "@/api/client";
import type { Picture } from "@/api/picture";
import type { ViewName } from "@/bench/state";
import { type Extent, extent } from "@/mat/projection";

const SIDES: Record<ViewName, [number, number]> = { plan: [1, 0], side: [0, 2], front: [1, 2], orbit: [0, 2] };

/** In mm along the view's right and down; null where it is carried in no box. */
export function foldingBox(project: Project, picture: Picture, view: ViewName): Extent | null {
  const size = project.walker.folded?.box_mm;
  if (!size) return null;
  const round = extent(view, picture);
  const [wide, high] = SIDES[view].map((axis) => size[axis]);
  const left = (round.left + round.right) / 2 - wide / 2;
  const top = view === "plan" ? (round.top + round.bottom) / 2 - high / 2 : -high;
  return { left, right: left + wide, top, bottom: top + high };
}
