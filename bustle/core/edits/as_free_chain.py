"""A leg of a family as the free chain that it is: every joint by its axis, every link by its offset, all as they were.

Joints keep their names, sense, ends and servos, links their names and weights; where two joints meet in one place a
bracket without length lies between them, and what does not turn is one with what it hangs on. A mirrored leg stays one:
axes are told so that, mirrored, they are its own.
"""

from __future__ import annotations

from typing import Any

import numpy as np

from bustle.core.edits.parts_gone import forget
from bustle.core.edits.stiff_parts import into_the_frame, into_the_link, plain, sided
from bustle.core.geometry.arrays import Flags
from bustle.core.kinds.legs import FAMILIES
from bustle.core.kinds.legs.family import Family, Layout
from bustle.core.kinds.legs.free_chain import kept

Values = dict[str, Any]


def opened(values: Values, leg: Values) -> bool:
    """In place, where each of its joints turns one hinge of its own: rods between them are no chain. What is one
    stays."""
    family = FAMILIES[leg["family"]]
    if family.open:
        return True
    laid = _laid_out(leg)
    turns: Flags = np.ones(len(laid.axes), dtype=bool)
    if laid.coupling is not None:
        turns = np.asarray(laid.coupling.any(axis=1), dtype=bool)
    if laid.coupling is not None and not np.array_equal(laid.coupling[turns], np.eye(len(leg["joints"]))):
        return False
    by_hinge = dict(zip(laid.link_at or range(len(leg["links"])), leg["links"], strict=False))
    joints, links, longer = iter(leg["joints"]), [], {}
    named: list[Values] = []
    for hinge, offset in enumerate(laid.offsets[0]):
        # What lies between two joints in one place is a bracket.
        link = by_hinge.get(hinge, {"name": f"{family.joints[len(named)].name}_bracket", "mass_g": 0.0})
        if not turns[hinge] and not named:
            into_the_frame(values, leg, link, offset)
            continue
        part = {**link, "length_mm": float(np.linalg.norm(offset)), "offset_mm": plain(sided(leg, offset))}
        if turns[hinge]:
            # In the mirror hinges turn the other way, too.
            axis = sided(leg, laid.axes[hinge]) * (-1.0 if leg["mirrored"] else 1.0)
            named.append({**next(joints), "axis": plain(axis)})
            links.append(part)
            longer[link["name"]] = part["length_mm"] - link.get("length_mm", 0.0)
        else:
            into_the_link(values, leg, part, links[-1])
    for truth in values["walker"]["as_built"]["limbs"]:
        if truth["limb"] == leg["name"]:
            told = truth["link_length_mm"]
            truth["link_length_mm"] = {name: was + longer.get(name, 0.0) for name, was in told.items()}
    keep = kept(leg["feet"][0]["sole"]["kind"], laid.axes[turns]) if leg["feet"] else None
    leg.update(joints=named, links=links, family="serial", branch=FAMILIES["serial"].branches[0])
    leg.update(hip_offset_mm=[0.0, 0.0, 0.0], keep=keep)
    forget(values, leg)
    return True


def closed_again(leg: Values, family: Family) -> bool:
    """In place: whether a chain has the joints of a family, as one has that was opened; then without its axes."""
    if not FAMILIES[leg["family"]].open or any(joint["kind"] != "hinge" for joint in leg["joints"]):
        return False
    if [joint["name"] for joint in leg["joints"]] != [joint.name for joint in family.joints]:
        return False
    links = {link["name"] for link in leg["links"]}
    if any(link.name not in links and not link.may_be_zero for link in family.links):
        return False
    for joint, link in zip(leg["joints"], leg["links"], strict=True):
        joint["axis"] = link["offset_mm"] = None
    return True


def _laid_out(leg: Values) -> Layout:
    hip = sided(leg, np.array([leg["hip_offset_mm"]], dtype=float))
    lengths = np.array([[k["length_mm"] for k in leg["links"]]], dtype=float)
    return FAMILIES[leg["family"]].layout(lengths, hip, np.array([leg["mirrored"]]))
