"""What a slope does to two legs not kept by where they push: on curved soles, and rocking over flat ones' edges.

Limits are of one physics engine, with a friction of 0.8 and servos that give 4° at full torque.
"""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from bustle.core.falling.pushing_point import room_ahead, sole_length_mm, sole_width_mm
from bustle.core.falling.rocking import half_spacing_mm
from bustle.core.falling.sole_middles import beside_mm
from bustle.core.geometry.arrays import Array
from bustle.core.geometry.extremes import least
from bustle.core.judge.finding import Finding
from bustle.core.walk.plumb import downhill
from bustle.core.walk.reading import Reading
from bustle.core.words.wording import degrees, length, percent, told_apart

# Rockers of 180 mm on slopes of 1 to 6°, uphill, downhill and across: along their way, where they lean by 3 and 5° from
# it all four stayed up, of eight from 8° on four fell; across, from 4° of slope on all fell.
ROLLS_WARN_DEG, ROLLS_DEG, ACROSS_DEG = 2.0, 7.0, 3.5
# Parallelograms of 200 and 260 mm and thrown masses of 180 and 240 mm on slopes of 1 to 10°: uphill with 0.13 of a
# sole's length and more between the pushing point and its heels 15 of 16 stayed up, with less all 8 fell; downhill all
# stayed up. Across, the mass beside the middle by so much of the way to an outer border: parallelograms to 0.10 went 83
# to 94 % of their way, from 0.15 on 65 % at most and from 0.31 on all fell; thrown masses to 0.33 went 77 to 100 %, and
# from 0.44 on all fell.
HEELS, BESIDE, BESIDE_THROWN = 0.13, 0.13, 0.38


def curves_on_a_slope(r: Reading, radius: float, high: float) -> Iterator[Finding]:
    """On a slope σ along its way a curve of radius R rolls until its mass, h up, is over where it touches: leaned by φ,
    (R − h)·sin φ = R·sin σ. Across it, it rocks further to one side than to the other."""
    ahead = _ahead(r)
    along, across = (float(np.arctan(abs(r.of(downhill) @ way))) for way in (ahead, np.array([-ahead[1], ahead[0]])))
    leans = float(np.degrees(np.arcsin(min(1.0, radius * np.sin(along) / (radius - high)))))
    slope = degrees(r.project.floor.slope_deg)
    if np.degrees(across) > ACROSS_DEG:
        beside, keep = told_apart(degrees, float(np.degrees(across)), ACROSS_DEG)
        yield Finding(
            "F53", "stop", "Rolls down the slope",
            f"Its soles are curved, and the floor slopes {slope}, {beside} of it across "
            f"its way; keep {keep}.",
            (), None, float(np.degrees(across)), ACROSS_DEG, "°",
        )  # fmt: skip
    elif leans > ROLLS_WARN_DEG:
        told, keep = told_apart(degrees, leans, ROLLS_WARN_DEG)
        yield Finding(
            "F53", "stop" if leans > ROLLS_DEG else "warn", "Rolls down the slope",
            f"Soles curved fore and aft by {length(radius)} under a mass {length(high)} up roll on a slope of {slope} "
            f"until it leans {told}; keep {keep}.",
            (), None, leans, ROLLS_WARN_DEG, "°",
        )  # fmt: skip


def rocking_on_a_slope(r: Reading) -> Iterator[Finding]:
    """Of a machine that rocks sideways over its soles' edges: stop where a slope leaves it too near its heels, or its
    mass too far beside the middle."""
    pull, way = r.of(downhill), np.array(r.goes_on[:2])
    if not pull.any():
        return
    slope, left = degrees(r.project.floor.slope_deg), r.of(room_ahead)
    row, climbs = least(left), float(way @ pull) < 0
    share = float(left[row]) / max(sole_length_mm(r), 1e-9)
    if climbs and abs(float(_ahead(r) @ pull)) > 1e-6 and share < HEELS:
        end = "toes" if float(_ahead(r) @ pull) > 0 else "heels"
        yield Finding(
            "F53", "stop", f"Pitches over its {end}",
            f"Up a slope of {slope} it pushes {length(float(left[row]))} from the ends of its soles; keep "
            f"{length(HEELS * sole_length_mm(r))}.",
            (), float(row * r.row_s), float(left[row]), HEELS * sole_length_mm(r), "mm",
        )  # fmt: skip
        return
    border = half_spacing_mm(r) + sole_width_mm(r) / 2
    throws = any(limb.joints and not limb.feet for limb in r.project.walker.limbs)
    most = BESIDE_THROWN if throws else BESIDE
    off = r.of(beside_mm) / max(border, 1e-9)
    if off > most:
        told, keep = told_apart(percent, off, most)
        yield Finding(
            "F53", "stop", "Rocks over to one side",
            f"Across a slope of {slope} its mass is {told} of the way from the middle to the outer border of a "
            f"sole; keep {keep}.",
            (), None, off, most, "of the way",
        )  # fmt: skip


def _ahead(r: Reading) -> Array:
    heading = float(r.course.body.travel[2][0])
    return np.array([np.cos(heading), np.sin(heading)])
