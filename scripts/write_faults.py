"""Write demo/faults/: for each check of the machine itself, a project in which it fires and its sound twin.

.venv/bin/python scripts/write_faults.py
"""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np

from bustle.core.document import parse_project, save_project
from bustle.core.drift import drift_left_mm
from bustle.core.levers import patched
from bustle.core.project import Project, document
from bustle.core.shapes import start
from bustle.core.walker import DriftReading, MeasuredLimb

FOLDER = Path(__file__).parents[1] / "demo" / "faults"


def alone(project: Project, motion: str, changes: dict[str, Any]) -> Project:
    """The project with one motion only, and the fields at these slash paths set."""
    values = document(project)
    values["motions"] = [m for m in values["motions"] if m["name"] == motion]
    base = parse_project(values)
    return patched(base, [{"op": "add", "path": f"/{path}", "value": value} for path, value in changes.items()])


def readings(project: Project, limb: str, truth: dict[str, float]) -> list[dict[str, Any]]:
    """What a ruler would show at three heights on a leg whose joint zeros are off by `truth`, to half a millimetre."""
    leg = next(m for m in project.walker.limbs if m.name == limb)
    heights = [30.0, 70.0, 110.0]
    still = tuple(DriftReading(height_mm=h, drift_mm=(0.0, 0.0)) for h in heights)
    built = MeasuredLimb(limb=limb, joint_zero_deg=truth)
    drift = np.round(-drift_left_mm(project.walker, leg, still, built) * 2) / 2
    return [{"height_mm": h, "drift_mm": [float(v) for v in d]} for h, d in zip(heights, drift, strict=True)]


def pairs() -> dict[str, tuple[Project, Project]]:
    """Code → (faulty, sound)."""
    six, two = start("six_sprawled", "Six legs", 200.0), start("six_two", "Six two-joint legs", 160.0)
    flat = start("four_upright_2", "Four flat legs", 200.0)
    lead = {
        "name": "L1 tibia lead",
        "length_mm": 165.0,
        "path": [{"on": "body"}, {"on": "L1/coxa"}, {"on": "L1/femur"}],
    }
    fold = {"box_mm": [330.0, 330.0, 170.0]}
    drift = {"limb": "L2", "drift": readings(six, "L2", {"femur": 2.5})}
    crowded = {"walker/limbs/1/neutral_mm": [86.0, 138.0], "walker/limbs/0/neutral_mm": [112.0, 140.0]}
    return {
        "F12": (
            alone(two, "Forward", {"motions/0/twist/vx_mm_s": 120.0, "limits/slip_mm": 3.0}),
            alone(two, "Forward", {"limits/slip_mm": 3.0}),
        ),
        "F13": (
            alone(flat, "Forward", {"motions/0/twist/omega_deg_s": 3.0}),
            alone(flat, "Forward", {}),
        ),
        "F16": (
            alone(six, "Forward", crowded),
            alone(six, "Forward", {}),
        ),
        "F46": (
            alone(six, "Forward", {"limits/step_height_mm": 56.0}),
            alone(six, "Forward", {"limits/step_height_mm": 40.0}),
        ),
        "F40": (
            alone(flat, "Forward", {"limits/turning_radius_mm": 500.0}),
            alone(flat, "Forward", {"limits/turning_radius_mm": 1200.0}),
        ),
        "F45": (
            alone(six, "Forward", {"walker/leads": [{**lead, "length_mm": 128.0}]}),
            alone(six, "Forward", {"walker/leads": [lead]}),
        ),
        "F36": (
            alone(six, "Forward", {"walker/folded": fold}),
            alone(six, "Forward", {"walker/folded": {"box_mm": [600.0, 600.0, 300.0]}}),
        ),
        "F28": (
            alone(six, "Forward", {"walker/as_built/limbs": [drift]}),
            alone(six, "Forward", {"walker/as_built/limbs": [{**drift, "joint_zero_deg": {"femur": 2.5}}]}),
        ),
        "F29": (
            alone(six, "Forward", {"servo_types/0/play_deg": 1.05, "limits/foot_play_mm": 4.5}),
            alone(six, "Forward", {"limits/foot_play_mm": 4.5}),
        ),
    }


if __name__ == "__main__":
    for code, projects in pairs().items():
        for project, ending in zip(projects, ("", ".sound"), strict=True):
            (FOLDER / f"{code}{ending}.bustle.json").write_bytes(save_project(project))
