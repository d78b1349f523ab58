"""What is said and done of machines that tip from sole to sole by their ankles: too little (F35) or too far (F53)."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from bustle.core.edits.patches import replace
from bustle.core.judge.figure import Lines
from bustle.core.judge.ways import Edit, Mending
from bustle.core.loads.tipping_ankles import Tipped, tipped
from bustle.core.project.motion import Swings
from bustle.core.project.project import Project
from bustle.core.words.wording import degrees, number, seconds

# An ankle is offered in steps of half a degree, and no more than this.
STEP_DEG, MOST_DEG = 0.5, 30.0
# Cycles are offered longer or shorter by these.
TIMES = (0.8, 0.65, 1.25, 1.6, 2.0)


def tipping_working(tips: Tipped) -> Lines:
    return (
        f"mass {number(tips.high_mm, 0)} mm up, ankles {number(tips.ankle_mm, 0)} mm up, swinging "
        f"{degrees(tips.swing_deg)} at ω = 2π/{seconds(tips.cycle_s)}",
        f"(h − a)·sin A·(1 + ω²·h/g) = {number(tips.reaches_mm + tips.beside_mm)} mm to either side; its mass lies "
        f"{number(tips.beside_mm)} mm off the middle",
        f"to the inner edge of a sole: {number(tips.inner_mm)} mm",
        f"to where it goes over the outer border, 1.3 of half the spacing: {number(tips.most_mm)} mm",
        "1.3 is fitted to walks played in one physics engine",
    )


def swung(m: Mending) -> Iterator[Edit]:
    """Ankles that swing as far as brings it midway between too little and too far, or a cycle in another time."""
    tips = m.reading.of(tipped)
    if tips is None:
        return
    wanted = (tips.inner_mm + tips.most_mm) / 2
    sine = np.sin(np.radians(tips.swing_deg)) * wanted / max(tips.reaches_mm + tips.beside_mm, 1e-6)
    angle = float(round(np.degrees(np.arcsin(min(sine, 0.9))) / STEP_DEG) * STEP_DEG)
    if STEP_DEG <= angle <= MOST_DEG:
        by = angle / tips.swing_deg
        operations = [
            replace(f"/motions/{n}/joints/{k}/swing", round(swing.swing * by, 3))
            for n, motion in _swings(m.project)
            for k, swing in enumerate(motion.joints)
            if swing.joint == tips.joint
        ]
        yield Edit(f"Ankles swing {degrees(angle)}", tuple(operations))
    row_s = m.project.controller.frame_period_ms / 1000
    for by in TIMES:
        cycles = [
            (n, round(max(12, round(motion.cycle_s * by / row_s)) * row_s, 3)) for n, motion in _swings(m.project)
        ]
        yield Edit(
            f"A cycle in {seconds(tips.cycle_s * by)}", tuple(replace(f"/motions/{n}/cycle_s", s) for n, s in cycles)
        )


def _swings(project: Project) -> Iterator[tuple[int, Swings]]:
    for n, motion in enumerate(project.motions):
        if isinstance(motion, Swings):
            yield n, motion
