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

from dataclasses import dataclass

import numpy as np

from bustle.core.falling.pushing_point import broad_feet
from bustle.core.falling.stretch import TOLD, lean_over, on_few
from bustle.core.geometry.arrays import Array, Indices
from bustle.core.geometry.planar_twist import carry
from bustle.core.loads.inertial_wrenches import inertia_at
from bustle.core.walk.plumb import downhill, upright
from bustle.core.walk.reading import Reading

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
    foot: int
    rests: bool
    one_sided: bool
    rows: Indices
    lean: Array
    one: Array
    way: Array
    takes_s: float
    tips_deg: float
    leans_deg: float
    beside_mm: float
    high_mm: float
    late_deg: float
    stopped_deg: float
    grows: float
    drags: float
    carried: float

    @property
    def told_deg(self) -> float:
        """How bad it is. On one foot it falls until a lifted one is touched, however soon that is."""
        return self.leans_deg if self.feet == 2 else self.tips_deg


def leans(r: Reading) -> list[Lean]:
    """Every stretch in which just two feet stand, or one, the worst first."""
    limbs, course, n = r.project.walker.limbs, r.course, r.samples
    legs = np.array([i for i, m in enumerate(limbs) if m.feet], np.intp)
    # On a broad one it is told by where it pushes.
    stretches = on_few(course.contact, legs, np.array(broad_feet(r), np.intp), n, r.score.periodic)
    if not len(stretches):
        return []
    steps = np.array([i for i, m in enumerate(limbs) if m.steps], np.intp)
    begin, count, standing = stretches.T
    x, y, theta = r.goes_on
    told, feet, rests, one_sided, leaned, one, way = lean_over(
        stretches, legs, steps, course.time_s, r.row_beside, r.before, n, r.row_s, r.score.duration_s,
        course.feet_ground_mm, course.com_ground_mm, x / 1000, y / 1000, theta, r.of(downhill),
        float(r.of(upright)[2]), r.assembled.total_kg, inertia_at(r, (begin + count // 2) % n),
    )  # fmt: skip
    found, on = [], [down.bit_count() for down in standing.tolist()]
    for k, (row, lasts, _) in enumerate(stretches.tolist()):
        after, ends, share = (k + 1) % len(on), (row + lasts - 1) % n, 0.0
        next_row = int(begin[after])
        if (after > k or r.score.periodic) and (next_row - ends - 1) % n < SETTLES * lasts and on[k] == on[after] == 2:
            # The next may stand in the cycle that begins then.
            u, v = carry((0.0, 0.0, theta if next_row < ends else 0.0), *way[after, 0])
            share = abs(float(way[k, lasts - 1, 0] * u + way[k, lasts - 1, 1] * v))
        told_of = dict(zip(TOLD, told[k].tolist(), strict=True))
        found.append(Lean(
            on[k], ends, int(feet[k]), bool(rests[k]), bool(one_sided[k]), (row + np.arange(lasts)) % n,
            leaned[k, :lasts], one[k, :lasts], way[k, :lasts], **told_of, carried=share * told_of["grows"],
        ))  # fmt: skip
    return sorted(found, key=lambda lean: -round(lean.told_deg, 6))
