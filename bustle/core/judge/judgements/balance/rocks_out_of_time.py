"""F09: a timed side-to-side rock gains energy each step until it tips, or dies away."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from bustle.core.edits.patches import replace
from bustle.core.falling.rocking import (
    ROLLS_S,
    hangs_aside_deg,
    not_rocking,
    rocking,
    rolls_s,
    slopes_aside_deg,
    thrown,
)
from bustle.core.judge.figure import FigureSpec, Lines, Told
from bustle.core.judge.finding import Finding
from bustle.core.judge.judgement import Judgement
from bustle.core.judge.judgements.balance.into_the_slope import into_the_slope
from bustle.core.judge.ways import Edit, Mending, Offer, Turn
from bustle.core.loads.inertial_wrenches import wrenches
from bustle.core.loads.told import not_worked_out
from bustle.core.walk.reading import Reading
from bustle.core.words.wording import degrees, length, number, seconds

# A cycle is kept between these shares of the period in which it rocks at its lean.
LEAST, MOST = 0.75, 1.0

# How far its mass may hang to the lower side across a slope, and how steep that may be though it leans into it. In an
# engine, legs of 140 to 420 mm, slopes of 1.0 to 2.0°: of nine walks that hung 0.5 to 0.6° one fell, of 26 that hung
# 0.75 to 1.0° six, of 20 that hung 1.5 or 2.0° fourteen; leaning into it all the way none of 24, but four of eight at
# 2.5 and 4°.
HANGS_DEG, FALLS_DEG, STEEP_DEG = 0.6, 1.0, 1.8
SLOPE = "slope"

# A sole that comes no further out of the floor lies flat.
FLAT_DEG = 0.2
FLAT = "flat"

# On curved soles: below the first it falls, below the second it leans far and lives by its timing.
FALLS, SWAYS = 0.9, 1.2


def judged(r: Reading) -> str | None:
    if not not_worked_out(r) and r.of(rolls_s) is not None:
        return None
    why = not_rocking(r)
    if why:
        return why
    return "a thrown mass carries it over" if r.of(thrown) is not None else None


def rocks(r: Reading) -> Iterator[Finding]:
    """Warn where the cycle is not in step with the rocking; stop where it falls off its curved soles."""
    rolls = r.of(rolls_s)
    if rolls is not None:
        yield from _on_curved_soles(r, rolls)
        return
    rock, cycle = r.of(rocking), r.score.duration_s
    share = cycle / rock.period_s
    if rock.lean_deg < FLAT_DEG:
        yield Finding(
            "F09", "warn", "Does not rock",
            "It steps with its soles flat on the floor: nothing rocks it over on to the one that stands, and the other "
            f"does not come free. Sway it sideways until a sole leans by {degrees(FLAT_DEG)}; legs that cannot "
            "need a boom or a thrown mass.",
            (("", FLAT),), None, rock.lean_deg, FLAT_DEG, "°",
        )  # fmt: skip
        return
    yield from _across_a_slope(r)
    if LEAST <= share <= MOST:
        return
    how = "so quick that it hardly rocks" if share < LEAST else "slower than it rocks: each step adds to the next"
    yield Finding(
        "F09", "warn", "Steps out of time with its rocking",
        f"Leaning {degrees(rock.lean_deg)} it rocks from side to side in {seconds(rock.period_s)} and steps in "
        f"{seconds(cycle)}, {how}; keep {seconds(LEAST * rock.period_s)} to {seconds(MOST * rock.period_s)}.",
        (), None, share, MOST if share > MOST else LEAST, "of its rocking",
    )  # fmt: skip


def _across_a_slope(r: Reading) -> Iterator[Finding]:
    aside, hangs = r.of(slopes_aside_deg), r.of(hangs_aside_deg)
    if aside > STEEP_DEG:
        yield Finding(
            "F09", "stop", "Rocks to one side alone",
            f"Across a slope of {degrees(aside)} its rocking grows to one side until it falls, even where it leans "
            f"into it; keep it under {degrees(STEEP_DEG)}.",
            (("", SLOPE),), None, aside, STEEP_DEG, "°",
        )  # fmt: skip
    elif aside and hangs > HANGS_DEG:
        stops = hangs > FALLS_DEG
        yield Finding(
            "F09", "stop" if stops else "warn", "Rocks to one side alone",
            f"Across a slope of {degrees(aside)} its mass hangs {degrees(hangs)} to the lower side, and its rocking "
            f"{'grows' if stops else 'may grow'} that way until it falls; keep {degrees(HANGS_DEG)}.",
            (("", SLOPE),), None, hangs, FALLS_DEG if stops else HANGS_DEG, "°",
        )  # fmt: skip


def _on_curved_soles(r: Reading, rolls: float) -> Iterator[Finding]:
    cycle = r.score.duration_s
    share = cycle / rolls
    if share >= SWAYS:
        return
    how = "so quick that it may fall" if share < FALLS else "near which it leans far, and any push fells it"
    yield Finding(
        "F09", "stop" if share < FALLS else "warn", "Steps out of time with its rocking",
        f"On its curved soles it rocks from side to side and back in {seconds(rolls)} and steps in {seconds(cycle)}, "
        f"{how}; keep {seconds(SWAYS * rolls)} or more.",
        (), None, share, FALLS if share < FALLS else SWAYS, "of its rocking",
    )  # fmt: skip


def _slow_enough(mending: Mending) -> Iterator[Edit]:
    """On curved soles: the shortest cycle, in whole rows, in which it does not lean far."""
    rolls = mending.reading.of(rolls_s)
    if rolls is None:
        return
    row_s = mending.project.controller.frame_period_ms / 1000
    cycle = round(np.ceil(SWAYS * rolls / row_s) * row_s, 6)
    yield Edit(f"A cycle of {seconds(cycle)}", (replace(f"{mending.path}/cycle_s", cycle),))


def _read(r: Reading) -> Told | None:
    if judged(r) or (r.of(rolls_s) is None and r.of(rocking).lean_deg < FLAT_DEG):
        return None
    return (r.of(rolls_s) or r.of(rocking).period_s, None)


def _working(r: Reading) -> Lines:
    rolls = r.of(rolls_s)
    if rolls is not None:
        high = float(r.of(wrenches).centre[:, 2].mean())
        return (
            f"its mass is {length(1000 * high)} over the floor",
            f"{number(ROLLS_S, 2)} s·√(height in m) = {seconds(rolls)}; it steps in {seconds(r.score.duration_s)}",
            "as such machines rocked in a physics engine, legs of 110 to 280 mm: an estimate",
        )
    rock = r.of(rocking)
    return (
        f"its mass is {number(rock.edge_deg)}° from the outer border of a sole; it leans {degrees(rock.lean_deg)}",
        "period = (4/p)·acosh(1/(1 − θ/α)), p² = m·g·R/I about that border",
        f"= {seconds(rock.period_s)}; it steps in {seconds(r.score.duration_s)}",
    )


PERIOD = FigureSpec("rocks_s", "Rocks in", "s", 2, _read, _working, ("balance",), compared=True)

JUDGEMENT = Judgement(
    "F09",
    "It steps in time with its rocking",
    ("balance",),
    rocks,
    judged,
    figures=(PERIOD,),
    ways=(
        Turn("cycle"),
        Turn("sway_y", down=False),
        Offer(_slow_enough, any_motion=True),
        Offer(into_the_slope, keep="first"),
    ),
)
