"""What mends a finding: the smallest change of one thing that clears it without adding a stop.

Each lever is turned from where it stands, both ways, in widening strides until the finding is gone, then back by
halves to the finest turn that still clears it. Leg orders and sways are tried whole.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from math import ceil, floor

from bustle.core.findings.finding import Finding
from bustle.core.gaits import GAITS, places
from bustle.core.levers import LEVERS, Lever, Patch, motion_index, patched, replace
from bustle.core.plan import Plan, evaluate
from bustle.core.problems import InputRefused
from bustle.core.project import Project
from bustle.core.sway import swayed
from bustle.core.wording import number

# Shares of a lever's throw that are tried, outwards.
STRIDES = (0.02, 0.05, 0.1, 0.16, 0.24, 0.34, 0.48, 0.7, 1.0)

SHOWN = (
    "worst_margin_mm",
    "speed_mm_s",
    "stride_mm",
    "peak_rate_deg_s",
    "end_stop_room_deg",
    "straight_knee_mm",
    "rows",
)


@dataclass(frozen=True)
class Change:
    """A figure before and after."""

    label: str
    unit: str
    digits: int
    before: float
    after: float


@dataclass(frozen=True)
class Remedy:
    """One way to mend a finding: what to do in words, the edit, the figures it moves."""

    title: str
    patch: Patch
    changes: tuple[Change, ...]


@dataclass(frozen=True)
class Case:
    """A finding to mend, and what trying a patch on it comes to."""

    project: Project
    motion: str
    finding: Finding
    plan: Plan

    def cleared_by(self, patch: Patch) -> Plan | None:
        """The plan after the patch if the finding is gone and no stop is new, otherwise None."""
        try:
            after = evaluate(patched(self.project, patch), self.motion)
        except InputRefused:
            return None
        same = [f for f in after.findings if (f.code, f.subject) == (self.finding.code, self.finding.subject)]
        return None if same or after.stops - self.plan.stops else after

    def remedy(self, title: str, patch: Patch, after: Plan) -> Remedy:
        return Remedy(title, patch, tuple(changes(self.plan, after)))


Way = Callable[[Case], Iterator[Remedy]]


def changes(before: Plan, after: Plan) -> Iterator[Change]:
    """The figures worth showing that differ."""
    for figure in before.figures:
        new = after.figure(figure.name)
        if figure.name in SHOWN and new is not None and abs(new - figure.value) > 0.5 * 10**-figure.digits:
            yield Change(figure.label, figure.unit, figure.digits, figure.value, new)


def _turned(lever: Lever, case: Case, bound: float) -> Remedy | None:
    """The least turn of the lever towards `bound` that clears the finding, to the lever's step."""
    start = lever.read(case.project, case.project.motion(case.motion))
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
        title = lever.say(case.project, case.project.motion(case.motion), value)
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


def _order(case: Case) -> Iterator[Remedy]:
    """Another named static gait with its own phases, at the duty that stands."""
    index = motion_index(case.project, case.motion)
    motion = case.project.motions[index]
    limbs = {limb.name: limb for limb in case.project.walker.limbs}
    spots = places([limbs[leg.limb].mount.at_mm[:2] for leg in motion.legs])
    best: tuple[float, Remedy] | None = None
    for gait in GAITS.values():
        if gait.legs != len(spots) or gait.balance != "static" or gait.name == motion.gait:
            continue
        patch: Patch = [{"op": "test", "path": f"/motions/{index}/name", "value": motion.name}]
        patch.append(replace(f"/motions/{index}/gait", gait.name))
        for n, phase in enumerate(gait.phases(spots)):
            patch.append(replace(f"/motions/{index}/legs/{n}/phase", phase))
            if motion.legs[n].duty < gait.duty:
                patch.append(replace(f"/motions/{index}/legs/{n}/duty", gait.duty))
        after = case.cleared_by(patch)
        margin = after.figure("worst_margin_mm") if after else None
        if after and margin is not None and (best is None or margin > best[0]):
            best = margin, case.remedy(f"Leg order {gait.label}", patch, after)
    if best:
        yield best[1]


def _sway(case: Case) -> Iterator[Remedy]:
    index = motion_index(case.project, case.motion)
    for harmonics in (1, 2):
        terms = swayed(case.project, case.motion, case.project.limits.margin_mm, harmonics)
        if not terms:
            continue
        patch: Patch = [{"op": "test", "path": f"/motions/{index}/name", "value": case.motion}]
        patch.append(replace(f"/motions/{index}/pose/sway", [t.model_dump() for t in terms]))
        after = case.cleared_by(patch)
        if after:
            side = max(((t.y_cos_mm**2 + t.y_sin_mm**2) ** 0.5 for t in terms), default=0.0)
            fore = max(((t.x_cos_mm**2 + t.x_sin_mm**2) ** 0.5 for t in terms), default=0.0)
            title = f"Sway {number(side, 0)} mm sideways, {number(fore, 0)} mm fore and aft"
            yield case.remedy(title, patch, after)
            return


def _whole_rows(case: Case) -> Iterator[Remedy]:
    """Cycle to whole rows; the stride stays, so the twist follows."""
    if case.finding.subject != "cycle":
        return
    index = motion_index(case.project, case.motion)
    row = case.project.controller.frame_period_ms / 1000
    cycle = case.project.motions[index].cycle_s
    for rows in sorted({max(2, int(cycle / row)), max(2, int(cycle / row) + 1)}, key=lambda n: abs(n * row - cycle)):
        patch = LEVERS["cycle"].patch(case.project, case.motion, rows * row)
        after = case.cleared_by(patch)
        if after:
            yield case.remedy(f"Cycle time {number(cycle, 4)} → {number(rows * row, 4)} s", patch, after)


def _servo_period(case: Case) -> Iterator[Remedy]:
    if case.finding.subject != "period":
        return
    index = motion_index(case.project, case.motion)
    slowest = case.finding.limit
    patch: Patch = [{"op": "test", "path": f"/motions/{index}/name", "value": case.motion}]
    patch.append(replace("/controller/frame_period_ms", slowest))
    after = case.cleared_by(patch)
    if after:
        yield case.remedy(f"Row period {number(case.finding.value, 2)} → {number(slowest, 2)} ms", patch, after)


def _finer_rows(case: Case) -> Iterator[Remedy]:
    if case.finding.subject == "step":
        yield from turn("pace", up=False)(case)


WAYS: dict[str, Sequence[Way]] = {
    "F15": (turn("ride_height"), turn("feet_out"), turn("stride", up=False), turn("lift", up=False)),
    "F17": (turn("stride", up=False), turn("ride_height"), turn("feet_out"), turn("lift", up=False)),
    "F18": (
        _sway,
        _order,
        turn("shift_x"),
        turn("shift_y"),
        turn("duty", down=False),
        turn("feet_out", down=False),
    ),
    "F06": (turn("pace", up=False), turn("duty", up=False), turn("stride", up=False), turn("lift", up=False)),
    "F47": (turn("ride_height"), turn("feet_out"), turn("stride", up=False)),
    "F38": (_whole_rows, _servo_period, _finer_rows),
}


def remedies(project: Project, motion: str, finding: Finding) -> list[Remedy]:
    """Every way that clears the finding, in the order in which builders try them. Empty: none exists in reach."""
    case = Case(project, motion, finding, evaluate(project, motion))
    return [remedy for way in WAYS[finding.code] for remedy in way(case)]
