"""What a plan tells of a machine's own sensors, over its cycle: how it leans, and which feet are down."""

from __future__ import annotations

import numpy as np

from bustle.core.geometry.arrays import Array, Flags
from bustle.core.loads.giving.sag import sag
from bustle.core.loads.told import not_standing
from bustle.core.walk.reading import Reading


def leans_told(r: Reading, phases: int) -> dict[str, Array]:
    """(phases,) degrees by "roll" and "pitch", seen from the way it heads: as planned and, where that can be told, as
    the machine gives under its weight."""
    n = r.samples
    turn, heading = r.course.body.turn[:n], r.course.body.travel[2][:n]
    roll, pitch = np.arctan2(turn[:, 2, 1], turn[:, 2, 2]), -np.arcsin(np.clip(turn[:, 2, 0], -1.0, 1.0))
    if not not_standing(r):
        gives = r.of(sag).turn
        roll = roll + np.cos(heading) * gives[:, 0] + np.sin(heading) * gives[:, 1]
        pitch = pitch - np.sin(heading) * gives[:, 0] + np.cos(heading) * gives[:, 1]
    return {way: np.degrees(_at_phases(v, phases)) for way, v in (("roll", roll), ("pitch", pitch))}


def contacts_told(r: Reading, phases: int) -> dict[str, Array]:
    """(phases,) 0 … 1 of each limb with a foot: how much of the time around that phase it is down."""
    found = {}
    for i, limb in enumerate(r.project.walker.limbs):
        if limb.feet:
            found[limb.name] = _at_phases(r.course.contact[i, : r.samples].astype(float), phases)
    return found


def is_down(r: Reading, phases: int) -> dict[str, Flags]:
    """(phases,) by limb."""
    return {name: share > 0.5 for name, share in contacts_told(r, phases).items()}


def steps_a_cycle(r: Reading) -> int:
    """How many times in a cycle feet come down: those that land together, as in a tripod, once."""
    down = r.course.contact[[i for i, m in enumerate(r.project.walker.limbs) if m.steps], : r.samples]
    lands = (down & ~np.roll(down, 1, axis=1)).any(axis=0)
    rows = np.flatnonzero(lands)
    apart = np.diff(rows, append=rows[:1] + r.samples) if len(rows) else rows
    return int((apart > TOGETHER * r.samples).sum())


# Feet that land within this share of a cycle land together.
TOGETHER = 0.04


def _at_phases(values: Array, phases: int) -> Array:
    n = len(values)
    found: Array = np.interp(np.arange(phases) * n / phases, np.arange(n), values, period=n)
    return found
