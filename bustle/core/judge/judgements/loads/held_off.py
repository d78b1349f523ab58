"""F03: casters or belly wheels carry the weight, and the feet that push have no grip."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from bustle.core.edits.patches import replace
from bustle.core.geometry.arrays import Array
from bustle.core.geometry.extremes import greatest
from bustle.core.judge.figure import FigureSpec, Lines, Told
from bustle.core.judge.finding import Finding, Severity
from bustle.core.judge.judgement import Judgement
from bustle.core.judge.ways import Edit, Mending, Offer
from bustle.core.loads.friction import held_along
from bustle.core.loads.held_by_supports import Overlap, overlap
from bustle.core.loads.inertial_wrenches import wrenches
from bustle.core.loads.told import not_pushed
from bustle.core.walk.plumb import upright
from bustle.core.walk.reading import Reading
from bustle.core.words.wording import joined, length, newtons, number, seconds

# What rolls is held back by this share of what it carries: small hard wheels on smooth floors, 0.02 to 0.05
# (handbooks of rolling resistance); assumed.
ROLLING = 0.05
# So much of what the feet could push is kept in hand.
IN_HAND = 0.8
# Feet within it of the supports' plane are in it, mm.
LEVEL_MM = 0.02
# Supports that reach so far below the feet's floor hold the machine off its legs, which is told of them (F56).
HELD_OFF_MM = -2.0


def judged(r: Reading) -> str | None:
    why = not_pushed(r)
    if why:
        return why
    if not any(np.ptp(way) for way in r.course.body.travel):
        return "it goes nowhere"
    beside = r.of(overlap)
    if beside is None:
        return "no caster, wheel or skid stands beside its legs"
    return None if beside.alone.any() else "its supports alone would not hold it, so that legs carry their part"


def _beside(r: Reading) -> Overlap:
    beside = r.of(overlap)
    assert beside is not None
    return beside


def push_needed(r: Reading) -> Array:
    """(N,) N: what the feet have to push, the machine's own speeding up and what holds back its supports."""
    taken, beside = r.of(wrenches), _beside(r)
    weight = taken.kg * r.of(upright)[2] - r.project.walker.lifted_n
    rolls = np.maximum(weight - beside.driven_n, 0.0) * ROLLING
    found: Array = np.hypot(taken.force[:, 0], taken.force[:, 1]) + rolls
    return found


def needed_mm(r: Reading) -> Array:
    """(N,): the overlap at which the feet push that with some in hand."""
    beside = _beside(r)
    weight = r.assembled.total_kg * r.of(upright)[2] - r.project.walker.lifted_n
    share = np.minimum(r.of(push_needed) / (IN_HAND * held_along(r) * max(weight, 1e-9)), 1.0)
    found: Array = np.where(np.isfinite(beside.gives_mm), beside.gives_mm, 0.0) * share
    return found


def _worst(r: Reading) -> int:
    beside = _beside(r)
    return greatest(np.where(beside.alone, r.of(needed_mm) - beside.overlap_mm, -np.inf))


def held_off(r: Reading) -> Iterator[Finding]:
    """Stop with no overlap, or where the feet's load does not hold what they push; warn where it barely does."""
    beside, row = _beside(r), r.of(_worst)
    if beside.overlap_mm[row] <= HELD_OFF_MM:
        return
    has, needs = float(beside.overlap_mm[row]), float(r.of(needed_mm)[row])
    if has >= needs and has > LEVEL_MM:
        return
    severity: Severity = "stop" if has <= LEVEL_MM or has < IN_HAND * needs else "warn"
    limbs = r.project.walker.limbs
    names = [limbs[i].name for i in r.kit.supports]
    how = f"{length(has)} below" if has > LEVEL_MM else "no lower than"
    yield Finding(
        "F03", severity, "Feet have no grip" if severity == "stop" else "Feet have little grip",
        f"The feet are planned {how} what rolls ({joined(names)}), which could carry it all; they need to press on the "
        f"floor {length(max(needs, 0.1))} deeper than it touches, to push it on at {seconds(float(row * r.row_s))}.",
        tuple((name, "overlap") for name in names), float(row * r.row_s), has, max(needs, LEVEL_MM), "mm",
    )  # fmt: skip


def _lower_feet(m: Mending) -> Iterator[Edit]:
    """Feet planned lower by what lacks: half of what the legs give, or what the push needs where that is more."""
    beside, row = _beside(m.reading), m.reading.of(_worst)
    gives = float(beside.gives_mm[beside.alone].min())
    wanted = max(0.5 * gives, min(float(m.reading.of(needed_mm)[row]) * 1.05, 0.95 * gives))
    lower = float(np.ceil(10 * (wanted - float(beside.overlap_mm[row]))) / 10)
    if lower > 0 and np.isfinite(gives):
        height = round(m.gait.pose.ride_height_mm + lower, 1)
        yield Edit(f"Feet lower by {length(lower)}", (replace(f"{m.path}/pose/ride_height_mm", height),))


def _read(r: Reading) -> Told | None:
    if judged(r):
        return None
    row = r.of(_worst)
    return float(_beside(r).overlap_mm[row]), float(row * r.row_s)


def _working(r: Reading) -> Lines:
    beside, row = _beside(r), r.of(_worst)
    return (
        f"at {seconds(float(row * r.row_s))} the standing feet are planned "
        f"{number(float(beside.overlap_mm[row]), 2)} mm below what rolls;",
        f"with the whole weight on them their legs would give {number(float(beside.gives_mm[row]), 2)} mm: they press "
        f"{newtons(float(beside.driven_n[row]))}",
        f"they push {newtons(float(r.of(push_needed)[row]))}, what holds back the rolling ones (0.05 of their load, "
        "assumed) with it;",
        f"the floor holds {number(held_along(r), 2)} of their load"
        f" → {number(float(r.of(needed_mm)[row]), 2)} mm with a fifth in hand",
    )


OVERLAP = FigureSpec("overlap_mm", "Feet below what rolls", "mm", 1, _read, _working, ("load",), compared=True)

JUDGEMENT = Judgement(
    "F03",
    "Feet that push carry weight",
    ("load",),
    held_off,
    judged,
    figures=(OVERLAP,),
    ways=(Offer(_lower_feet, keep="first"),),
)
