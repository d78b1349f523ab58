"""Joints whose zeros were measured to be off, put right at their servos."""

from __future__ import annotations

from dataclasses import dataclass

from bustle.core.document.checked import CheckedProject, parse_project
from bustle.core.project.project import document
from bustle.core.servo.fitted_servos import ServoAt, servos_at
from bustle.core.servo.rest_heights import horn_per_joint, trim_more


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
        ZeroTrim(truth.limb, joint, servo, -off * horn_per_joint(project, servo))
        for truth in project.walker.as_built.limbs
        for joint, off in truth.joint_zero_deg.items()
        if off and (servo := servos.get(f"{truth.limb}/{joint}"))
    )


def with_zeros_trimmed(project: CheckedProject) -> CheckedProject:
    """Its servos trimmed; what was measured is used up with it."""
    values = document(project)
    trims = zero_trims(project)
    trim_more(values["electrics"], {trim.servo.place: trim.trim_deg for trim in trims})
    measured = {truth["limb"]: truth for truth in values["walker"]["as_built"]["limbs"]}
    for trim in trims:
        del measured[trim.limb]["joint_zero_deg"][trim.joint]
    return parse_project(values)
