"""The mirror image across the x–z plane: of a limb with everything that hangs on it, and of a whole machine.

A turn about an axis that lies in that plane (a yaw, a roll) changes its sign, one about an axis across it (a pitch, a
knee) keeps it; in a free chain the axes themselves are mirrored, so that no angle changes. Everything told in angles of
a joint follows that one rule: end stops, servo centres, levers, held joints, moves of arms, folding, measured zeros.
Places go to the other side.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import numpy as np

from bustle.core.document.checked import CheckedProject, parse_project
from bustle.core.kinds.legs import FAMILIES, Family
from bustle.core.project.project import document

Values = dict[str, Any]

# Settings of a drive that are angles of its first joint, or of its second.
FIRST_ANGLES = ("horn_deg", "lever_deg", "rest_deg")
SECOND_ANGLES = ("second_centre_deg",)


def limb_lists(motion: Values) -> list[list[Values]]:
    """Every list of a motion, but its legs' timings, whose entries name a limb."""
    frames = motion.get("frames", [])
    lists = [motion.get("joints"), motion.get("held"), motion.get("moves_of_arms")]
    lists += [frame[key] for frame in frames for key in ("feet", "joints", "ease")]
    return [entries for entries in lists if entries]


def lists_of_limbs(values: Values) -> list[list[Values]]:
    """The same of all motions, and of the folded pose."""
    folded = values["walker"]["folded"]
    lists = [entries for motion in values["motions"] for entries in limb_lists(motion)]
    return [*lists, folded["joints"]] if folded else lists


def turned_over(limb: Values, joint: str) -> bool:
    """Whether the joint's angles change their sign in the mirror."""
    return joint_turns_over(FAMILIES[limb["family"]], joint)


def joint_turns_over(family: Family, joint: str) -> bool:
    """The same for any leg of a family."""
    if family.open:
        return False
    count = max(1, len(family.links))
    layout = family.layout(np.full((1, count), 10.0), np.zeros((1, 3)), np.zeros(1, dtype=bool))
    n = [j.name for j in family.joints].index(joint)
    hinge = n if layout.coupling is None else int(np.flatnonzero(layout.coupling[:, n])[0])
    return abs(float(layout.axes[hinge][1])) < 0.5


def mirror_limb(limb: Values) -> None:
    """In place. An upright leg is flipped; a sprawled one is turned to the other side."""
    mount, family = limb["mount"], FAMILIES[limb["family"]]
    mount["at_mm"][1] = _other(mount["at_mm"][1])
    mount["yaw_deg"], mount["roll_deg"] = _other(mount["yaw_deg"]), _other(mount["roll_deg"])
    if limb["neutral_mm"]:
        limb["neutral_mm"][1] = _other(limb["neutral_mm"][1])
    limb["toe_deg"], limb["lean_deg"] = _other(limb["toe_deg"]), _other(limb["lean_deg"])
    if family.sole_follows or family.open or any(limb["hip_offset_mm"]):
        limb["mirrored"] = not limb["mirrored"]
    for foot in limb["feet"]:
        foot["at_mm"][1] = _other(foot["at_mm"][1])
        for part, names in (("sole", ("left_mm", "heading_deg")), ("contact", ("heading_deg",))):
            for name in names:
                if name in foot[part]:
                    foot[part][name] = _other(foot[part][name])
    for joint in limb["joints"]:
        if joint["kind"] == "hinge" and turned_over(limb, joint["name"]):
            joint["min_deg"], joint["max_deg"] = _other(joint["max_deg"]), _other(joint["min_deg"])


def mirror_what_hangs(values: Values, name: str) -> None:
    """What hangs on a limb and what motions say of it, in place: drives, masses, angles, feet."""
    limb = next(m for m in values["walker"]["limbs"] if m["name"] == name)
    walker = values["walker"]
    for drive in walker["drives"]:
        if all(j.startswith(f"{name}/") for j in drive["joints"]):
            mirror_drive(drive, limb)
    for mass in walker["masses"]:
        if mass["on"].startswith(f"{name}/"):
            mass["at_mm"][1] = _other(mass["at_mm"][1])
    for entry in _told_of(values, name):
        for key in ("value", "to", "middle", "swing"):
            if key in entry and turned_over(limb, entry["joint"]):
                entry[key] = _other(entry[key])
        if "at_mm" in entry:
            entry["at_mm"][1] = _other(entry["at_mm"][1])


def mirror_image(project: CheckedProject) -> CheckedProject:
    """The whole machine and all its motions in the mirror; every part keeps its name, and is on the other side."""
    values = document(project)
    walker = values["walker"]
    for section in walker["sections"]:
        hinge = section["hinge"]
        if hinge:
            for end in ("at_mm", "to_mm"):
                hinge[end][1] = _other(hinge[end][1])
            if hinge["axis"] != "pitch":
                hinge["min_deg"], hinge["max_deg"] = _other(hinge["max_deg"]), _other(hinge["min_deg"])
    over = {s["name"] for s in walker["sections"] if s["hinge"] and s["hinge"]["axis"] != "pitch"}
    sections = {s["name"] for s in walker["sections"]}
    for thing in (*walker["masses"], *walker["drags"], *(point for lead in walker["leads"] for point in lead["path"])):
        if thing["on"] in sections:
            thing["at_mm"][1] = _other(thing["at_mm"][1])
    for limb in walker["limbs"]:
        mirror_limb(limb)
    for limb in walker["limbs"]:
        mirror_what_hangs(values, limb["name"])
        _mirror_as_built(values, limb)
    values["floor"]["uphill_deg"] = _other(values["floor"]["uphill_deg"])
    for motion in values["motions"]:
        for twist in _twists(motion):
            twist["vy_mm_s"], twist["omega_deg_s"] = _other(twist["vy_mm_s"]), _other(twist["omega_deg_s"])
        if "steer_mm_m" in motion:
            motion["steer_mm_m"] = _other(motion["steer_mm_m"])
        for pose in (*([motion["pose"]] if "pose" in motion else ()), *(f["pose"] for f in motion.get("frames", ()))):
            mirror_pose(pose)
            for bend in pose["bends"]:
                if bend["section"] in over:
                    bend["angle_deg"] = _other(bend["angle_deg"])
    return parse_project(values)


def mirror_pose(pose: Values) -> None:
    """What leans, is turned or sways to one side does so to the other."""
    pose["shift_mm"][1] = _other(pose["shift_mm"][1])
    pose["roll_deg"], pose["yaw_deg"] = _other(pose["roll_deg"]), _other(pose["yaw_deg"])
    for term in pose["sway"]:
        term["y_cos_mm"], term["y_sin_mm"] = _other(term["y_cos_mm"]), _other(term["y_sin_mm"])


def _mirror_as_built(values: Values, limb: Values) -> None:
    """What was measured of a limb, and the leads that run over it."""
    for lead in values["walker"]["leads"]:
        for point in lead["path"]:
            if point["on"].startswith(f"{limb['name']}/"):
                point["at_mm"][1] = _other(point["at_mm"][1])
    for truth in values["walker"]["as_built"]["limbs"]:
        if truth["limb"] == limb["name"]:
            for joint in truth["joint_zero_deg"]:
                if turned_over(limb, joint):
                    truth["joint_zero_deg"][joint] = _other(truth["joint_zero_deg"][joint])
            for reading in truth["drift"]:
                reading["drift_mm"][1] = _other(reading["drift_mm"][1])


def _other(value: float) -> float:
    return -value + 0.0


def mirror_drive(drive: Values, limb: Values) -> None:
    """What turns a limb's joints, in place."""
    over = [turned_over(limb, path.partition("/")[2]) for path in drive["joints"]]
    for n, servo in enumerate(drive["servos"]):
        if over[min(n, len(over) - 1)]:
            servo["centre_deg"] = _other(servo["centre_deg"])
    for names, turned in ((FIRST_ANGLES, over[0]), (SECOND_ANGLES, over[-1])):
        for name in names:
            if turned and name in drive["settings"]:
                drive["settings"][name] = _other(drive["settings"][name])


def _told_of(values: Values, name: str) -> Iterator[Values]:
    """Entries of motions and of the folded pose that name a limb, and say an angle or a place."""
    for entries in lists_of_limbs(values):
        yield from (entry for entry in entries if entry["limb"] == name)


def _twists(motion: Values) -> Iterator[Values]:
    if "twist" in motion:
        yield motion["twist"]
    for way in motion.get("ways", ()):
        yield way["twist"]
