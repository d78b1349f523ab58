"""Stretches on two feet, or on one, worked out in a go: where feet and mass are from just after the others lift to just
before they land, how far it leans meanwhile, and which foot in the air it then touches."""

from __future__ import annotations

import math

import numpy as np

from bustle.core.geometry.arrays import Array, Flags, Indices
from bustle.core.geometry.compiled import FLAG, REAL, WHOLE, compiled, compiled_for, flags, floats, indices

# So long a foot hangs where it catches on something.
LATE_S = 0.1
# Far beyond lying on the floor, rad and rad/s, nothing more is told of how it falls: growing on it would overflow.
FALLEN = 500.0
# Nearer than this share of a row to one, an event is at it.
TOGETHER = 1e-6
# Feet nearer than this to each other, m, are on one spot; and a foot nearer to the line is on neither side.
ON_ONE_SPOT, ON_THE_LINE = 1e-6, 1e-3
# Beyond this, rad, what is told of its lean nears 90°.
LYING = 1.5


@compiled_for(flags(2), indices(1), indices(1), WHOLE, FLAG)
def on_few(contact: Flags, legs: Indices, broad: Indices, samples: int, periodic: bool) -> Indices:
    """(K, 3): stretches of at least two rows through which the same two of these legs stand, or the same one, none on
    a broad sole: the row it begins at, how many it has, and which of the legs stand, a bit each. In order from a change
    on; of a walk that repeats, one may go over its end."""
    standing = np.zeros(samples, np.intp)
    for n in range(samples):
        down = 0
        for k in range(len(legs)):
            if contact[legs[k], n]:
                down, standing[n] = down + 1, standing[n] | 1 << k
        for limb in broad:
            down += 3 if contact[limb, n] else 0
        standing[n] = standing[n] if down <= 2 else 0
    first = 0
    while periodic and first < samples and standing[first] == standing[first - 1]:
        first += 1
    found, count, begins = np.empty((samples, 3), np.intp), 0, 0
    for n in range(1, samples + 1):
        now = standing[(first + begins) % samples]
        if n < samples and standing[(first + n) % samples] == now:
            continue
        if now and n - begins > 1:
            found[count, 0], found[count, 1], found[count, 2] = (first + begins) % samples, n - begins, now
            count += 1
        begins = n
    return found[:count]


@compiled
def _from_event_to_event(
    rows: Indices, time_s: Array, beside: Indices, before: Flags, samples: int, row_s: float, whole_s: float
) -> tuple[Indices, Array, int]:
    """The instants (K,) of a stretch of rows, from just after the other feet lift to just before they land, which they
    do between two rows; when each is, (K,) s after the first; and from which on they are in the cycle after it."""
    count = len(rows)
    nodes, at = np.empty(count + 2, np.intp), np.empty(count + 2)
    for n in range(count):
        nodes[1 + n], at[1 + n] = rows[n], n * row_s
    begins, ends = 1, count + 1
    for lands in (False, True):
        row, found, nearest = rows[-1 if lands else 0], -1, whole_s
        for event in range(samples, len(time_s)):
            if before[event] != lands or beside[event] != row:
                continue
            # Over the end of a cycle too. Others that lift or land between the same two rows do so further from here.
            off = (time_s[event] - row * row_s + whole_s / 2) % whole_s - whole_s / 2
            if found < 0 or abs(off) < abs(nearest):
                found, nearest = event, off
        if found < 0 or abs(nearest) <= TOGETHER * row_s:
            continue
        if lands:
            nodes[ends], at[ends], ends = found, at[ends - 1] + nearest, ends + 1
        else:
            nodes[0], at[0], begins = found, nearest, 0
    fresh = begins
    while fresh < ends and time_s[nodes[fresh]] >= time_s[nodes[begins]]:
        fresh += 1
    return nodes[begins:ends], at[begins:ends] - at[begins], fresh - begins


@compiled
def _laid_out(
    nodes: Indices, feet: Indices, feet_mm: Array, com_mm: Array, fresh: int, x: float, y: float, theta: float,
    downhill: Array,
) -> tuple[Array, Array, Array, Array, float]:  # fmt: skip
    """Of feet, the first two of which stand: where each is, (F, K, 3) m, and the mass, (K, 3) m, what is told of the
    cycle after it carried on by x, y m and turned by theta; as each instant tells it itself, where one standing foot is
    and which way the line goes on from it to the other, (K, 2) both; on one spot, across the way to the mass. And how
    high that lies on the whole, m."""
    count, c, s = len(nodes), math.cos(theta), math.sin(theta)
    places, centre = np.empty((len(feet), count, 3)), np.empty((count, 3))
    one, way = np.empty((count, 2)), np.empty((count, 2))
    ahead, aside, high = 0.0, 0.0, 0.0
    for n in range(count):
        for k in range(len(feet) + 1):
            told = feet_mm[feet[k], nodes[n]] if k < len(feet) else com_mm[nodes[n]]
            into = places[k, n] if k < len(feet) else centre[n]
            u, v, into[2] = told[0] / 1000, told[1] / 1000, told[2] / 1000
            if k == 0:
                one[n, 0], one[n, 1] = u, v
            into[0], into[1] = (u, v) if n < fresh else (x + c * u - s * v, y + s * u + c * v)
        ahead, aside, high = ahead + centre[n, 0] / count, aside + centre[n, 1] / count, high + centre[n, 2] / count
    first = places[0, 0]
    u, v = places[1, 0, 0] - first[0], places[1, 0, 1] - first[1]
    if math.hypot(u, v) <= ON_ONE_SPOT:
        u, v = aside + high * downhill[1] - first[1], first[0] - ahead - high * downhill[0]
    size = math.hypot(u, v)
    u, v = (u / size, v / size) if size > ON_ONE_SPOT else (1.0, 0.0)
    for n in range(count):
        way[n, 0], way[n, 1] = (u, v) if n < fresh else (c * u + s * v, c * v - s * u)
    return places, centre, one, way, high


@compiled
def _beyond(at: Array, foot: Array, way: Array) -> float:
    """m to the left of a line from a foot along a way."""
    return (at[1] - foot[1]) * way[0] - (at[0] - foot[0]) * way[1]


@compiled
def _tipped(off: Array, level: Array, at: Array, high: float, up: float, rate: float) -> tuple[Array, float]:
    """How far a mass leans that lies so far beyond a line, plumb and by the floor, (K,) m, at times (K,) s: rad (K,);
    and LATE_S after the last, the mass being where it was. From rest, by θ̈ = rate²·(θ + held), with
    held = (g·e − h·ë)/(g·h), from one to the next its mean."""
    count = len(off)
    held, leaned, turning = np.empty(count), np.zeros(count), 0.0
    for n in range(count):
        # Speeding up at the ends as beside them.
        k, speeding = min(max(n, 1), count - 2), 0.0
        if count > 2:
            one, two = at[k] - at[k - 1], at[k + 1] - at[k]
            speeding = 2 * ((level[k + 1] - level[k]) / two - (level[k] - level[k - 1]) / one) / (one + two)
        held[n] = (up * off[n] - high * speeding) / (up * high)
    for n in range(count - 1):
        lasts, mean = rate * (at[n + 1] - at[n]), (held[n] + held[n + 1]) / 2
        c, s, from_rest = math.cosh(lasts), math.sinh(lasts), leaned[n] + mean
        lean, turning = from_rest * c - mean + turning / rate * s, from_rest * rate * s + turning * c
        leaned[n + 1], turning = min(max(lean, -FALLEN), FALLEN), min(max(turning, -FALLEN), FALLEN)
    on, last = min(rate * LATE_S, FALLEN), held[count - 1]
    return leaned, (leaned[count - 1] + last) * math.cosh(on) - last + turning / rate * math.sinh(on)


@compiled
def _touches(foot: Array, one: Array, way: Array, side: float) -> float:
    """rad to a side, 1 or −1, at which a foot in the air touches; −1 where it never does."""
    away = _beyond(foot, one, way) * side
    return math.atan(max(foot[2], 0.0) / away) if away > ON_THE_LINE else -1.0


@compiled
def _caught(places: Array, way: Array, side: float) -> tuple[int, float]:
    """Of feet the first two of which stand, (F, K, 3) m, which touches first and at which lean, rad, whichever instant
    holds it off longest; −1 and ∞ where none is ever on that side."""
    which, least = -1, np.inf
    for k in range(2, len(places)):
        most = -1.0
        for n in range(places.shape[1]):
            most = max(most, _touches(places[k, n], places[0, n], way, side))
        if 0 <= most < least:
            which, least = k, most
    return which, least


@compiled
def _stopped(places: Array, way: Array, side: float, n: int) -> float:
    """rad to that side until a foot that hangs there at an instant touches; ∞ where none does."""
    least = np.inf
    for k in range(2, len(places)):
        touches = _touches(places[k, n], places[0, n], way, side)
        if touches >= 0:
            least = min(least, touches)
    return least


@compiled
def _fallen(
    places: Array, centre: Array, at: Array, way: Array, downhill: Array, first: int, end: int, high: float, up: float,
    rate: float,
) -> tuple[Array, float, tuple[int, float], float, Array, Array]:  # fmt: skip
    """How it leans over a stretch that is laid out, at each instant, rad (K,), and where the next foot is caught; which
    foot it falls towards, and at which lean that touches, rad; how far it leans where it is stopped in mid-swing at the
    worst of its rows first … end, rad; and how far the mass lies beyond the line, (K,) m, and midway the feet in the
    air, (F − 2,) m."""
    count = len(centre)
    level, off = np.empty(count), np.empty(count)
    for n in range(count):
        level[n] = _beyond(centre[n], places[0, 0], way)
        off[n] = level[n] + centre[n, 2] * (downhill[1] * way[0] - downhill[0] * way[1])
    leaned, late = _tipped(off, level, at, high, up, rate)
    worst, stopped, middle = 0.0, 0.0, (first + end) // 2
    for n in range(count):
        worst = leaned[n] if abs(leaned[n]) > abs(worst) else worst
        if first <= n < end:
            before, after = max(n - 1, 0), min(n + 1, count - 1)
            goes = (off[after] - off[before]) / (at[after] - at[before])
            stopped = max(stopped, _stopped(places, way, 1.0 if off[n] + goes / rate >= 0 else -1.0, n))
    hang = np.empty(len(places) - 2)
    for k in range(len(hang)):
        hang[k] = _beyond(places[2 + k, middle], places[0, middle], way)
    return leaned, late, _caught(places, way, 1.0 if worst >= 0 else -1.0), stopped, off, hang


# What is told of each stretch, in this order (see `tipping.Lean`).
TOLD = (
    "takes_s", "tips_deg", "leans_deg", "beside_mm", "high_mm", "late_deg", "stopped_deg", "grows", "drags",
)  # fmt: skip


@compiled
def _stand_and_hang(standing: int, legs: Indices, steps: Indices) -> Indices:
    """The two limbs that stand, or the one twice, a bit for each of the legs, and then those of the steps that hang."""
    found, count = np.full(2 + len(steps), -1), 2
    for k in range(len(legs)):
        if standing >> k & 1:
            found[0] = legs[k] if found[0] < 0 else found[0]
            found[1] = legs[k]
    for limb in steps:
        if limb != found[0] and limb != found[1]:
            found[count], count = limb, count + 1
    return found[:count]


@compiled
def _about(inertia: Array, kg: float, centre: Array, one: Array, way: Array) -> float:
    """kg·m² about a line over the ground, of what is told about its centre (3,) m:  n·I·n + m·|n × (c − p)|²."""
    u, v = way
    x, y, z = centre[0] - one[0], centre[1] - one[1], centre[2]
    own = u * u * inertia[0, 0] + u * v * (inertia[0, 1] + inertia[1, 0]) + v * v * inertia[1, 1]
    return max(own + kg * (z * z + (u * y - v * x) ** 2), 1e-9)


@compiled_for(
    indices(2), indices(1), indices(1), floats(1), indices(1), flags(1), WHOLE, REAL, REAL, floats(3), floats(2), REAL,
    REAL, REAL, floats(1), REAL, REAL, floats(3),
)  # fmt: skip
def lean_over(
    stretches: Indices, legs: Indices, steps: Indices, time_s: Array, beside: Indices, before: Flags, samples: int,
    row_s: float, whole_s: float, feet_mm: Array, com_mm: Array, x: float, y: float, theta: float, downhill: Array,
    up: float, kg: float, inertias: Array,
) -> tuple[Array, Indices, Flags, Flags, Array, Array, Array]:  # fmt: skip
    """Of every stretch (K, 3) that `on_few` tells: what is TOLD of it, (K, 9); the limb that it comes to lie on, −1 for
    none; whether it reaches that; whether several feet hang, all to one side; and at its rows how far it leans,
    (K, M) rad, one standing foot, m, and the line from it, (K, M, 2). inertias (K, 3, 3): of all mass about its centre,
    midway."""
    count, most_rows = len(stretches), stretches[:, 1].max() if len(stretches) else 0
    told, foot = np.empty((count, 9)), np.empty(count, np.intp)
    rests, one_sided = np.zeros(count, np.bool_), np.zeros(count, np.bool_)
    leans, ones = np.zeros((count, most_rows)), np.zeros((count, most_rows, 2))
    ways = np.zeros((count, most_rows, 2))
    for s in range(count):
        begins, lasts, standing = stretches[s]
        rows, feet = (begins + np.arange(lasts)) % samples, _stand_and_hang(standing, legs, steps)
        nodes, at, fresh = _from_event_to_event(rows, time_s, beside, before, samples, row_s, whole_s)
        places, centre, one, way, high = _laid_out(nodes, feet, feet_mm, com_mm, fresh, x, y, theta, downhill)
        first = 1 if nodes[0] != rows[0] else 0
        middle, end = first + lasts // 2, first + lasts
        own_centre = com_mm[nodes[middle]] / 1000
        rate = math.sqrt(kg * up * high / _about(inertias[s], kg, own_centre, one[middle], way[middle]))
        leaned, late, (touched, reaches), stopped, off, hang = _fallen(
            places, centre, at, way[0], downhill, first, end, high, up, rate
        )
        lean, beside_m = np.abs(leaned).max(), np.abs(off).max()
        tips, reaches_deg, most = math.degrees(lean), math.degrees(reaches), min(reaches, math.pi / 2)
        if lean > LYING:
            tips = math.degrees(math.atan(lean))
        middling, falls_on, away = off[first:end].mean(), 0.0, 0.0
        for k in range(len(hang)):
            on = hang[k] * math.copysign(1.0, middling)
            falls_on = on if k == 0 else max(falls_on, on)
            away += abs(hang[k]) / len(hang)
        grown = math.cosh(min(rate * at[-1], FALLEN)) * high / max(away, ON_THE_LINE) if len(hang) else 0.0
        told[s, 0], told[s, 1], told[s, 2] = at[-1], min(tips, 90.0), min(tips, reaches_deg, 90.0)
        told[s, 3], told[s, 4] = 1000 * beside_m, 1000 * high
        told[s, 5], told[s, 6] = math.degrees(min(abs(late), most)), min(math.degrees(stopped), 90.0)
        told[s, 7], told[s, 8] = grown, abs(middling) / falls_on if falls_on > ON_THE_LINE else 1.0
        foot[s], rests[s] = feet[touched] if touched > 0 else -1, tips >= reaches_deg
        one_sided[s] = feet[0] != feet[1] and len(hang) > 1 and (hang.min() > 0 or hang.max() < 0)
        for n in range(lasts):
            leans[s, n] = min(max(leaned[first + n], -most), most)
            for i in range(2):
                ones[s, n, i], ways[s, n, i] = one[first + n, i], way[first + n, i]
    return told, foot, rests, one_sided, leans, ones, ways
