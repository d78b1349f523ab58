"""Upright leg, three joints: hip roll with an offset, hip pitch, knee. The mammal-like leg.

Zero pose; the mount's x points forward, y left, z up. Seen from behind (left leg) and from the left:

      z                              z
      |  hip                         |
      o==offset==o  pitch            o  pitch
      roll       |                   |
                 | thigh             | thigh
                 o  knee             o  knee
                 | shank             | shank
                 v foot              v foot         x →

Roll turns about +x (positive: a hanging leg swings to the left). Pitch and knee turn about −y: positive swings
forward. The hip offset points left (+y), or right on a mirrored limb.

With d the signed offset and h the leg's drop in its own plane,
    y = d·cos φ + h·sin φ,   z = d·sin φ − h·cos φ,   so h = √(y² + z² − d²) and φ = atan2(y, −z) − atan2(d, h);
hip pitch and knee are one triangle in (h, x) (law of cosines, `planar.two_link`).
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from bustle.core.legs.family import BLOCK, REACHED_MM, Family, JointSpec, LinkSpec, Solution, shortfall
from bustle.core.legs.planar import two_link, wrapped

Array = NDArray[np.float64]
Flags = NDArray[np.bool_]


def offsets(lengths: Array, mirrored: NDArray[np.bool_]) -> Array:
    chain = np.zeros((len(lengths), 3, 3))
    chain[:, 0, 1] = np.where(mirrored, -lengths[:, 0], lengths[:, 0])
    chain[:, 1, 2] = -lengths[:, 1]
    chain[:, 2, 2] = -lengths[:, 2]
    return chain


def _solve_block(d: float, thigh: float, shank: float, sign: float, p: Array, q: Array) -> Flags | None:
    """One limb, one block: p (S, 3) mm → q (S, 3) rad. Returns where it may miss."""
    x, y, z = np.array(p.T, order="C")  # a copy: worked on in place below
    np.negative(z, out=z)
    roll = np.arctan2(y, z)
    y *= y
    z *= z
    y += z
    y -= d * d
    inside = None
    if not y.min(initial=0.0) >= 0.0:
        inside = y < 0.0  # nearer to the roll axis than the offset
        np.maximum(y, 0.0, out=y)
    h = np.sqrt(y, out=y)
    z.fill(d)  # an array of one value takes the quick loop, a lone number does not
    roll -= np.arctan2(z, h, out=z)
    q[:, 0] = wrapped(roll)
    q[:, 1], q[:, 2], edge = two_link(thigh, shank, sign, h, x)
    if inside is None or edge is None:
        return edge if inside is None else inside
    return inside | edge


def _tip(d: float, thigh: float, shank: float, q: Array) -> Array:
    roll, pitch, bend = q.T
    x = thigh * np.sin(pitch) + shank * np.sin(pitch + bend)
    h = thigh * np.cos(pitch) + shank * np.cos(pitch + bend)
    return np.stack([x, d * np.cos(roll) + h * np.sin(roll), d * np.sin(roll) - h * np.cos(roll)], axis=-1)


def _nearest(d: float, thigh: float, shank: float, p: Array) -> Array:
    """The point of the workspace nearest to each p (S, 3).

    In (x, ρ) with ρ = |(y, z)| the workspace is the part of an annulus, radii √((a ∓ b)² + d²), on or above
    ρ = |d|. The nearest point is radial where that lands on the annulus, otherwise on its lower rim.
    """
    near, far = abs(thigh - shank), thigh + shank
    rho = np.hypot(p[:, 1], p[:, 2])
    radius = np.hypot(p[:, 0], rho)
    wanted = np.clip(radius, np.hypot(near, d), np.hypot(far, d))
    centre = radius < 1e-12
    scale = np.where(centre, 0.0, wanted / np.where(centre, 1.0, radius))
    x, height = p[:, 0] * scale, np.where(centre, wanted, rho * scale)
    low = height < abs(d)
    side = np.where(p[:, 0] < 0, -1.0, 1.0)
    x = np.where(low, side * np.clip(np.abs(p[:, 0]), near, far), x)
    height = np.where(low, abs(d), height)
    on_axis = rho < 1e-12
    stretch = np.where(on_axis, 0.0, height / np.where(on_axis, 1.0, rho))
    return np.stack([x, p[:, 1] * stretch, np.where(on_axis, -height, p[:, 2] * stretch)], axis=-1)


def solve(lengths: Array, mirrored: NDArray[np.bool_], branch: NDArray[np.intp], targets: Array) -> Solution:
    """Closed form, both knee branches: 0 knee forward (knee ≤ 0), 1 knee back (knee ≥ 0).

    The leg hangs below its hip (h ≥ 0): turning the hip half round reaches the same points. Out of reach:
    the nearest pose and its residual. On the roll axis the leg points down.
    """
    limbs, samples, _ = targets.shape
    joints = np.empty((limbs, 3, samples)).transpose(0, 2, 1)  # each joint's angles side by side in memory
    residual = np.zeros((limbs, samples, 6))
    reached = np.ones((limbs, samples), dtype=bool)
    for i in range(limbs):
        d, thigh, shank = (float(v) for v in lengths[i])
        d = -d if mirrored[i] else d
        sign = -1.0 if branch[i] == 0 else 1.0
        for start in range(0, samples, BLOCK):
            block = slice(start, start + BLOCK)
            p, q = targets[i, block], joints[i, block]
            edge = _solve_block(d, thigh, shank, sign, p, q)
            if edge is not None:
                rows = np.flatnonzero(edge)
                pose = np.empty((len(rows), 3))
                _solve_block(d, thigh, shank, sign, _nearest(d, thigh, shank, p[rows]), pose)
                missing = p[rows] - _tip(d, thigh, shank, pose)
                q[rows] = pose
                residual[i, start + rows, :3] = missing
                reached[i, start + rows] = np.linalg.norm(missing, axis=-1) <= REACHED_MM
    return Solution(joints, residual, reached)


def straight_mm(lengths: Array, joints: Array) -> Array:
    return shortfall(lengths[:, 1], lengths[:, 2], joints[..., 2])


UPRIGHT = Family(
    name="upright_3",
    label="upright",
    about="Hip roll, hip pitch, knee: the mammal-like leg, under the body.",
    links=(
        LinkSpec("hip", "Hip offset", may_be_zero=True),
        LinkSpec("thigh", "Thigh"),
        LinkSpec("shank", "Shank"),
    ),
    joints=(
        JointSpec("roll", "Hip roll", "swings the leg to the left"),
        JointSpec("pitch", "Hip pitch", "swings the leg forward"),
        JointSpec("knee", "Knee", "swings the shank forward"),
    ),
    branches=("knee_forward", "knee_back"),
    axes=np.array([[1.0, 0.0, 0.0], [0.0, -1.0, 0.0], [0.0, -1.0, 0.0]]),
    offsets=offsets,
    solve=solve,
    straight_mm=straight_mm,
    knee=2,
)
