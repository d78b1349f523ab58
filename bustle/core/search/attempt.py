"""A finding to mend: what trying an edit on it comes to, and a remedy as it is offered."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Any

from bustle.core.document.checked import CheckedProject
from bustle.core.edits.levers import Patch, motion_index, patched
from bustle.core.evaluate import Plan, evaluate
from bustle.core.judge.judgements.finding import Finding
from bustle.core.words.problems import InputRefused

SHOWN = (
    "worst_margin_mm",
    "speed_mm_s",
    "stride_mm",
    "peak_rate_deg_s",
    "end_stop_room_deg",
    "straight_knee_mm",
    "rows",
    "slip_mm",
    "clearance_mm",
    "belly_mm",
    "turning_radius_mm",
    "foot_play_mm",
    "clear_mm",
    "jolt_n",
    "late_deg_ms",
    "stroke_mm",
    "landing_speed_mm_s",
    "lasts_s",
    "way_mm",
    "heading_deg",
)


# The figure that a finding is about.
OWN = {
    "F06": "peak_rate_deg_s",
    "F12": "slip_mm",
    "F13": "slip_mm",
    "F15": "end_stop_room_deg",
    "F16": "clearance_mm",
    "F17": "miss_mm",
    "F18": "worst_margin_mm",
    "F24": "clear_mm",
    "F25": "jolt_n",
    "F29": "foot_play_mm",
    "F38": "rows",
    "F40": "turning_radius_mm",
    "F46": "belly_mm",
    "F47": "straight_knee_mm",
    "F48": "late_deg_ms",
}


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

    project: CheckedProject
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

    def guarded(self, *operations: dict[str, Any]) -> Patch:
        """The operations behind a test of the motion's name."""
        index = motion_index(self.project, self.motion)
        return [{"op": "test", "path": f"/motions/{index}/name", "value": self.motion}, *operations]

    def offer(self, title: str, *operations: dict[str, Any]) -> Iterator[Remedy]:
        """The remedy, if it clears the finding without adding a stop."""
        patch = self.guarded(*operations)
        after = self.cleared_by(patch)
        if after:
            yield self.remedy(title, patch, after)

    def remedy(self, title: str, patch: Patch, after: Plan) -> Remedy:
        return Remedy(title, patch, tuple(changes(self.plan, after, OWN.get(self.finding.code))))


Way = Callable[[Case], Iterator[Remedy]]


def changes(before: Plan, after: Plan, first: str | None = None) -> Iterator[Change]:
    """The figures worth showing that differ, in the order of SHOWN but for the one that is to come first."""
    own = {figure.name: figure for figure in before.figures}
    for name in dict.fromkeys((first, *SHOWN)):
        figure = own.get(name) if name else None
        new = after.figure(figure.name) if figure else None
        if figure and new is not None and abs(new - figure.value) > 0.5 * 10**-figure.digits:
            yield Change(figure.label, figure.unit, figure.digits, figure.value, new)
