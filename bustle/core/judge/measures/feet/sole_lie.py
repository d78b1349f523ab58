"""How soles lie on the floor while they stand, and where they point."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from bustle.core.geometry.arrays import Array, Flags
from bustle.core.judge.measures.feet.foot_slip import planted
from bustle.core.kinds.legs import FAMILIES
from bustle.core.machine.limbs_on_soles import end_turn
from bustle.core.machine.section_shape import underside_mm
from bustle.core.project.walker import Limb
from bustle.core.walk.reading import Reading

# Soles that lie alike however they are turned.
ROUND = ("point", "ball")


@dataclass(frozen=True)
class Lie:
    """tilt: (L, S) rad out of the floor, or from the lean that is asked of a sole without breadth; edge_mm: (L, S), how
    far the tilt lifts the edge from where the middle is; turned: (L, S) rad from where the toes should point, to the
    left. All 0 where a foot does not stand. broad: (L,), whose soles have breadth to stand on. given: (L, S), where it
    stands by joints that are given, so that nothing is asked of it."""

    tilt: Array
    edge_mm: Array
    turned: Array
    broad: Flags
    given: Flags


def lies(limb: Limb) -> bool:
    """Whether a limb has a sole that a leg can hold out of true."""
    return limb.steps and FAMILIES[limb.family].sole_follows and limb.feet[0].sole.kind not in ROUND


def sole_lie(r: Reading) -> Lie:
    shape = r.of(planted).shape
    tilt, edge, turned = np.zeros(shape), np.zeros(shape), np.zeros(shape)
    limbs = r.project.walker.limbs
    for i, limb in enumerate(limbs):
        if not lies(limb):
            continue
        turn = end_turn(limb, i, r.course.body, r.course.solved, r.course.headings)[: r.samples]
        sole = limb.feet[0].sole
        # Sines of how far the sole's own directions point out of the floor.
        ahead, left = turn[:, 2, 0], turn[:, 2, 1]
        if sole.kind == "curved":
            tilt[i] = np.abs(np.arcsin(np.clip(left, -1.0, 1.0)) - np.radians(limb.lean_deg))
        elif sole.kind == "edge":
            way = np.radians(sole.heading_deg)
            rise = np.abs(np.cos(way) * ahead + np.sin(way) * left)
            tilt[i], edge[i] = np.arcsin(np.clip(rise, 0.0, 1.0)), sole.length_mm / 2 * rise
            if limb.lean_deg:
                # A blade may lean as it likes, unless it is asked to.
                across = np.arcsin(np.clip(np.cos(way) * left - np.sin(way) * ahead, -1.0, 1.0))
                tilt[i] = np.maximum(tilt[i], np.abs(across - np.radians(limb.lean_deg)))
        elif sole.kind == "rectangle":
            tilt[i] = np.arccos(np.clip(turn[:, 2, 2], -1.0, 1.0))
            edge[i] = (sole.length_mm * np.abs(ahead) + sole.width_mm * np.abs(left)) / 2
        heading = np.arctan2(turn[:, 1, 0], turn[:, 0, 0]) - r.course.headings[i, : r.samples]
        turned[i] = np.arctan2(np.sin(heading), np.cos(heading))
    down, given = r.of(planted), r.of(_carries_as_it_lies)
    broad = np.array([lies(m) and m.feet[0].sole.kind == "rectangle" for m in limbs], dtype=bool)
    return Lie(tilt * (down | given), edge * (down | given), turned * down, broad, given)


def _carries_as_it_lies(r: Reading) -> Flags:
    """(L, S): which feet touch with their joints given, while the frame lies on nothing."""
    rows, walker = slice(r.samples), r.project.walker
    found: Flags = r.course.contact[:, rows] & r.score.on_floor(r.course.time_s[rows])
    if r.score.may_rest:
        rims = sum(len(underside_mm(section)) for section in walker.sections)
        found = found & ~r.course.stand[-rims:, rows].any(axis=0)
    return found
