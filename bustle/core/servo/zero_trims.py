"""Joints whose zeros were measured to be off, put right at their servos."""

from __future__ import annotations

from dataclasses import dataclass

from bustle.core.document.checked import CheckedProject, parse_project
from bustle.core.project.project import document
from bustle.core.servo.fitted_servos import ServoAt, servos_at
from bustle.core.servo.rest_heights import horn_to_joint


@dataclass(frozen=True)
class ZeroTrim:
    """limb and joint whose zero is off, its servo, and by how much its horn is to be trimmed, degrees."""

    limb: str
    joint: str
    servo: ServoAt
    trim_deg: float


def zero_trims(project: CheckedProject) -> tuple[ZeroTrim, ...]:
    """Of every joint that a servo turns."""
    servos = {s.joint: s for s in servos_at(project)}
    return tuple(
        ZeroTrim(truth.limb, joint, servo, -off * horn_to_joint(project, servo))
        for truth in project.walker.as_built.limbs
        for joint, off in truth.joint_zero_deg.items()
        if off and (servo := servos.get(f"{truth.limb}/{joint}"))
    )


def with_zeros_trimmed(project: CheckedProject) -> CheckedProject:
    """Its servos trimmed; what was measured is used up with it."""
    values = document(project)
    entries = {f["place"]: f for f in values["electrics"]["fitted"]}
    measured = {truth["limb"]: truth for truth in values["walker"]["as_built"]["limbs"]}
    for trim in zero_trims(project):
        entry = entries.setdefault(trim.servo.place, {"place": trim.servo.place, "trim_deg": 0.0})
        entry["trim_deg"] = round(entry["trim_deg"] + trim.trim_deg, 2) + 0.0
        del measured[trim.limb]["joint_zero_deg"][trim.joint]
    values["electrics"]["fitted"] = list(entries.values())
    return parse_project(values)
