"""What mends a finding: the smallest change of one thing that clears it without adding a stop.

Each lever is turned from where it stands, both ways, in widening strides until the finding is gone, then back by
halves to the finest turn that still clears it. Other ways are tried whole.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from math import ceil, floor

from bustle.core.document.checked import CheckedProject
from bustle.core.edits.levers import LEVERS, Lever
from bustle.core.evaluate import Plan, evaluate
from bustle.core.judge.judgements.finding import Finding
from bustle.core.project.motion import PhaseGait
from bustle.core.project.project import gait_of
from bustle.core.search import ways_of_building as building
from bustle.core.search import ways_of_landing as landing
from bustle.core.search import ways_of_walking as walking
from bustle.core.search.attempt import Case, Change, Remedy, Way
from bustle.core.words.wording import number

# Shares of a lever's throw that are tried, outwards.
STRIDES = (0.02, 0.05, 0.1, 0.16, 0.24, 0.34, 0.48, 0.7, 1.0)


def _turned(lever: Lever, case: Case, bound: float) -> Remedy | None:
    """The least turn of the lever towards `bound` that clears the finding, to the lever's step."""
    start = lever.read(case.project, gait_of(case.project, case.motion))
    throw = bound - start
    if abs(throw) < lever.step:
        return None

    def at(turns: int) -> float:
        """A lever goes to whole steps of its scale, so that the number kept is one a builder would type."""
        if lever.relative:
            return start + (lever.step if throw > 0 else -lever.step) * turns
        here = round(start / lever.step, 6)
        return (floor(here) + turns if throw > 0 else ceil(here) - turns) * lever.step

    def attempt(turns: int) -> Plan | None:
        return case.cleared_by(lever.patch(case.project, case.motion, at(turns)))

    most = int(abs(throw) / lever.step + 1e-9)
    missed, good, plan = 0, 0, None
    for share in STRIDES:
        good = max(missed + 1, round(most * share))
        if good > most:
            return None
        plan = attempt(good)
        if plan:
            break
        missed = good
    if plan is None:
        return None
    while good - missed > 1:
        middle = (good + missed) // 2
        trial = attempt(middle)
        if trial:
            good, plan = middle, trial
        else:
            missed = middle
    value = at(good)
    if lever.say:
        title = lever.say(case.project, gait_of(case.project, case.motion), value)
    else:
        unit = f" {lever.unit}" if lever.unit not in ("", "°") else lever.unit
        digits = len(f"{lever.step:g}".partition(".")[2])
        title = f"{lever.label} {number(start, digits + 1)} → {number(value, digits)}{unit}"
    return case.remedy(title, lever.patch(case.project, case.motion, value), plan)


def turn(name: str, up: bool = True, down: bool = True) -> Way:
    """A way that turns one lever."""
    lever = LEVERS[name]

    def way(case: Case) -> Iterator[Remedy]:
        bounds = ([lever.high] if up else []) + ([lever.low] if down else [])
        for bound in bounds:
            remedy = _turned(lever, case, bound)
            if remedy:
                yield remedy

    return way


def _finer_rows(case: Case) -> Iterator[Remedy]:
    if case.finding.subject == "step":
        yield from turn("pace", up=False)(case)


WAYS: dict[str, Sequence[Way]] = {
    "F15": (turn("ride_height"), turn("feet_out"), turn("stride", up=False), turn("lift", up=False)),
    "F17": (turn("stride", up=False), turn("ride_height"), turn("feet_out"), turn("lift", up=False)),
    "F18": (
        walking.sway,
        walking.order,
        turn("shift_x"),
        turn("shift_y"),
        turn("duty", down=False),
        turn("feet_out", down=False),
    ),
    "F06": (turn("pace", up=False), turn("duty", up=False), turn("stride", up=False), turn("lift", up=False)),
    "F47": (turn("ride_height"), turn("feet_out"), turn("stride", up=False)),
    "F12": (walking.heave, walking.other_keep, turn("stride", up=False)),
    "F13": (turn("omega"), turn("stride", up=False)),
    "F16": (turn("stride", up=False), turn("feet_out"), turn("ride_height"), turn("lift", up=False)),
    "F46": (turn("ride_height", down=False),),
    "F40": (turn("feet_out"), turn("ride_height"), turn("stride", up=False)),
    "F45": (building.longer_lead, turn("stride", up=False)),
    "F36": (building.other_fold,),
    "F24": (turn("lift", down=False), landing.squarer_path),
    "F25": (landing.softly, turn("pace", up=False), turn("lift", up=False)),
    "F48": (turn("search", down=False), turn("search", up=False), turn("feet_out", down=False), landing.softly),
    "F49": (landing.while_all_stand, landing.arms_slower),
    "F43": (building.fewer_at_once,),
    "F39": (landing.in_steps,),
    "F23": (building.upper_feet, landing.right_way_up),
    "F28": (building.record_drift,),
    "F29": (turn("feet_out"), turn("ride_height"), turn("lift", down=False)),
    "F38": (walking.whole_rows, walking.servo_period, _finer_rows),
}


# Ways that turn nothing a gait alone has.
FOR_ANY_MOTION: Sequence[Way] = (
    building.longer_lead,
    building.other_fold,
    building.record_drift,
    building.fewer_at_once,
    walking.servo_period,
)


def remedies(project: CheckedProject, motion: str, finding: Finding) -> list[Remedy]:
    """Every way that clears the finding, in the order in which builders try them. Empty: none exists in reach."""
    case = Case(project, motion, finding, evaluate(project, motion))
    ways = WAYS[finding.code]
    if not isinstance(project.motion(motion), PhaseGait):
        ways = [way for way in ways if way in FOR_ANY_MOTION]
    return [remedy for way in ways for remedy in way(case)]


__all__ = ["WAYS", "Change", "Remedy", "remedies", "turn"]
