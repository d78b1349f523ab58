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

import numpy as np

from bustle.core.falling.pushing_point import broad_feet
from bustle.core.falling.stretch import FALLEN, ON_THE_LINE, fallen, from_event_to_event, laid_out, on_few
from bustle.core.geometry.arrays import Array, Indices
from bustle.core.geometry.planar_twist import carry
from bustle.core.loads.inertial_wrenches import laid
from bustle.core.loads.moving import placed
from bustle.core.loads.newton_euler import spun_about
from bustle.core.walk.plumb import downhill, upright
from bustle.core.walk.reading import Reading

# Beyond this, rad, what is told of its lean nears 90°.
LYING = 1.5
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
    legs = [i for i, m in enumerate(r.project.walker.limbs) if m.feet]
    # On a broad one it is told by where it pushes.
    stretches = on_few(
        r.course.contact, np.array(legs), np.array(broad_feet(r), np.intp), r.samples, r.score.periodic
    ).tolist()
    found = [
        _lean(r, (row + np.arange(count)) % r.samples, [leg for k, leg in enumerate(legs) if standing >> k & 1])
        for row, count, standing in stretches
    ]
    for k, (row, count, _) in enumerate(stretches):
        after = (k + 1) % len(found)
        between = (stretches[after][0] - row - count) % r.samples
        one, other = found[k], found[after]
        if (after > k or r.score.periodic) and between < SETTLES * count and one.feet == other.feet == 2:
            # The next may stand in the cycle that begins then.
            way = carry((0.0, 0.0, r.goes_on[2] if other.rows[0] < one.rows[-1] else 0.0), *other.way[0])
            found[k] = replace(one, carried=abs(float(one.way[-1] @ np.array(way))) * one.grows)
    return sorted(found, key=lambda lean: -round(lean.told_deg, 6))


def _lean(r: Reading, rows: Indices, standing: list[int]) -> Lean:
    up, down, course = float(r.of(upright)[2]), r.of(downhill), r.course
    limbs = [i for i, m in enumerate(r.project.walker.limbs) if m.steps and i not in standing]
    feet = np.array([standing[0], standing[-1], *limbs])
    x, y, theta = r.goes_on
    nodes, at, fresh = from_event_to_event(
        rows, course.time_s, r.row_beside, r.before, r.samples, r.row_s, r.score.duration_s
    )
    first = int(nodes[0] != rows[0])
    own, middle = slice(first, first + len(rows)), first + len(rows) // 2
    places, centre, one, way, high = laid_out(
        nodes, feet, course.feet_ground_mm, course.com_ground_mm, fresh, x / 1000, y / 1000, theta, down
    )
    inertia = about_line(r, int(nodes[middle]), np.array([*one[middle], 0.0]), np.array([*way[middle], 0.0]))
    rate = math.sqrt(r.assembled.total_kg * up * high / inertia)
    leaned, late, (touched, reaches), stopped, off, hang = fallen(
        places, centre, at, way[0], down, own.start, own.stop, high, up, rate
    )
    lean = float(np.abs(leaned).max())
    tips, reaches_deg = math.degrees(math.atan(lean) if lean > LYING else lean), math.degrees(reaches)
    middling, most = float(off[own].mean()), min(reaches, math.pi / 2)
    falls_on = max((s * math.copysign(1.0, middling) for s in hang.tolist()), default=0.0)
    grown = math.cosh(min(rate * float(at[-1]), FALLEN))
    return Lean(
        len(standing), int(rows[-1]), float(at[-1]),
        min(tips, 90.0), min(tips, reaches_deg, 90.0), limbs[touched - 2] if touched > 0 else -1, tips >= reaches_deg,
        1000 * float(np.abs(off).max()), 1000 * high,
        len(standing) == 2 and len(hang) > 1 and bool(hang.min() > 0 or hang.max() < 0),
        rows, np.clip(leaned[own], -most, most), one[own], way[own],
        math.degrees(min(abs(late), most)), min(math.degrees(stopped), 90.0),
        grown * high / max(float(np.abs(hang).mean()), ON_THE_LINE) if len(hang) else 0.0,
        abs(middling) / falls_on if falls_on > ON_THE_LINE else 1.0,
    )  # fmt: skip


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
