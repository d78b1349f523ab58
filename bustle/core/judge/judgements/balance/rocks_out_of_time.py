"""F09: a timed side-to-side rock gains energy each step until it tips, or dies away."""

from __future__ import annotations

from collections.abc import Iterator

from bustle.core.judge.figure import FigureSpec, Lines, Told
from bustle.core.judge.finding import Finding
from bustle.core.judge.judgement import Judgement
from bustle.core.judge.ways import Turn
from bustle.core.loads.rocking import not_rocking, rocking, thrown
from bustle.core.walk.reading import Reading
from bustle.core.words.wording import degrees, number, seconds

# A cycle is kept between these shares of the period in which it rocks at its lean.
LEAST, MOST = 0.75, 1.0


def judged(r: Reading) -> str | None:
    why = not_rocking(r)
    if why:
        return why
    return "a thrown mass carries it over" if r.of(thrown) is not None else None


def rocks(r: Reading) -> Iterator[Finding]:
    """Warn where the cycle is not in step with the rocking."""
    rock, cycle = r.of(rocking), r.score.duration_s
    share = cycle / rock.period_s
    if LEAST <= share <= MOST:
        return
    how = "so quick that it hardly rocks" if share < LEAST else "slower than it rocks: each step adds to the next"
    yield Finding(
        "F09", "warn", "Steps out of time with its rocking",
        f"Leaning {degrees(rock.lean_deg)} it rocks from side to side in {seconds(rock.period_s)} and steps in "
        f"{seconds(cycle)}, {how}; keep {seconds(LEAST * rock.period_s)} to {seconds(MOST * rock.period_s)}.",
        (), None, share, MOST if share > MOST else LEAST, "of its rocking",
    )  # fmt: skip


def _read(r: Reading) -> Told | None:
    return None if judged(r) else (r.of(rocking).period_s, None)


def _working(r: Reading) -> Lines:
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
    stops=False,
    figures=(PERIOD,),
    ways=(Turn("cycle"), Turn("sway_y", down=False)),
)
