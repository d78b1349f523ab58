"""Soles of two legs made broader, or longer."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Literal

import numpy as np

from bustle.core.edits.patches import replace
from bustle.core.judge.ways import Edit, Mending
from bustle.core.machine.masses import GRAVITY
from bustle.core.words.wording import length


def broader_soles(m: Mending, torque_nm: float, share: float) -> Iterator[Edit]:
    """So wide that half of one bears so much of what the hip over it holds: with ρ = τ/(m·g·w/2) the share allowed,
    w = 2·τ/(ρ·m·g), up to a whole mm."""
    wide = float(np.ceil(2000 * torque_nm / (share * m.reading.assembled.total_kg * GRAVITY)))
    yield from soles_at_least(m, "width_mm", wide)


def soles_at_least(m: Mending, side: Literal["width_mm", "length_mm"], least_mm: float) -> Iterator[Edit]:
    """Flat soles at least so wide or long; an edge becomes a flat sole of its length, so wide."""
    edits = []
    for i, limb in enumerate(m.project.walker.limbs):
        sole = limb.feet[0].sole if limb.steps else None
        if sole is None:
            continue
        path = f"/walker/limbs/{i}/feet/0/sole"
        if sole.kind == "rectangle" and getattr(sole, side) < least_mm:
            edits.append(replace(f"{path}/{side}", least_mm))
        elif sole.kind == "edge" and side == "width_mm":
            edits.append(replace(path, {"kind": "rectangle", "length_mm": sole.length_mm, "width_mm": least_mm}))
    if edits:
        yield Edit(f"Soles {length(least_mm)} {'wide' if side == 'width_mm' else 'long'}", tuple(edits))
