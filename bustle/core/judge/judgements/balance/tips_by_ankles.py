"""What is said and done of machines that tip by their ankles: soles too narrow for it (F35), or too far (F53)."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from bustle.core.edits.patches import replace
from bustle.core.falling.tipping_ankles import INNER, Tipped, tipped
from bustle.core.judge.figure import Lines
from bustle.core.judge.ways import Edit, Mending
from bustle.core.project.motion import Swings
from bustle.core.project.project import Project
from bustle.core.words.wording import degrees, length, number, seconds

# An ankle is offered in steps of half a degree, with this share of what it may; cycles so many times as long; soles
# whose inner edges are this share of half their spacing off the middle.
STEP_DEG, KEPT, SLOWER, ASIDE = 0.5, 0.8, (1.25, 1.6, 2.0, 3.0), 0.1


def tipping_working(tips: Tipped) -> Lines:
    return (
        f"mass {number(tips.high_mm, 0)} mm up, ankles {number(tips.ankle_mm, 0)} mm up, swinging "
        f"{degrees(tips.swing_deg)} at ω = 2π/{seconds(tips.cycle_s)}",
        f"(h − a)·sin A·(1 + ω²·h/g) + {number(tips.beside_mm)} mm that its mass lies off the middle",
        f"= {number(tips.goes_mm)} mm to the side; over the outer border beyond {number(tips.most_mm)} mm, 1.3 of half "
        "the spacing",
        f"the soles' inner edges: {number(tips.inner_mm)} mm off the middle, at most {number(tips.inner_most_mm)} mm, "
        "0.45 of that half",
        "both numbers are fitted to walks played in one physics engine",
    )


def broader(m: Mending) -> Iterator[Edit]:
    """Soles broad enough to tip on to."""
    tips = m.reading.of(tipped)
    if tips is None:
        return
    half = tips.inner_most_mm / INNER
    width = float(np.ceil(2 * half * (1 - ASIDE)))
    operations = [
        replace(f"/walker/limbs/{n}/feet/0/sole/width_mm", width)
        for n, limb in enumerate(m.project.walker.limbs)
        if limb.steps
    ]
    yield Edit(f"Soles {length(width)} wide", tuple(operations))


def swung(m: Mending) -> Iterator[Edit]:
    """Ankles that swing so far that it stays well inside, or a slower cycle."""
    tips = m.reading.of(tipped)
    if tips is None:
        return
    sine = np.sin(np.radians(tips.swing_deg)) * (KEPT * tips.most_mm - tips.beside_mm)
    sine /= max(tips.goes_mm - tips.beside_mm, 1e-6)
    angle = float(np.floor(np.degrees(np.arcsin(np.clip(sine, 0.0, 0.9))) / STEP_DEG) * STEP_DEG)
    if angle >= STEP_DEG:
        by = angle / tips.swing_deg
        operations = [
            replace(f"/motions/{n}/joints/{k}/swing", round(swing.swing * by, 3))
            for n, motion in _swings(m.project)
            for k, swing in enumerate(motion.joints)
            if swing.joint == tips.joint
        ]
        yield Edit(f"Ankles swing {degrees(angle)}", tuple(operations))
    row_s = m.project.controller.frame_period_ms / 1000
    for by in SLOWER:
        cycles = [(n, round(round(motion.cycle_s * by / row_s) * row_s, 3)) for n, motion in _swings(m.project)]
        yield Edit(
            f"A cycle in {seconds(tips.cycle_s * by)}", tuple(replace(f"/motions/{n}/cycle_s", s) for n, s in cycles)
        )


def _swings(project: Project) -> Iterator[tuple[int, Swings]]:
    for n, motion in enumerate(project.motions):
        if isinstance(motion, Swings):
            yield n, motion
