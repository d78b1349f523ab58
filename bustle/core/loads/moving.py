"""How fast the body and the joints go and speed up at the table's rows, defined once for every load.

The planned joints and the body's pose are differenced at the rows (see `geometry.rates`); a walk that repeats goes on
before its first row and after its last by what it travels in a cycle.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.geometry.planar_twist import bring_back, carry
from bustle.core.geometry.rates import body_rates, continued, rates, rates_round, with_ends
from bustle.core.walk.reading import Reading


@dataclass(frozen=True)
class Moving:
    """At the N rows. at, speed, acceleration: (N, 3) of the body's origin in the ground frame, m and s; turn (N, 3, 3);
    spin, spinning_up: (N, 3) in the ground frame, rad/s and rad/s². joint_rates, joint_accelerations: (N, J), rad or m.
    """

    at: Array
    turn: Array
    speed: Array
    acceleration: Array
    spin: Array
    spinning_up: Array
    joint_rates: Array
    joint_accelerations: Array


@dataclass(frozen=True)
class Placed:
    """At the N rows: at (N, 3) m of the body's origin in the ground frame, and turn (N, 3, 3)."""

    at: Array
    turn: Array


def placed(r: Reading) -> Placed:
    """Where the body is, for whoever asks of no speed."""
    return Placed(r.course.body.at[: r.samples] / 1000, r.course.body.turn[: r.samples])


def gone_on(r: Reading, points: Array) -> Array:
    """Points over the ground at the N rows, (N, 2) or (N, 3) mm → (N + 2, …): with where they are a row before and a
    row after. A walk that repeats comes from the end of a cycle and goes on into the next; what has ends goes on
    evenly."""
    if not r.score.periodic:
        return continued(points)
    before, after = points[-1].copy(), points[0].copy()
    before[:2], after[:2] = bring_back(r.goes_on, *before[:2]), carry(r.goes_on, *after[:2])
    return with_ends(before, points, after)


def moving(r: Reading) -> Moving:
    body = r.of(placed)
    joints = np.where(r.kit.slides, r.angles / 1000, r.angles) if r.kit.slides.any() else r.angles
    if r.score.periodic:
        # Hinges that go round and round do not jump back.
        joint_rates, joint_accelerations = rates_round(joints, r.kit.slides, r.row_s)
    else:
        joint_rates, joint_accelerations = rates(continued(joints), r.row_s)
    x, y, theta = r.goes_on
    goes = body_rates(body.at, body.turn, x / 1000, y / 1000, theta, r.score.periodic, r.row_s)
    return Moving(body.at, body.turn, *goes, joint_rates, joint_accelerations)
