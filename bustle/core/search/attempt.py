"""A finding to mend: what trying an edit on it comes to, and a remedy as it is offered."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Any

from bustle.core.document.checked import CheckedProject
from bustle.core.edits.levers import motion_index
from bustle.core.edits.patches import Patch, patched
from bustle.core.evaluate import Plan, evaluate
from bustle.core.judge.finding import Finding
from bustle.core.judge.registry import FIGURES, JUDGEMENTS
from bustle.core.judge.ways import Mending
from bustle.core.words.problems import InputRefused


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
class Attempt:
    """A finding to mend in a motion, and what trying a patch on it comes to. turned: the motion that is edited, itself
    or one that it joins; own: the plan of that one."""

    project: CheckedProject
    motion: str
    finding: Finding
    plan: Plan
    turned: str
    own: Plan

    @property
    def mending(self) -> Mending:
        return Mending(self.project, self.turned, self.finding, self.own.reading)

    def cleared_by(self, patch: Patch) -> Plan | None:
        """The plan after the patch if the finding is gone and no stop is new in either motion, otherwise None."""
        try:
            made = patched(self.project, patch)
            after = evaluate(made, self.motion)
        except InputRefused:
            return None
        # The finding itself is asked for first: mostly it is still there, and nothing else need be judged.
        same = after.findings_among((self.finding.code,))
        if any(f.subject == self.finding.subject for f in same):
            return None
        if after.stops - self.plan.stops:
            return None
        if self.turned != self.motion and evaluate(made, self.turned).stops - self.own.stops:
            return None
        return after

    def guarded(self, operations: Sequence[dict[str, Any]]) -> Patch:
        """The operations behind a test of the name of the motion that is edited."""
        index = motion_index(self.project, self.turned)
        return [{"op": "test", "path": f"/motions/{index}/name", "value": self.turned}, *operations]

    def remedy(self, title: str, patch: Patch, after: Plan) -> Remedy:
        own = JUDGEMENTS[self.finding.code].figures[:1]
        if self.turned != self.motion and any(edit["path"].startswith("/motions/") for edit in edits(patch)):
            title = f"{self.turned}: {title[:1].lower()}{title[1:]}"
        return Remedy(title, patch, tuple(changes(self.plan, after, own[0].name if own else None)))


def edits(patch: Patch) -> Patch:
    """What it does, without what it tests."""
    return [operation for operation in patch if operation["op"] != "test"]


def changes(before: Plan, after: Plan, first: str | None = None) -> Iterator[Change]:
    """The figures worth comparing that differ, in the registry's order but for the one that is to come first."""
    compared = (name for name, spec in FIGURES.items() if spec.compared)
    for name in dict.fromkeys((*([first] if first else []), *compared)):
        for figure in before.figures_among((name,)):
            new = after.figure(name)
            if new is not None and abs(new - figure.value) > 0.5 * 10**-figure.digits:
                yield Change(figure.label, figure.unit, figure.digits, figure.value, new)
