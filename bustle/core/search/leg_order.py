"""In which order legs step, for the way that is gone."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from itertools import permutations

import numpy as np

from bustle.core.document.checked import CheckedProject
from bustle.core.edits.patches import only_motions
from bustle.core.evaluate import evaluate
from bustle.core.kinds.gaits import CUSTOM, GAITS, orders_of, spots_of
from bustle.core.project.motion import MotionAt, PhaseGait, Transition
from bustle.core.project.project import mounts_of
from bustle.core.search.stride import Direction, strided

# Orders are told apart with the longest stroke at this share of the longest leg, over so many instants.
ORDER_SHARE = 0.5
SAMPLES = 60
# Of so many legs in places that no gait is told for, every order is tried: 24 of five.
MOST_LEGS = 5


def in_its_orders(project: CheckedProject, walk: PhaseGait, direction: Direction) -> Iterator[PhaseGait]:
    """The walk with its legs in each order that may do, the likeliest first.

    Where its gait leaves the order open, by the margin kept going that way without a sway: back to front along the way
    of a creep. Few legs one after the other in places that leave none open go in their own,
    and then in the others by that margin."""
    named = orders_of(GAITS[walk.gait]) if walk.gait in GAITS else []
    if len(named) > 1:
        places = spots_of(mounts_of(project, walk))
        rivals = [_ordered(walk, order.name, order.phases(places)) for order in named]
        yield from _by_margin(project, rivals, direction)
        return
    yield walk
    if named and len(walk.legs) == 4:
        # Every order of four has a name, and this one was asked for.
        return
    first, *others = (leg.phase for leg in walk.legs)
    if walk.balance == "static" and len({first, *others}) == len(walk.legs) <= MOST_LEGS:
        _, *different = permutations(others)
        yield from _by_margin(project, [_ordered(walk, CUSTOM, (first, *order)) for order in different], direction)


def _ordered(walk: PhaseGait, gait: str, phases: Sequence[float]) -> PhaseGait:
    timing = zip(walk.legs, phases, strict=True)
    legs = tuple(leg.model_copy(update={"phase": phase}) for leg, phase in timing)
    return walk.model_copy(update={"gait": gait, "legs": legs})


def _by_margin(project: CheckedProject, rivals: list[PhaseGait], direction: Direction) -> list[PhaseGait]:
    stroke = ORDER_SHARE * max(sum(k.length_mm for k in leg.links) for leg in project.walker.legs)

    def margin_mm(rival: PhaseGait) -> float:
        still = rival.model_copy(update={"pose": rival.pose.model_copy(update={"sway": ()})})
        going = strided(project, still, direction, stroke)
        margin = evaluate(only_motions(project, going), going.name, SAMPLES).figure("worst_margin_mm")
        return -np.inf if margin is None else round(margin, 3)

    # Where they differ by nothing that can be measured they stay as they were.
    return sorted(rivals, key=margin_mm, reverse=True)


def sets_out_and_stops(project: CheckedProject, walk: PhaseGait, stand: PhaseGait) -> bool:
    """Whether it does not fall as it sets out from standing nor as it comes to rest: a turn whose feet stand so that it
    needs no sway while it lasts has none to lean by before."""
    there, here = MotionAt(motion=walk.name), MotionAt(motion=stand.name)
    ends = [Transition(name="Start", start=here, end=there), Transition(name="Stop", start=there, end=here)]
    whole = only_motions(project, walk, stand, *ends)
    found = [one for end in ends for one in evaluate(whole, end.name).findings_among(("F18",))]
    return all(one.severity != "stop" for one in found)
