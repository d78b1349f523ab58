"""Soles so wide that half of one bears so much of what the hip over it holds."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from bustle.core.edits.patches import replace
from bustle.core.judge.ways import Edit, Mending
from bustle.core.machine.masses import GRAVITY
from bustle.core.words.wording import length


def broader_soles(m: Mending, torque_nm: float, share: float) -> Iterator[Edit]:
    """With ρ = τ/(m·g·w/2) the share allowed, w = 2·τ/(ρ·m·g), up to a whole mm."""
    yield from soles_wide(m, float(np.ceil(2000 * torque_nm / (share * m.reading.assembled.total_kg * GRAVITY))))


def soles_wide(m: Mending, wide: float) -> Iterator[Edit]:
    """Soles at least so many mm wide; an edge becomes a flat sole of its length."""
    edits = []
    for i, limb in enumerate(m.project.walker.limbs):
        sole = limb.feet[0].sole if limb.steps else None
        if sole is None or (sole.kind == "rectangle" and sole.width_mm >= wide):
            continue
        if sole.kind == "rectangle":
            edits.append(replace(f"/walker/limbs/{i}/feet/0/sole/width_mm", wide))
        elif sole.kind == "edge":
            flat = {"kind": "rectangle", "length_mm": sole.length_mm, "width_mm": wide}
            edits.append(replace(f"/walker/limbs/{i}/feet/0/sole", flat))
    if edits:
        yield Edit(f"Soles {length(wide)} wide", tuple(edits))
