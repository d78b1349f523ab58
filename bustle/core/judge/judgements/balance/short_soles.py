"""Soles of two legs too short, fore and aft, for what rocks or tips sideways over them: of F53."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from bustle.core.falling.pushing_point import (
    least_room,
    longest_outside_s,
    plumb_ahead,
    rocks_sideways,
    room_ahead,
    sole_length_mm,
)
from bustle.core.falling.tipping_ankles import tipped
from bustle.core.judge.finding import Finding
from bustle.core.judge.judgements.balance.larger_soles import soles_at_least
from bustle.core.judge.ways import Edit, Mending
from bustle.core.walk.reading import Reading
from bustle.core.words.wording import length, percent, seconds, told_apart

# Fore and aft the next foot comes down beside it, and catches nothing. Thrown masses and parallelograms swayed to and
# fro fell in one engine outside for 0.08 s and more, not for 0.02 s; and with 0.28 of a sole's length left where they
# step slowly, not with 0.29.
OUTSIDE_AHEAD_S, KEEP_AHEAD = 0.05, 0.3
# Of how high its mass is: with less than the first left there it fell in the same engine; what tips by its ankles
# stayed up with more than the last from under its mass to toes and heels.
LEAST_AHEAD, LEAST_TO_TIP, KEEP_TO_TIP = 0.025, 0.14, 0.18
# Nobody builds soles longer than this, of how high the mass is: what needs them has another fault.
MOST_LONG = 1.0


def high_mm(r: Reading) -> float:
    """How high its mass is over the floor, on the average."""
    return float(r.course.com_ground_mm[: r.samples, 2].mean())


def fore_and_aft(r: Reading) -> Iterator[Finding]:
    """Where it rocks sideways over the edges of its soles, toes and heels alone keep it."""
    left, keep = r.of(room_ahead), KEEP_AHEAD * sole_length_mm(r)
    out_s, worst = longest_outside_s(r, left)
    value, time = float(left[worst]), float(worst * r.row_s)
    if out_s > OUTSIDE_AHEAD_S and np.isfinite(value):
        yield Finding(
            "F53", "stop", "Pitches over its sole",
            f"For {seconds(out_s)} round {seconds(time)} it pushes {length(-value)} past its toes or heels, longer "
            f"than {seconds(OUTSIDE_AHEAD_S)}: it pitches over.",
            (), time, max(value, -1e6), 0.0, "mm",
        )  # fmt: skip
        return
    value, time = least_room(r, left)
    bears = LEAST_AHEAD * high_mm(r)
    if np.isfinite(value) and value < bears:
        yield Finding(
            "F53", "stop", "Pitches over its sole",
            f"It pushes {length(abs(value))} {'from' if value > 0 else 'past'} its toes or heels at {seconds(time)}, "
            f"under a mass {length(high_mm(r))} up: it pitches over. Keep {length(bears)}.",
            (), time, max(value, -1e6), bears, "mm",
        )  # fmt: skip
        return
    if np.isfinite(value) and value < keep:
        (told, kept), past = told_apart(length, value, keep), length(-value)
        where = f"only {told} from" if value > 0 else f"{past} past"
        yield Finding(
            "F53", "warn", "Pushes near the end of its sole",
            f"It pushes {where} its toes or heels at {seconds(time)}; keep {kept}, {percent(KEEP_AHEAD)} "
            "of a sole's length.",
            (), time, max(value, -1e6), keep, "mm",
        )  # fmt: skip


def _least_plumb(r: Reading) -> tuple[float, float]:
    """From under its mass to toes or heels, mm, where that is least, and when, s."""
    left = r.of(plumb_ahead)
    return least_room(r, np.where(np.isfinite(left), left, np.inf))


def too_short_to_tip_on(r: Reading) -> Iterator[Finding]:
    value, time = _least_plumb(r)
    high = high_mm(r)
    if not np.isfinite(value) or value >= KEEP_TO_TIP * high:
        return
    stops = value < LEAST_TO_TIP * high
    limit = (LEAST_TO_TIP if stops else KEEP_TO_TIP) * high
    told, keep = told_apart(length, value, limit)
    yield Finding(
        "F53", "stop" if stops else "warn", "Pitches over its sole" if stops else "Short soles",
        f"Its mass, {length(high)} up, is {told} from its toes or heels at {seconds(time)}: as it pushes off "
        f"it {'pitches' if stops else 'may pitch'} over them. Keep {keep}.",
        (), time, value, limit, "mm",
    )  # fmt: skip


def longer_soles(m: Mending) -> Iterator[Edit]:
    """With d from the pushing point to the nearer end of a sole of length l, one of l' leaves d + (l' − l)/2: k of
    it, where it rocks, at l' = (l/2 − d)/(1/2 − k); or, of what tips, the share of its height."""
    r = m.reading
    now = sole_length_mm(r)
    if r.of(tipped):
        long = now + 2 * (KEEP_TO_TIP * high_mm(r) - _least_plumb(r)[0])
    elif rocks_sideways(r):
        value, _ = least_room(r, r.of(room_ahead))
        long = max((now / 2 - value) / (0.5 - KEEP_AHEAD), now + 2 * (LEAST_AHEAD * high_mm(r) - value))
    else:
        return
    if np.isfinite(long) and long <= MOST_LONG * high_mm(r):
        yield from soles_at_least(m, "length_mm", float(np.ceil(long + 0.5)))
