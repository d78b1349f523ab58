"""F13: turning without a yaw joint drags the feet."""

from __future__ import annotations

from collections.abc import Iterator

from bustle.core.judge.finding import Finding
from bustle.core.judge.judgement import Judgement
from bustle.core.judge.judgements.ground.scuffing import (
    SLIP,
    share_of_stroke,
    slip_finding,
    slipping_legs,
    turns_without_yaw,
)
from bustle.core.judge.measures.feet.foot_slip import slip_mm
from bustle.core.judge.ways import Turn
from bustle.core.walk.reading import Reading
from bustle.core.words.wording import length, told_apart


def dragged_turn(r: Reading) -> Iterator[Finding]:
    """Slip in a stance where the turn is to blame, with what a full turn comes to."""
    legs = r.of(slipping_legs)
    if not legs or not r.gait or not turns_without_yaw(r):
        return
    worst = legs[0]
    slip, turns = r.of(slip_mm)[worst], 360.0 / abs(r.gait.twist.omega_deg_s * r.gait.cycle_s)
    dragged, keep = told_apart(length, float(slip), r.project.limits.slip_mm)
    message = (
        f"{r.project.walker.limbs[worst].name} is dragged {dragged} a stance{share_of_stroke(r, worst)}; a full "
        f"turn drags it {length(slip * turns)}. Keep {keep} a stance."
    )
    yield slip_finding(r, "F13", "Turning drags the feet", message)


JUDGEMENT = Judgement(
    "F13",
    "Feet are not dragged round a turn",
    ("frame",),
    dragged_turn,
    stops=False,
    limits_stride=True,
    figures=(SLIP,),
    ways=(Turn("omega"), Turn("stride", up=False)),
)
