"""F02: the machine gives and its feet drag where they should be clear."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from bustle.core.falling.pushing_point import broad_feet
from bustle.core.judge.finding import Finding, Severity
from bustle.core.judge.judgement import Judgement, of_gaits
from bustle.core.judge.measures.swing_clearance import SwingClearance, clearances
from bustle.core.judge.ways import Turn
from bustle.core.project.walker import Sole
from bustle.core.walk.reading import Reading
from bustle.core.words.wording import also, degrees, length

# A lift that is small itself is kept clear by this share of it.
SHARE = 0.5
# What walks by its timing leans so far beside its plan in any case. One on legs of 297 mm that lifted its soles by 2 mm
# and was told sound fell over their toes in a physics engine.
LEANS_DEG = 2.0


def droops(r: Reading) -> Iterator[Finding]:
    """Warn where lift less sag, play and the floor's unevenness is under the clearance, or the edge of a broad sole is
    down as soon as it leans; stop where nothing is left."""
    keep, limbs = r.project.limits.clearance_mm, r.project.walker.limbs
    # What is lifted by no more than that was not meant to be clear by it.
    edges = _edges_mm(r)
    short = [s for s in r.of(clearances) if s.left_mm < max(min(keep, SHARE * s.height_mm), edges.get(s.limb, 0.0))]
    if not short:
        return
    worst = short[0]
    severity: Severity = "stop" if worst.left_mm < 0 else "warn"
    spent = worst.sag_mm + worst.droop_mm + worst.uneven_mm
    names = [limbs[s.limb].name for s in short]
    yield Finding(
        "F02", severity, "Foot drags" if severity == "stop" else "Foot barely clears",
        f"{names[0]} is lifted {length(worst.height_mm)}; sag, play and the floor take {length(spent)}"
        f"{', stiffness assumed' if worst.assumed else ''}, and {length(worst.left_mm)} is left of {length(keep)}."
        + (_leaning(r, worst) if severity == "warn" else "")
        + also(names[1:]),
        tuple((name, "drags") for name in names), float(worst.sample * r.row_s), worst.left_mm, keep, "mm",
    )  # fmt: skip


def _edges_mm(r: Reading) -> dict[int, float]:
    """How far the edge of each broad sole comes down as it leans so, of what walks by its timing: ℓ/2·sin θ."""
    if r.balance == "static":
        return {}
    lean = np.sin(np.radians(LEANS_DEG))
    return {i: sole.length_mm / 2 * lean for i in broad_feet(r) if (sole := _sole(r, i)).kind == "rectangle"}


def _leaning(r: Reading, worst: SwingClearance) -> str:
    sole = _sole(r, worst.limb)
    if r.balance == "static" or sole.kind != "rectangle" or worst.left_mm >= sole.length_mm / 2:
        return ""
    lean = float(np.degrees(np.arcsin(2 * worst.left_mm / sole.length_mm)))
    return f" Leaning by {degrees(lean)} the edge of its sole is down."


def _sole(r: Reading, limb: int) -> Sole:
    return r.project.walker.limbs[limb].feet[0].sole


JUDGEMENT = Judgement(
    "F02",
    "Feet are clear though the machine gives",
    ("stride", "load"),
    droops,
    of_gaits,
    ways=(Turn("lift", down=False),),
)
