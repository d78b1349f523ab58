"""How a machine on two feet leans before the next come down: as a pendulum about the line between them; on a single
one about that through the foot which lies across the way to its mass.

With e how far the mass lies beyond the line over the ground, h how high, I the inertia of all parts about the line:
    I·θ̈ = m·g·(e + h·θ) − m·h·ë,
from rest as the other feet leave the floor, until they are back. It leans no further than until a foot in the air
touches: lean = min(|θ|, atan(lift/D)), D that foot's distance from the line on the side to which it falls. A foot that
is caught comes down LATE_S later: the equation goes on for as long, with the mass where it was. Stopped in mid-swing
the mass goes on with the speed ė it had, to the side of e + ė·√(I/(m·g·h)), until a foot that hangs there touches. A
point for all mass would lean a third too far.

No lean is ever nothing, and on two feet it grows, by cosh(T·√(m·g·h/I)) over a stretch of T. The share |n·n'| of it
lies across the line of the next stretch, n and n' the normals of both over the ground: nearly all on a base much longer
than wide, nothing where the diagonals cross square. By that much it goes on to the next step:
    G = |n·n'|·cosh(T·√(m·g·h/I))·h/D.

Source: the inverted pendulum of any text on mechanics; that it rests on its lifted foot, and that a trot with a large G
rocks itself over, from what such machines do in a physics engine.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from itertools import pairwise

import numpy as np

from bustle.core.falling.pushing_point import broad_feet
from bustle.core.geometry.arrays import Array, Indices
from bustle.core.geometry.compiled import REAL, compiled_for, floats
from bustle.core.geometry.planar_twist import bring_back, carry
from bustle.core.loads.inertial_wrenches import laid, wrenches
from bustle.core.loads.moving import placed
from bustle.core.loads.newton_euler import spun_about
from bustle.core.walk.plumb import downhill, upright
from bustle.core.walk.reading import Reading

# So long a foot hangs where it catches on something.
LATE_S = 0.1
# Far beyond lying on the floor, rad and rad/s, nothing more is told of how it falls: growing on it would overflow.
FALLEN = 500.0
# Nearer than this share of a row to one, an event is at it.
TOGETHER = 1e-6
# Standing on all feet for so many times as long as on two it has come to rest.
SETTLES = 2.0


@dataclass(frozen=True)
class Lean:
    """One stretch on two feet, or on one. feet: on how many; row: where it ends; takes_s; tips_deg: how far it would
    lean, with nothing in its way; leans_deg: as far as it does; foot: the limb in the air that it comes to lie on, −1
    where none is on that side; rests: whether it reaches that foot; beside_mm: how far the mass lies beside the line,
    at most; high_mm; one_sided: whether several feet are in the air, all on one side of the line, as in a pace or a
    bound. rows (K,), lean (K,): how far it has leaned at each, rad, to the left of the line that goes from `one` (K, 2)
    m along `way` (K, 2) over the ground as it is told of each row. late_deg: as far as it leans where the next foot is
    caught for LATE_S; stopped_deg: where it is stopped in mid-swing at the worst of these rows, 90 where nothing is
    there to catch it.
    grows: cosh(T·√(m·g·h/I))·h/D; drags: how far beside the line the mass lies on the whole, as a share of how far a
    foot in the air does on that side: so much of the weight that foot gets; 1 where none is there. carried: G, 0 on one
    foot and where all feet stand SETTLES times as long before the next stretch."""

    feet: int
    row: int
    takes_s: float
    tips_deg: float
    leans_deg: float
    foot: int
    rests: bool
    beside_mm: float
    high_mm: float
    one_sided: bool
    rows: Indices
    lean: Array
    one: Array
    way: Array
    late_deg: float
    stopped_deg: float
    grows: float
    drags: float
    carried: float = 0.0

    @property
    def told_deg(self) -> float:
        """How bad it is. On one foot it falls until a lifted one is touched, however soon that is."""
        return self.leans_deg if self.feet == 2 else self.tips_deg


def leans(r: Reading) -> list[Lean]:
    """Every stretch in which just two feet stand, or one, the worst first."""
    n = r.samples
    legs = [i for i, m in enumerate(r.project.walker.limbs) if m.feet]
    down = r.course.contact[legs, :n]
    # On a broad one it is told by where it pushes.
    few = (down.sum(axis=0) <= 2) & ~r.course.contact[broad_feet(r), :n].any(axis=0)
    if not few.any():
        return []
    # Which feet, a bit each; 0 where more stand.
    standing = np.where(few, (down * (1 << np.arange(len(legs)))[:, None]).sum(axis=0), 0)
    changes = np.flatnonzero(standing != np.roll(standing, 1))
    first = int(changes[0]) if r.score.periodic and len(changes) else 0
    order = (np.arange(n) + first) % n
    seen = standing[order]
    cuts = [0, *(np.flatnonzero(np.diff(seen)) + 1).tolist(), n]
    stretches = [(a, b) for a, b in pairwise(cuts) if seen[a] and b - a > 1]
    found = [_lean(r, order[a:b], [legs[k] for k in np.flatnonzero(down[:, order[a]])]) for a, b in stretches]
    for k, (a, b) in enumerate(stretches):
        after = (k + 1) % len(found)
        between = (stretches[after][0] - b) % n
        one, other = found[k], found[after]
        if (after > k or r.score.periodic) and between < SETTLES * (b - a) and one.feet == other.feet == 2:
            # The next may stand in the cycle that begins then.
            way = carry((0.0, 0.0, r.goes_on[2] if other.rows[0] < one.rows[-1] else 0.0), *other.way[0])
            found[k] = replace(one, carried=abs(float(one.way[-1] @ np.array(way))) * one.grows)
    return sorted(found, key=lambda lean: -round(lean.told_deg, 6))


def _lean(r: Reading, rows: Indices, standing: list[int]) -> Lean:
    taken, up = r.of(wrenches), float(r.of(upright)[2])
    limbs = [i for i, m in enumerate(r.project.walker.limbs) if m.steps and i not in standing]
    nodes, at = _from_event_to_event(r, rows)
    own = slice(int(nodes[0] != rows[0]), int(nodes[0] != rows[0]) + len(rows))
    there = r.course.feet_ground_mm[np.array([standing[0], standing[-1], *limbs])[:, None], nodes] / 1000
    places, centre, middle = there.copy(), r.course.com_ground_mm[nodes] / 1000, own.start + len(rows) // 2
    # A walk that repeats runs over its end: what is told of the cycle after it is carried on to where that begins.
    time = r.course.time_s[nodes]
    fresh = np.flatnonzero(time < time[0])
    x, y, theta = r.goes_on
    for points in (places, centre):
        on = carry((x / 1000, y / 1000, theta), points[..., fresh, 0], points[..., fresh, 1])
        points[..., fresh, :2] = np.stack(on, axis=-1)
    high, down = float(centre[:, 2].mean()), r.of(downhill)
    axis = _line(places[1, 0, :2] - places[0, 0, :2], centre[:, :2].mean(axis=0) + high * down - places[0, 0, :2])
    way = np.broadcast_to(axis, (len(nodes), 2)).copy()
    way[fresh] = bring_back((0.0, 0.0, theta), *axis)
    aside, row = np.array([-axis[1], axis[0]]), int(rows[len(rows) // 2])
    inertia = about_line(r, row, np.array([*there[0, middle, :2], 0.0]), np.array([*way[middle], 0.0]))
    rate = float(np.sqrt(taken.kg * up * high / inertia))
    off, goes, leaned, late = _tipped(centre, at, places[0, 0, :2], aside, float(down @ aside), up, rate, LATE_S)
    lean = float(leaned[np.argmax(np.abs(leaned))])
    side = 1.0 if lean >= 0 else -1.0
    tips = float(np.degrees(np.arctan(abs(lean)) if abs(lean) > 1.5 else abs(lean)))
    left, right = (_touching(places[2:], places[0], aside * to) for to in (1.0, -1.0))
    foot, reaches = _caught(left if side > 0 else right, limbs)
    stopped = float(np.where(off + goes / rate >= 0, left.min(axis=0), right.min(axis=0))[own].max())
    sides: list[float] = ((places[2:, middle, :2] - places[0, middle, :2]) @ aside).tolist()
    middling = float(off[own].mean())
    falls_on = max((s * np.sign(middling) for s in sides), default=0.0)
    grown = float(np.cosh(min(rate * at[-1], FALLEN)))
    most = np.radians(min(reaches, 90.0))
    return Lean(
        len(standing), int(rows[-1]), float(at[-1]),
        min(tips, 90.0), min(tips, reaches, 90.0), foot, tips >= reaches,
        1000 * float(np.abs(off).max()), 1000 * high,
        len(standing) == 2 and len(sides) > 1 and (min(sides) > 0 or max(sides) < 0),
        rows, np.clip(leaned[own], -most, most), there[0, own, :2], way[own],
        min(float(np.degrees(min(abs(late), np.pi / 2))), reaches), min(stopped, 90.0),
        grown * high / max(float(np.mean(np.abs(sides))), 1e-3) if sides else 0.0,
        abs(middling) / falls_on if falls_on > 1e-3 else 1.0,
    )  # fmt: skip


def _from_event_to_event(r: Reading, rows: Indices) -> tuple[Indices, Array]:
    """The instants of a stretch of rows, from just after the other feet lift to just before they land, and when each
    is, s after the first: they do so between two rows."""
    events = np.arange(r.samples, len(r.course.time_s))
    beside, before = r.row_beside[events], r.before[events]
    apart = r.course.time_s[events] - beside * r.row_s
    nodes, at, whole = [rows], [np.arange(len(rows)) * r.row_s], r.score.duration_s
    for lands, row in ((False, rows[0]), (True, rows[-1])):
        found = np.flatnonzero((before == lands) & (beside == row))
        # Over the end of a cycle too. Others that lift or land between the same two rows do so further from this one.
        off = (apart[found] + whole / 2) % whole - whole / 2
        if len(found) and np.abs(off).min() > TOGETHER * r.row_s:
            nearest = int(np.argmin(np.abs(off)))
            nodes.insert(len(nodes) * lands, events[found[nearest : nearest + 1]])
            at.insert(len(at) * lands, at[-1][-1:] * lands + off[nearest])
    when = np.concatenate(at)
    return np.concatenate(nodes), when - when[0]


@compiled_for(floats(2), floats(1), floats(1), floats(1), REAL, REAL, REAL, REAL)
def _tipped(
    centre: Array, at: Array, foot: Array, aside: Array, downhill: float, up: float, rate: float, late_s: float
) -> tuple[Array, Array, Array, float]:
    """Of a mass at (K, 3) m beside a line through a foot (2,), at times (K,) s: how far it lies beyond that each time,
    plumb (K,) m, and how fast that goes on, m/s; how far it leans, rad (K,); and late_s after the last, the mass being
    where it was. From rest, by θ̈ = rate²·(θ + held), held = (g·e − h·ë)/(g·h), from one to the next its mean."""
    count = len(centre)
    level, off, held, leaned = np.empty(count), np.empty(count), np.empty(count), np.zeros(count)
    high = 0.0
    for n in range(count):
        level[n] = (centre[n, 0] - foot[0]) * aside[0] + (centre[n, 1] - foot[1]) * aside[1]
        off[n] = level[n] + centre[n, 2] * downhill
        high += centre[n, 2] / count
    for n in range(count):
        # Speeding up at the ends as beside them.
        k, speeding = min(max(n, 1), count - 2), 0.0
        if count > 2:
            one, two = at[k] - at[k - 1], at[k + 1] - at[k]
            speeding = 2 * ((level[k + 1] - level[k]) / two - (level[k] - level[k - 1]) / one) / (one + two)
        held[n] = (up * off[n] - high * speeding) / (up * high)
    turning = 0.0
    for n in range(count - 1):
        lasts, mean = rate * (at[n + 1] - at[n]), (held[n] + held[n + 1]) / 2
        c, s, from_rest = math.cosh(lasts), math.sinh(lasts), leaned[n] + mean
        lean, turning = from_rest * c - mean + turning / rate * s, from_rest * rate * s + turning * c
        leaned[n + 1], turning = min(max(lean, -FALLEN), FALLEN), min(max(turning, -FALLEN), FALLEN)
    on, last = min(rate * late_s, FALLEN), held[count - 1]
    late = (leaned[count - 1] + last) * math.cosh(on) - last + turning / rate * math.sinh(on)
    goes = np.zeros(count)
    for n in range(count if count > 1 else 0):
        before, after = max(n - 1, 0), min(n + 1, count - 1)
        goes[n] = (off[after] - off[before]) / (at[after] - at[before])
    return off, goes, leaned, late


def _line(apart: Array, off: Array) -> Array:
    """(2,) of length 1: the way from one foot to the other; on one spot, across the way to the mass."""
    for way in (apart, np.array([off[1], -off[0]])):
        size = float(np.linalg.norm(way))
        if size > 1e-6:
            return way / size
    return np.array([1.0, 0.0])


def _caught(catches: Array, limbs: list[int]) -> tuple[int, float]:
    """The foot that is touched first, and at which lean, degrees, of those in the air (F, K); −1 and ∞ where none is
    ever on that side."""
    there = np.isfinite(catches)
    first = np.where(there.any(axis=1), np.where(there, catches, -np.inf).max(axis=1, initial=-np.inf), np.inf)
    if not np.isfinite(first).any():
        return -1, np.inf
    return limbs[int(np.argmin(first))], float(first.min())


@compiled_for(floats(3), floats(2), floats(1))
def _touching(feet: Array, one: Array, side: Array) -> Array:
    """(F, K) degrees: at which lean to a side (2,) each foot (F, K, 3) m touches, about points (K, 3); ∞ where none
    does, and in one row more than there are feet."""
    count, rows, _ = feet.shape
    found = np.full((count + 1, rows), np.inf)
    for k in range(count):
        for n in range(rows):
            away = (feet[k, n, 0] - one[n, 0]) * side[0] + (feet[k, n, 1] - one[n, 1]) * side[1]
            if away > 1e-3:
                found[k, n] = np.degrees(np.arctan(max(feet[k, n, 2], 0.0) / away))
    return found


def about_line(r: Reading, row: int, point: Array, axis: Array) -> float:
    """kg·m²: of all parts about a line through a point, as they lie at a row."""
    body, frame = r.of(placed), r.assembled.rigid_frame
    turn, one = body.turn[row], (1, 1, 3)
    kg, inertia = np.full((1, 1), frame.kg), frame.inertia[None, None]
    centre = (body.at[row] + turn @ frame.centre).reshape(one)
    found = spun_about(point, axis, centre, turn[None, None], kg, inertia)
    for parts, lies in zip(r.assembled.rigid, r.of(laid), strict=True):
        found += spun_about(point, axis, lies.centres[:, row], lies.turns[:, row], parts.kg, parts.inertias)
    return max(found, 1e-9)
