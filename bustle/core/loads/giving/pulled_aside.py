"""How far a walk is pulled off its way by what drags on it.

Legs are springs (see `standing_springs`): what pulls moves the frame until they hold against it. A foot that is lifted
lets go of what it held, and comes down again where its leg has it, so that from step to step the frame is pulled on.
With s what each standing foot is off by, A how a foot goes as the frame does, P what it presses by that and w the pull:
    Σ P·(s + A·δ) = w,   s ← s + A·δ, 0 of a foot in the air,
δ how the frame goes from row to row. It comes to the same each cycle, since every foot is lifted once.
"""

from __future__ import annotations

import numpy as np

from bustle.core.geometry.arrays import Array, cross
from bustle.core.geometry.serial_chain import turns
from bustle.core.loads.giving.standing_springs import goes_by, looked_at, springs
from bustle.core.loads.held_back import held_back
from bustle.core.loads.inertial_wrenches import held_still
from bustle.core.machine.soles import UP
from bustle.core.walk.reading import Reading

# Cycles until each is like the one before.
CYCLES = 3


def pulled_aside(r: Reading) -> Array | None:
    """(3,) mm ahead, mm to the left, rad, a cycle: by which it goes further than its feet are planned to; None where
    nothing drags or no cycle follows another."""
    back = r.of(held_back)
    if back is None or not r.score.periodic:
        return None
    rows = looked_at(r.course.contact[:, : r.samples])
    still, feet = r.of(held_still), tuple(springs(r, rows))
    centre = still.centre[rows]
    wrench = np.concatenate([back.force[rows], back.moment[rows] - cross(centre, back.force[rows])], axis=1)
    stiffness = np.zeros((len(rows), 6, 6))
    for own in feet:
        stiffness += own.stiffness
    gives = goes_by(r, rows, stiffness)
    down = [r.course.contact[own.members][:, rows, None] for own in feet]
    off = [np.zeros((len(own.members), own.moves.shape[2])) for own in feet]
    steps, on = np.zeros((len(rows), 6)), turns(UP, np.array(r.goes_on[2]))
    for _ in range(CYCLES):
        for k in range(len(rows)):
            holds = wrench[k].copy()
            for own, s in zip(feet, off, strict=True):
                holds -= (own.pressing[:, k] @ s[..., None])[..., 0].sum(axis=0)
            steps[k] = gives[k] @ holds
            off = [(s + own.moves[:, k] @ steps[k]) * d[:, k] for own, s, d in zip(feet, off, down, strict=True)]
        # The next cycle is seen from where it begins.
        off = [(s.reshape(len(s), -1, 3) @ on).reshape(s.shape) for s in off]
    # As the body's origin goes, seen by who walks along.
    at, heading = r.course.body.at[rows] / 1000, r.course.body.travel[2][rows]
    shift = steps[:, :3] + cross(steps[:, 3:], at - centre)
    ahead, aside, _ = (shift[:, None] @ turns(UP, heading))[:, 0].sum(axis=0)
    return np.array([1000 * ahead, 1000 * aside, steps[:, 5].sum()])
