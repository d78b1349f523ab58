"""Ratio drives: gears, and a cord over pulleys that only pulls."""

from __future__ import annotations

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.kinds.drives.drive import DriveKind, Setting


def _gear(joints: Array, centres: Array, settings: Array) -> Array:
    """servo = ratio·(joint − centre); a pair of gears turns the other way round, so their ratio is below zero."""
    return (joints - centres) * settings[:, :1]


GEAR = DriveKind(
    name="gear",
    label="Gear",
    about="servo = ratio × (joint − centre); below 0 where it turns the other way.",
    servos=1,
    joints=1,
    to_servos=_gear,
    to_joints=lambda servos, centres, settings: servos / settings[:, :1] + centres,
    settings=(Setting("ratio", "Servo turns per joint turn", "", 2.0, -50.0, 50.0),),
    linear=True,
)


def _cord(joints: Array, centres: Array, settings: Array) -> Array:
    """servo·r = (joint − centre)·R, where the cord is taut."""
    servo, joint, _ = settings.T
    return (joints - centres) * (joint / servo)[:, None]


def _slack(joints: Array, centres: Array, settings: Array) -> Array:
    return np.maximum(np.radians(settings[:, 2]) - joints[..., 0], 0.0)


CORD = DriveKind(
    name="cord",
    label="Pulley and cord",
    about="The cord pulls the joint up from its spring's rest; below the rest it hangs slack.",
    servos=1,
    joints=1,
    to_servos=_cord,
    to_joints=lambda servos, centres, settings: servos * (settings[:, 0] / settings[:, 1])[:, None] + centres,
    settings=(
        Setting("servo_pulley_mm", "Pulley on the servo", "mm", 10.0, 0.5, 500.0),
        Setting("joint_pulley_mm", "Pulley on the joint", "mm", 10.0, 0.5, 500.0),
        Setting("rest_deg", "Joint at the spring's rest", "°", -90.0, -360.0, 360.0),
    ),
    strain=_slack,
    sits="frame",
    linear=True,
)
