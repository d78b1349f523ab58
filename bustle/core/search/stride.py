"""Ways to go, and a walk that goes one of them with a stroke that is asked for."""

from __future__ import annotations

from typing import Any

import numpy as np

from bustle.core.document.checked import CheckedProject
from bustle.core.project.motion import PhaseGait, Twist

# Radius of the arcs, as a multiple of the distance from the middle to the furthest foot.
ARC_RADII = 3.0

Direction = tuple[float, float, float]

DIRECTIONS: dict[str, Direction] = {
    "Forward": (1.0, 0.0, 0.0),
    "Back": (-1.0, 0.0, 0.0),
    "Left": (0.0, 1.0, 0.0),
    "Right": (0.0, -1.0, 0.0),
    "Turn left": (0.0, 0.0, 1.0),
    "Turn right": (0.0, 0.0, -1.0),
    "Arc left": (1.0, 0.0, 1.0),
    "Arc right": (1.0, 0.0, -1.0),
}


def strided(project: CheckedProject, motion: PhaseGait, direction: Direction, stroke_mm: float) -> PhaseGait:
    """The motion in a direction (vx : vy : ω·size), its longest foot making that stroke."""
    duty = {leg.limb: leg.duty for leg in motion.legs}
    feet = {limb.name: limb.neutral_mm for limb in project.walker.legs if limb.neutral_mm is not None}
    size = max(float(np.hypot(*foot)) for foot in feet.values())
    vx, vy, turn = direction
    # An arc's pace is its turn times its radius.
    omega = turn / size if not (vx or vy) else turn / (ARC_RADII * size)
    fastest = max(float(np.hypot(vx - omega * y, vy + omega * x)) * duty[name] for name, (x, y) in feet.items())
    pace = stroke_mm / (fastest * motion.cycle_s)
    twist: dict[str, Any] = {
        "vx_mm_s": round(vx * pace, 3) + 0.0,
        "vy_mm_s": round(vy * pace, 3) + 0.0,
        "omega_deg_s": round(float(np.degrees(omega * pace)), 3) + 0.0,
    }
    return motion.model_copy(update={"twist": Twist(**twist)})
