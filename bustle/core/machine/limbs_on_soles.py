"""Limbs solved so that what touches the floor is where it should be, and not merely the end of the last link."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.geometry.stacked_turns import products
from bustle.core.machine import soles as sole
from bustle.core.machine.limb_groups import Group
from bustle.core.machine.limb_solution import Solved, solve
from bustle.core.machine.sections import Swung
from bustle.core.machine.shared_servo_legs import Tie
from bustle.core.machine.tracks import BodyTrack, JointTrack, to_body, to_ground
from bustle.core.project.walker import Foot, Limb, Walker

# A curved sole shifts its contact as the leg leans; the end of the leg is set right this often.
ROLLS = 12
# A foot that moves by less than such a share of how much further it was asked for, which was so much at least, does not
# go that way.
FOLLOWS, STEP_MM = 0.05, 0.01
# Nearer than this it is there.
THERE_MM = 1e-9


def on_its_soles(
    walker: Walker,
    body: BodyTrack,
    parts: list[Group],
    tied: Sequence[Tie],
    targets: Array,
    headings: Array,
    aims: Array | None,
    given: JointTrack | None,
    swung: Mapping[str, Swung] | None = None,
) -> tuple[Solved, Array]:
    """Solve for the ends of the legs so that soles are put where they should be. Returns also where they are put."""
    ends, on = targets.copy(), [limb.section for limb in walker.limbs]
    for i, limb in enumerate(walker.limbs):
        if limb.steps:
            ends[i, :, 2] += sole.height_mm(limb)
    curved = [i for i, limb in enumerate(walker.limbs) if limb.steps and sole.off_its_end(limb)]
    solved = solve(parts, tied, to_body(body, ends), aims, given, on, swung)
    feet = prints(walker, body, solved, headings)
    step = (targets - feet)[curved]
    stays = np.zeros(step.shape, dtype=bool)
    for _ in range(ROLLS if curved else 0):
        if np.abs(step).max(initial=0.0) < THERE_MM:
            break
        ends[curved] += step
        before = feet[curved]
        solved = solve(parts, tied, to_body(body, ends), aims, given, on, swung)
        feet = prints(walker, body, solved, headings)
        # Secant, coordinate by coordinate: how far the contact followed the end of the leg. What a leg does not follow
        # is let be: asked for further and further aside it would at last hang to the other side.
        followed = feet[curved] - before
        if np.abs(followed).max(initial=0.0) < THERE_MM:
            break
        stays |= (np.abs(step) > STEP_MM) & (np.abs(followed) < FOLLOWS * np.abs(step))
        rate = np.where(np.abs(followed) > 1e-9, step / np.where(followed == 0.0, 1.0, followed), 1.0)
        step = np.where(stays, 0.0, np.clip(rate, 0.2, 2.0) * (targets - feet)[curved])
    return solved, feet


def end_turn(limb: Limb, i: int, body: BodyTrack, solved: Solved, headings: Array) -> Array:
    return sole.sole_turn(limb, products(body.turn, solved.end_turns(i)), headings[i])


def foot_at(limb: Limb, i: int, body: BodyTrack, solved: Solved) -> Array:
    """Where the limb's foot is, (S, 3) mm in the ground frame."""
    end, at_mm = to_ground(body, solved.points[i][:, -1]), limb.feet[0].at_mm
    return sole.carried(limb.feet[0], end, products(body.turn, solved.end_turns(i))) if any(at_mm) else end


def touching(walker: Walker, body: BodyTrack, solved: Solved, headings: Array) -> Array:
    """(L, S, 3) mm in the ground frame: each foot's contact, the end of the limb where it has none."""
    return _of_each(sole.touching, walker, body, solved, headings)


def prints(walker: Walker, body: BodyTrack, solved: Solved, headings: Array) -> Array:
    """(L, S, 3) mm in the ground frame: where each foot is put, which for a sole that rolls is not where it touches."""
    return _of_each(sole.print_of, walker, body, solved, headings)


def _of_each(
    place: Callable[[Foot, Array, Array], Array], walker: Walker, body: BodyTrack, solved: Solved, headings: Array
) -> Array:
    ends = to_ground(body, np.stack([points[:, -1] for points in solved.points]))
    for i, limb in enumerate(walker.limbs):
        if limb.feet and not sole.is_tip(limb.feet[0]):
            ends[i] = place(limb.feet[0], foot_at(limb, i, body, solved), end_turn(limb, i, body, solved, headings))
    return ends
