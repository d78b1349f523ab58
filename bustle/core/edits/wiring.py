"""Drives and their places come and go with the limbs they move; what is wired and fitted goes with them."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

Values = dict[str, Any]

# Groups that say something of a place, one entry a place.
OF_A_PLACE = ("fitted", "seen")


def places_in(values: Values) -> set[str]:
    return {servo["name"] for drive in values["walker"]["drives"] for servo in drive["servos"]}


def in_order(values: Values) -> None:
    """In place: drives in the order of the limbs that they move, and of their joints."""
    walker = values["walker"]
    paths = [f"{limb['name']}/{joint['name']}" for limb in walker["limbs"] for joint in limb["joints"]]
    places = {path: n for n, path in enumerate(paths)}
    walker["drives"].sort(key=lambda drive: places.get(drive["joints"][0], -1))


def follow_places(values: Values, names: Mapping[str, str] | None = None) -> None:
    """Places under other names are followed; of those that are no more their servos become spares."""
    electrics, names = values["electrics"], names or {}
    kept = places_in(values)

    def place(name: str | None) -> str | None:
        found = names.get(name, name) if name else None
        return found if found in kept else None

    for item in electrics["items"]:
        item["place"] = place(item["place"])
    for seen in electrics["seen"]:
        seen["instead"] = place(seen["instead"])
    for group in OF_A_PLACE:
        electrics[group] = [e for e in electrics[group] if place(e["place"])]
        for entry in electrics[group]:
            entry["place"] = place(entry["place"])
    for board in electrics["boards"]:
        board["wires"] = [w for w in board["wires"] if place(w["place"])]
        for wire in board["wires"]:
            wire["place"] = place(wire["place"])
    for bank in electrics["banks"]:
        bank["places"] = [p for name in bank["places"] if (p := place(name))]
