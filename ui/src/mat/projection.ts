/** From millimetres in the travel frame (x forward, y left, z up) to pixels on the mat, and back. */
import type { Picture } from "@/api/picture";
import type { ViewName } from "@/bench/state";

/** Rows: where the view's right and down point in (x, y, z). */
const AXES: Record<ViewName, [number, number, number, number, number, number]> = {
  plan: [0, -1, 0, -1, 0, 0],
  side: [1, 0, 0, 0, 0, -1],
  front: [0, 1, 0, 0, 0, -1],
  // From behind the right shoulder: a quarter turn and a third tilt.
  orbit: [0.5, -0.866, 0, -0.398, -0.23, -0.888],
};

export const VIEW_LABELS: Record<ViewName, string> = {
  plan: "Plan",
  side: "Side",
  front: "Front",
  orbit: "Orbit",
};

export interface Fit {
  scale: number;
  x: number;
  y: number;
}

export interface Projection {
  view: ViewName;
  fit: Fit;
  u(x: number, y: number, z: number): number;
  v(x: number, y: number, z: number): number;
}

export function projection(view: ViewName, fit: Fit): Projection {
  const [a, b, c, d, e, f] = AXES[view];
  return {
    view,
    fit,
    u: (x, y, z) => fit.x + fit.scale * (a * x + b * y + c * z),
    v: (x, y, z) => fit.y + fit.scale * (d * x + e * y + f * z),
  };
}

/** A move on the screen as millimetres along x, y and z of the view's own plane. */
export function moved(view: ViewName, fit: Fit, du: number, dv: number): [number, number, number] {
  const [a, b, c, d, e, f] = AXES[view];
  return [(a * du + d * dv) / fit.scale, (b * du + e * dv) / fit.scale, (c * du + f * dv) / fit.scale];
}

/** The direction in which a view looks, as a unit vector. */
export function towards(view: ViewName): [number, number, number] {
  const [a, b, c, d, e, f] = AXES[view];
  return [b * f - c * e, c * d - a * f, a * e - b * d];
}

export interface Extent {
  left: number;
  right: number;
  top: number;
  bottom: number;
}

/** What the walker covers in a view over the whole cycle, in mm. */
export function extent(view: ViewName, picture: Picture): Extent {
  const [a, b, c, d, e, f] = AXES[view];
  const box: Extent = { left: Infinity, right: -Infinity, top: Infinity, bottom: -Infinity };
  const hold = (values: Float32Array, from: number, step: number, round: number) => {
    for (let i = from; i < values.length; i += step) {
      const u = a * values[i] + b * values[i + 1] + c * values[i + 2];
      const v = d * values[i] + e * values[i + 1] + f * values[i + 2];
      if (u - round < box.left) box.left = u - round;
      if (u + round > box.right) box.right = u + round;
      if (v - round < box.top) box.top = v - round;
      if (v + round > box.bottom) box.bottom = v + round;
    }
  };
  for (const name of ["points", "frame", "soles"]) hold(picture.data[name], 0, 3, 0);
  for (const { points, round_mm } of picture.legs)
    if (round_mm) hold(picture.data.points, 3 * (points[1] - 1), picture.width.points, round_mm);
  return box;
}

export function both(one: Extent, other: Extent | null): Extent {
  if (!other) return one;
  return {
    left: Math.min(one.left, other.left),
    right: Math.max(one.right, other.right),
    top: Math.min(one.top, other.top),
    bottom: Math.max(one.bottom, other.bottom),
  };
}

export function fitTo(box: Extent, width: number, height: number, pad: Extent): Fit {
  const w = Math.max(1, width - pad.left - pad.right);
  const h = Math.max(1, height - pad.top - pad.bottom);
  const scale = Math.min(w / Math.max(20, box.right - box.left), h / Math.max(20, box.bottom - box.top));
  return {
    scale,
    x: pad.left + (w - scale * (box.right + box.left)) / 2,
    y: pad.top + (h - scale * (box.bottom + box.top)) / 2,
  };
}

/** Whether a drawing of this extent still sits well in the view, so that nothing need move. */
export function stillFits(box: Extent, fit: Fit, width: number, height: number): boolean {
  const left = fit.x + fit.scale * box.left;
  const right = fit.x + fit.scale * box.right;
  const top = fit.y + fit.scale * box.top;
  const bottom = fit.y + fit.scale * box.bottom;
  if (left < 12 || top < 12 || right > width - 12 || bottom > height - 12) return false;
  return (right - left) / width > 0.5 || (bottom - top) / height > 0.5;
}
