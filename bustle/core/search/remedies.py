"""What mends a finding: the smallest change of one thing that clears it without adding a stop.

Each lever is turned from where it stands, both ways, in widening strides until the finding is gone, then back by
halves to the finest turn that still clears it. Other ways are tried whole.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from math import ceil, floor
from typing import Any

from bustle.core.document.checked import CheckedProject
from bustle.core.edits.levers import LEVERS, Lever, motion_index
from bustle.core.edits.patches import patched, replace
from bustle.core.evaluate import Plan, evaluate
from bustle.core.falling.pushing_point import not_pushing
from bustle.core.judge.finding import Finding
from bustle.core.judge.registry import JUDGEMENTS
from bustle.core.judge.ways import Found, Offer, Turn, Way
from bustle.core.project.motion import FreeWalk, PhaseGait, Programme, Transition, named_by
from bustle.core.project.project import gait_of
from bustle.core.search.attempt import Attempt, Remedy, edits
from bustle.core.search.least_slip_heave import heaved
from bustle.core.search.pendulum_sway import pendulum_sway
from bustle.core.search.progress import Tell, silent
from bustle.core.search.smallest_sway import swayed
from bustle.core.words.wording import number

# Shares of a lever's throw that are tried, outwards.
STRIDES = (0.02, 0.05, 0.1, 0.16, 0.24, 0.34, 0.48, 0.7, 1.0)
# Of the motions that a programme joins so many are turned.
JOINED_TRIED = 3


def remedies(project: CheckedProject, motion: str, finding: Finding, tell: Tell = silent) -> list[Remedy]:
    """Every way that clears the finding, in the order in which builders try them, each in the motion itself and, where
    it joins others, in those. Empty: none exists in reach."""
    tried = [*_tried(project, motion, finding)]
    found: list[Remedy] = []
    for n, (way, attempt) in enumerate(tried):
        tell(n, len(tried), "looking for what mends it")
        # What changes the walker comes of each motion that is turned.
        found += [r for r in done(way, attempt) if edits(r.patch) not in [edits(known.patch) for known in found]]
    return found


def _tried(project: CheckedProject, motion: str, finding: Finding) -> Iterator[tuple[Way, Attempt]]:
    ways, plan, own = JUDGEMENTS[finding.code].ways, evaluate(project, motion), project.motion(motion)
    for way in ways:
        if isinstance(own, PhaseGait) or _of_any_motion(way):
            yield way, Attempt(project, motion, finding, plan, motion, plan)
    if isinstance(own, (Transition, Programme, FreeWalk)):
        joined = [name for name in dict.fromkeys(named_by(own)) if isinstance(project.motion(name), PhaseGait)]
        for name in joined[:JOINED_TRIED]:
            gait = evaluate(project, name)
            for way in ways:
                if not _of_any_motion(way):
                    yield way, Attempt(project, motion, finding, plan, name, gait)


def _of_any_motion(way: Way) -> bool:
    return isinstance(way, Offer) and way.any_motion


def done(way: Way, attempt: Attempt) -> Iterator[Remedy]:
    """What comes of a way."""
    yield from _DOING[type(way)](way, attempt)


def _turn(way: Turn, attempt: Attempt) -> Iterator[Remedy]:
    if way.subject not in (None, attempt.finding.subject):
        return
    lever = LEVERS[way.lever]
    for bound in ([lever.high] if way.up else []) + ([lever.low] if way.down else []):
        remedy = _turned(lever, attempt, bound)
        if remedy:
            yield remedy


def _turned(lever: Lever, attempt: Attempt, bound: float) -> Remedy | None:
    """The least turn of the lever towards `bound` that clears the finding, to the lever's step, and what it leaves in
    hand."""
    start = lever.read(attempt.project, gait_of(attempt.project, attempt.turned))
    throw = bound - start
    if abs(throw) < lever.step:
        return None

    def at(turns: int) -> float:
        """A lever goes to whole steps of its scale, so that the number kept is one a builder would type."""
        if lever.relative:
            return start + (lever.step if throw > 0 else -lever.step) * turns
        here = round(start / lever.step, 6)
        return (floor(here) + turns if throw > 0 else ceil(here) - turns) * lever.step

    def tried(turns: int) -> Plan | None:
        return attempt.cleared_by(lever.patch(attempt.project, attempt.turned, at(turns)))

    most = int(abs(throw) / lever.step + 1e-9)
    missed, good, plan = 0, 0, None
    for share in STRIDES:
        good = max(missed + 1, round(most * share))
        if good > most:
            return None
        plan = tried(good)
        if plan:
            break
        missed = good
    if plan is None:
        return None
    while good - missed > 1:
        middle = (good + missed) // 2
        trial = tried(middle)
        if trial:
            good, plan = middle, trial
        else:
            missed = middle
    more = tried(good + lever.in_hand) if 0 < lever.in_hand <= most - good else None
    if more:
        good, plan = good + lever.in_hand, more
    value = at(good)
    if lever.say:
        title = lever.say(attempt.project, gait_of(attempt.project, attempt.turned), value)
    else:
        unit = f" {lever.unit}" if lever.unit not in ("", "°") else lever.unit
        digits = len(f"{lever.step:g}".partition(".")[2])
        title = f"{lever.label} {number(start, digits + 1)} → {number(value, digits)}{unit}"
    return attempt.remedy(title, lever.patch(attempt.project, attempt.turned, value), plan)


def _offer(way: Offer, attempt: Attempt) -> Iterator[Remedy]:
    best: tuple[float, Remedy] | None = None
    for edit in way.edits(attempt.mending):
        patch = attempt.guarded(edit.operations)
        after = attempt.cleared_by(patch)
        if after is None:
            continue
        remedy = attempt.remedy(edit.title, patch, after)
        if way.keep in ("all", "first"):
            yield remedy
            if way.keep == "first":
                return
            continue
        left = after.figure(way.keep)
        if left is not None and (best is None or left > best[0]):
            best = left, remedy
    if best:
        yield best[1]


def _found(way: Found, attempt: Attempt) -> Iterator[Remedy]:
    path = f"/motions/{motion_index(attempt.project, attempt.turned)}/pose"
    for fields, title in SEARCHES[way.search](attempt.project, attempt.turned):
        if "ride_height_mm" in fields:
            title += f", ride height {number(fields['ride_height_mm'])} mm"
        patch = attempt.guarded([replace(f"{path}/{name}", value) for name, value in fields.items()])
        after = attempt.cleared_by(patch)
        if after:
            yield attempt.remedy(title, patch, after)
            return


# Fields of the pose, its sway among them, and what to call it.
Swayed = tuple[dict[str, Any], str]

# Shares of the ride height at which a sway is tried.
RIDES = (1.0, 0.95, 0.9)


def _sways(project: CheckedProject, motion: str) -> Iterator[Swayed]:
    """The smallest sway that keeps the centre of mass over the feet; lower where the legs do not reach so far."""
    for lower, rides in _lower(project, motion):
        terms = swayed(lower, motion, project.limits.margin_mm)
        if terms:
            side = max(((t.y_cos_mm**2 + t.y_sin_mm**2) ** 0.5 for t in terms), default=0.0)
            fore = max(((t.x_cos_mm**2 + t.x_sin_mm**2) ** 0.5 for t in terms), default=0.0)
            title = f"Sway {number(side, 0)} mm sideways, {number(fore, 0)} mm fore and aft"
            yield {"sway": [t.model_dump() for t in terms], **rides}, title


def _heaves(project: CheckedProject, motion: str) -> Iterator[Swayed]:
    """The body goes up and down so that the feet slip least."""
    terms = heaved(project, motion)
    if terms is not None:
        most = sum((t.z_cos_mm**2 + t.z_sin_mm**2) ** 0.5 for t in terms)
        yield {"sway": [t.model_dump() for t in terms]}, f"Heave the body {number(most)} mm up and down"


def _over_its_soles(project: CheckedProject, motion: str) -> Iterator[Swayed]:
    """The sway by which it pushes in the middle of its soles; lower where the legs do not reach so far."""
    if len(project.walker.legs) != 2 or not_pushing(evaluate(project, motion).reading):
        return
    for lower, rides in _lower(project, motion):
        found = pendulum_sway(lower, gait_of(lower, motion))
        side = max(((t.y_cos_mm**2 + t.y_sin_mm**2) ** 0.5 for t in found.terms), default=0.0)
        fields = {"sway": [t.model_dump() for t in found.terms], "shift_mm": list(found.shift_mm), **rides}
        yield fields, f"Sway {number(side, 0)} mm sideways, planned so that it pushes in the middle of its soles"


def _lower(project: CheckedProject, motion: str) -> Iterator[tuple[CheckedProject, dict[str, float]]]:
    """As high as it is and lower, with what says so in its pose."""
    path = f"/motions/{motion_index(project, motion)}/pose/ride_height_mm"
    height = gait_of(project, motion).pose.ride_height_mm
    for share in RIDES:
        ride = round(height * share, 1)
        yield (project, {}) if share == 1.0 else (patched(project, [replace(path, ride)]), {"ride_height_mm": ride})


SEARCHES: dict[str, Callable[[CheckedProject, str], Iterator[Swayed]]] = {
    "smallest_sway": _sways,
    "least_slip_heave": _heaves,
    "pendulum_sway": _over_its_soles,
}

_DOING: dict[type, Callable[[Any, Attempt], Iterator[Remedy]]] = {Turn: _turn, Offer: _offer, Found: _found}
