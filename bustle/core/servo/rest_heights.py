"""All servos centred, every foot measured: which joint to trim, by how much, and the limp it would have caused.

A foot that is d mm too high is brought down by turning the joint that moves it most upright: δ = −d/(∂z/∂θ).
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np

from bustle.core.at_rest.posed_joints import centred_joints
from bustle.core.document.checked import CheckedProject, parse_project
from bustle.core.geometry.arrays import Array
from bustle.core.geometry.serial_chain import forward
from bustle.core.kinds.drives.rod import ROD, longer_mm
from bustle.core.machine.kit import kit_of
from bustle.core.project.project import Project, document
from bustle.core.servo.fitted_servos import ServoAt, servos_at
from bustle.core.words.problems import refuse
from bustle.core.words.wording import length, number

# What a rod's thread moves in a turn of it, mm: the usual small thread.
THREAD_MM = 0.5
STEP = 1e-4


@dataclass(frozen=True)
class Trim:
    """One leg: off_mm, how much higher its foot is than it should be beside the others; the joint to trim and by how
    much, at the joint and in what its servo is told; rod_mm, by how much the rod that drives it is too short, and turns
    of its thread; None where none does."""

    limb: str
    off_mm: float
    servo: ServoAt | None
    trim_deg: float
    told: float
    rod_mm: float | None
    turns: float | None

    @property
    def rod_said(self) -> str:
        """What to do to its rod, in words; empty where it has none."""
        if self.rod_mm is None or self.turns is None:
            return ""
        way = "longer" if self.rod_mm > 0 else "shorter"
        return f"its rod {length(abs(self.rod_mm))} {way}, {number(self.turns)} turns"

    @property
    def unit(self) -> str:
        """What its servo is told in."""
        return "counts" if self.servo and self.servo.bus else "µs"


def trims(project: Project) -> tuple[Trim, ...]:
    """For every leg that was measured, beside the one in the middle of them."""
    measured = {h.limb: h.height_mm for h in project.electrics.rest_heights}
    planned = {name: z for name, z, _ in resting_feet(project) if name in measured}
    if not planned:
        return ()
    off = {name: measured[name] - planned[name] for name in planned}
    middle = float(np.median(list(off.values())))
    return tuple(_trim(project, name, off[name] - middle) for name in off)


def height_measured(project: CheckedProject, limb: str, height_mm: float) -> CheckedProject:
    """A foot was measured so high over the bench. Raises InputRefused where no leg has that name."""
    if limb not in {m.name for m in project.walker.legs}:
        raise refuse("limb", f"{limb[:60]!r} is no leg of this walker")
    values = document(project)
    others = [h for h in values["electrics"]["rest_heights"] if h["limb"] != limb]
    order = [m.name for m in project.walker.legs]
    heights = [*others, {"limb": limb, "height_mm": height_mm}]
    values["electrics"]["rest_heights"] = sorted(heights, key=lambda h: order.index(h["limb"]))
    return parse_project(values)


def rests_mm(project: Project, stand_mm: float) -> dict[str, float]:
    """What a ruler would find of each leg were all as planned, with the leg in the middle so high over the bench."""
    planned = {name: z for name, z, _ in resting_feet(project)}
    middle = float(np.median(list(planned.values()))) if planned else 0.0
    return {name: round(z - middle + stand_mm, 1) for name, z in planned.items()}


def resting_feet(project: Project) -> list[tuple[str, float, Array]]:
    """Each leg with the height of its foot with all servos centred, mm, and how that changes with each joint."""
    kit = kit_of(project)
    at = centred_joints(project.walker)
    found = []
    for group in kit.assembled({}).parts:
        for row, member in enumerate(group.members.tolist()):
            limb = project.walker.limbs[member]
            if not limb.steps:
                continue
            own = group.columns[row]
            tries = np.tile(at, (len(own) + 1, 1))
            tries[np.arange(len(own)) + 1, own] += STEP
            points, _ = forward(group.build.chain, np.moveaxis(tries[:, group.columns], 1, 0))
            z = points[row, :, -1, 2]
            found.append((limb.name, float(z[0]), (z[1:] - z[0]) / STEP))
    return found


def _trim(project: Project, name: str, off_mm: float) -> Trim:
    slope = next(s for limb, _, s in resting_feet(project) if limb == name)
    limb = next(m for m in project.walker.limbs if m.name == name)
    paths = [f"{name}/{j.name}" for j in limb.joints]
    servos = {s.joint: s for s in servos_at(project)}
    able = [n for n, path in enumerate(paths) if path in servos and abs(slope[n]) > 1.0]
    if not able:
        return Trim(name, off_mm, None, 0.0, 0.0, None, None)
    best = max(able, key=lambda n: abs(slope[n]))
    servo = servos[paths[best]]
    joint_deg = float(np.degrees(-off_mm / slope[best]))
    drive = next(d for d in project.walker.drives if paths[best] in d.joints)
    servo_deg = joint_deg * horn_per_joint(project, servo)
    rod = turns = None
    if drive.kind == ROD.name:
        settings = np.array([drive.settings.get(s.name, s.default) for s in ROD.settings])
        rod = longer_mm(settings, float(np.radians(joint_deg)))
        turns = abs(rod) / THREAD_MM
    return Trim(name, off_mm, servo, servo_deg, servo.direction * servo.per_deg * servo_deg, rod, turns)


def horn_per_joint(project: Project, servo: ServoAt) -> float:
    """Horn degrees to a degree of the joint, about the middle."""
    for gearing in kit_of(project).gearings:
        for d, drive in enumerate(gearing.drives):
            names = [s.name for s in drive.servos]
            if servo.place in names:
                joints = centred_joints(project.walker)[None]
                moved = joints.copy()
                moved[0, kit_of(project).column_of[servo.joint]] += STEP
                k = names.index(servo.place)
                return float((gearing.to_servos(moved)[0, d, k] - gearing.to_servos(joints)[0, d, k]) / STEP)
    return 1.0


def limp_mm(project: Project) -> float:
    """How far the feet are apart in height that should be level: what it would limp by."""
    found = [t.off_mm for t in trims(project)]
    return max(found) - min(found) if found else 0.0


def trimmed(project: CheckedProject) -> CheckedProject:
    """Every leg trimmed by what was measured; the measurement is used up with it."""
    values = document(project)
    own = {t.servo.place: t.trim_deg for t in trims(project) if t.servo and abs(t.trim_deg) > 0.01}
    trim_more(values["electrics"], own)
    values["electrics"]["rest_heights"] = []
    return parse_project(values)


def trim_more(electrics: dict[str, Any], by_deg: dict[str, float]) -> None:
    """The servos at these places trimmed by so much besides, in place in a document's electrics."""
    entries = {f["place"]: f for f in electrics["fitted"]}
    for place, more_deg in by_deg.items():
        entry = entries.setdefault(place, {"place": place, "trim_deg": 0.0})
        entry["trim_deg"] = round(entry["trim_deg"] + more_deg, 2) + 0.0
    electrics["fitted"] = list(entries.values())
