"""Legs in another order: what keeps a walk over its feet when as many as that cannot be in the air at once."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from bustle.core.edits.levers import LEVERS, motion_index
from bustle.core.edits.patches import replace
from bustle.core.judge.ways import Edit, Mending
from bustle.core.kinds.gaits import CUSTOM, GAITS, spots_of
from bustle.core.kinds.gaits.in_turn import duty_in_turn, phases_in_turn
from bustle.core.project.project import mounts_of
from bustle.core.words.wording import number

# So few legs cannot stand while one is in the air.
TOO_FEW = 3


@dataclass(frozen=True)
class Order:
    """What to call it, the gait it makes, the touchdown phase of each leg, and the least share they are down."""

    label: str
    gait: str
    phases: list[float]
    duty: float


def other_orders(m: Mending) -> Iterator[Edit]:
    """Each order at the duty that stands or the least of its own; where that leaves the swings less time, also so slow
    that each takes as long as it did."""
    for order in _orders(m):
        duties = [max(leg.duty, order.duty) for leg in m.gait.legs]
        edits = _in_order(m, order, duties)
        yield Edit(f"Leg order {order.label}", edits)
        shares = [(1 - duty) / (1 - leg.duty) for leg, duty in zip(m.gait.legs, duties, strict=True) if leg.duty < 1]
        swings = min(shares, default=1.0)
        if swings < 1:
            index = motion_index(m.project, m.motion)
            slower = LEVERS["pace"].set_to(m.project, index, max(100 * swings, LEVERS["pace"].low))
            yield Edit(f"Leg order {order.label}, slower, same strides", (*edits, *slower))


def orders_as_they_are_told(m: Mending) -> Iterator[Edit]:
    """Each order at the duty it is told for, where legs are down for longer."""
    for order in _orders(m):
        if any(leg.duty > order.duty for leg in m.gait.legs):
            edits = _in_order(m, order, [order.duty] * len(m.gait.legs))
            yield Edit(f"Leg order {order.label}, {number(100 * order.duty, 0)} % down", edits)


def _in_order(m: Mending, order: Order, duties: list[float]) -> tuple[dict[str, Any], ...]:
    edits = [replace(f"{m.path}/gait", order.gait)]
    for n, (leg, phase, duty) in enumerate(zip(m.gait.legs, order.phases, duties, strict=True)):
        edits.append(replace(f"{m.path}/legs/{n}/phase", phase))
        if duty != leg.duty:
            edits.append(replace(f"{m.path}/legs/{n}/duty", duty))
    return tuple(edits)


def _orders(m: Mending) -> Iterator[Order]:
    """The named static gaits that fit the places its legs are in; where none does, one leg after another."""
    mounts = mounts_of(m.project, m.gait)
    spots = spots_of(mounts)
    fit = [gait for gait in GAITS.values() if gait.fits(spots) and gait.balance == "static"]
    for gait in fit:
        if gait.name != m.gait.gait:
            yield Order(gait.label, gait.name, gait.phases(spots), gait.duty)
    if not fit and len(mounts) > TOO_FEW:
        yield Order("one after another", CUSTOM, phases_in_turn(mounts), duty_in_turn(len(mounts)))
