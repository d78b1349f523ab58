"""A leg of a family as the free chain that it is: every joint by its axis, every link by its offset, all as they were.

Joints keep their names, sense, ends and servos, links their names and weights; where two joints meet in one place a
bracket without length lies between them. A mirrored leg stays one: axes are told so that, mirrored, they are its own.
"""

from __future__ import annotations

from typing import Any

import numpy as np

from bustle.core.edits.parts_gone import forget
from bustle.core.edits.stiff_parts import into_the_frame, plain
from bustle.core.kinds.legs import FAMILIES
from bustle.core.kinds.legs.family import Family, Layout
from bustle.core.kinds.legs.free_chain import kept

Values = dict[str, Any]

# A chain's y is turned round in the mirror, and its hinges' sense with it.
FLIPPED = np.array([1.0, -1.0, 1.0])


def opened(values: Values, leg: Values) -> bool:
    """In place, where each of its joints turns one hinge of its own: rods between them are no chain."""
    family = FAMILIES[leg["family"]]
    if family.open:
        return False
    laid = _laid_out(leg)
    stiff = _stiff(laid, len(leg["joints"]))
    if stiff is None:
        return False
    by_hinge = dict(zip(laid.link_at or range(len(leg["links"])), leg["links"], strict=False))
    for hinge in range(stiff):
        into_the_frame(values, leg, by_hinge.pop(hinge), laid.offsets[0, hinge])
    joints, links, longer = [], [], {}
    for hinge, joint in enumerate(leg["joints"], start=stiff):
        axis, offset = laid.axes[hinge], laid.offsets[0, hinge]
        if leg["mirrored"]:
            axis, offset = -axis * FLIPPED, offset * FLIPPED
        # What lies between two joints in one place is a bracket.
        link = by_hinge.get(hinge) or {"name": f"{joint['name']}_bracket"[:24], "mass_g": 0.0}
        joints.append({**joint, "axis": plain(axis)})
        links.append({**link, "length_mm": float(np.linalg.norm(offset)), "offset_mm": plain(offset)})
        longer[link["name"]] = links[-1]["length_mm"] - link.get("length_mm", 0.0)
    for truth in values["walker"]["as_built"]["limbs"]:
        if truth["limb"] == leg["name"]:
            told = truth["link_length_mm"]
            truth["link_length_mm"] = {name: was + longer.get(name, 0.0) for name, was in told.items()}
    keep = kept(leg["feet"][0]["sole"]["kind"], laid.axes[stiff:]) if leg["feet"] else None
    leg.update(joints=joints, links=links, family="serial", branch=FAMILIES["serial"].branches[0])
    leg.update(hip_offset_mm=[0.0, 0.0, 0.0], keep=keep)
    forget(values, leg)
    return True


def closed_again(leg: Values, family: Family) -> bool:
    """In place: whether a chain has the joints of a family, as one has that was opened; then without its axes."""
    if not FAMILIES[leg["family"]].open or any(joint["kind"] != "hinge" for joint in leg["joints"]):
        return False
    if [joint["name"] for joint in leg["joints"]] != [joint.name for joint in family.joints]:
        return False
    for joint, link in zip(leg["joints"], leg["links"], strict=True):
        joint["axis"] = link["offset_mm"] = None
    return True


def _laid_out(leg: Values) -> Layout:
    hip = np.array([leg["hip_offset_mm"]], dtype=float)
    if leg["mirrored"]:
        hip *= FLIPPED
    lengths = np.array([[k["length_mm"] for k in leg["links"]]], dtype=float)
    return FAMILIES[leg["family"]].layout(lengths, hip, np.array([leg["mirrored"]]))


def _stiff(laid: Layout, joints: int) -> int | None:
    """How many parts before the first joint do not turn; None where a joint turns more than one hinge."""
    stiff = len(laid.axes) - joints
    if laid.coupling is None:
        return stiff
    return stiff if np.array_equal(laid.coupling[stiff:], np.eye(joints)) else None
