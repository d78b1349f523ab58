"""F19: a walk two by two leans while it is on two feet or on one, on to a foot in the air or further."""

from __future__ import annotations

from collections.abc import Callable, Iterator

import numpy as np

from bustle.core.falling.pushing_point import on_broad_soles
from bustle.core.falling.stretch import LATE_S
from bustle.core.falling.tipping import Lean, leans
from bustle.core.judge.figure import FigureSpec, Lines, Told
from bustle.core.judge.finding import Finding, Severity
from bustle.core.judge.judgement import Judgement
from bustle.core.judge.judgements.balance.into_the_slope import into_the_slope
from bustle.core.judge.ways import Offer, Turn
from bustle.core.loads.told import STOPS_ANYWHERE, not_told
from bustle.core.walk.plumb import downhill
from bustle.core.walk.reading import Reading
from bustle.core.words.wording import degrees, length, number, percent, seconds, told_apart

# Leaning further than it, a machine does not come back on to its feet.
STOP_DEG = 8.0
# What it leans it takes on to the next step by so much. Of 153 trots of four upright legs drawn at random (feet far
# apart or near, 0.80 to 0.94 of the leg high, three paces) and played in a physics engine, 16 were above STOP_CARRIED:
# 9 fell and 6 went badly (under 0.8 of their way, or leaning above 10°). 18 were above WARN_CARRIED: 2 fell and 7 went
# badly. Of the 119 others 10 went badly, and none fell. Of 57 more on which nothing was picked 6, 6 and 45 were so: 5,
# 2 and none fell, 1, 2 and 9 went badly.
WARN_CARRIED, STOP_CARRIED = 3.0, 4.5
TAKEN_ON, SLOPE = "taken on", "slope"
# On a slope a trot leans one way all the time, and drags the feet there that it swings. Four machines (upright legs of
# 220 and 120 mm, of two joints of 200, sprawled ones of 150) on slopes of 2 to 20°, uphill, across and downhill, played
# in a physics engine with a friction of 0.8: uphill and across, with less than DRAGS_WARN of the weight on such a foot
# they went 58 to 101 % of their way, up to DRAGS_STOP 48 to 100 %, and above it 66 % at most, but for the sprawled
# one across. Downhill, where its weight takes it on, one of five that were above DOWNHILL times as much went badly.
DRAGS_WARN, DRAGS_STOP, DOWNHILL = 0.05, 0.08, 2.0
# So much of the slope lies along its way for that way to be down it.
ALONG = 0.7
# A pace or a bound falls from one side on to the other: slower than so many times √(height/160 mm) seconds a cycle it
# falls over.
SLOWEST_S, SLOWEST_AT_MM = 0.8, 160.0


def judged(r: Reading) -> str | None:
    if r.balance == "static":
        return STOPS_ANYWHERE
    if len(r.project.walker.legs) < 3 or len(r.kit.supports):
        return "it never stands on two feet alone"
    if on_broad_soles(r):
        return "its soles are broad, and it is judged by where it pushes"
    # It leans by where its mass is, also where its feet drag it on.
    why = not_told(r)
    if why:
        return why
    return None if r.of(leans) else "it never stands on two feet alone"


def leans_over(r: Reading) -> Iterator[Finding]:
    """What stops it, on a slope or on any floor, else what warns of it."""
    anywhere, sloping = [*_anywhere(r)], [*_drags_on_a_slope(r)]
    stops = [finding for finding in (*anywhere, *sloping) if finding.severity == "stop"]
    yield from stops[:1] or sloping or anywhere


def _anywhere(r: Reading) -> Iterator[Finding]:
    """Warn above the lean allowed and where it rests on a lifted foot; stop above 8°, where nothing catches it, and on
    three legs where it rests: in a physics engine six such machines went 17 to 55 % of their way, and turned the wrong
    way round. On a single foot it always falls until a lifted one is touched, so that what it would tip tells: of 18
    walks with phases and duties drawn at random that would tip more than 8°, 16 went less than 80 % of their way in the
    engine, of 25 others seven.
    """
    found, limit = r.of(leans), r.project.limits.lean_deg
    # What a low foot catches early leans little, and that foot is dragged.
    worst = next((one for one in found if one.told_deg > limit or (one.rests and one.tips_deg > limit)), found[0])
    time, limbs = float(worst.row * r.row_s), r.project.walker.limbs
    if worst.feet == 1 and worst.told_deg > STOP_DEG:
        yield _rests_on_what_it_lifts(r, worst, "let another foot down before it lifts so many")
        return
    if worst.one_sided and r.gait is not None:
        slowest = SLOWEST_S * float(np.sqrt(worst.high_mm / SLOWEST_AT_MM))
        quick = r.gait.cycle_s < slowest
        yield Finding(
            "F19", "warn" if quick else "stop", "Needs a sensor" if quick else "Falls to one side",
            f"Its mass lies {length(worst.beside_mm)} beside the two feet it is on: "
            + (f"at {seconds(r.gait.cycle_s)} a cycle it may keep up, with a sensor that tells how it leans; "
               if quick else f"{seconds(r.gait.cycle_s)} a cycle is too slow to catch it; ")
            + f"stay under {seconds(slowest)}.", (), time, r.gait.cycle_s, slowest, "s",
        )  # fmt: skip
        return
    far = worst.told_deg > limit or (worst.rests and worst.tips_deg > limit)
    foot = limbs[worst.foot].name if worst.foot >= 0 else ""
    subjects = ((foot, ""),) if foot else ()
    if far and worst.rests and foot and len(r.project.walker.legs) == 3:
        # Of three feet the one in the air is where the mass is.
        yield _rests_on_what_it_lifts(r, worst, "give it a caster or a leg more")
        return
    on = max(found, key=lambda one: round(one.carried, 9))
    if on.carried > STOP_CARRIED:
        yield _taken_on(r, on, "stop", "Rocks itself over")
        return
    if not far:
        if on.carried > WARN_CARRIED:
            yield _taken_on(r, on, "warn", "Leans more with each step")
        return
    if foot and worst.told_deg <= limit:
        # It leans no further, but only because it rests there.
        yield _rests_on_what_it_lifts(r, worst, None)
        return
    unheld = not foot and worst.tips_deg > limit
    told, keep = told_apart(degrees, worst.told_deg, limit)
    tells = f"{'leans' if worst.feet == 2 else 'would tip'} {told}"
    severity: Severity = "stop" if worst.leans_deg > STOP_DEG or unheld else "warn"
    caught = f"on to {foot}" if foot else "and no lifted foot is on that side"
    rests = " and rests on it" if worst.rests and foot else ""
    yield Finding(
        "F19", severity, "Falls over in mid-swing" if severity == "stop" else "Leans in mid-swing",
        f"It is {seconds(worst.takes_s)} on {_feet(worst)} and {tells} {caught}{rests} by "
        f"{seconds(time)}; keep {keep}.",
        subjects, time, worst.told_deg, limit, "°",
    )  # fmt: skip


def _rests_on_what_it_lifts(r: Reading, on: Lean, instead: str | None) -> Finding:
    """A stop that names what to do instead; a warning where it may walk so."""
    time, limit = float(on.row * r.row_s), r.project.limits.lean_deg
    foot = r.project.walker.limbs[on.foot].name if on.foot >= 0 else ""
    tips, keep = told_apart(degrees, on.tips_deg, limit)
    title = "Rests on a lifted foot" if foot else "Falls over in mid-swing"
    return Finding(
        "F19", "stop" if instead else "warn", title if instead else "Leans in mid-swing",
        f"It is {seconds(on.takes_s)} on {_feet(on)} and would tip {tips} by {seconds(time)}: "
        + (f"it rests on {foot}, which is to be in the air" if foot else "no lifted foot is on that side")
        + f"; keep {keep}" + (f", or {instead}." if instead else "."),
        ((foot, ""),) if foot else (), time, on.tips_deg, limit, "°",
    )  # fmt: skip


def _feet(lean: Lean) -> str:
    return "two feet" if lean.feet == 2 else "one foot"


def _drags_on_a_slope(r: Reading) -> Iterator[Finding]:
    pull, found = r.of(downhill), [one for one in r.of(leans) if one.feet == 2]
    steep = float(np.hypot(*pull))
    if not steep or not found:
        return
    worst = max(found, key=lambda one: round(one.drags, 9))
    way = np.array(r.goes_on[:2])
    size = float(np.hypot(*way))
    bears = DOWNHILL if size and way @ pull > ALONG * size * steep else 1.0
    share, slope = float(np.mean([min(one.drags, 1.0) for one in found])), degrees(r.project.floor.slope_deg)
    if share <= DRAGS_WARN * bears:
        return
    severity: Severity = "stop" if share > DRAGS_STOP * bears else "warn"
    foot = r.project.walker.limbs[worst.foot].name if worst.foot >= 0 else "a foot"
    takes, keep = told_apart(percent, share, DRAGS_WARN * bears)
    yield Finding(
        "F19", severity, "Drags its feet on the slope",
        f"On a slope of {slope} its mass lies so far beside the two feet it is on that those in the air, first {foot}, "
        f"take {takes} of the weight; keep {keep}.",
        ((foot, SLOPE),) if worst.foot >= 0 else (("", SLOPE),), float(worst.row * r.row_s), share, DRAGS_WARN * bears,
        "of the weight",
    )  # fmt: skip


def _taken_on(r: Reading, on: Lean, severity: Severity, title: str) -> Finding:
    time, keep = float(on.row * r.row_s), number(WARN_CARRIED, 0)
    return Finding(
        "F19", severity, title,
        f"It is {seconds(on.takes_s)} on two feet, {length(on.high_mm)} high over feet that stand long and narrow: a "
        f"lean is taken on to the next step {number(on.carried, 1)}-fold; keep {keep}.",
        (("", TAKEN_ON),), time, on.carried, WARN_CARRIED, "×",
    )  # fmt: skip


def _read(r: Reading) -> Told | None:
    if judged(r):
        return None
    worst = r.of(leans)[0]
    return worst.told_deg, float(worst.row * r.row_s)


def _working(r: Reading) -> Lines:
    worst = r.of(leans)[0]
    fall = number(worst.tips_deg, 1)
    return (
        f"{seconds(worst.takes_s)} on {_feet(worst)}, its mass up to {number(worst.beside_mm)} mm beside "
        + ("their line" if worst.feet == 2 else "it"),
        f"and {number(worst.high_mm, 0)} mm high: I·θ̈ = m·g·(e + h·θ) − m·h·ë from rest leans it {fall}° by the end",
        "(I of all parts about that line)"
        + (f"; it comes to rest on a foot in the air at {degrees(worst.leans_deg)}" if worst.rests else ""),
    )


LEANS = FigureSpec("lean_deg", "Leans in mid-swing", "°", 1, _read, _working, ("balance",), better=-1, compared=True)


def _furthest(r: Reading, name: str) -> Lean:
    return max(r.of(leans), key=lambda one: round(float(getattr(one, name)), 6))


def _worst_of(name: str) -> Callable[[Reading], Told | None]:
    def read(r: Reading) -> Told | None:
        if judged(r):
            return None
        worst = _furthest(r, name)
        return float(getattr(worst, name)), float(worst.row * r.row_s)

    return read


def _late_working(r: Reading) -> Lines:
    return (
        f"a foot that catches on something comes down {number(LATE_S, 1)} s later, and the same equation goes on",
        f"for as long, until a foot in the air touches: {degrees(_furthest(r, 'late_deg').late_deg)}",
    )


def _stopped_working(r: Reading) -> Lines:
    return (
        "stopped at the worst instant its mass goes on with the speed it had, to one side of the two feet it is on,",
        "until a foot that hangs there touches: atan(its height / its distance from their line); 90° where none does",
        f"= {degrees(_furthest(r, 'stopped_deg').stopped_deg)}",
    )


def _carried_working(r: Reading) -> Lines:
    on = _furthest(r, "carried")
    share = number(on.carried / max(on.grows, 1e-9), 2)
    return (
        "|n·n'|·cosh(T·√(m·g·h/I))·h/D, n and n' square to the line of the two feet it is on and of the next two,",
        f"T = {seconds(on.takes_s)}, h = {length(on.high_mm)}, D from their line to a foot in the air: "
        f"{number(on.grows, 1)} times the share {share} that lies across the next line",
        f"= {number(on.carried, 1)}; in a physics engine trots rock themselves over above {number(STOP_CARRIED, 1)}",
    )


CARRIED = FigureSpec(
    "lean_carried",
    "A lean taken on to the next step",
    "×",
    1,
    _worst_of("carried"),
    _carried_working,
    ("balance",),
    better=-1,
    compared=True,
)
LATE = FigureSpec(
    "lean_late_deg",
    f"Leans, a foot caught {number(LATE_S, 1)} s",
    "°",
    1,
    _worst_of("late_deg"),
    _late_working,
    ("balance",),
    better=-1,
    compared=True,
)
STOPPED = FigureSpec(
    "lean_stopped_deg",
    "Leans, stopped in mid-swing",
    "°",
    1,
    _worst_of("stopped_deg"),
    _stopped_working,
    ("balance",),
    better=-1,
    compared=True,
)

JUDGEMENT = Judgement(
    "F19",
    "It is on all feet again before it leans far",
    ("balance",),
    leans_over,
    judged,
    figures=(LEANS, LATE, STOPPED, CARRIED),
    ways=(
        Offer(into_the_slope, keep="first"),
        Turn("cycle", up=False),
        # Of those that take their lean on, some that were longer on the floor still fell in the engine.
        Turn("duty", down=False, subject=""),
        Turn("feet_out", down=False),
        Turn("shift_x"),
        Turn("shift_y"),
        Turn("lift", up=False),
    ),
)
