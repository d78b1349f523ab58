"""What was measured on the machine as it stands, put where it belongs in the design."""

from __future__ import annotations

from bustle.core.document.checked import CheckedProject, parse_project
from bustle.core.edits.patches import Patch, replace
from bustle.core.machine.kit import FULL_TORQUE_AT_DEG
from bustle.core.project.project import document
from bustle.core.project.walker import Walker
from bustle.core.words.problems import refuse

# What a horn may be stated to give, N·m per degree, in four digits; and how far a servo may be off its place, degrees.
LEAST_NM_DEG, MOST_NM_DEG = 1e-4, 1000.0
LEAST_DEG, MOST_DEG = 1e-3, 90.0


def sagging(project: CheckedProject, factor: float) -> CheckedProject:
    """Sagging `factor` times as far: what every servo gives at its stall torque, said or assumed, times it, and what
    horns are stated to give too. Sag is weight over stiffness, so that the one measured comes out (Hooke's law). Raises
    InputRefused for a factor not above 0."""
    if not factor > 0:
        raise refuse("factor", f"must be above 0, got {factor:g}")
    values = document(project)
    for sheet, stated in zip(project.servo_types, values["servo_types"], strict=True):
        gives = (sheet.full_torque_at_deg or FULL_TORQUE_AT_DEG) * factor
        stated["full_torque_at_deg"] = float(f"{min(MOST_DEG, max(LEAST_DEG, gives)):.4g}")
    for drive, stated in zip(project.walker.drives, values["walker"]["drives"], strict=True):
        if drive.stiffness_nm_deg is not None:
            stiff = drive.stiffness_nm_deg / factor
            stated["stiffness_nm_deg"] = float(f"{min(MOST_NM_DEG, max(LEAST_NM_DEG, stiff)):.4g}")
    return parse_project(values)


def drawn_as_measured(walker: Walker) -> Patch:
    """The links that were measured drawn as long as they are, so that the table is of the legs that were built."""
    operations: Patch = []
    for k, truth in enumerate(walker.as_built.limbs):
        n, limb = next((n, limb) for n, limb in enumerate(walker.limbs) if limb.name == truth.limb)
        for i, link in enumerate(limb.links):
            if link.name in truth.link_length_mm:
                built = truth.link_length_mm[link.name]
                operations.append(replace(f"/walker/limbs/{n}/links/{i}/length_mm", built))
        if truth.link_length_mm:
            operations.append(replace(f"/walker/as_built/limbs/{k}/link_length_mm", {}))
    return operations
