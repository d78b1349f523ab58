"""F33: soles so narrow that nothing holds a machine on two legs sideways while it stands on one of them."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from bustle.core.falling.pushing_point import sole_width_mm
from bustle.core.falling.rocking import not_rocking, thrown
from bustle.core.geometry.longest_run import longest_run
from bustle.core.judge.finding import Finding
from bustle.core.judge.judgement import Judgement
from bustle.core.judge.judgements.balance.lands_on_its_edge import SHARE, fall_grows, not_on_one_sole, on_one_sole
from bustle.core.judge.judgements.balance.larger_soles import broader_soles, soles_at_least
from bustle.core.judge.judgements.balance.short_soles import high_mm
from bustle.core.judge.ways import Edit, Mending, Offer
from bustle.core.loads.told import STOPS_ANYWHERE, not_told
from bustle.core.walk.reading import Reading
from bustle.core.words.wording import length, number, seconds

# How many times what half a sole bears the hip over it may hold: stopped and warned of above. What is held against its
# sag by gravity alone bears less. Fitted to walks in one physics engine, of six-joint legs of 110 to 340 mm on soles of
# a sixteenth to four fifths of their usual width, servos that give their torque at 3° to 8°: of 47 stopped 42 fell, of
# 20 warned of 3, of 16 others none. With servos at 2° seven of eight others fell: stiff ones swing past (F30).
STOPS, WARNS = {"full": 3.85, "static": 2.15}, {"full": 2.6, "static": 1.8}
# What steps quickly without ankles that roll, on soles of such a share of how high its mass is: stopped and warned of
# below. In the same engine, legs of 140 to 320 mm, each five ways: 22 below the first stayed up 1.9 times of five, 18
# above the second 4.8 times.
ROCKS_STOPS, ROCKS_WARNS = 0.11, 0.14
# Soles that are offered are so much below that, one after the other: on a broader sole the hip holds more.
OFFERED = (0.9, 0.75, 0.6, 0.45)


@dataclass(frozen=True)
class Alone:
    """Standing on one foot without breadth: which, from which row, for how long; and how much a fall grows in it,
    cosh(t·√(g/h))."""

    limb: int
    row: int
    for_s: float
    grows: float


def judged(r: Reading) -> str | None:
    if r.balance == "static":
        return STOPS_ANYWHERE
    legs = r.project.walker.legs
    if len(legs) != 2 or r.project.walker.held != "free" or any(m.passive for m in r.project.walker.limbs):
        return "it does not stand on one sole of two"
    if any(leg.feet[0].sole.kind == "curved" for leg in legs):
        return "its soles are round: it rocks on them"
    if _without_breadth(r):
        return not_told(r) or (None if r.of(alone) else "it never stands on one sole")
    if _rocks(r):
        return None
    if r.project.against_sag == "off":
        return "what is sent does not hold it against its sag: its soles are judged by that"
    return not_on_one_sole(r)


def _without_breadth(r: Reading) -> bool:
    return any(leg.feet[0].sole.kind != "rectangle" for leg in r.project.walker.legs)


def _rocks(r: Reading) -> bool:
    """Whether it steps over the borders of its soles, and throws nothing."""
    return not not_rocking(r) and r.of(thrown) is None


def alone(r: Reading) -> Alone | None:
    """The longest time on one foot that has no breadth."""
    n = r.samples
    down = r.course.contact[:, :n]
    best: Alone | None = None
    for limb, foot in enumerate(r.project.walker.limbs):
        single = down[limb] & (down.sum(axis=0) == 1)
        if not foot.steps or foot.feet[0].sole.kind == "rectangle" or not single.any():
            continue
        row, count = longest_run(single, r.score.periodic)
        for_s = count * r.row_s
        grows = fall_grows(for_s, float(r.course.com_ground_mm[row, 2]))
        if best is None or for_s > best.for_s:
            best = Alone(limb, row, for_s, grows)
    return best


def narrow_soles(r: Reading) -> Iterator[Finding]:
    if _without_breadth(r):
        found = r.of(alone)
        assert found
        name, at = r.project.walker.limbs[found.limb].name, found.row * r.row_s
        yield Finding(
            "F33", "stop", "Nothing holds it sideways",
            f"{name} has no breadth, and stands alone for {seconds(found.for_s)} from {seconds(at)} on: a lean grows "
            f"{number(found.grows, 1)} times meanwhile, and nothing holds against it.",
            ((name, ""),), at, found.grows, 1.0, "times",
        )  # fmt: skip
        return
    if _rocks(r):
        yield from _rocking(r)
        return
    on = r.of(on_one_sole)
    assert on
    held = _held(r)
    if on.share <= WARNS[held]:
        return
    stops = on.share > STOPS[held]
    name, at = r.project.walker.limbs[on.limb].name, on.row * r.row_s
    limit = STOPS[held] if stops else WARNS[held]
    yield Finding(
        "F33", "stop" if stops else "warn", "Soles too narrow" if stops else "Narrow soles",
        f"On {name} alone its hip holds {number(on.torque_nm, 2)} N·m at {seconds(at)}, {number(on.share, 1)} times "
        f"what half its sole bears: {'it rolls' if stops else 'a small error rolls it'} over the edge. Keep "
        f"{number(limit, 1)}.",
        ((name, ""),), at, on.share, limit, "of what half a sole bears",
    )  # fmt: skip


def _rocking(r: Reading) -> Iterator[Finding]:
    share = sole_width_mm(r) / high_mm(r)
    if share >= ROCKS_WARNS:
        return
    stops = share < ROCKS_STOPS
    limit = ROCKS_STOPS if stops else ROCKS_WARNS
    yield Finding(
        "F33", "stop" if stops else "warn", "Soles too narrow" if stops else "Narrow soles",
        f"It steps from sole to sole without ankles that roll, on {length(sole_width_mm(r))} of breadth under a mass "
        f"{length(high_mm(r))} up, {number(100 * share)} %: a small push rolls it over. "
        f"Keep {number(100 * limit, 0)} %.",
        ((r.project.walker.legs[0].name, ""),), None, share, limit, "of how high its mass is",
    )  # fmt: skip


def _held(r: Reading) -> str:
    """Legs on blades may be held against nothing; the soles they are given are asked to bear the more for it."""
    return "full" if r.project.against_sag == "full" else "static"


def _broader(m: Mending) -> Iterator[Edit]:
    if _rocks(m.reading):
        yield from soles_at_least(m, "width_mm", float(np.ceil(ROCKS_WARNS * high_mm(m.reading))))
        return
    on = m.reading.of(on_one_sole)
    if on:
        for share in OFFERED:
            yield from broader_soles(m, on.torque_nm, share * WARNS[_held(m.reading)])


JUDGEMENT = Judgement(
    "F33",
    "Its soles are broad enough to stand on one",
    ("balance",),
    narrow_soles,
    judged,
    figures=(SHARE,),
    ways=(Offer(_broader, keep="first", any_motion=True),),
)
