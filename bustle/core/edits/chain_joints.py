"""Joints put on to a free chain, and taken away; its joints and links under other names."""

from __future__ import annotations

from typing import Any

import numpy as np

from bustle.core.document.checked import CheckedProject, parse_project
from bustle.core.edits.mirroring import lists_of_limbs
from bustle.core.edits.new_limbs import direct_drives, servo_types_of, usual_link
from bustle.core.edits.parts_gone import forget
from bustle.core.edits.stiff_parts import into_the_frame, into_the_link, sided
from bustle.core.edits.wiring import follow_places, in_order
from bustle.core.kinds.legs import FAMILIES
from bustle.core.project.project import document
from bustle.core.words.problems import refuse

Values = dict[str, Any]


def jointed(project: CheckedProject, limb: str, alike: bool = False, behind: str = "") -> CheckedProject:
    """A free chain with one joint more at its end, and a link beyond it; or behind a joint, where the next one is: then
    nothing else moves. With `alike`, all legs of its joints."""
    values = document(project)
    for own in _chains(values, limb, alike):
        joints, links = own["joints"], own["links"]
        at = joints.index(_part(own, "joints", behind)) + 1 if behind else len(joints)
        taken = {part["name"] for part in (*joints, *links)}
        n = next(n for n in range(1, 20) if not {f"joint{n}", f"link{n}"} & taken)
        joint = {"name": f"joint{n}", "min_deg": -60.0, "max_deg": 60.0, "axis": [0.0, 1.0, 0.0]}
        types = servo_types_of(values, own)
        beyond = 40.0 if at == len(joints) else 0.0
        joints.insert(at, joint)
        links.insert(at, usual_link(f"link{n}", beyond, (1.0, 0.0, 0.0)))
        values["walker"]["drives"] += direct_drives(values, {"name": own["name"], "joints": [joint]}, types[-1:])
    in_order(values)
    follow_places(values)
    return parse_project(values)


def unjointed(project: CheckedProject, limb: str, joint: str, alike: bool = False) -> CheckedProject:
    """A free chain without one of its joints; what was said of it goes with it. The last takes the link beyond it
    along; of another the link stays where it is at zero pose, on the part before. With `alike`, all legs of its
    joints."""
    values = document(project)
    for own in _chains(values, limb, alike):
        _unjoint(values, own, joint)
    follow_places(values)
    return parse_project(values)


def _unjoint(values: Values, own: Values, joint: str) -> None:
    at, last = own["joints"].index(_part(own, "joints", joint)), len(own["joints"]) - 1
    link = own["links"][at]
    if 0 < at < last:
        into_the_link(values, own, link, own["links"][at - 1])
    elif at < last:
        into_the_frame(values, own, link, sided(own, np.array(link["offset_mm"], dtype=float)))
    del own["joints"][at], own["links"][at]
    forget(values, own)


def joint_called(project: CheckedProject, limb: str, joint: str, called: str, alike: bool = False) -> CheckedProject:
    """A free chain with a joint under another name; what names it follows, its servo too. With `alike`, all legs of its
    joints."""
    values, places = document(project), {}
    walker = values["walker"]
    for own in _chains(values, limb, alike):
        name = own["name"]
        _call(own, "joints", joint, called)
        old, new = f"{name}/{joint}", f"{name}/{called}"
        for drive in walker["drives"]:
            drive["joints"] = [new if path == old else path for path in drive["joints"]]
            for servo in drive["servos"]:
                if servo["name"] == f"{name} {joint}" and new in drive["joints"]:
                    places[servo["name"]] = servo["name"] = f"{name} {called}"
        for hinge in (section["hinge"] for section in walker["sections"] if section["hinge"]):
            hinge["turned_by"] = new if hinge["turned_by"] == old else hinge["turned_by"]
        for truth in walker["as_built"]["limbs"]:
            for key in ("joint_zero_deg", "joint_play_deg") if truth["limb"] == name else ():
                truth[key] = {called if n == joint else n: told for n, told in truth[key].items()}
        for entry in (entry for entries in lists_of_limbs(values) for entry in entries):
            if (entry["limb"], entry.get("joint")) == (name, joint):
                entry["joint"] = called
        for control in values["controls"]:
            if control["does"] == "axis" and control["target"] == old:
                control["target"] = new
    follow_places(values, places)
    return parse_project(values)


def link_called(project: CheckedProject, limb: str, link: str, called: str, alike: bool = False) -> CheckedProject:
    """The same of one of its links."""
    values = document(project)
    walker = values["walker"]
    for own in _chains(values, limb, alike):
        name = own["name"]
        _call(own, "links", link, called)
        old, new = f"{name}/{link}", f"{name}/{called}"
        for servo in (servo for drive in walker["drives"] for servo in drive["servos"]):
            servo["sits_on"] = new if servo["sits_on"] == old else servo["sits_on"]
        for thing in (*walker["masses"], *(point for lead in walker["leads"] for point in lead["path"])):
            thing["on"] = new if thing["on"] == old else thing["on"]
        for truth in walker["as_built"]["limbs"]:
            if truth["limb"] == name:
                truth["link_length_mm"] = {called if n == link else n: t for n, t in truth["link_length_mm"].items()}
    return parse_project(values)


def _part(own: Values, parts: str, name: str) -> Values:
    found = next((part for part in own[parts] if part["name"] == name), None)
    if found is None:
        names = ", ".join(part["name"] for part in own[parts])
        raise refuse(parts.removesuffix("s"), f"{own['name']} has {names}, and no {name[:40]!r}")
    part: Values = found
    return part


def _call(own: Values, parts: str, name: str, called: str) -> None:
    part = _part(own, parts, name)
    if called in {other["name"] for other in own[parts] if other is not part}:
        raise refuse("called", f"{own['name']} has another {parts.removesuffix('s')} that is called {called[:40]!r}")
    part["name"] = called


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
