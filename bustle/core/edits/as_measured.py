"""What was measured on the machine as it stands, put where it belongs in the design."""

from __future__ import annotations

from bustle.core.document.checked import CheckedProject, parse_project
from bustle.core.machine.drive_springs import assumed_nm_deg
from bustle.core.project.project import document
from bustle.core.words.problems import refuse

# What a horn may be stated to give, N·m per degree, in four digits.
LEAST_NM_DEG, MOST_NM_DEG = 1e-4, 1000.0


def sagging(project: CheckedProject, factor: float) -> CheckedProject:
    """Sagging `factor` times as far: every drive's stiffness, stated or assumed, divided by it. Sag is weight over
    stiffness, so that the one measured comes out (Hooke's law). Raises InputRefused for a factor not above 0."""
    if not factor > 0:
        raise refuse("factor", f"must be above 0, got {factor:g}")
    values = document(project)
    for drive, stated in zip(project.walker.drives, values["walker"]["drives"], strict=True):
        now = drive.stiffness_nm_deg if drive.stiffness_nm_deg is not None else assumed_nm_deg(project, drive)
        stated["stiffness_nm_deg"] = float(f"{min(MOST_NM_DEG, max(LEAST_NM_DEG, now / factor)):.4g}")
    return parse_project(values)
