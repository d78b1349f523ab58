"""What can be measured in ten minutes, each against the plan, and which verdicts turn when it is taken over.

A further measurement is a function and a line here.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from bustle.core.document.checked import CheckedProject
from bustle.core.edits.at_rest import AT_REST, standing
from bustle.core.edits.patches import patched
from bustle.core.evaluate import evaluate
from bustle.core.trials import pulled_and_pressed as by_hand
from bustle.core.trials import weighed
from bustle.core.trials.measurement import Against, Asked, Given, Measurement
from bustle.core.words.problems import refuse

# Of so many motions it is told which verdicts turn.
MOST_MOTIONS = 8

MEASUREMENTS: dict[str, Measurement] = {
    m.name: m
    for m in (
        Measurement(
            "scales",
            "A scale under each foot",
            "Kitchen scale under one foot, blocks of its height under the others; each foot in turn, servos holding.",
            (Asked("under", "under", "g", 0, 100_000, each_leg=True),),
            weighed.scales,
        ),
        Measurement(
            "tipped",
            "Tip it until it balances",
            "Tip it forwards over its foremost feet, by hand, until it stays; read how far it is tipped.",
            (Asked("tilt_deg", "Tipped by", "°", 1, 89),),
            weighed.tipped,
            "Hold it all the while; a large one takes two.",
        ),
        Measurement(
            "hung",
            "Ruler, floor to belly",
            "Hang it so that its feet just touch, servos holding; read floor to belly. Set it down; read again.",
            (Asked("hanging_mm", "Hanging", "mm", 0, 2000), Asked("standing_mm", "Standing", "mm", 0, 2000)),
            by_hand.hung_and_stood,
        ),
        Measurement(
            "wiggled",
            "Wiggle a foot",
            "Servos holding, move a foot to and fro with a finger; read how far it goes in all.",
            (Asked("play_mm", "Goes", "mm", 0, 200),),
            by_hand.wiggled,
        ),
        Measurement(
            "pulled",
            "Spring balance on an arm",
            "An arm of 50 mm on the horn; pull at its end at a right angle until the servo gives in.",
            (Asked("pull_g", "Balance shows", "g", 1, 100_000), Asked("arm_mm", "Arm", "mm", 5, 500, 50.0)),
            by_hand.pulled,
            "One second, then off: a stalled servo burns. Keep fingers out of the horn's way.",
        ),
        Measurement(
            "pressed",
            "A known weight on the floor",
            "Set a weight on a foot's sole on the floor it is to walk on; read how far it sinks in.",
            (
                Asked("weight_g", "Weight", "g", 1, 100_000, 1000.0),
                Asked("sinks_mm", "Sinks", "mm", 0, 200),
                Asked("bounces", "Springs back: 1 yes, 0 no", "", 0, 1, 0.0),
            ),
            by_hand.pressed_in,
        ),
        Measurement(
            "slid",
            "Tilt a board until it slips",
            "Servos holding, on a board of that floor: raise its end until a foot slips, facing up, then across.",
            (Asked("ahead_deg", "Facing up, at", "°", 1, 70), Asked("across_deg", "Across, at", "°", 1, 70)),
            by_hand.slid,
            "Hold a hand below it.",
        ),
    )
}


@dataclass(frozen=True)
class Turned:
    """A verdict that turns: of which motion, its code, what it was and what it is ("sound" or a severity)."""

    motion: str
    code: str
    before: str
    after: str


@dataclass(frozen=True)
class Taken:
    against: tuple[Against, ...]
    project: CheckedProject
    turned: tuple[Turned, ...]


def asked_of(project: CheckedProject, measurement: Measurement) -> tuple[Asked, ...]:
    """What is read of this machine: one number a foot where each is weighed."""
    feet = [limb.name for limb in project.walker.limbs if limb.feet]
    found: list[Asked] = []
    for a in measurement.asked:
        found += [Asked(n, f"{n}, {a.label}", a.unit, a.low, a.high) for n in feet] if a.each_leg else [a]
    return tuple(found)


def taken(project: CheckedProject, name: str, motion: str, values: Mapping[str, float]) -> Taken:
    """What one measurement comes to. Raises InputRefused naming the number that is missing or out of its ends."""
    measurement = MEASUREMENTS.get(name)
    if measurement is None:
        raise refuse("measurement", f"must be one of {', '.join(MEASUREMENTS)}, got {name[:40]!r}")
    stands = standing(project, motion)
    still = evaluate(stands, AT_REST, 2).reading
    asked = asked_of(project, measurement)
    for a in asked:
        given = values.get(a.name)
        if given is None and any(b.each_leg for b in measurement.asked):
            continue
        if given is None:
            raise refuse(f"values.{a.name}", "is missing: what was read")
        if not a.low <= given <= a.high:
            raise refuse(f"values.{a.name}", f"must be from {a.low:g} to {a.high:g} {a.unit}, got {given:g}".rstrip())
    against = measurement.told(Given(project, motion, still, values))
    after = patched(project, [operation for a in against for operation in a.patch])
    return Taken(against, after, tuple(_turned(project, after)))


def _turned(before: CheckedProject, after: CheckedProject) -> list[Turned]:
    found = []
    for motion in before.motions[:MOST_MOTIONS]:
        was, now = (_worst(project, motion.name) for project in (before, after))
        for code in sorted({*was, *now}):
            one, other = was.get(code, "sound"), now.get(code, "sound")
            if one != other:
                found.append(Turned(motion.name, code, one, other))
    return found


def _worst(project: CheckedProject, motion: str) -> dict[str, str]:
    """The worst severity of each code."""
    found: dict[str, str] = {}
    for finding in evaluate(project, motion).findings:
        found.setdefault(finding.code, finding.severity)
    return found
