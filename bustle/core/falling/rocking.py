"""How a machine whose ankles do not roll rocks over the outer border of its sole, and what a thrown mass moves.

Leaning by θ about the outer border of a sole, half the spacing of the soles s and half their width w/2 beside it,
    α = atan((s + w/2)/h),   p² = m·g·R/I,   period = (4/p)·acosh(1/(1 − θ/α)),
R from the border to the mass, I of all parts about the border: the further it leans, the longer it takes. Source: the
rocking block, in any text on it (after Housner 1963).
A thrown mass that swings sideways with ω carries the pushing point over by
    y = Δ·(1 + z_w·ω²/g),   Δ how far the whole's mass goes with it, z_w how high the thrown one is.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from bustle.core.falling.pushing_point import keeps_flat_sideways, on_broad_soles, sole_width_mm
from bustle.core.falling.sole_middles import beside_mm, sole_middles
from bustle.core.geometry.arrays import Array, cross
from bustle.core.loads.inertial_wrenches import inertia_at, laid, wrenches
from bustle.core.loads.told import STOPS_ANYWHERE, not_worked_out
from bustle.core.project.motion import Swings
from bustle.core.walk.plumb import downhill, upright
from bustle.core.walk.reading import Reading

# On curved soles it rocks from one to the other in this many seconds, times the root of how high its mass is in m. In
# an engine, legs of 110 to 280 mm, servos that give 4° and 8°: quicker than 0.9 of it 7 of 24 fell; from 1.2 of it on
# none did, and none leaned more than 11°, where at 1.0 of it they leaned up to 24°.
ROLLS_S = 1.55
# A border that a slope has brought it to is taken to be so far away at least.
LEAST_EDGE_DEG = 0.1


@dataclass(frozen=True)
class Rocking:
    """edge_deg: α; period_s at a lean; lean_deg: θ, how far the soles lie out of the floor in this walk."""

    edge_deg: float
    period_s: float
    lean_deg: float


@dataclass(frozen=True)
class Thrown:
    """limb: whose mass is thrown. reaches_mm: how far it carries the pushing point over; needs_mm: to the inner edge of
    a sole; moves_mm: how far the whole's mass goes; high_mm: the thrown mass."""

    limb: int
    reaches_mm: float
    needs_mm: float
    moves_mm: float
    high_mm: float


def rolls_s(r: Reading) -> float | None:
    """How long it takes to rock on its curved soles to the other and back; None where it does not."""
    if not r.kit.rolls or len(r.project.walker.legs) != 2 or r.balance == "static" or not isinstance(r.motion, Swings):
        return None
    if not_worked_out(r):
        return None
    return ROLLS_S * float(np.sqrt(r.of(wrenches).centre[:, 2].mean()))


def not_rocking(r: Reading) -> str | None:
    """Why it does not rock on its soles' borders."""
    if r.balance == "static":
        return STOPS_ANYWHERE
    if len(r.project.walker.legs) != 2 or r.project.walker.held != "free" or r.gait is None:
        return "it does not step from sole to sole"
    why = not_worked_out(r)
    if why:
        return why
    if not on_broad_soles(r):
        return "its feet have no breadth to rock on"
    return "its ankles roll, and it is judged by where it pushes" if keeps_flat_sideways(r) else None


def on_edges(r: Reading) -> bool:
    """Whether it rocks from one sole's outer edge to the other's, and throws no mass to do so."""
    return not_rocking(r) is None and thrown(r) is None


def half_spacing_mm(r: Reading) -> float:
    """Between the middles of the soles, where each stands."""
    soles = r.of(sole_middles)
    one, two = (at.middle for at in soles.values())
    apart = [np.abs(((one - two) * sole.aside).sum(axis=1)).mean() for sole in soles.values()]
    return float(np.mean(apart) / 2)


def rocking(r: Reading) -> Rocking:
    soles = r.of(sole_middles)
    s, half = half_spacing_mm(r) / 1000, sole_width_mm(r) / 2000
    taken = r.of(wrenches)
    high = float(taken.centre[:, 2].mean())
    edge = max(float(np.arctan2(s + half - _slid_mm(r) / 1000, high)), np.radians(LEAST_EDGE_DEG))
    inertias, about_mass = [], inertia_at(r, np.zeros(1, np.intp))[0]
    for sole in soles.values():
        side = 1.0 if ((sole.middle[0] / 1000 - taken.centre[0, :2]) * sole.aside[0]).sum() > 0 else -1.0
        border = sole.middle[0] / 1000 + side * half * sole.aside[0]
        along, off = np.array([*sole.ahead[0], 0.0]), taken.centre[0] - np.array([*border, 0.0])
        inertias.append(along @ about_mass @ along + taken.kg * (cross(along, off) ** 2).sum())
    inertia = float(np.mean(inertias))
    rate = np.sqrt(taken.kg * r.of(upright)[2] * np.hypot(s + half, high) / inertia)
    lean = max(_tilt(r), 1e-6)
    share = min(lean / edge, 0.999)
    return Rocking(float(np.degrees(edge)), float(4 / rate * np.arccosh(1 / (1 - share))), float(np.degrees(lean)))


def slopes_aside_deg(r: Reading) -> float:
    """By how much the floor rises across the way that its soles point, at most."""
    one, two = r.of(sole_middles).values()
    across = np.abs((r.of(downhill) * (one.aside + two.aside) / 2).sum(axis=1)).max()
    return float(np.degrees(np.arctan(across)))


def hangs_aside_deg(r: Reading) -> float:
    """How far its mass hangs beside the middle between its soles."""
    return float(np.degrees(np.arctan2(r.of(beside_mm) / 1000, r.of(wrenches).centre[:, 2].mean())))


def _slid_mm(r: Reading) -> float:
    """How much nearer to one border its mass is on a slope."""
    return r.of(beside_mm) if r.project.floor.slope_deg else 0.0


def _tilt(r: Reading) -> float:
    """rad: how far a standing sole lies out of the floor sideways, at most: so far the machine leans on it."""
    most = 0.0
    for i, limb in enumerate(r.project.walker.limbs):
        if limb.steps:
            turn = r.course.body.turn[: r.samples] @ r.course.solved.end_turns(i)[: r.samples]
            down = r.course.contact[i, : r.samples]
            most = max(most, float(np.abs(np.arcsin(np.clip(turn[down, 2, 1], -1, 1))).max(initial=0.0)))
    return most


def thrown(r: Reading) -> Thrown | None:
    """None where the walk throws no mass."""
    if r.gait is None or not r.gait.moves_of_arms:
        return None
    names = {move.limb for move in r.gait.moves_of_arms}
    limb = next(i for i, m in enumerate(r.project.walker.limbs) if m.name in names)
    heights = _height_mm(r, limb)
    aside = _aside(r)
    moves = float(np.ptp(aside)) / 2
    rate = 2 * np.pi / r.score.duration_s
    reaches = moves * (1 + heights / 1000 * rate**2 / r.of(upright)[2])
    needs = half_spacing_mm(r) - sole_width_mm(r) / 2 + _slid_mm(r)
    return Thrown(limb, reaches, needs, moves, heights)


def _aside(r: Reading) -> Array:
    """(N,) mm: where the whole's mass is to the left, as the body sees it."""
    found: Array = r.course.com_body_mm[: r.samples, 1]
    return found


def _height_mm(r: Reading, limb: int) -> float:
    """How high the mass that a limb carries is, over the cycle."""
    for group, parts, lies in zip(r.assembled.parts, r.assembled.rigid, r.of(laid), strict=True):
        members = group.members.tolist()
        if limb in members:
            row = members.index(limb)
            kg = parts.kg[row]
            heights = (lies.centres[row, :, :, 2] * kg).sum(axis=-1) / max(float(kg.sum()), 1e-9)
            return 1000 * float(heights.mean())
    return 0.0
