"""A motion's rows as the machine beside its plan is led through them: what holds at each, and what changes to the next.

After the last row of a motion that repeats comes the first, in the ground of the next time round.
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from bustle.core.dry_run.beside_its_plan import BODY, BesidePlan, beside_plan
from bustle.core.geometry.arrays import Array, Flags, Indices, kept
from bustle.core.geometry.serial_chain import turns
from bustle.core.machine.soles import UP
from bustle.core.project.walker import CurvedSole
from bustle.core.walk.reading import Reading

# So firmly a boom or a rail holds, in masses and inertias of the machine.
HELD = 1e6


class Rows(NamedTuple):
    """Of N rows, D = 6 + servos, P points on L limbs of H hinges, Q soles that roll (see `BesidePlan`); on_…: what each
    has changed by at the next row. mass (N, D, D); centre (N, 3); takes (N, D); servos (N, S); gaps (N, S), how far the
    servos are told beyond their plan; points (N, P, 3); origins, axes (N, L, H, 3); by_servo (N, L, H, S); slides
    (L, H); hangs_on (P,), on which limb's hinges; holds (N, P, 3, 3), what part of a push the
    floor takes there; point_of (Q,), soles (N, Q, 3, 3), and curves
    (Q, 4): radii fore and aft and to the side, m, and the sines of how far they go, or 2 without end."""

    centre: Array
    on_centre: Array
    takes: Array
    on_takes: Array
    mass: Array
    gaps: Array
    on_servos: Array
    points: Array
    on_points: Array
    origins: Array
    on_origins: Array
    axes: Array
    on_axes: Array
    by_servo: Array
    on_by_servo: Array
    slides: Flags
    hangs_on: Indices
    holds: Array
    point_of: Indices
    soles: Array
    on_soles: Array
    curves: Array
    row_s: float


class Held(NamedTuple):
    """What holds a machine: its servos' stiff (S,) N·m/rad, stall (S,) N·m, drag (S,) N·m·s/rad and slack (S,) rad; of
    the floor under each point firm (P,) N/m, and settles_s, how long what presses it takes to come to rest; grip."""

    stiff: Array
    stall: Array
    drag: Array
    slack: Array
    firm: Array
    settles_s: float
    grip: float


class Lies(NamedTuple):
    """How a machine lies beside its plan, changed as it goes: shift (3,) m of the centre of mass, turn (3, 3), servos
    (S,) rad, and the rate (D,) of all three; held (P, 3) m, where points are held, which are down, and what each
    carries (P,), N; at (2,) m, how far it has come over the ground, and frame (1,) rad, how the ground of its plan lies
    on it; local (Q, 3) m, where on each sole that rolls it touches, if that is known."""

    shift: Array
    turn: Array
    servos: Array
    rate: Array
    held: Array
    down: Flags
    carries: Array
    at: Array
    frame: Array
    local: Array


def rows(r: Reading) -> Rows:
    plan = r.of(beside_plan)
    on, hinges, n = turns(UP, np.array(plan.turn)), plan.hinges, len(plan.centre)

    def gone(values: Array, way: Array | float = 0.0) -> Array:
        """(N, …, 3) that turns with the ground."""
        return np.concatenate([values[1:], (values[:1] @ on.T) + way]) - values

    holds = np.zeros((*plan.holds.shape[:2], 3, 3))
    holds[..., :2, :2], holds[..., 2, 2] = plan.holds, 1.0
    takes = np.concatenate([plan.takes[:1, :3] @ on.T, plan.takes[:1, 3:BODY] @ on.T, plan.takes[:1, BODY:]], axis=1)
    soles = np.stack([rolls.turn for rolls in plan.rolling], axis=1) if plan.rolling else np.zeros((n, 0, 3, 3))
    turned = np.roll(plan.servos, -1, axis=0) - plan.servos
    found = Rows(
        plan.centre,
        gone(plan.centre, plan.way),
        plan.takes,
        np.concatenate([plan.takes[1:], takes]) - plan.takes,
        plan.mass + np.diag(_firm(r, plan)),
        plan.sent - plan.servos,
        (turned + np.pi) % (2 * np.pi) - np.pi,
        plan.points,
        gone(plan.points, plan.way),
        hinges.origins,
        gone(hinges.origins, plan.way),
        hinges.axes,
        gone(hinges.axes),
        hinges.by_servo,
        np.roll(hinges.by_servo, -1, axis=0) - hinges.by_servo,
        hinges.slides,
        hinges.of,
        holds,
        np.array([rolls.point for rolls in plan.rolling], dtype=np.intp),
        soles,
        np.concatenate([soles[1:], on @ soles[:1]]) - soles,
        np.array([curve_of(rolls.foot.sole) for rolls in plan.rolling]).reshape(-1, 4),
        plan.row_s,
    )
    # All laid out alike, so that what walks them is compiled once.
    return Rows._make([*(kept(np.ascontiguousarray(part)) for part in found[:-1]), found.row_s])


def _firm(r: Reading, plan: BesidePlan) -> Array:
    """(D,): what a boom or a rail adds; ahead, up and leaning fore and aft are left to the machine."""
    found = np.zeros(plan.mass.shape[-1])
    if r.project.walker.held != "free":
        found[[1, 3, 5]] = HELD * np.array([plan.kg, 1.0, 1.0])
    return found


def curve_of(sole: object) -> tuple[float, float, float, float]:
    """Its radii fore and aft and to the side, m, and the sines of how far they go, or 2 without end."""
    assert isinstance(sole, CurvedSole)
    fore, side = sole.radius_fore_mm, sole.radius_side_mm
    ends = [min(1.0, size / 2 / r) if size else 2.0 for size, r in ((sole.length_mm, fore), (sole.width_mm, side))]
    return fore / 1000, side / 1000, ends[0], ends[1]
