"""F18: a static gait lifts a leg while the centre of mass is outside the remaining polygon."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from bustle.core.falling.pushing_point import longest_outside_s
from bustle.core.geometry.extremes import least
from bustle.core.geometry.resting_plane import above, resting_plane
from bustle.core.judge.figure import FigureSpec, Lines, Told
from bustle.core.judge.finding import Finding, Severity
from bustle.core.judge.judgement import Judgement
from bustle.core.judge.judgements.balance.into_the_slope import into_the_slope
from bustle.core.judge.judgements.balance.other_orders import other_orders
from bustle.core.judge.judgements.balance.rolls_over_its_sole import curved
from bustle.core.judge.measures.margins.halted import (
    goes_on_for_s,
    half_play_mm,
    halted_as_it_gives,
    halted_at_least,
    halted_margin,
    rests_mm,
)
from bustle.core.judge.measures.margins.room_at_its_pace import room_at_its_pace
from bustle.core.judge.measures.margins.worst_margin import worst_margin
from bustle.core.judge.ways import Found, Offer, Turn
from bustle.core.loads.giving.carried_margin import carried_margin
from bustle.core.loads.told import not_standing
from bustle.core.machine.masses import GRAVITY
from bustle.core.project.motion import Keyframes
from bustle.core.walk.plumb import over_floor
from bustle.core.walk.reading import Reading
from bustle.core.walk.standing_polygon import standing
from bustle.core.words.wording import degrees, joined, length, number, seconds, told_apart

# So little outside, a machine rocks on to the foot it has lifted.
ROCKS_MM = 3.0
# No machine that stands gives so much that its mass goes further over the ground than this share of its height.
GIVES = 0.05
# And hardly one by more than this; it is what a halted one is looked at closer for.
HALTED_GIVES = 0.02
HALTED_THERE, PACED = "halted", "paced"
# Of machines swayed quickly in a physics engine those that were told to tip by 0.8° and more fell or leaned by 18°, as
# did some that kept less of their margin where they push; one at 0.7° went well, and those that kept a third of it.
TIPS_DEG, KEPT_AT_ITS_PACE = 0.75, 0.25


def not_judged(r: Reading) -> str | None:
    """Dynamic motions live by their timing, and margin says nothing of them."""
    if r.balance == "static":
        # Between two curved soles there is no ground to be inside of.
        rolls = r.of(curved) and r.course.contact[r.kit.planted].all()
        return "whether it falls; it rolls on its soles until its mass is over them" if rolls else None
    if isinstance(r.motion, Keyframes) and not r.motion.judged:
        return "whether it falls; these frames live by tipping or a thrown mass"
    return "whether it falls; it is dynamic, so that depends on its timing"


def falls_over(r: Reading) -> Iterator[Finding]:
    """Stop when it would fall, warn below the limit, and where it comes to rest outside its feet when it is halted."""
    for look in (_frozen, _at_its_pace, _halted):
        found = [*look(r)]
        yield from found
        if any(finding.severity == "stop" for finding in found):
            return


def _frozen(r: Reading) -> Iterator[Finding]:
    supported = r.of(standing).supported
    if not supported.all():
        time = r.time_at(int(supported.argmin()))
        yield Finding(
            "F18", "stop", "Falls over",
            f"No foot is down at {seconds(time)}; a static motion needs three.", (), time, 0.0, 3.0, "feet",
        )  # fmt: skip
        return
    worst = r.of(worst_margin)
    limit = r.project.limits.margin_mm
    if worst is not None and worst[0] > 0:
        gone = r.of(_gone_as_it_gives)
        if gone is not None:
            yield Finding(
                "F18", "stop", "Falls over as it gives",
                f"The centre of mass is planned {length(worst[0])} inside the feet, and {length(-gone[0])} outside at "
                f"{seconds(gone[1])} once the servos give under the weight.", (), gone[1], gone[0], limit, "mm",
            )  # fmt: skip
            return
    if worst is None or worst[0] >= limit:
        return
    value, at = worst
    time = r.time_at(at)
    limbs = zip(r.project.walker.limbs, r.course.contact[:, at], strict=True)
    up = [m.name for m, down in limbs if m.steps and not down]
    air = f", with {' and '.join(up[:3])} in the air" if up else ""
    severity: Severity = "stop" if value <= 0 else "warn"
    title = "Falls over" if value <= 0 else "Little margin"
    if severity == "stop":
        message = f"The centre of mass is {length(-value)} outside the feet that are down at {seconds(time)}{air}."
        rocks = _rocks(r, at) if value > -ROCKS_MM else None
        if rocks:
            title = "Rocks over"
            message += f" It rocks on to {joined(rocks[0])}, {degrees(rocks[1])} over, rather than falls."
    else:
        margin, keep = told_apart(length, value, limit)
        message = f"The margin is {margin} at {seconds(time)}{air}; keep {keep}."
    yield Finding("F18", severity, title, message, (), time, value, limit, "mm")


def _at_its_pace(r: Reading) -> Iterator[Finding]:
    """A sway that would do slowly may throw it over when it is quick. Pushing outside by e at most for t it tips by
    some g·e·t²/(3·h²), as a mass h high on a rod does; and further as its servos give, so that some room is kept."""
    left = r.of(room_at_its_pace)
    if left is None:
        return
    out_s, row = longest_outside_s(r, left)
    value, time = float(left[row]), float(row * r.row_s)
    tips = GRAVITY * 1000 * -value * (out_s / float(r.course.com_ground_mm[row, 2])) ** 2 / 3
    tells = (("", PACED),), time, value
    if np.degrees(tips) > TIPS_DEG:
        yield Finding(
            "F18", "stop", "Tips at its pace",
            f"Frozen it would stand; going, it pushes {length(-value)} outside the feet that are down for "
            f"{seconds(out_s)} round {seconds(time)}, and tips by {degrees(float(np.degrees(tips)))} meanwhile.",
            *tells, 0.0, "mm",
        )  # fmt: skip
        return
    margin = float(r.of(standing).margin_mm[: r.samples].min())
    if value < KEPT_AT_ITS_PACE * margin:
        where = f"{length(value)} inside" if value >= 0 else f"{length(-value)} outside"
        yield Finding(
            "F18", "warn", "Little room at its pace",
            f"Frozen its mass is {length(margin)} inside its feet at least; going, it pushes {where} at "
            f"{seconds(time)}, and more than planned as it gives.",
            *tells, KEPT_AT_ITS_PACE * margin, "mm",
        )  # fmt: skip


def _halted(r: Reading) -> Iterator[Finding]:
    """In a physics engine walks halted where this is the least rocked on to a lifted foot, by 6° at most, and back."""
    if not may_be_halted(r):
        return
    tall = float(r.course.com_ground_mm[: r.samples, 2].max())
    if float(r.of(halted_at_least).min()) > HALTED_GIVES * tall + r.of(half_play_mm):
        return
    planned = r.of(halted_margin)
    gives = r.project.against_sag == "off" and not not_standing(r)
    left = r.of(halted_as_it_gives) if gives else planned - r.of(half_play_mm)
    at = least(left)
    if left[at] >= 0:
        return
    goes_on, time = float(np.hypot(*(r.of(rests_mm)[at] - r.of(over_floor)[at]))), r.time_at(at)
    by = ", play and sag taken off" if planned[at] >= 0 else ""
    yield Finding(
        "F18", "warn", "Rocks when it is halted",
        f"Halted at {seconds(time)} its mass goes on by {length(goes_on)} from its pace, and is "
        f"{length(-float(left[at]))} outside the feet that are down{by}: it rocks on to a lifted foot.",
        (("", HALTED_THERE),), time, float(left[at]), 0.0, "mm",
    )  # fmt: skip


def may_be_halted(r: Reading) -> bool:
    """Whether there is a pace to halt it from."""
    moves = r.gait is None or not r.gait.stands
    return moves and r.samples > 2 and bool(r.of(standing).supported.all())


def _gone_as_it_gives(r: Reading) -> tuple[float, float] | None:
    """The least margin and when, where a machine that gives under its weight has none left; None where it has, or where
    it cannot be told. One that is held against its sag stands as it is planned."""
    worst = r.of(worst_margin)
    assert worst is not None
    tall = float(r.course.com_ground_mm[: r.samples, 2].max())
    if r.project.against_sag != "off" or worst[0] > GIVES * tall or not_standing(r):
        return None
    left = r.of(carried_margin)
    at = least(left)
    return (float(left[at]), r.time_at(at)) if left[at] <= 0 else None


def _rocks(r: Reading, at: int) -> tuple[list[str], float] | None:
    """Which lifted feet it comes down on to, tipping as a whole, and by how many degrees; None where it goes on."""
    legs = np.flatnonzero([bool(m.feet) for m in r.project.walker.limbs])
    feet = r.course.feet_ground_mm[legs, at][:, None]
    plane, rests = resting_plane(feet, np.ones((len(legs), 1), dtype=bool), r.course.com_ground_mm[at : at + 1, :2])
    if not rests[0]:
        return None
    down = r.course.contact[legs, at]
    touch = np.abs(above(plane, feet)[:, 0]) < 1e-6
    caught = [r.project.walker.limbs[i].name for i in legs[touch & ~down]]
    tilt = float(np.degrees(np.arctan(np.hypot(plane[0, 1], plane[0, 2]))))
    return (caught, tilt) if caught else None


def _read(r: Reading) -> Told | None:
    worst = None if not_judged(r) else r.of(worst_margin)
    return (worst[0], r.time_at(worst[1])) if worst else None


def _working(r: Reading) -> Lines:
    worst = r.of(worst_margin)
    assert worst
    margin, at = worst
    x, y = r.course.com_ground_mm[at, :2]
    feet = [
        f"{m.name} ({number(p[0])}, {number(p[1])})"
        for m, p, c in zip(r.project.walker.limbs, r.course.feet_ground_mm[:, at], r.course.contact[:, at], strict=True)
        if c
    ]
    return (
        f"at {seconds(r.time_at(at))}, in mm on the ground:",
        f"centre of mass ({number(x)}, {number(y)})",
        "feet down " + ", ".join(feet),
        f"distance to the nearest edge of their polygon = {number(margin)} mm" + ("" if margin > 0 else ", outside it"),
    )


def _fewest(r: Reading) -> int:
    """The instant at which the fewest feet are down."""
    return int(np.argmin(r.course.contact.sum(axis=0)))


def _fewest_read(r: Reading) -> Told | None:
    at = r.of(_fewest)
    return float(r.course.contact[:, at].sum()), r.time_at(at)


def _fewest_working(r: Reading) -> Lines:
    at = r.of(_fewest)
    down = [m.name for m, c in zip(r.project.walker.limbs, r.course.contact[:, at], strict=True) if c]
    return (f"at {seconds(r.time_at(at))} the feet down are " + (", ".join(down) or "none") + f": {len(down)}",)


def _height_read(r: Reading) -> Told | None:
    return float(r.course.com_ground_mm[: r.samples, 2].mean()), None


def _height_working(r: Reading) -> Lines:
    height = r.course.com_ground_mm[: r.samples, 2]
    return (
        "Σ mᵢ·zᵢ / Σ mᵢ, averaged over the cycle",
        f"= {number(float(height.mean()))} mm",
        f"between {number(float(height.min()))} and {number(float(height.max()))} mm",
    )


WORST_MARGIN = FigureSpec(
    "worst_margin_mm",
    "Worst margin",
    "mm",
    1,
    _read,
    _working,
    ("balance", "timing", "motions", "rail"),
    better=1,
    compared=True,
)
FEWEST_DOWN = FigureSpec(
    "fewest_down", "Fewest feet down", "", 0, _fewest_read, _fewest_working, ("balance", "timing"), better=1
)
COM_HEIGHT = FigureSpec(
    "com_height_mm",
    "Centre of mass height",
    "mm",
    0,
    _height_read,
    _height_working,
    ("balance", "frame"),
    better=-1,
    compared=True,
)


def _halted_read(r: Reading) -> Told | None:
    if not_judged(r) or not may_be_halted(r):
        return None
    left = r.of(halted_margin)
    at = least(left)
    return float(left[at]), r.time_at(at)


def _halted_working(r: Reading) -> Lines:
    left = r.of(halted_margin)
    at = least(left)
    high = float(r.course.com_ground_mm[at, 2])
    return (
        f"halted at {seconds(r.time_at(at))} its mass, {number(high, 0)} mm up, would still go on by v·√(h/g),",
        f"√(h/g) = {number(float(r.of(goes_on_for_s)[at]), 3)} s (capture point of a pendulum whose mass is level);",
        "from there to the nearest edge of the feet that are down, and of any lifted so little that it would rock on",
        f"to it by less than 1°, = {number(float(left[at]))} mm;",
        f"half the play at a foot, {number(r.of(half_play_mm))} mm, and what it gives are taken off where it is judged",
    )


HALTED = FigureSpec(
    "halted_margin_mm", "Margin, halted from its pace", "mm", 1, _halted_read, _halted_working, ("balance",), better=1,
    compared=True,
)  # fmt: skip

JUDGEMENT = Judgement(
    "F18",
    "The centre of mass stays over the feet",
    ("balance",),
    falls_over,
    not_judged,
    tier="drag",
    matters=True,
    instead=("F53", "F19"),
    limits_stride=True,
    no_limit=(HALTED_THERE,),
    figures=(WORST_MARGIN, HALTED, FEWEST_DOWN, COM_HEIGHT),
    ways=(
        Offer(into_the_slope, keep="first"),
        Found("smallest_sway"),
        Offer(other_orders, keep="worst_margin_mm"),
        Turn("pace", up=False, subject=HALTED_THERE),
        Turn("pace", up=False, subject=PACED),
        Turn("shift_x"),
        Turn("shift_y"),
        Turn("duty", down=False),
        Turn("feet_out", down=False),
    ),
)
