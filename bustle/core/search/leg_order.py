"""In which order legs step, for the way that is gone."""

from __future__ import annotations

import numpy as np

from bustle.core.document.checked import CheckedProject
from bustle.core.edits.patches import only_motions
from bustle.core.evaluate import evaluate
from bustle.core.kinds.gaits import GAITS, Gait, orders_of, spots_of
from bustle.core.project.motion import PhaseGait
from bustle.core.project.project import mounts_of
from bustle.core.search.stride import Direction, strided

# Orders are told apart with the longest stroke at this share of the longest leg, over so many instants.
ORDER_SHARE = 0.5
SAMPLES = 60


def in_its_orders(project: CheckedProject, walk: PhaseGait, direction: Direction) -> list[PhaseGait]:
    """The walk with its legs in each order that its gait leaves open, first the one that keeps the most margin going
    that way without a sway: back to front along the way of a creep, round the circle in a turn."""
    orders = orders_of(GAITS[walk.gait]) if walk.gait in GAITS else []
    if len(orders) < 2:
        return [walk]
    stroke = ORDER_SHARE * max(sum(k.length_mm for k in leg.links) for leg in project.walker.legs)
    places = spots_of(mounts_of(project, walk))

    def ordered(order: Gait) -> PhaseGait:
        timing = zip(walk.legs, order.phases(places), strict=True)
        legs = tuple(leg.model_copy(update={"phase": phase}) for leg, phase in timing)
        return walk.model_copy(update={"gait": order.name, "legs": legs})

    def margin_mm(rival: PhaseGait) -> float:
        still = rival.model_copy(update={"pose": rival.pose.model_copy(update={"sway": ()})})
        going = strided(project, still, direction, stroke)
        margin = evaluate(only_motions(project, going), going.name, SAMPLES).figure("worst_margin_mm")
        return -np.inf if margin is None else round(margin, 3)

    # Where they differ by nothing that can be measured they stay as they were.
    return sorted((ordered(order) for order in orders), key=margin_mm, reverse=True)
