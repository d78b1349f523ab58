"""Drives that turn a servo's turning into a slide's sliding: a rack and pinion, a screw, a cord on a drum."""

from __future__ import annotations

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.kinds.drives.drive import DriveKind, Setting


def _turned(joints: Array, centres: Array, settings: Array) -> Array:
    """servo = 2π·(slide − centre)/lead, the lead in mm to a turn; the centre, typed as a number, is in mm here."""
    return (joints - np.degrees(centres)) * (2 * np.pi / settings[:, :1])


RACK = DriveKind(
    name="rack",
    label="Rack or screw",
    about="A slide moved by turning: servo = turn × (slide − centre) / mm a turn.",
    servos=1,
    joints=1,
    to_servos=_turned,
    to_joints=lambda servos, centres, settings: servos * settings[:, :1] / (2 * np.pi) + np.degrees(centres),
    settings=(Setting("mm_per_turn", "Slides in a turn", "mm", 40.0, 0.1, 2000.0),),
    turns_slides=True,
    linear=True,
)
