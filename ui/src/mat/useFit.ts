/** How a view's drawing is fitted: kept while it still sits well, so that nothing jumps under the hand. */
import { useRef } from "react";
import type { Picture } from "@/api/picture";
import type { ViewName } from "@/bench/state";
import { both, type Extent, extent, type Fit, fitTo, stillFits } from "./projection";

export function useFit(
  view: ViewName,
  picture: Picture | null,
  width: number,
  height: number,
  pad: Extent,
  hold: boolean,
  /** What is drawn round the walker. */
  round: Extent | null = null,
): Fit {
  const kept = useRef<{ fit: Fit; view: ViewName; width: number; height: number } | null>(null);
  if (!picture) return { scale: 1, x: width / 2, y: height / 2 };
  const last = kept.current;
  const same = last && last.view === view && last.width === width && last.height === height;
  if (same && hold) return last.fit;
  const all = both(extent(view, picture), round);
  if (same && stillFits(all, last.fit, width, height)) return last.fit;
  const fit = fitTo(all, width, height, pad);
  kept.current = { fit, view, width, height };
  return fit;
}
