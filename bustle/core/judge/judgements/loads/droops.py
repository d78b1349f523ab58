"""F02: the machine gives and its feet drag where they should be clear."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from bustle.core.edits.patches import replace
from bustle.core.falling.pushing_point import broad_feet
from bustle.core.judge.finding import Finding, Severity
from bustle.core.judge.judgement import Judgement, of_gaits
from bustle.core.judge.judgements.balance.other_orders import orders_as_they_are_told, other_orders
from bustle.core.judge.measures.feet.swing_clearance import SwingClearance, clearances
from bustle.core.judge.ways import Edit, Mending, Offer, Turn
from bustle.core.project.walker import Sole
from bustle.core.walk.reading import Reading
from bustle.core.words.wording import also, degrees, length, number

# A lift that is small itself is kept clear by this share of it.
SHARE = 0.5
# What walks by its timing leans so far beside its plan in any case. One on legs of 297 mm that lifted its soles by 2 mm
# and was told sound fell over their toes in a physics engine.
LEANS_DEG = 2.0
# Feet whose joints leave their height to their stroke. In a physics engine walks of such legs that were lifted by under
# 0.5 mm went 0 to 0.25 of their way; those in which a leg swings under the feet that stand, by a third to half of what
# it rises elsewhere, 0.9 of it and less, the most of them under 0.8. Legs in two sets that swing as the other stands
# pass each other at one height, and went 0.87 and more.
LIFTED_MM, UNDER_SHARE = 1.0, 0.1
NO_LIFT = "no lift"
# So many times as long are strides tried.
LONGER = (1.25, 1.5, 2.0, 3.0)


def droops(r: Reading) -> Iterator[Finding]:
    """Warn where lift less sag, play and the floor's unevenness is under the clearance, or the edge of a broad sole is
    down as soon as it leans; stop where nothing is left."""
    yield from _left_to_the_stroke(r)
    keep, limbs = r.project.limits.clearance_mm, r.project.walker.limbs
    # What is lifted by no more than that was not meant to be clear by it.
    edges = _edges_mm(r)
    lifted = [s for s in r.of(clearances) if s.under_mm is None]
    short = [s for s in lifted if s.left_mm < max(min(keep, SHARE * s.height_mm), edges.get(s.limb, 0.0))]
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


def _left_to_the_stroke(r: Reading) -> Iterator[Finding]:
    """Stop where a foot that no joint lifts hardly rises, or swings under those that stand; warn where it barely
    clears."""
    keep, limbs = r.project.limits.clearance_mm, r.project.walker.limbs
    own = [s for s in r.of(clearances) if s.under_mm is not None and r.score.stroke_mm[s.limb]]
    under = [s for s in own if (s.under_mm or 0.0) > UNDER_SHARE * s.height_mm]
    low = [s for s in own if s.left_mm < keep]
    if not under and not low:
        return
    worst = max(under, key=lambda s: round(s.under_mm or 0.0, 6)) if under else low[0]
    value = -(worst.under_mm or 0.0) if under else worst.left_mm
    drags = bool(under) or worst.left_mm < 0 or worst.height_mm < LIFTED_MM
    names = [limbs[worst.limb].name, *(limbs[s.limb].name for s in under or low if s.limb != worst.limb)]
    does = (
        f"goes {length(-value)} under the feet that stand, and bears on the floor" if under
        else f"rises {length(worst.height_mm)} over the feet that stand, {length(worst.left_mm)} after sag and play"
    )  # fmt: skip
    yield Finding(
        "F02", "stop" if drags else "warn", "Foot drags" if drags else "Foot barely clears",
        f"No joint lifts {names[0]}: its height is what its stroke leaves, and in its swing it {does}."
        + also(names[1:]),
        tuple((name, NO_LIFT) for name in names), float(worst.sample * r.row_s), value, 0.0 if under else keep, "mm",
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


def _longer(m: Mending) -> Iterator[Edit]:
    """Strides by which a foot that no joint lifts rises."""
    if m.finding.subject != NO_LIFT:
        return
    twist = m.gait.twist.model_dump()
    for by in LONGER:
        edits = tuple(replace(f"{m.path}/twist/{name}", round(value * by, 1)) for name, value in twist.items() if value)
        yield Edit(f"Strides {number(100 * by - 100, 0)} % longer", edits)


def _orders(m: Mending) -> Iterator[Edit]:
    if m.finding.subject == NO_LIFT:
        yield from other_orders(m)
        yield from orders_as_they_are_told(m)


def _sole(r: Reading, limb: int) -> Sole:
    return r.project.walker.limbs[limb].feet[0].sole


JUDGEMENT = Judgement(
    "F02",
    "Feet are clear though the machine gives",
    ("stride", "load"),
    droops,
    of_gaits,
    ways=(Turn("lift", down=False, subject="drags"), Offer(_longer, keep="first"), Offer(_orders)),
)
