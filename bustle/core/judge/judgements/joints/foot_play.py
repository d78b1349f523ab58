"""F29: backlash and horn slack add up at the foot."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from bustle.core.judge.figure import FigureSpec, Lines, Told
from bustle.core.judge.finding import Finding, Severity
from bustle.core.judge.judgement import Judgement, of_gaits
from bustle.core.judge.measures.feet.foot_play import FootPlay, foot_plays
from bustle.core.judge.ways import Turn
from bustle.core.walk.reading import Reading
from bustle.core.words.wording import also, length, number, told_apart


def foot_play(r: Reading) -> Iterator[Finding]:
    """Warn above the limit; stop where play eats the whole lift."""
    limit = r.project.limits.foot_play_mm
    plays = sorted(r.of(foot_plays), key=lambda p: -round(p.play_mm, 6))
    lift = r.gait.lift_mm if r.gait else 0.0
    steps = any(leg.duty < 1 for leg in r.timing.values())
    eaten = [p for p in plays if steps and p.up_mm >= lift > 0]
    found = eaten or [p for p in plays if p.play_mm > limit]
    if not found:
        return
    worst = found[0]
    names = [r.project.walker.limbs[p.limb].name for p in found]
    joint, play, lever = max(worst.joints, key=lambda j: j[1] * j[2])
    source = "measured" if worst.measured else "from the servo sheet, not measured"
    severity: Severity = "stop" if eaten else "warn"
    has, keep = told_apart(length, worst.play_mm, limit)
    eats = f" Of it {length(worst.up_mm)} is upward, out of a lift of {length(lift)}." if steps else ""
    yield Finding(
        "F29", severity, "Play at the foot",
        f"{names[0]}'s foot has {has} of play ({source}), most from its {joint}: "
        f"{number(play, 1)}° at {length(lever)}; keep {keep}.{eats}" + also(names[1:]),
        tuple((n, "") for n in names), None, worst.play_mm, limit, "mm",
    )  # fmt: skip


def _worst(r: Reading) -> FootPlay | None:
    return max(r.of(foot_plays), key=lambda p: round(p.play_mm, 6), default=None)


def _read(r: Reading) -> Told | None:
    play = r.of(_worst)
    return (play.play_mm, None) if play else None


def _working(r: Reading) -> Lines:
    play = r.of(_worst)
    assert play
    return (
        f"{r.project.walker.limbs[play.limb].name} at mid-stance:",
        *(f"{name}: {number(deg, 2)}° × {number(lever)} mm = {number(np.radians(deg) * lever, 2)} mm"
          for name, deg, lever in play.joints),
        f"together {number(play.play_mm, 2)} mm at worst",
    )  # fmt: skip


FOOT_PLAY = FigureSpec(
    "foot_play_mm", "Play at the foot", "mm", 1, _read, _working, ("leg", "frame"), better=-1, compared=True
)

JUDGEMENT = Judgement(
    "F29",
    "Play of the joints at the foot",
    ("leg",),
    foot_play,
    of_gaits,
    figures=(FOOT_PLAY,),
    ways=(Turn("feet_out"), Turn("ride_height"), Turn("lift", down=False)),
)
