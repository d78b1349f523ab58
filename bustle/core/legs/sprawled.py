"""Sprawled leg, three joints: hip yaw, femur pitch, tibia pitch. The insect-like leg.

Zero pose, seen from the side; the mount's x points away from the body, z up:

    z
    |   yaw       femur           tibia
    o====coxa======o=====femur======o=======tibia=======> foot        x

Yaw turns about +z (positive: to the left). Femur and tibia turn about −y: positive lifts. A standing leg has
femur above 0° and tibia below 0°.

In the plane of the leg, with r = √(x² + y²) − coxa and femur α, tibia β:
    r = femur·cos α + tibia·cos(α + β),   z = femur·sin α + tibia·sin(α + β)
so yaw = atan2(y, x) and the rest is one triangle (law of cosines, `planar.two_link`).
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
    chain[:, :, 0] = lengths
    return chain


def _solve_block(coxa: float, femur: float, tibia: float, sign: float, p: Array, q: Array) -> Flags | None:
    """One limb, one block: p (S, 3) mm → q (S, 3) rad, foot in front of the yaw axis. Returns where it may miss."""
    x, y, z = np.array(p.T, order="C")  # a copy: worked on in place below
    np.arctan2(y, x, out=q[:, 0])
    x *= x
    y *= y
    x += y
    r = np.sqrt(x, out=x)
    r -= coxa
    q[:, 1], q[:, 2], edge = two_link(femur, tibia, sign, r, z)
    return edge


def _tip(coxa: float, femur: float, tibia: float, q: Array) -> Array:
    r = coxa + femur * np.cos(q[:, 1]) + tibia * np.cos(q[:, 1] + q[:, 2])
    z = femur * np.sin(q[:, 1]) + tibia * np.sin(q[:, 1] + q[:, 2])
    return np.stack([r * np.cos(q[:, 0]), r * np.sin(q[:, 0]), z], axis=-1)


def _reach_back(coxa: float, femur: float, tibia: float, sign: float, p: Array, q: Array) -> Array:
    """For targets the leg misses in front: turn the hip half round where that brings the foot nearer.

    A target inside the hollow around the femur joint can lie within reach across the yaw axis. Returns the
    residual (S, 3) of the better of the two.
    """
    front = p - _tip(coxa, femur, tibia, q)
    r = np.hypot(p[:, 0], p[:, 1])
    back = np.empty_like(q)
    back[:, 0] = wrapped(np.arctan2(p[:, 1], p[:, 0]) + np.pi)
    back[:, 1], back[:, 2], _ = two_link(femur, tibia, sign, -r - coxa, p[:, 2])
    behind = p - _tip(coxa, femur, tibia, back)
    nearer = np.linalg.norm(behind, axis=-1) < np.linalg.norm(front, axis=-1) - REACHED_MM
    q[nearer] = back[nearer]
    residual: Array = np.where(nearer[:, None], behind, front)
    return residual


def solve(lengths: Array, mirrored: NDArray[np.bool_], branch: NDArray[np.intp], targets: Array) -> Solution:
    """Closed form, both knee branches: 0 knee up (tibia ≤ 0), 1 knee down (tibia ≥ 0).

    Out of reach: the nearest pose and its residual. On the yaw axis, yaw is 0.
    """
    limbs, samples, _ = targets.shape
    joints = np.empty((limbs, 3, samples)).transpose(0, 2, 1)  # each joint's angles side by side in memory
    residual = np.zeros((limbs, samples, 6))
    reached = np.ones((limbs, samples), dtype=bool)
    for i in range(limbs):
        coxa, femur, tibia = (float(v) for v in lengths[i])
        sign = -1.0 if branch[i] == 0 else 1.0
        for start in range(0, samples, BLOCK):
            block = slice(start, start + BLOCK)
            p, q = targets[i, block], joints[i, block]
            edge = _solve_block(coxa, femur, tibia, sign, p, q)
            if edge is not None:
                rows = np.flatnonzero(edge)
                pose = q[rows]
                missing = _reach_back(coxa, femur, tibia, sign, p[rows], pose)
                q[rows] = pose
                residual[i, start + rows, :3] = missing
                reached[i, start + rows] = np.linalg.norm(missing, axis=-1) <= REACHED_MM
    return Solution(joints, residual, reached)


def straight_mm(lengths: Array, joints: Array) -> Array:
    return shortfall(lengths[:, 1], lengths[:, 2], joints[..., 2])


SPRAWLED = Family(
    name="sprawled_3",
    label="sprawled",
    about="Hip yaw, femur pitch, tibia pitch: the insect-like leg, wide and low.",
    links=(LinkSpec("coxa", "Coxa"), LinkSpec("femur", "Femur"), LinkSpec("tibia", "Tibia")),
    joints=(
        JointSpec("yaw", "Hip yaw", "turns the leg left, seen from above"),
        JointSpec("femur", "Femur pitch", "lifts the knee"),
        JointSpec("tibia", "Tibia pitch", "lifts the foot"),
    ),
    branches=("knee_up", "knee_down"),
    axes=np.array([[0.0, 0.0, 1.0], [0.0, -1.0, 0.0], [0.0, -1.0, 0.0]]),
    offsets=offsets,
    solve=solve,
    straight_mm=straight_mm,
    knee=2,
)
