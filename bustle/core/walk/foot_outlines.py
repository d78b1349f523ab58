"""What is drawn of the feet of a machine: the outlines of soles, the rims of wheels, and balls."""

from __future__ import annotations

from bustle.core.geometry.arrays import Array
from bustle.core.machine.limbs_on_soles import end_turn, foot_at
from bustle.core.machine.sole_outlines import outline, outlined, rim
from bustle.core.project.walker import BallSole
from bustle.core.walk.reading import Reading
from bustle.core.walk.wheels import axles


def foot_outlines(r: Reading) -> list[Array]:
    """(K, S, 3) mm in the ground frame, of each sole or wheel that has one, limb by limb."""
    n, course, found = r.samples, r.course, []
    for i, limb in enumerate(r.project.walker.limbs):
        foot, wheel = limb.feet[0] if limb.feet else None, wheel_mm(r, i)
        if foot is None or not (wheel or outlined(foot.sole)):
            continue
        at = foot_at(limb, i, course.body, course.solved)
        if wheel:
            found.append(rim(at[:n], r.of(axles)[i], wheel))
        else:
            turn = end_turn(limb, i, course.body, course.solved, course.headings)
            found.append(outline(foot, at, turn)[:, :n])
    return found


def wheel_mm(r: Reading, limb: int) -> float:
    """The radius of a limb that is a wheel, which rolls one way; else 0."""
    return _round_mm(r, limb) if limb in r.of(axles) else 0.0


def ball_mm(r: Reading, limb: int) -> float:
    """The radius of the ball that a limb stands on, which is as round from everywhere; else 0."""
    return 0.0 if limb in r.of(axles) else _round_mm(r, limb)


def _round_mm(r: Reading, limb: int) -> float:
    feet = r.project.walker.limbs[limb].feet
    return feet[0].sole.radius_mm if feet and isinstance(feet[0].sole, BallSole) else 0.0
