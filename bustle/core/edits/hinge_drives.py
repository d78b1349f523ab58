"""A hinge of the frame is given a servo: it moves within motions like any joint."""

from __future__ import annotations

from typing import Any

from bustle.core.document.checked import CheckedProject, parse_project
from bustle.core.edits.new_limbs import direct_drives
from bustle.core.project.project import document
from bustle.core.words.problems import refuse

AXES = {"yaw": [0.0, 0.0, 1.0], "pitch": [0.0, 1.0, 0.0], "roll": [1.0, 0.0, 0.0]}


def hinge_driven(project: CheckedProject, section: str) -> CheckedProject:
    """A limb of one hinge where the section hangs, with a servo, that turns it. What motions and frames had it bent
    by is what they hold the joint at.

    Raises InputRefused for a section that is not there, hangs on nothing or is turned already.
    """
    values: dict[str, Any] = document(project)
    walker = values["walker"]
    found = next((s for s in walker["sections"] if s["name"] == section), None)
    if found is None or found["hinge"] is None:
        raise refuse("section", f"{section[:40]!r} is no hinged section of this frame")
    hinge = found["hinge"]
    if hinge["turned_by"]:
        raise refuse("section", f"{section} is turned by {hinge['turned_by']} already")
    taken = {limb["name"].casefold() for limb in walker["limbs"]}
    name = next(n for n in ("spine", *(f"spine{k}" for k in range(2, 100))) if n not in taken)
    joint = {"name": "bend", "min_deg": hinge["min_deg"], "max_deg": hinge["max_deg"], "axis": AXES[hinge["axis"]]}
    limb = {
        "name": name, "section": hinge["on"], "family": "serial", "branch": "as_near_as_it_gets",
        "mount": {"at_mm": hinge["at_mm"]}, "joints": [joint], "feet": [],
        "links": [{"name": "hinge", "length_mm": 0.0, "offset_mm": [0.0, 0.0, 0.0]}],
    }  # fmt: skip
    walker["limbs"].append(limb)
    walker["drives"] += direct_drives(values, limb)
    hinge["turned_by"] = f"{name}/bend"
    for motion in values["motions"]:
        for told in (motion, *motion.get("frames", ())):
            _hold(told, section, name)
    return parse_project(values)


def _hold(told: dict[str, Any], section: str, limb: str) -> None:
    """A gait or a frame that has the section bent holds its joint there instead."""
    pose = told.get("pose")
    if not isinstance(pose, dict):
        return
    for bend in pose["bends"]:
        if bend["section"] == section:
            told["joints"].append({"limb": limb, "joint": "bend", "value": bend["angle_deg"]})
    pose["bends"] = [bend for bend in pose["bends"] if bend["section"] != section]
