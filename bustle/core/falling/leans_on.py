"""Whether a machine that stands on one flat sole is held up by its joints at all, soft as they are.

With s the servos of the leg that stands (stiffness K each), q = L·s its joints, U the potential energy of all that the
leg carries: it stands where K + LᵀU''L is positive definite, and leans on by itself where

    λ = max eig(−K^(−½)·LᵀU''L·K^(−½)) ≥ 1.

Hinge i nearer the floor than j, with axes a and places o, M_j and c_j mass and centre of all above j:
    U''_ij = M_j·(−g)·[a_i × (a_j × (c_j − o_j))].
One ankle alone: λ = m·g·h/K, the inverted pendulum on a spring. Source: stability of equilibrium by the second
variation, in any text on elastic stability.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from bustle.core.geometry.arrays import Array, Indices, cross
from bustle.core.geometry.evenly import evenly
from bustle.core.geometry.extremes import greatest
from bustle.core.loads.by_servo import own_servos
from bustle.core.loads.foot_gives import servo_stiffness
from bustle.core.loads.inertial_wrenches import held_still, laid
from bustle.core.walk.plumb import upright
from bustle.core.walk.reading import Reading

# So many rows of a foot standing alone are looked at.
MOST_ROWS = 12


@dataclass(frozen=True)
class LeansOn:
    """limb: on which it stands; row: when; share: λ."""

    limb: int
    row: int
    share: float


def leans_on(r: Reading) -> LeansOn | None:
    """Where it comes nearest to leaning on; None where no flat sole ever stands alone."""
    limbs = r.project.walker.limbs
    legs = [i for i, limb in enumerate(limbs) if limb.steps and limb.feet[0].sole.kind == "rectangle"]
    if not legs:
        return None
    down = r.course.contact[:, : r.samples]
    alone = down & (down.sum(axis=0) == 1)
    found = []
    for i in legs:
        rows = np.flatnonzero(alone[i])
        if len(rows):
            rows = rows[evenly(len(rows), MOST_ROWS)]
            share = _shares(r, i, rows)
            worst = greatest(share)
            found.append(LeansOn(i, int(rows[worst]), float(share[worst])))
    return max(found, key=lambda one: round(one.share, 9), default=None)


def _shares(r: Reading, limb: int, rows: Indices) -> Array:
    """(rows,)"""
    for group, parts, lies, turned in zip(
        r.assembled.parts, r.assembled.rigid, r.of(laid), r.of(own_servos), strict=True
    ):
        members = group.members.tolist()
        if limb not in members or not group.columns.shape[1]:
            continue
        own = members.index(limb)
        origins, axes, centres = (v[own][rows] for v in (lies.origins, lies.axes, lies.centres))
        kg, whole = parts.kg[own], r.of(held_still)
        # From the foot up: what is beyond a hinge stands on the floor, and the rest is carried.
        beyond = np.cumsum(kg[::-1])[::-1]
        moment = np.cumsum((kg[:, None] * centres)[:, ::-1], axis=1)[:, ::-1]
        carried = whole.kg - beyond
        above = (whole.kg * whole.centre[rows, None] - moment) / carried[:, None]
        swings = cross(axes, above - origins)
        # (rows, i, j): what hinge i nearer the floor does to what hinge j carries.
        lifts = cross(axes[:, :, None], swings[:, None]) @ r.of(upright) * carried
        lower = np.tril(lifts)
        curved = lower + np.swapaxes(np.tril(lifts, -1), 1, 2)
        if group.built.coupling is not None:
            curved = group.built.coupling.T @ curved @ group.built.coupling
        lever = turned.at(np.array([own]), rows)[0] / np.sqrt(r.of(servo_stiffness)[turned.servos[own]])[:, None]
        share = np.linalg.eigvalsh(-lever @ curved @ np.swapaxes(lever, 1, 2))[:, -1]
        return np.asarray(share)
    return np.zeros(len(rows))
