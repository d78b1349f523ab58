"""What names a joint or a link of a limb that is no more: it goes too, and what rode on it rides where the limb is
mounted."""

from __future__ import annotations

from typing import Any

from bustle.core.edits.mirroring import lists_of_limbs

Values = dict[str, Any]


def forget(values: Values, limb: Values) -> None:
    """In place: all that hangs on a limb hangs on the joints and links that it has."""
    walker, name = values["walker"], limb["name"]
    joints, links = ({part["name"] for part in limb[parts]} for parts in ("joints", "links"))

    def left(path: str | None, parts: set[str]) -> bool:
        own, slash, part = (path or "").partition("/")
        return not slash or own != name or part in parts

    walker["drives"] = [d for d in walker["drives"] if all(left(j, joints) for j in d["joints"])]
    for servo in (servo for drive in walker["drives"] for servo in drive["servos"]):
        if not left(servo.get("sits_on"), links):
            servo["sits_on"] = None
    for hinge in (section["hinge"] for section in walker["sections"] if section["hinge"]):
        if not left(hinge["turned_by"], joints):
            hinge["turned_by"] = None
    for mass in walker["masses"]:
        if not left(mass["on"], links):
            mass["on"], mass["at_mm"] = limb["section"], limb["mount"]["at_mm"]
    walker["leads"] = [lead for lead in walker["leads"] if all(left(p["on"], links) for p in lead["path"])]
    for truth in walker["as_built"]["limbs"]:
        if truth["limb"] == name:
            for key, parts in (("link_length_mm", links), ("joint_zero_deg", joints), ("joint_play_deg", joints)):
                truth[key] = {part: told for part, told in truth[key].items() if part in parts}
    for said in lists_of_limbs(values):
        said[:] = [a for a in said if a["limb"] != name or "joint" not in a or a["joint"] in joints]
    values["controls"] = [c for c in values["controls"] if c["does"] != "axis" or left(c["target"], joints)]


def unmeasured(values: Values, limb: str) -> None:
    """In place: nothing that was measured of a limb holds of the one that is there now."""
    as_built = values["walker"]["as_built"]
    as_built["limbs"] = [truth for truth in as_built["limbs"] if truth["limb"] != limb]
