"""A link whose joint turns no longer: it becomes the frame's, or the link's before it, with all that it carries."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.machine.sections import turned

Values = dict[str, Any]


# A mirrored limb's chain is told as the other side's: its y is turned round.
FLIPPED = np.array([1.0, -1.0, 1.0])


def sided(limb: Values, way: Array) -> Array:
    """A way (3,) as a limb's chain tells it, as it lies; and back."""
    return way * FLIPPED if limb["mirrored"] else way


def into_the_frame(values: Values, limb: Values, link: Values, offset: Array) -> None:
    """In place: the first joint sits at its end. offset (3,) mm: of the link, as its limb's mount sees it."""
    mount, section = limb["mount"], limb["section"]
    begins, turn = np.array(mount["at_mm"]), turned(mount["yaw_deg"], mount["pitch_deg"], mount["roll_deg"])

    def on_the_frame(point: Array) -> list[float]:
        return plain(np.round(begins + turn @ point, 3))

    _carried(values, f"{limb['name']}/{link['name']}", section, on_the_frame)
    if link["mass_g"]:
        name = f"{limb['name']} {link['name']}"
        own = {"name": name, "mass_g": link["mass_g"], "on": section, "at_mm": on_the_frame(offset / 2)}
        values["walker"]["masses"].append(own)
    mount["at_mm"] = on_the_frame(offset)


def into_the_link(values: Values, limb: Values, link: Values, before: Values) -> None:
    """In place, of a free chain: one straight line from where the link before begins to where this one ends."""
    way, own = (np.array(part["offset_mm"], dtype=float) for part in (before, link))
    begins = sided(limb, way)
    _carried(
        values,
        f"{limb['name']}/{link['name']}",
        f"{limb['name']}/{before['name']}",
        lambda point: plain(np.round(begins + point, 3)),
    )
    length = float(np.linalg.norm(way + own))
    before.update(offset_mm=plain(way + own), length_mm=length, mass_g=before["mass_g"] + link["mass_g"])
    for truth in values["walker"]["as_built"]["limbs"]:
        if truth["limb"] == limb["name"]:
            truth["link_length_mm"].pop(before["name"], None)


def _carried(values: Values, path: str, to: str, at: Callable[[Array], list[float]]) -> None:
    """Masses, leads and servos on a part, on another."""
    walker = values["walker"]
    for thing in (*walker["masses"], *(point for lead in walker["leads"] for point in lead["path"])):
        if thing["on"] == path:
            thing.update(on=to, at_mm=at(np.array(thing["at_mm"])))
    for servo in (servo for drive in walker["drives"] for servo in drive["servos"]):
        if servo.get("sits_on") == path:
            servo["sits_on"] = to


def plain(point: Array) -> list[float]:
    return [float(v) + 0.0 for v in point]
