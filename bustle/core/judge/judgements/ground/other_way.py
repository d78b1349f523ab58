"""F54: the legs walk another way than the plan."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from bustle.core.edits.patches import replace
from bustle.core.judge.figure import FigureSpec, Lines, Told
from bustle.core.judge.finding import Finding, Severity
from bustle.core.judge.judgement import Judgement
from bustle.core.judge.judgements.ground.scuffing import other_keep
from bustle.core.judge.measures.way_walked import Deviation, asked_twist, deviation, share_walked
from bustle.core.judge.ways import Edit, Mending, Offer
from bustle.core.project.motion import Keyframes, PhaseGait
from bustle.core.walk.reading import Reading
from bustle.core.words.wording import degrees, length, number

WARN, STOP, NO_JOINT, HALF = 0.05, 0.25, 0.9, 0.5
# So little of its way, at the feet, is a turn that trims it.
TRIM = 0.1
# A boom goes round its post: what it holds may turn with it, in no smaller circle, mm.
BOOM_CIRCLE_MM = 500.0
# Where next to nothing is asked, mm.
ASKED_MM, WARN_MM = 1.0, 2.0
# What goes by less than this share of what its legs are led by goes nowhere.
NOWHERE = 0.1


def not_judged(r: Reading) -> str | None:
    if _led(r):
        return None if r.of(share_walked) < NOWHERE else "its travel is taken from its legs"
    return None if r.of(deviation) else "only a gait or a set of frames with feet that stand still has a way of its own"


def _led(r: Reading) -> bool:
    return isinstance(r.motion, PhaseGait) and r.motion.travel == "implied"


def _goes_nowhere(r: Reading) -> Iterator[Finding]:
    """Of legs that are led a way that they have no joint for."""
    share = r.of(share_walked)
    if share < NOWHERE:
        yield Finding(
            "F54", "warn", "Goes nowhere",
            f"Its feet slide as they are led and take it {number(100 * max(0.0, share), 0)} % of that way; keep "
            f"{number(100 * NOWHERE, 0)} %. Legs without a joint for it do not go there: take the walk out, or lead "
            "them another way.",
            tuple((leg.name, "led") for leg in r.project.walker.legs), None, 100 * share, 100 * NOWHERE, "%",
        )  # fmt: skip


def _ways(r: Reading) -> str:
    """What the legs walk and what was asked, in the words of this motion."""
    found = r.of(deviation)
    assert found
    asked = r.of(asked_twist) * r.score.duration_s
    gone, turn = float(np.hypot(*found.gone[:2])), float(np.degrees(found.gone[2]))
    told, asked_turn = float(np.hypot(*asked[:2])), float(np.degrees(asked[2]))
    words = []
    if max(gone, told) > ASKED_MM:
        words.append(f"{length(gone)} where {length(told)} are asked")
    if max(abs(turn), abs(asked_turn)) > 0.1:
        words.append(f"{degrees(turn)} round where {degrees(asked_turn)} are asked")
    return " and ".join(words) or f"{length(found.off_mm)} where nothing is asked"


def _held_back(r: Reading) -> Iterator[Finding]:
    """What a boom or a rail does not let it do."""
    held = r.project.walker.held
    if held == "free" or not isinstance(r.motion, (PhaseGait, Keyframes)):
        return
    twist = r.motion.twist
    ahead, aside, round_ = twist.vx_mm_s, twist.vy_mm_s, twist.omega_deg_s
    lets = float(np.degrees(abs(ahead) / BOOM_CIRCLE_MM)) if held == "boom" else 0.0
    asked = [f"{length(aside)}/s sideways"] * (aside != 0.0) + [f"{degrees(round_)}/s of turning"] * (
        abs(round_) > lets
    )
    if not asked:
        return
    value, limit, unit = (abs(round_), lets, "°/s") if abs(round_) > lets else (abs(aside), 0.0, "mm/s")
    yield Finding(
        "F54",
        "stop",
        f"Held by its {held}",
        f"Its {held} lets it go ahead and back alone; {' and '.join(asked)} are asked.",
        tuple((leg.name, "held") for leg in r.project.walker.legs),
        None,
        value,
        limit,
        unit,
    )


def _hardly_turns(r: Reading, found: Deviation) -> bool:
    """Whether less than half of a turn comes about. On a wide arc that is little at the feet, and another course after
    some cycles; what only trims a way straight is not meant."""
    asked = float(r.of(asked_twist)[2]) * r.score.duration_s
    feet = [leg.neutral_mm for leg in r.project.walker.legs if leg.neutral_mm is not None]
    takes_mm = abs(asked) * float(np.sqrt(np.square(feet).sum(axis=1).mean()))
    return takes_mm > TRIM * found.asked_mm and float(found.gone[2]) / asked < HALF


def other_way(r: Reading) -> Iterator[Finding]:
    yield from _held_back(r)
    if _led(r):
        yield from _goes_nowhere(r)
        return
    found = r.of(deviation)
    assert found
    if found.asked_mm > ASKED_MM:
        if found.share < WARN:
            return
        severity: Severity = "stop" if found.share >= STOP or _hardly_turns(r, found) else "warn"
        yield Finding(
            "F54", severity, "Walks another way",
            f"By its feet on the floor it goes {_ways(r)} each cycle, "
            f"{number(100 * found.share, 0)} % off at the feet; keep {number(100 * WARN, 0)} %."
            + (" It has no joint for this way." if found.share > NO_JOINT else ""),
            (), None, 100 * found.share, 100 * WARN, "%",
        )  # fmt: skip
    elif found.off_mm > WARN_MM:
        yield Finding(
            "F54", "warn", "Walks away",
            f"By its feet on the floor it goes {length(found.off_mm)} each cycle where nothing is asked; "
            f"keep {length(WARN_MM)}.",
            (), None, found.off_mm, WARN_MM, "mm",
        )  # fmt: skip


def _ahead_alone(m: Mending) -> Iterator[Edit]:
    if m.finding.subject == "held":
        twist = {**m.project.motion(m.motion).model_dump()["twist"], "vy_mm_s": 0.0, "omega_deg_s": 0.0}
        yield Edit("Ahead and back alone", (replace(f"{m.path}/twist", twist),))


def _as_it_goes(m: Mending) -> Iterator[Edit]:
    """The plan is told by what the legs do; the table stays as it is."""
    if isinstance(m.project.motion(m.motion), PhaseGait) and not m.finding.subject:
        yield Edit("Plan the way its legs walk", (replace(f"{m.path}/travel", "implied"),))


def _read(r: Reading) -> Told | None:
    found = r.of(deviation)
    return (100 * found.share, None) if found and found.asked_mm > ASKED_MM else None


def _working(r: Reading) -> Lines:
    found = r.of(deviation)
    assert found
    return (
        "between rows, the twist that leaves the standing feet least creep over the floor (least squares)",
        f"a cycle: {_ways(r)}",
        "at the neutral feet, root of the mean square over the legs:",
        f"{length(found.off_mm)} off / {length(found.asked_mm)} asked = {number(100 * found.share)} %",
    )


OFF_THE_WAY = FigureSpec(
    "off_the_way", "Off the way asked", "%", 1, _read, _working, ("stride", "motions"), better=-1, compared=True
)

JUDGEMENT = Judgement(
    "F54",
    "The legs walk the way that is asked",
    ("stride",),
    other_way,
    not_judged,
    limits_stride=False,
    figures=(OFF_THE_WAY,),
    ways=(Offer(_ahead_alone), Offer(other_keep), Offer(_as_it_goes)),
)
