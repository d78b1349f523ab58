"""The front door: a project and the name of a motion in, everything that is known about it out."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from bustle.core.document.checked import CheckedProject
from bustle.core.geometry.support_polygon import support
from bustle.core.judge.figures import Figure, figures
from bustle.core.judge.judgements import Finding, findings
from bustle.core.machine.limb_groups import groups
from bustle.core.machine.masses import ledger
from bustle.core.machine.turned_over import turned_over
from bustle.core.walk.course import follow
from bustle.core.walk.motions import compile_motion
from bustle.core.walk.motions.made_of import upside_down
from bustle.core.walk.reading import Evidence

MAX_SAMPLES = 20_000


@dataclass(frozen=True)
class Plan:
    """One evaluation. Arrays are in `evidence`; figures and findings are what they come to."""

    evidence: Evidence
    figures: tuple[Figure, ...]
    findings: tuple[Finding, ...]

    def figure(self, name: str) -> float | None:
        return next((f.value for f in self.figures if f.name == name), None)

    @property
    def stops(self) -> frozenset[tuple[str, str, str]]:
        """What would stop this walk: (code, leg, joint) of every stop finding."""
        return frozenset(
            (f.code, *subject) for f in self.findings if f.severity == "stop" for subject in f.subjects or (("", ""),)
        )


def row_count(cycle_s: float, frame_period_s: float) -> int:
    """Rows of the table: the whole number nearest to T/period, two at least."""
    return max(2, round(cycle_s / frame_period_s))


def evaluate(project: CheckedProject, motion: str, samples: int | None = None) -> Plan:
    """Evaluate one motion of a project.

    Args: samples, how many instants to spread over the duration; by default the table's rows. The end is left out where
    the motion repeats, as it is the beginning again, and counted where it does not.
    Raises KeyError naming the motions there are; ValueError for a sample count outside 2 … 20 000.
    """
    asked = project.motion(motion)
    walked = turned_over(project) if upside_down(project, asked) else project
    score = compile_motion(walked, asked)
    rows = row_count(score.duration_s, walked.controller.frame_period_ms / 1000)
    count = samples or (rows if score.periodic else rows + 1)
    if not 2 <= count <= MAX_SAMPLES:
        raise ValueError(f"samples: must be from 2 to {MAX_SAMPLES}, got {count}")
    events = score.events() if score.periodic else score.events()[1:]
    time = np.arange(count) * score.duration_s / (count if score.periodic else count - 1)
    time = np.concatenate([time, events, events])
    before = np.zeros(len(time), dtype=bool)
    before[count : count + len(events)] = True
    walker, bends = walked.walker, dict(score.bends_deg)
    parts = groups(walker, bends, score.held)
    masses = ledger(walked, parts, bends)
    course = follow(walker, score, parts, masses, time, before)
    held = support(course.stand_mm, course.stand, course.com_ground_mm[:, :2])
    evidence = Evidence(walked, asked, score, parts, masses, course, held, count, before)
    return Plan(evidence, tuple(figures(evidence)), tuple(findings(evidence)))
