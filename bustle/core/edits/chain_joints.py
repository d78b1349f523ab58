"""Joints put on to a free chain, and taken away."""

from __future__ import annotations

from typing import Any

from bustle.core.document.checked import CheckedProject, parse_project
from bustle.core.edits.new_limbs import direct_drives, servo_types_of, usual_link
from bustle.core.edits.parts_gone import forget
from bustle.core.edits.wiring import follow_places
from bustle.core.kinds.legs import FAMILIES
from bustle.core.project.project import document
from bustle.core.words.problems import refuse

Values = dict[str, Any]


def jointed(project: CheckedProject, limb: str, alike: bool = False) -> CheckedProject:
    """A free chain with one joint more at its end, and the link behind it; with `alike`, all legs of its joints."""
    values = document(project)
    for own in _chains(values, limb, alike):
        taken = {j["name"] for j in own["joints"]} | {k["name"] for k in own["links"]}
        n = next(n for n in range(1, 20) if not {f"joint{n}", f"link{n}"} & taken)
        joint = {"name": f"joint{n}", "min_deg": -60.0, "max_deg": 60.0, "axis": [0.0, 1.0, 0.0]}
        types = servo_types_of(values, own)
        own["joints"].append(joint)
        own["links"].append(usual_link(f"link{n}", 40.0, (1.0, 0.0, 0.0)))
        values["walker"]["drives"] += direct_drives(values, {"name": own["name"], "joints": [joint]}, types[-1:])
    return parse_project(values)


def unjointed(project: CheckedProject, limb: str, joint: str, alike: bool = False) -> CheckedProject:
    """A free chain without one of its joints and the link behind it; what was said of it goes with it. With `alike`,
    all legs of its joints."""
    values = document(project)
    for own in _chains(values, limb, alike):
        _unjoint(values, own, joint)
    follow_places(values)
    return parse_project(values)


def _unjoint(values: Values, own: Values, joint: str) -> None:
    limb, names = own["name"], [j["name"] for j in own["joints"]]
    if joint not in names:
        raise refuse("joint", f"{limb} has {', '.join(names)}, and no {joint[:40]!r}")
    at = names.index(joint)
    del own["joints"][at], own["links"][at]
    forget(values, own)


def _chains(values: Values, limb: str, alike: bool) -> list[Values]:
    """A free chain; with `alike`, a leg's and those of the other legs that have the same joints."""
    own = _chain(values, limb)
    if not (alike and own["feet"]):
        return [own]
    joints = [j["name"] for j in own["joints"]]
    same = [m for m in values["walker"]["limbs"] if m["feet"] and m["family"] == own["family"]]
    return [m for m in same if [j["name"] for j in m["joints"]] == joints]


def _chain(values: Values, limb: str) -> Values:
    found = next((m for m in values["walker"]["limbs"] if m["name"] == limb), None)
    if found is None or not FAMILIES[found["family"]].open:
        raise refuse("limb", f"{limb[:40]!r} is no free chain, whose joints one may add and take away")
    chain: Values = found
    return chain
