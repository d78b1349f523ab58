"""F08: the feet slip: what they push along the floor is more than it holds."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from bustle.core.edits.patches import replace
from bustle.core.geometry.arrays import Array, Flags
from bustle.core.geometry.compiled import REAL, compiled, compiled_for, flags, floats
from bustle.core.geometry.extremes import greatest
from bustle.core.judge.figure import FigureSpec, Lines, Told
from bustle.core.judge.finding import Finding, Severity
from bustle.core.judge.judgement import Judgement
from bustle.core.judge.ways import Edit, Mending, Offer, Turn
from bustle.core.loads.foot_forces import foot_forces
from bustle.core.loads.friction import ahead_and_aside, heading, held_across, held_along
from bustle.core.loads.inertial_wrenches import wrenches
from bustle.core.loads.told import ENOUGH_MM, not_carried_moving, not_pushed
from bustle.core.walk.plumb import downhill, upright
from bustle.core.walk.reading import Reading
from bustle.core.walk.wheels import axles
from bustle.core.words.wording import also, number, seconds

WARN = 0.8
# Feet that carry less than this share of the weight hold nothing anyway.
LEAST_SHARE = 0.05


# Where the whole machine speeds up by less than this share of what would make a foot slip, none does, turning included.
GENTLE = 0.25


@compiled
def _turned(one: Array, other: Array) -> float:
    """rad: how far the heading goes from one turn (3, 3) to another."""
    c, s = one[0, 0], one[1, 0]
    return np.arctan2(c * other[1, 0] - s * other[0, 0], c * other[0, 0] + s * other[1, 0])


def gentle(r: Reading) -> bool:
    """Whether it speeds up so little, along the floor and about the upright, on a slope so little, that no foot can
    slip: by its centre of mass and its heading alone."""
    n, course = r.samples, r.course
    if n < 3:
        return True
    most = _most_changed(course.com_ground_mm[:n], course.body.turn[:n], course.feet_ground_mm[:, :n])
    pushed = most / 1000 / r.row_s**2 / r.of(upright)[2] + float(np.hypot(*r.of(downhill)))
    return bool(pushed < GENTLE * WARN * min(held_along(r), held_across(r)))


@compiled_for(floats(2), floats(3), floats(3))
def _most_changed(centre: Array, turn: Array, feet: Array) -> float:
    """mm a row²: the most that the centre of mass (N, 3) changes its way by over the ground, and the foot furthest from
    it (L, N, 3) by the heading's (N, 3, 3) change, added up."""
    along, around, far = 0.0, 0.0, 0.0
    for n in range(len(centre)):
        for limb in range(len(feet)):
            far = max(far, np.hypot(feet[limb, n, 0] - centre[n, 0], feet[limb, n, 1] - centre[n, 1]))
        if 0 < n < len(centre) - 1:
            x = centre[n + 1, 0] - 2 * centre[n, 0] + centre[n - 1, 0]
            y = centre[n + 1, 1] - 2 * centre[n, 1] + centre[n - 1, 1]
            along = max(along, np.hypot(x, y))
            turns = _turned(turn[n], turn[n + 1]) - _turned(turn[n - 1], turn[n])
            around = max(around, abs(turns))
    return along + around * far


def judged(r: Reading) -> str | None:
    """Frozen at each row feet have to carry it; as it moves too where that could make it slip."""
    return not_pushed(r) or (None if r.of(gentle) else not_carried_moving(r))


def grip_needed(r: Reading) -> Array:
    """(L, N): push along the floor / what the foot carries; 0 where it carries next to nothing or rolls freely.

    What is pushed across the machine counts by µ_along/µ_across: the floor holds within an ellipse. Where no feet
    balance it, what each pushes is not known, and all count by what the whole machine pushes."""
    feet, taken = r.of(foot_forces), r.of(wrenches)
    holds = np.array([limb.steps or i in r.of(axles) for i, limb in enumerate(r.project.walker.limbs)])
    weight, across = float(taken.kg * r.of(upright)[2]), held_along(r) / held_across(r)
    needed: Array = _needed(taken.force, feet.by_limb, feet.unbalanced_nm, holds, *heading(r), weight, across)
    return needed


@compiled
def _push(force: Array, c: float, s: float, across: float) -> float:
    """Along the floor, what is across the machine as if the floor held there as it does along."""
    return np.hypot(c * force[0] + s * force[1], (c * force[1] - s * force[0]) * across)


@compiled_for(floats(2), floats(3), floats(1), flags(1), floats(1), floats(1), REAL, REAL)
def _needed(
    whole: Array, by_limb: Array, unbalanced_nm: Array, holds: Flags, cosine: Array, sine: Array, weight: float,
    across: float,
) -> Array:  # fmt: skip
    """(L, N), of what the whole machine pushes, (N, 3), and each limb that has points, (≤ L, N, 3)."""
    found, least = np.zeros((len(holds), len(whole))), LEAST_SHARE * weight
    for n in range(len(whole)):
        c, s = cosine[n], sine[n]
        tips = unbalanced_nm[n] > weight * ENOUGH_MM / 1000
        all_of_it = _push(whole[n], c, s, across) / max(whole[n, 2], least)
        for limb in range(len(by_limb)):
            up = by_limb[limb, n, 2]
            if holds[limb] and up > least:
                found[limb, n] = all_of_it if tips else _push(by_limb[limb, n], c, s, across) / up
    return found


def feet_slip(r: Reading) -> Iterator[Finding]:
    """Warn at 80 % of the friction, stop above it."""
    if r.of(gentle):
        return
    needs, holds = r.of(grip_needed), held_along(r)
    most = needs.max(axis=1, initial=0.0)
    over = [n for n in np.argsort(-np.round(most, 9), kind="stable").tolist() if most[n] > WARN * holds]
    if not over:
        return
    worst = over[0]
    row, need = greatest(needs[worst]), float(most[worst])
    severity: Severity = "stop" if need > holds else "warn"
    names = [r.project.walker.limbs[n].name for n in over]
    said = "" if r.project.floor.friction else ", assumed"
    yield Finding(
        "F08", severity, "Feet slip" if severity == "stop" else "Feet near slipping",
        f"{names[0]} pushes {number(need, 2)} of what it carries along the floor at "
        f"{seconds(float(row * r.row_s))}; the floor holds {number(holds, 2)}{said}." + also(names[1:]),
        tuple((name, "grip") for name in names), float(row * r.row_s), need, holds, "of the load",
    )  # fmt: skip


def _grippier(m: Mending) -> Iterator[Edit]:
    """A sole that holds enough, to be measured."""
    wanted = float(np.ceil(m.finding.value / WARN * 20) / 20)
    if wanted <= 1.0:
        operations = [replace("/floor/friction", wanted)]
        across = m.project.floor.friction_across
        if across is not None and across < wanted:
            operations.append(replace("/floor/friction_across", wanted))
        yield Edit(f"Soles that hold {number(wanted, 2)} (rubber)", tuple(operations))


def _read(r: Reading) -> Told | None:
    if judged(r) or not_carried_moving(r):
        return None
    needs = r.of(grip_needed)
    row = greatest(needs.max(axis=0))
    return float(needs[:, row].max()), float(row * r.row_s)


def _working(r: Reading) -> Lines:
    needs = r.of(grip_needed)
    worst = greatest(needs.max(axis=1))
    row = greatest(needs[worst])
    feet = r.of(foot_forces)
    tips = feet.unbalanced_nm[row] > r.of(wrenches).kg * r.of(upright)[2] * ENOUGH_MM / 1000
    force = r.of(wrenches).force[row] if tips else feet.of_limb(worst)[row]
    name = "the whole machine" if tips else r.project.walker.limbs[worst].name
    how = "where no feet balance it" if tips else "shared so that all feet need alike"
    ahead, aside = (float(abs(v[0])) for v in ahead_and_aside(r, force[None], row))
    return (
        f"{name} at {seconds(float(row * r.row_s))}: carries {number(float(force[2]))} N,",
        f"pushes {number(ahead)} N ahead and {number(aside)} N across, {how}",
        f"= {number(float(needs[worst, row]), 2)}; the floor holds {number(held_along(r), 2)} ahead and "
        f"{number(held_across(r), 2)} across" + ("" if r.project.floor.friction else ", assumed"),
    )


GRIP = FigureSpec("grip_needed", "Grip needed", "of load", 2, _read, _working, ("load",), better=-1, compared=True)

JUDGEMENT = Judgement(
    "F08",
    "Feet hold on the floor",
    ("load",),
    feet_slip,
    judged,
    figures=(GRIP,),
    ways=(Turn("pace", up=False), Turn("stride", up=False), Offer(_grippier, any_motion=True)),
)
