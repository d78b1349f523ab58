"""The frame in more than one section: another behind the last, and legs moved from one to the other."""

from __future__ import annotations

from typing import Any

import numpy as np

from bustle.core.document.checked import CheckedProject, parse_project
from bustle.core.edits.alike import followed
from bustle.core.machine.sections import section_places
from bustle.core.project.project import document
from bustle.core.words.problems import refuse

Values = dict[str, Any]


def hinged(project: CheckedProject, axis: str) -> CheckedProject:
    """Another section of the frame behind the last one, on a hinge; legs are moved onto it one by one."""
    values = document(project)
    sections = values["walker"]["sections"]
    if len(sections) == 3:
        raise refuse("sections", "a frame has at most three sections")
    carrier = sections[-1]
    long, wide, high = carrier["size_mm"]
    name = "back" if len(sections) == 1 else "tail"
    # Beyond the hips that sit on the edge before it.
    thick = max((link.radius_mm for limb in project.walker.limbs for link in limb.links), default=0.0)
    apart = -long / 4 - 2 * thick - project.limits.clearance_mm
    back = {"on": carrier["name"], "at_mm": [-long / 2, 0.0, 0.0], "to_mm": [apart, 0.0, 0.0], "axis": axis}
    if carrier["shape"] == "round":
        wide = long / 2
    sections.append({"name": name, "size_mm": [long / 2, wide, high], "shape": carrier["shape"], "hinge": back})
    # What is put on weighs as much for its size as what it hangs on, until it is weighed.
    frame = next((m for m in values["walker"]["masses"] if m["on"] == carrier["name"] and m["fills"]), None)
    if frame:
        area = carrier["size_mm"][0] * carrier["size_mm"][1]
        # One without an area has no weight for its size: then half, as it is half as long.
        share = (long / 2) * wide / area if area else 0.5
        weight = float(round(frame["mass_g"] * share))
        taken = {m["name"].casefold() for m in values["walker"]["masses"]}
        label = next(
            t for t in (f"Frame, {name}", *(f"Frame, {name} {n}" for n in range(2, 99))) if t.casefold() not in taken
        )
        values["walker"]["masses"].append({"name": label, "mass_g": weight, "on": name, "fills": True})
    return parse_project(values)


def hung(project: CheckedProject, limb: str, section: str, alike: bool) -> CheckedProject:
    """A limb on another section of the frame, as near to its ends, sides and top as it sat on the one before, and its
    foot brought along; with `alike`, its mirror image too. Raises InputRefused where either is not there."""
    values = document(project)
    sizes = {s["name"]: s["size_mm"] for s in values["walker"]["sections"]}
    moved: Values | None = next((m for m in values["walker"]["limbs"] if m["name"] == limb), None)
    if moved is None:
        raise refuse("limb", f"no limb is called {limb[:40]!r}")
    if section not in sizes:
        raise refuse("section", f"no section is called {section[:40]!r}")
    places, was = section_places(project.walker, {}), moved["mount"]["at_mm"]
    at = [x * new / old for x, old, new in zip(was, sizes[moved["section"]], sizes[section], strict=True)]
    shift = places[section].carry(np.array(at)) - places[moved["section"]].carry(np.array(was))
    moved["section"], moved["mount"]["at_mm"] = section, [round(x, 2) + 0.0 for x in at]
    if moved["neutral_mm"]:
        x, y = moved["neutral_mm"]
        moved["neutral_mm"] = [round(x + float(shift[0]), 2) + 0.0, round(y + float(shift[1]), 2) + 0.0]
    after = parse_project(values)
    return followed(project, after, limb) if alike else after
