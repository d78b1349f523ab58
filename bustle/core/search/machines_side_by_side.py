"""Machines side by side, by figures: what each kind of leg gives and what it costs."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from bustle.core.clamp.leg_on_the_clamp import find, reach_mm
from bustle.core.clamp.straight_line_test import line_test, straight_mm
from bustle.core.document.checked import CheckedProject
from bustle.core.evaluate import Plan, evaluate
from bustle.core.judge.measures.stance_torque import stance_torque_nm
from bustle.core.judge.registry import FIGURES
from bustle.core.kinds.legs import FAMILIES
from bustle.core.project.motion import PhaseGait
from bustle.core.project.project import gait_of
from bustle.core.project.walker import MeasuredLimb
from bustle.core.words.problems import refuse


@dataclass(frozen=True)
class Standing:
    """One figure of one machine; better: whether more of it is better (1), less (−1), or neither. None: does not
    apply.
    """

    name: str
    label: str
    value: float | None
    unit: str
    digits: int
    better: int


@dataclass(frozen=True)
class Rival:
    """One machine in the comparison."""

    name: str
    legs: str
    motion: str
    figures: tuple[Standing, ...]


def rival(project: CheckedProject, name: str, motion: str | None = None) -> Rival:
    """Figures of a project by its first walk (or the motion named, or its first standing pose where nothing walks).

    Raises InputRefused where there is neither.
    """
    gaits = [m for m in project.motions if isinstance(m, PhaseGait)]
    walks = [m for m in gaits if m.moves]
    if not gaits:
        raise refuse("motions", f"{name} has no walk and no standing pose yet to compare by")
    asked = gait_of(project, motion) if motion else (walks or gaits)[0]
    plan = evaluate(project, asked.name)
    families = dict.fromkeys(FAMILIES[limb.family].label for limb in project.walker.legs)
    figures = (*_leg_figures(project, asked, plan), *_machine_figures(project, plan))
    return Rival(name, ", ".join(families), asked.name, figures)


def _leg_figures(project: CheckedProject, motion: PhaseGait, plan: Plan) -> Iterator[Standing]:
    leg = project.walker.legs[0]
    group, row = find(project, leg.name)
    x, y = leg.neutral_mm or (0.0, 0.0)
    sx, sy = motion.pose.shift_mm
    foot = np.array([x - sx, y - sy, -motion.pose.ride_height_mm])
    none = MeasuredLimb(limb=leg.name)
    whole = 2 * reach_mm(group, row)
    for line, label in (
        ("fore_aft", "Straight stroke"),
        ("sideways", "Straight sidestep"),
        ("up_down", "Straight lift"),
    ):
        # As straight as a foot may slip, so that a leg that cannot keep to the line does not win by reaching far.
        straight = straight_mm(line_test(project, leg.name, foot, line, whole, none), project.limits.slip_mm or 1.0)
        yield Standing(f"{line}_mm", label, straight if straight < whole - 1e-6 else None, "mm", 0, 1)
    yield _as_figure(plan, "slip_mm")
    yield Standing("torque_nm", "Torque in stance", plan.reading.of(stance_torque_nm), "N·m", 2, -1)


def _as_figure(plan: Plan, name: str) -> Standing:
    """A figure of the plan; lengths to whole millimetres, but slip."""
    spec = FIGURES[name]
    assert isinstance(spec.label, str)
    digits = spec.digits if name == "slip_mm" else 0
    return Standing(name, spec.label, plan.figure(name), spec.unit, digits, spec.better)


def _machine_figures(project: CheckedProject, plan: Plan) -> Iterator[Standing]:
    walker = project.walker
    sheets = {s.name: s for s in project.servo_types}
    servos = [sheets[s.type] for d in walker.drives for s in d.servos]
    links = [k for limb in walker.limbs for k in limb.links]
    yield Standing("servos", "Servos", float(len(servos)), "", 0, -1)
    yield Standing("mass_g", "Mass", plan.reading.assembled.total_kg * 1000, "g", 0, -1)
    price = sum(s.price for s in servos) + sum(k.price for k in links) + sum(m.price for m in walker.masses)
    # Nothing entered is not the same as nothing to pay.
    yield Standing("price", f"Price{f', {walker.currency}' if walker.currency else ''}", price or None, "", 0, -1)
    hours = sum(k.print_h for k in links) + sum(m.print_h for m in walker.masses)
    yield Standing("print_h", "Print time", hours or None, "h", 1, -1)
    for name in ("turning_radius_mm", "worst_margin_mm", "speed_mm_s", "off_the_way"):
        yield _as_figure(plan, name)
    yield Standing("stops", "Stop findings", float(len(plan.stops)), "", 0, -1)
