"""How high a level body lies when its joints are given: as low as its feet, its links or its belly let it."""

from __future__ import annotations

import numpy as np

from bustle.core.at_rest.turned_sections import turned_sections
from bustle.core.geometry.arrays import Array
from bustle.core.geometry.serial_chain import forward
from bustle.core.machine import soles as sole
from bustle.core.machine.limb_groups import groups
from bustle.core.machine.section_shape import outline_mm
from bustle.core.machine.sections import section_places
from bustle.core.project.kept_by_identity import KeptByIdentity
from bustle.core.project.walker import Limb, Walker

# Ways of bending one walker that are kept.
BENDS = 64

_known: KeptByIdentity[dict[tuple[tuple[str, float], ...], float]] = KeptByIdentity(16)


def lies_at_mm(walker: Walker, bends_deg: dict[str, float]) -> float:
    """How high the middle of the body is where no leg holds it: on its frame, or on the casters, wheels and skids that
    are fixed to that."""
    known, bent = _known.of((walker,), dict), tuple(sorted(bends_deg.items()))
    found = known.get(bent)
    if found is None:
        if len(known) >= BENDS:
            known.clear()
        found = known[bent] = _lies_at_mm(walker, bends_deg)
    return found


def _lies_at_mm(walker: Walker, bends_deg: dict[str, float]) -> float:
    found = [frame_below_mm(walker, bends_deg)]
    for group in groups(walker, bends_deg):
        if not group.columns.shape[1]:
            points, frames = forward(group.build.chain, np.zeros((len(group.members), 1, 0)))
            limbs = [walker.limbs[int(member)] for member in group.members]
            ends = zip(limbs, points[:, :, -1], frames, strict=True)
            found += [float(_foot_below(limb, end, turns)[0]) for limb, end, turns in ends if limb.passive]
    return max(found)


def frame_below_mm(walker: Walker, bends_deg: dict[str, float]) -> float:
    """How far the frame reaches below the middle of the body."""
    places = section_places(walker, bends_deg)
    return -min(float(places[s.name].carry(outline_mm(s))[:, 2].min()) for s in walker.sections)


def resting_height_mm(walker: Walker, joints: Array, bends_deg: dict[str, float]) -> Array:
    """(S,) mm: the ride height at which the lowest part touches the floor, joints (S, J)."""
    places, swung = section_places(walker, bends_deg), turned_sections(walker, joints, bends_deg)
    below = np.full(len(joints), frame_below_mm(walker, bends_deg))
    for section in walker.sections:
        if section.name in swung:
            rim = places[section.name].carry(outline_mm(section))[:, None]
            below = np.maximum(below, -swung[section.name].carry(rim)[..., 2].min(axis=0))
    for group in groups(walker, bends_deg):
        points, frames = forward(group.build.chain, np.moveaxis(joints[:, group.columns], 1, 0))
        for row, member in enumerate(group.members):
            limb = walker.limbs[int(member)]
            turns = frames[row]
            if limb.section in swung:
                points[row] = np.swapaxes(swung[limb.section].carry(np.swapaxes(points[row], 0, 1)), 0, 1)
                turns = swung[limb.section].turn[:, None] @ turns
            thick = max((k.radius_mm for k in limb.links), default=0.0)
            end = _foot_below(limb, points[row, :, -1], turns) if limb.feet else thick - points[row, :, -1, 2]
            below = np.maximum(below, end)
            if points.shape[2] > 2:
                below = np.maximum(below, thick - points[row, :, 1:-1, 2].min(axis=1))
    return below


def _foot_below(limb: Limb, end: Array, turns: Array) -> Array:
    """(S,) mm: how far below the body's middle a limb's foot reaches, soles and what they roll on included."""
    foot = limb.feet[0]
    if not turns.shape[1]:
        return sole.height_mm(limb) - end[:, 2]
    turn = turns[:, -1]
    lies = sole.sole_turn(limb, turn, np.zeros(len(end)))
    found: Array = -sole.corners(foot, sole.carried(foot, end, turn), lies)[..., 2].min(axis=0)
    return found
