"""What a machine lands on as it falls over, and what that does to the servos behind it.

It goes over the outermost of its feet each way. A point s beyond that border and z over the floor meets the floor once
the machine has turned by φ = atan2(z, s): it lands on the one with the least. With R and β how far its mass is from the
border, and how steeply, falling from upright over it frees
    E = m·g·R·(1 − sin(β − φ)).
On its frame it lands on nothing that turns. On a limb the floor pushes the point up with F; with l_s how far the point
goes that way a radian of each servo behind it and K_s that servo's stiffness, all of E goes into them where nothing
else gives:
    E = F²/2·Σ l_s²/K_s,   τ_s = F·l_s.
That is the most they can come to: a body that bends, a floor that gives and gears that slip take their part. Source:
springs in series, in any text on mechanics.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from bustle.core.falling.fall import fall
from bustle.core.geometry.arrays import Array
from bustle.core.geometry.extremes import greatest, least
from bustle.core.loads.at_its_voltage import at_its_voltage
from bustle.core.loads.by_servo import by_hinges, by_joints, own_servos
from bustle.core.loads.foot_gives import servo_stiffness
from bustle.core.loads.inertial_wrenches import laid, wrenches
from bustle.core.loads.moving import placed
from bustle.core.machine.masses import GRAVITY
from bustle.core.machine.sole_outlines import outline
from bustle.core.machine.soles import UP
from bustle.core.walk.reading import Reading

WAYS, TURNS = ("forward", "backward", "to its left", "to its right"), (0.0, np.pi, np.pi / 2, -np.pi / 2)
# A joint whose lever is less than this, m a radian, takes nothing of a blow.
LEVER_M = 1e-4
# Corners of the frame that lie no higher than this over its lowest belong to its lower edge.
LOWER_EDGE_M = 0.005


@dataclass(frozen=True)
class LandsOn:
    """way: of `WAYS`; limb: which it lands on, and how many of its hinges lie between that point and the frame; −1 and
    0 for the frame. energy_j: what is freed until then. servo: which takes most, −1 for none; torque_nm, share: as a
    multiple of its stall torque. bumper_mm: how much further out the frame would have to reach, at its lower edge, to
    land first; infinite where it never would. sooner_deg: by so much of its turn it meets the floor before a limb does
    where this is the frame, and else before the frame does."""

    way: int
    limb: int
    hinges: int
    energy_j: float
    servo: int
    torque_nm: float
    share: float
    bumper_mm: float
    sooner_deg: float


@dataclass(frozen=True)
class _Lies:
    """At a row, m over the ground: feet (K, 3), their ends and their soles' outlines; frame (K, 3), the corners of its
    sections; limbs: of each which it is, (H, 3) where its hinges are, and how thick it is."""

    row: int
    feet: Array
    frame: Array
    limbs: tuple[tuple[int, Array, float], ...]


def lands_on(r: Reading) -> tuple[LandsOn, ...]:
    """One for each of `WAYS`, as it stands when its mass is highest; nothing for what is not told to fall."""
    if r.of(fall) is None:
        return ()
    return landings(r, greatest(r.of(wrenches).centre[:, 2]))


def landings(r: Reading, row: int) -> tuple[LandsOn, ...]:
    """One for each of `WAYS`, as it stands at a row."""
    lies = _Lies(row, _feet(r, row), _frame(r, row), _limbs(r, row))
    facing = float(r.course.body.travel[2][row])
    return tuple(_landing(r, lies, way, facing + turn) for way, turn in enumerate(TURNS))


def _landing(r: Reading, lies: _Lies, way: int, heading: float) -> LandsOn:
    along = np.array([np.cos(heading), np.sin(heading), 0.0])
    border, frame = float((lies.feet @ along).max()), lies.frame
    on_frame = float(_angles(frame, along, border).min())
    limb, hinges, point, on_limb = -1, 0, frame[0], np.inf
    for n, points, radius in lies.limbs:
        angles = _angles(points - radius * UP, along, border)
        at = least(angles)
        if angles[at] < on_limb:
            limb, hinges, point, on_limb = n, at, points[at], float(angles[at])
    angle = min(on_frame, on_limb)
    if on_frame <= on_limb:
        limb, hinges, point = -1, 0, frame[0]
    centre = r.of(wrenches).centre[lies.row]
    high, beyond = float(centre[2]), float(centre @ along) - border
    steep = np.arctan2(high, beyond)
    ends = np.sin(np.clip(steep - angle, -np.pi / 2, np.pi / 2))
    freed = float(r.of(wrenches).kg * GRAVITY * np.hypot(high, beyond) * (1 - ends))
    servo, torque, share = _hit(r, lies.row, limb, hinges, point, np.cos(angle) * UP - np.sin(angle) * along, freed)
    bumper, sooner = _bumper_mm(frame, along, border, angle), float(np.degrees(abs(on_frame - on_limb)))
    return LandsOn(way, limb, hinges, freed, servo, torque, share, bumper, sooner)


def _bumper_mm(frame: Array, along: Array, border: float, angle: float) -> float:
    low = frame[frame[:, 2] < frame[:, 2].min() + LOWER_EDGE_M]
    if not 0 < angle < np.pi / 2:
        return np.inf
    return 1000 * float(low[:, 2].max() / np.tan(angle) - ((low @ along).max() - border))


def _angles(points: Array, along: Array, border: float) -> Array:
    """(K,) rad: by how much it has turned over once each point of (K, 3) meets the floor."""
    found: Array = np.arctan2(np.maximum(points[:, 2], 0.0), points @ along - border)
    return found


def _feet(r: Reading, row: int) -> Array:
    found = []
    for n, limb in enumerate(r.project.walker.limbs):
        if not limb.feet:
            continue
        end = r.course.solved.points[n][row, -1]
        rim = outline(limb.feet[0], end[None], r.course.solved.end_turns(n)[row][None])
        found += [end[None], rim.reshape(-1, 3)]
    return _on_the_ground(r, row, np.concatenate(found))


def _frame(r: Reading, row: int) -> Array:
    corners = [r.course.solved.carried(name, rim)[:, row] for name, rim in r.assembled.rims.items()]
    return _on_the_ground(r, row, np.concatenate(corners))


def _limbs(r: Reading, row: int) -> tuple[tuple[int, Array, float], ...]:
    """Behind as many hinges as come before it lies each of a limb's points. Feet are not among them."""
    found = []
    for n, limb in enumerate(r.project.walker.limbs):
        points = r.course.solved.points[n][row]
        points = points[:-1] if limb.feet else points
        if len(points):
            thick = max((link.radius_mm for link in limb.links), default=0.0) / 1000
            found.append((n, _on_the_ground(r, row, points), thick))
    return tuple(found)


def _on_the_ground(r: Reading, row: int, points: Array) -> Array:
    body = r.of(placed)
    found: Array = body.at[row] + points / 1000 @ body.turn[row].T
    return found


def _hit(
    r: Reading, row: int, limb: int, hinges: int, point: Array, push: Array, energy_j: float
) -> tuple[int, float, float]:
    """(servo, N·m, share): which servo takes most of a blow, and how much of it; −1 where none does."""
    for group, lies, own in zip(r.assembled.parts, r.of(laid), r.of(own_servos), strict=True):
        at = np.flatnonzero(group.members == limb)
        if not len(at) or not hinges:
            continue
        one = lies.only(at, np.array([row]))
        moved = by_hinges(group.built, one, point[None, None, None])
        moved[..., hinges:, :] = 0.0
        levers = (push @ by_joints(group.built, moved)[0, 0, 0]) @ own.at(at[:1], np.array([row]))[0, 0].T
        servos = own.servos[at[0]]
        stiff, stall = r.of(servo_stiffness)[servos], r.of(at_its_voltage).stall_nm[servos]
        levers = np.where(np.abs(levers) > LEVER_M, np.abs(levers), 0.0)
        gives = float((levers**2 / stiff).sum())
        if gives <= 0:
            continue
        torques = np.sqrt(2 * energy_j / gives) * levers
        most = greatest(torques / stall)
        return int(servos[most]), float(torques[most]), float(torques[most] / stall[most])
    return -1, 0.0, 0.0
