"""F53: a walk that lives by its timing pushes outside its soles: it rolls over an edge in mid-step."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from bustle.core.edits.patches import replace
from bustle.core.falling.pushing_point import (
    least_room,
    longest_outside_s,
    not_on_soles,
    rocks_sideways,
    room_ahead,
    room_on_soles,
    sole_width_mm,
)
from bustle.core.falling.tipping_ankles import tipped
from bustle.core.geometry.arrays import Array
from bustle.core.judge.figure import FigureSpec, Lines, Told
from bustle.core.judge.finding import Finding
from bustle.core.judge.judgement import Judgement
from bustle.core.judge.judgements.balance.into_the_slope import into_the_slope
from bustle.core.judge.judgements.balance.short_soles import fore_and_aft, longer_soles, too_short_to_tip_on
from bustle.core.judge.judgements.balance.soles_on_a_slope import curves_on_a_slope, rocking_on_a_slope
from bustle.core.judge.judgements.balance.tips_by_ankles import swung, tipping_working
from bustle.core.judge.ways import Edit, Found, Mending, Offer, Turn
from bustle.core.loads.told import STOPS_ANYWHERE, not_worked_out
from bustle.core.loads.zero_moment_point import zero_moment_point
from bustle.core.walk.reading import Reading
from bustle.core.words.wording import degrees, length, number, seconds, told_apart

# So long outside, and it is over before the next foot is down; fitted to walks played in one physics engine. Necessary,
# not sufficient.
OUTSIDE_S = 0.1
# Room to keep, as a share of a sole's width.
KEEP = 0.13
# A curve is offered so many times as large as its mass is high.
FLATTER = 1.3


def judged(r: Reading) -> str | None:
    if r.of(curved):
        return None
    if r.balance == "static":
        return STOPS_ANYWHERE
    return None if r.of(tipped) else not_on_soles(r)


def curved(r: Reading) -> tuple[float, float] | None:
    """The least radius fore and aft of curved soles that a free machine on two legs stands on, and how high its mass
    is, mm; None where it stands on others."""
    legs = r.project.walker.legs
    if len(legs) > 2 or r.project.walker.held != "free" or any(m.passive for m in r.project.walker.limbs):
        return None
    soles = [m.feet[0].sole for m in legs]
    radii = [sole.radius_fore_mm for sole in soles if sole.kind == "curved"]
    if len(radii) < len(legs) or not_worked_out(r):
        return None
    return min(radii), float(r.course.com_ground_mm[: r.samples, 2].max())


def rolls_over(r: Reading) -> Iterator[Finding]:
    """Stop where it pushes outside for longer than a tenth of a second, warn where little room is left; one that
    tips by its ankles, where they carry it over the outer border."""
    round_soles = r.of(curved)
    if round_soles:
        radius, high = round_soles
        if radius <= high:
            yield Finding(
                "F53", "stop", "Rolls off its soles",
                f"Its soles are curved fore and aft by {length(radius)}, and its mass is {length(high)} up: it stands "
                "only where the curve is the larger.",
                (), None, radius, high, "mm",
            )  # fmt: skip
        else:
            yield from curves_on_a_slope(r, radius, high)
        return
    tips = r.of(tipped)
    if tips:
        if tips.goes_mm > tips.most_mm:
            yield Finding(
                "F53", "stop", "Tips over its soles",
                f"Ankles that swing {degrees(tips.swing_deg)} in {seconds(tips.cycle_s)} carry the pushing point "
                f"{length(tips.goes_mm)} to the side; beyond {length(tips.most_mm)} it goes over the outer border.",
                ((tips.limb, tips.joint),), None, tips.goes_mm, tips.most_mm, "mm",
            )  # fmt: skip
            return
        yield from too_short_to_tip_on(r)
        if r.project.floor.slope_deg:
            yield from fore_and_aft(r)
        return
    if not rocks_sideways(r):
        yield from _all_round(r)
        return
    stops = [*rocking_on_a_slope(r)]
    yield from stops or fore_and_aft(r)


def _all_round(r: Reading) -> Iterator[Finding]:
    left, keep = r.of(room_on_soles), KEEP * sole_width_mm(r)
    out_s, worst = longest_outside_s(r, left)
    value, time = float(left[worst]), float(worst * r.row_s)
    if out_s > OUTSIDE_S:
        how = "no foot is down" if not np.isfinite(value) else f"it pushes {length(-value)} outside its soles"
        yield Finding(
            "F53", "stop", "Rolls over its sole",
            f"For {seconds(out_s)} round {seconds(time)} {how}, longer than {seconds(OUTSIDE_S)}: it rolls over.",
            (), time, max(value, -1e6), 0.0, "mm",
        )  # fmt: skip
        return
    value, time = least_room(r, left)
    if value < keep:
        told, kept = told_apart(length, value, keep)
        where = f"only {told} inside its soles" if value > 0 else f"{length(-value)} outside its soles for a moment"
        yield Finding(
            "F53", "warn", "Pushes near the edge of its sole",
            f"It pushes {where} at {seconds(time)}; keep {kept}, an eighth of a sole's width.",
            (), time, max(value, -1e6), keep, "mm",
        )  # fmt: skip


def _flatter(m: Mending) -> Iterator[Edit]:
    """Soles curved by more than its mass is high."""
    round_soles = m.reading.of(curved)
    if round_soles:
        radius = float(np.ceil(FLATTER * round_soles[1]))
        operations = [
            replace(f"/walker/limbs/{n}/feet/0/sole/radius_fore_mm", radius)
            for n, limb in enumerate(m.project.walker.limbs)
            if limb.steps
        ]
        yield Edit(f"Soles curved fore and aft by {length(radius)}", tuple(operations))


def _read(r: Reading) -> Told | None:
    if judged(r) or r.of(curved):
        return None
    tips = r.of(tipped)
    if tips:
        return tips.most_mm - tips.goes_mm, None
    if rocks_sideways(r):
        return None
    value, time = least_room(r, r.of(room_on_soles))
    return (value, time) if np.isfinite(value) else None


def _read_ahead(r: Reading) -> Told | None:
    if judged(r) or r.of(curved) or r.of(tipped) or not rocks_sideways(r):
        return None
    standing = r.of(room_ahead)
    value, time = least_room(r, np.where(np.isfinite(standing), standing, np.inf))
    return (value, time) if np.isfinite(value) else None


def _working(r: Reading) -> Lines:
    tips = r.of(tipped)
    if tips:
        return *tipping_working(tips), f"= {number(tips.most_mm - tips.goes_mm)} mm short of the border"
    return (
        *_pushed(r, r.of(room_on_soles), "what stands"),
        "a walk that keeps inside may still fall: by its servos' give, play, or the floor",
    )


def _working_ahead(r: Reading) -> Lines:
    return (
        *_pushed(r, r.of(room_ahead), "toes and heels, along its way"),
        "sideways it rocks over the edges of its soles, by design, and is not judged by this",
    )


def _pushed(r: Reading, left: Array, inside: str) -> Lines:
    row = int(np.argmin(np.round(left, 9)))
    x, y = 1000 * r.of(zero_moment_point)[row]
    out_s, _ = longest_outside_s(r, left)
    return (
        f"at {seconds(float(row * r.row_s))}: where the floor would have to push alone to move all masses as planned",
        f"(zero-moment point, x = −M_y/F_z, y = M_x/F_z) lies at ({number(float(x))}, {number(float(y))}) mm,",
        f"{number(float(left[row]))} mm inside {inside}; outside for {seconds(out_s)} at the longest",
    )


ROOM = FigureSpec(
    "pushing_room_mm", "Pushing point inside its soles", "mm", 1, _read, _working, ("balance", "load"), better=1,
    compared=True,
)  # fmt: skip

AHEAD = FigureSpec(
    "pushing_ahead_mm", "Pushing point within toes and heels", "mm", 1, _read_ahead, _working_ahead,
    ("balance", "load"), better=1, compared=True,
)  # fmt: skip

JUDGEMENT = Judgement(
    "F53",
    "It pushes within its soles",
    ("balance",),
    rolls_over,
    judged,
    figures=(ROOM, AHEAD),
    ways=(
        Offer(_flatter, keep="first", any_motion=True),
        Found("pendulum_sway"),
        Offer(into_the_slope, keep="first"),
        Turn("sway_x", up=False),
        Offer(swung, keep="first", any_motion=True),
        Offer(longer_soles, keep="first", any_motion=True),
        Turn("pace", up=False),
        Turn("duty", down=False),
        Turn("stride", up=False),
    ),
)
