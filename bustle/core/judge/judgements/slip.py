"""F12 feet that scuff for want of a joint, F13 feet dragged by a turn."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from bustle.core.judge.judgements.finding import Finding
from bustle.core.kinds.legs import FAMILIES
from bustle.core.walk.reading import Evidence
from bustle.core.words.wording import also, length, number, seconds


def turns_without_yaw(e: Evidence) -> bool:
    """Whether it is the turn that drags: it turns, on legs that walk straight without slip."""
    planar = all(FAMILIES[limb.family].planar for limb in e.project.walker.legs)
    return bool(e.gait and e.gait.twist.omega_deg_s) and planar


def scuffing(e: Evidence) -> Iterator[Finding]:
    """F12: slip in a stance above what the project allows, other than by turning."""
    if not turns_without_yaw(e):
        yield from _slipping(e, "F12")


def dragged_turn(e: Evidence) -> Iterator[Finding]:
    """F13: the same where the turn is to blame, with what a full turn comes to."""
    if turns_without_yaw(e):
        yield from _slipping(e, "F13")


def _slipping(e: Evidence, code: str) -> Iterator[Finding]:
    slip, limit = e.slip, e.project.limits.slip_mm
    order = [int(i) for i in np.argsort(-slip, kind="stable") if slip[i] > limit]
    if not order:
        return
    worst = order[0]
    limbs = e.project.walker.limbs
    names = [limbs[i].name for i in order]
    off = np.linalg.norm(e.wander[worst], axis=-1) * e.planted[worst]
    time = float(int(off.argmax()) * e.row_s)
    stroke = float(e.score.stroke_mm[worst])
    share = f", {number(100 * slip[worst] / stroke, 0)} % of its stroke" if stroke > 1 else ""
    if code == "F13" and e.gait:
        turns = 360.0 / abs(e.gait.twist.omega_deg_s * e.gait.cycle_s)
        title = "Turning drags the feet"
        message = (
            f"{names[0]} is dragged {length(slip[worst])} a stance{share}; a full turn drags it "
            f"{length(slip[worst] * turns)}. Keep {length(limit)} a stance."
        )
    else:
        title = "Feet scuff"
        message = (
            f"{names[0]} slips {length(slip[worst])} over the floor in each stance{share}, "
            f"most at {seconds(time)}; keep {length(limit)}."
        )
    yield Finding(
        code, "warn", title, message + also(names[1:]), tuple((n, "") for n in names), time,
        float(slip[worst]), limit, "mm",
    )  # fmt: skip
