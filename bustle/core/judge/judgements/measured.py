"""F28 a foot that drifts as it goes up and down, F29 play that adds up at the foot."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from bustle.core.judge.judgements.finding import Finding, Severity
from bustle.core.machine.foot_drift import drift_left_mm, explanations
from bustle.core.walk.reading import Evidence
from bustle.core.words.wording import also, length, number

# Drift that a ruler cannot tell from none.
READ_MM = 1.0


def drifting(e: Evidence) -> Iterator[Finding]:
    """F28: measured drift over height that the known built leg does not account for, with what explains it best."""
    walker = e.project.walker
    limbs = {limb.name: limb for limb in walker.limbs}
    for truth in walker.as_built.limbs:
        limb = limbs[truth.limb]
        if len(truth.drift) < 2 or not limb.steps:
            continue
        left = drift_left_mm(walker, limb, truth.drift, truth)
        spread = float(np.linalg.norm(left[:, None] - left[None], axis=-1).max())
        if spread <= READ_MM:
            continue
        best = explanations(walker, limb, truth.drift, truth)[0]
        unit = "°" if best.kind == "zero" else " mm"
        amount = f"{number(abs(best.amount), 1)}{unit} {'more' if best.amount > 0 else 'less'}"
        what = f"a {best.part} zero" if best.kind == "zero" else f"a {best.part} length of"
        yield Finding(
            "F28", "warn", "Foot drifts with height",
            f"{limb.name}'s foot drifts {length(spread)} over its height; {what} {amount} than drawn explains it "
            f"best, with {length(best.left_mm)} left over.",
            ((limb.name, best.part),), None, spread, READ_MM, "mm",
        )  # fmt: skip


def foot_play(e: Evidence) -> Iterator[Finding]:
    """F29: warn above the limit; stop where play eats the whole lift."""
    limit = e.project.limits.foot_play_mm
    plays = sorted(e.foot_plays, key=lambda p: -p.play_mm)
    lift = e.gait.lift_mm if e.gait else 0.0
    steps = any(leg.duty < 1 for leg in e.timing.values())
    eaten = [p for p in plays if steps and p.up_mm >= lift > 0]
    found = eaten or [p for p in plays if p.play_mm > limit]
    if not found:
        return
    worst = found[0]
    names = [e.project.walker.limbs[p.limb].name for p in found]
    joint, play, lever = max(worst.joints, key=lambda j: j[1] * j[2])
    source = "measured" if worst.measured else "from the servo sheet, not measured"
    severity: Severity = "stop" if eaten else "warn"
    eats = f" Of it {length(worst.up_mm)} is upward, out of a lift of {length(lift)}." if steps else ""
    yield Finding(
        "F29", severity, "Play at the foot",
        f"{names[0]}'s foot has {length(worst.play_mm)} of play ({source}), most from its {joint}: "
        f"{number(play, 1)}° at {length(lever)}; keep {length(limit)}.{eats}" + also(names[1:]),
        tuple((n, "") for n in names), None, worst.play_mm, limit, "mm",
    )  # fmt: skip
