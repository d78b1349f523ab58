"""What a kitchen scale under each foot tells, and the angle at which the machine balances on its foremost feet.

With w_i the reading under foot i at (x_i, y_i), all feet level:
    M = Σ w_i,   c = Σ w_i·(x_i, y_i)/M;
tipped about its foremost feet until it balances at α, its centre of mass being d behind them:
    h = d/tan α.
The ledger is put right by one of its masses, the heaviest on the body: it takes what is over, and moves so far that the
whole comes to M at c.
"""

from __future__ import annotations

import numpy as np

from bustle.core.edits.patches import replace
from bustle.core.geometry.arrays import Array
from bustle.core.project.walker import Mass
from bustle.core.trials.measurement import Against, Given, Patch
from bustle.core.words.problems import refuse
from bustle.core.words.wording import number


def feet(g: Given) -> dict[str, Array]:
    """(3,) mm of every foot that stands, as the body sees them."""
    r = g.standing
    found = {}
    for i, limb in enumerate(r.project.walker.limbs):
        if limb.feet and r.course.contact[i, 0]:
            found[limb.name] = _seen(r.course.body.turn[0], r.course.body.at[0], r.course.feet_ground_mm[i, 0])
    return found


def _seen(turn: Array, at: Array, point: Array) -> Array:
    found: Array = turn.T @ (point - at)
    return found


def centre(g: Given) -> Array:
    """(3,) mm: the planned centre of mass as the body sees it, standing."""
    r = g.standing
    return _seen(r.course.body.turn[0], r.course.body.at[0], r.course.com_ground_mm[0])


def scales(g: Given) -> tuple[Against, ...]:
    """Mass and where it sits, along and across."""
    under = feet(g)
    missing = [name for name in under if name not in g.values]
    if missing:
        raise refuse(
            f"values.{missing[0]}", f"is missing: what the scale shows under {missing[0]}; all feet are weighed"
        )
    weights = np.array([g.values[name] for name in under])
    whole = float(weights.sum())
    if whole <= 0:
        raise refuse("values", "the scale has shown nothing under every foot")
    at = (weights @ np.stack(list(under.values()))) / whole
    was, planned = centre(g), 1000 * g.standing.assembled.total_kg
    patch = _moved(g, whole, np.array([at[0], at[1], was[2]]))
    return (
        Against("Weighs", planned, whole, "g", 0, patch),
        Against("Its mass sits ahead of the body's middle by", float(was[0]), float(at[0]), "mm", 0, ()),
        Against("and left of it by", float(was[1]), float(at[1]), "mm", 0, ()),
    )


def tipped(g: Given) -> tuple[Against, ...]:
    """How high the mass sits."""
    was, tilt = centre(g), np.radians(g.values["tilt_deg"])
    ahead = max(float(foot[0]) for foot in feet(g).values())
    floor = min(float(foot[2]) for foot in feet(g).values())
    behind = ahead - float(was[0])
    if behind < 1.0:
        raise refuse(
            "values.tilt_deg", "its mass is planned over its foremost feet already; weigh it foot by foot first"
        )
    high = float(behind / np.tan(tilt))
    patch = _moved(g, 1000 * g.standing.assembled.total_kg, np.array([was[0], was[1], floor + high]))
    return (Against("Its mass sits above the floor by", float(was[2] - floor), high, "mm", 0, patch),)


def _moved(g: Given, whole_g: float, at: Array) -> Patch:
    """The heaviest mass of the body put right."""
    own = [(n, m) for n, m in enumerate(g.project.walker.masses) if m.on == g.project.walker.sections[0].name]
    planned_g, was = 1000 * g.standing.assembled.total_kg, centre(g)
    if not own:
        made = Mass(name="As weighed", mass_g=max(whole_g - planned_g, 0.0))
        if whole_g <= planned_g + 0.5:
            raise refuse(
                "values", "no mass is listed on the body that could be put right; list frame and battery first"
            )
        place = (whole_g * at - planned_g * was) / made.mass_g
        value = made.model_copy(update={"at_mm": tuple(round(float(v), 1) for v in place)})
        return ({"op": "add", "path": "/walker/masses/-", "value": value.model_dump(mode="json")},)
    n, mass = max(own, key=lambda item: item[1].mass_g)
    left = mass.mass_g + whole_g - planned_g
    if left < 1.0:
        raise refuse(
            "values", f"all but {mass.name} is listed at {number(planned_g - mass.mass_g, 0)} g, and "
            f"{number(whole_g, 0)} g were weighed; put servos and links right first",
        )  # fmt: skip
    place = (whole_g * at - planned_g * was + mass.mass_g * np.array(mass.at_mm)) / left
    return (
        replace(f"/walker/masses/{n}/mass_g", round(left, 1)),
        replace(f"/walker/masses/{n}/at_mm", [round(float(v), 1) + 0.0 for v in place]),
    )
