"""Damped descent of a chain to its targets: the steps of `damped_least_squares`, all samples together."""

from __future__ import annotations

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.geometry.serial_chain import Chain, forward, jacobian
from bustle.core.kinds.legs.searched.foot_aim import Aim

ROUNDS = 90
GOOD_MM = 1e-10
# A step that gains next to nothing of what is missing is the last, and so is one that fails though it is this damped.
GAIN = 1e-11
MOST_DAMPING = 1e4
# After so many rounds along the Jacobian, what is still missing counts how the path bends.
STRAIGHT_ROUNDS = 8
# How much a radian of tilt weighs against a millimetre of place.
TILT_MM = 60.0


def descend(
    chain: Chain, low: Array, high: Array, q: Array, target: Array, aim: Aim | None, reach: float
) -> tuple[Array, Array]:
    """From starts q (S, J): a step is kept where it helps, and λ lowered; else λ is raised and it is tried shorter."""
    q = q.copy()
    gap, columns = gap_of(chain, q, target, aim)
    damping = np.full(len(q), 0.01)
    active = np.arange(len(q))
    for count in range(ROUNDS):
        active = active[size_of(gap[active]) > GOOD_MM]
        if not len(active):
            break
        stepping = _curved_step if aim is None and count >= STRAIGHT_ROUNDS else _step
        step = stepping(q[active], gap[active], columns[active], damping[active], low, high, reach, aim is not None)
        trial = np.clip(q[active] + step, low, high)
        new_gap, new_columns = gap_of(chain, trial, target[active], None if aim is None else aim[active])
        was, now = size_of(gap[active]), size_of(new_gap)
        better = now < was
        taken = active[better]
        q[taken], gap[taken], columns[taken] = trial[better], new_gap[better], new_columns[better]
        damping[active] = np.where(better, np.maximum(damping[active] * 0.1, 1e-16), damping[active] * 8)
        done = np.where(better, was - now < GAIN * now, damping[active] > MOST_DAMPING)
        active = active[~done]
    return q, gap


def gap_of(chain: Chain, q: Array, target: Array, aim: Aim | None) -> tuple[Array, Array]:
    """What is missing (S, 6), and the Jacobian (S, 6, J)."""
    points, frames = forward(chain, q[None])
    gap = np.zeros((len(q), 6))
    gap[:, :3] = target - points[0, :, -1]
    columns = jacobian(chain, q[None], points, frames)[0]
    if aim is not None:
        gap[:, 3:] = aim.missing(frames[0, :, -1])
        columns[:, 3:] = aim.columns(columns[:, 3:])
    return gap, columns


def size_of(gap: Array) -> Array:
    size: Array = np.hypot(np.linalg.norm(gap[:, :3], axis=-1), TILT_MM * np.linalg.norm(gap[:, 3:], axis=-1))
    return size


def _step(
    q: Array, gap: Array, columns: Array, damping: Array, low: Array, high: Array, reach: float, posed: bool
) -> Array:
    """Δq (S, J) of the joints that are free to move."""
    rows = 6 if posed else 3
    weight = np.array([1.0, 1.0, 1.0, TILT_MM, TILT_MM, TILT_MM])
    e, j = (gap * weight)[:, :rows], (columns * weight[:, None])[:, :rows]
    free = np.ones(q.shape, dtype=bool)
    for _ in range(q.shape[1]):
        masked = j * free[:, None]
        square = masked @ np.swapaxes(masked, -1, -2) + (damping * reach**2)[:, None, None] * np.eye(rows)
        step: Array = np.einsum("srj,sr->sj", masked, np.linalg.solve(square, e[..., None])[..., 0])
        pressed = free & (((step < 0) & (q <= low)) | ((step > 0) & (q >= high)))
        if not pressed.any():
            break
        free &= ~pressed
    return step


def _curved_step(
    q: Array, gap: Array, columns: Array, damping: Array, low: Array, high: Array, reach: float, posed: bool
) -> Array:
    """Newton's step for a place that stays missed: then it counts how the foot's path bends, which J does not tell.

    The Hessian of |e|²/2 is H = JᵀJ − S, S_ij = e·(ω_i × J_j) for i ≤ j (0 for a slide i): the derivative of a hinge's
    column by an earlier hinge is ω_i × J_j. Directions in which H bends down are taken as if they bent up as much.
    """
    e, j, omega = gap[:, :3], columns[:, :3], columns[:, 3:]
    later = np.einsum("sri,srj->sij", np.cross(e[:, :, None], omega, axis=1), j)
    bend = np.triu(later)
    curved = np.swapaxes(j, -1, -2) @ j - (bend + np.swapaxes(np.triu(later, 1), -1, -2))
    slope = np.einsum("srj,sr->sj", j, e)
    free = ~(((slope < 0) & (q <= low)) | ((slope > 0) & (q >= high)))
    curved = np.where(free[:, :, None] & free[:, None], curved, 0.0)
    size, way = np.linalg.eigh(curved)
    along = np.einsum("sji,sj->si", way, slope * free)
    held = np.maximum(np.abs(size), 1e-9 * reach**2) + (damping * reach**2)[:, None]
    step: Array = np.einsum("sji,si->sj", way, along / held) * free
    return step
