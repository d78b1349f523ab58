"""Figures of how far and how fast a motion goes, that no finding is about."""

from __future__ import annotations

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.judge.figure import FigureSpec, Lines, Told
from bustle.core.judge.measures.way_walked import walked_twist
from bustle.core.project.motion import FreeWalk
from bustle.core.walk.reading import Reading
from bustle.core.words.wording import length, number, seconds

# Slower than this it does not go anywhere.
STILL_MM_S = 1e-6


def _speed(r: Reading) -> float:
    """mm/s of a gait's body while it does not pause."""
    return float(np.hypot(*_twist(r)[:2])) if r.gait else 0.0


def _twist(r: Reading) -> Array:
    """(3,) mm/s, mm/s, rad/s while it does not pause."""
    assert r.gait
    twist: Array = r.of(walked_twist) * r.score.duration_s / r.gait.cycle_s
    return twist


def _speed_read(r: Reading) -> Told | None:
    return (_speed(r), None) if r.gait else None


def _speed_working(r: Reading) -> Lines:
    assert r.gait
    vx, vy, _ = _twist(r)
    cycle, speed = r.gait.cycle_s, _speed(r)
    paused = r.score.duration_s - cycle
    mean = speed * cycle / r.score.duration_s
    slower = (f"with {seconds(paused)} of pauses {number(mean)} mm/s on average",) if paused > 1e-9 else ()
    return (
        "√(vx² + vy²)",
        f"= √({number(vx)}² + {number(vy)}²) = {number(speed)} mm/s",
        *(("as its legs walk, not as asked",) if r.gait.travel == "implied" else ()),
        *slower,
    )


def _longer_side(r: Reading) -> float:
    return max(r.project.walker.sections[0].size_mm[:2])


def _lengths_read(r: Reading) -> Told | None:
    body = _longer_side(r)
    return (_speed(r) / body, None) if body and _speed(r) > STILL_MM_S else None


def _lengths_working(r: Reading) -> Lines:
    speed, body = _speed(r), _longer_side(r)
    return (
        "speed / the longer side of the frame",
        f"= {number(speed)} mm/s / {length(body)} = {number(speed / body, 2)} a second",
    )


def _course_read(r: Reading) -> Told | None:
    if not r.gait or _speed(r) <= STILL_MM_S:
        return None
    mean = _speed(r) * r.gait.cycle_s / r.score.duration_s
    return r.project.floor.course_mm / mean + r.gait.cycle_s, None


def _course_working(r: Reading) -> Lines:
    assert r.gait
    course, cycle = r.project.floor.course_mm, r.gait.cycle_s
    mean = _speed(r) * cycle / r.score.duration_s
    return (
        "length / mean speed + one cycle: gathering pace and losing it take a cycle each, at half the speed",
        f"= {length(course)} / {number(mean)} mm/s + {number(cycle, 3)} s = {seconds(course / mean + cycle)}",
    )


def _stride_read(r: Reading) -> Told | None:
    return (_speed(r) * r.gait.cycle_s, None) if r.gait else None


def _stride_working(r: Reading) -> Lines:
    assert r.gait
    speed, cycle = _speed(r), r.gait.cycle_s
    return "speed × cycle time", f"= {number(speed)} mm/s × {number(cycle, 3)} s = {length(speed * cycle)}"


def _turn_read(r: Reading) -> Told | None:
    return (float(np.degrees(_twist(r)[2])) * r.gait.cycle_s, None) if r.gait else None


def _turn_working(r: Reading) -> Lines:
    assert r.gait
    omega, cycle = float(np.degrees(_twist(r)[2])), r.gait.cycle_s
    return "ω × cycle time", f"= {number(omega)} °/s × {number(cycle, 3)} s = {number(omega * cycle)}°"


def _stroke_read(r: Reading) -> Told | None:
    return (float(r.score.stroke_mm.max()), None) if r.gait else None


def _stroke_working(r: Reading) -> Lines:
    assert r.gait
    longest = int(np.argmax(r.score.stroke_mm))
    stroke, name = float(r.score.stroke_mm[longest]), r.project.walker.limbs[longest].name
    duty = r.timing[name].duty if name in r.timing else 1.0
    stance = duty * r.gait.cycle_s
    return (
        "speed of the foot × duty × cycle time",
        f"{name}: {number(stroke / stance)} mm/s × {number(duty, 3)} × {number(r.gait.cycle_s, 3)} s"
        f" = {length(stroke)}",
    )


def _swing_read(r: Reading) -> Told | None:
    return ((1 - max(leg.duty for leg in r.gait.legs)) * r.gait.cycle_s, None) if r.gait else None


def _swing_working(r: Reading) -> Lines:
    assert r.gait
    longest = max(r.gait.legs, key=lambda leg: leg.duty)
    swing = (1 - longest.duty) * r.gait.cycle_s
    return (
        "(1 − duty) × cycle time",
        f"{longest.limb}: (1 − {number(longest.duty, 3)}) × {number(r.gait.cycle_s, 3)} s = {seconds(swing)}",
    )


def _has_an_end(r: Reading) -> bool:
    return not r.gait and not r.score.periodic


def _way(r: Reading) -> float:
    """mm, the length of the path of the body's middle over the floor."""
    path = np.stack(r.course.body.travel[:2], axis=-1)[: r.samples]
    return float(np.linalg.norm(np.diff(path, axis=0), axis=1).sum())


def _gone(r: Reading) -> tuple[float, float, float]:
    """Ahead and to the left in mm, and round in rad, from the beginning to the end."""
    x, y, theta = (float(v[r.samples - 1] - v[0]) for v in r.course.body.travel)
    return x, y, theta


def _way_working(r: Reading) -> Lines:
    x, y, _ = _gone(r)
    return (
        f"length of the path of the body's middle over the floor: {number(r.of(_way))} mm",
        f"it ends {number(x)} mm ahead and {number(y)} mm to the left of where it began",
    )


def _asked(r: Reading) -> float:
    """mm, the way that a walk by the rule was told to go."""
    walk = r.motion
    if not isinstance(walk, FreeWalk):
        return 0.0
    ends = [*(w.from_s for w in walk.ways[1:]), walk.takes_s]
    return sum(
        float(np.hypot(w.twist.vx_mm_s, w.twist.vy_mm_s)) * max(0.0, min(end, walk.takes_s) - w.from_s)
        for w, end in zip(walk.ways, ends, strict=True)
    )


def _share_read(r: Reading) -> Told | None:
    asked = _asked(r)
    return (100 * r.of(_way) / asked, None) if asked > 0 else None


def _share_working(r: Reading) -> Lines:
    return (
        "way walked / Σ speed asked for × time",
        f"= {length(r.of(_way))} / {length(_asked(r))} = {number(100 * r.of(_way) / _asked(r), 0)} %",
        "the rest is the body gathering pace, and waiting where no leg may lift yet",
    )


LASTS = FigureSpec(
    "lasts_s",
    "Lasts",
    "s",
    1,
    lambda r: (r.score.duration_s, None) if _has_an_end(r) else None,
    lambda r: (f"from its first row to its last: {seconds(r.score.duration_s)}",),
    ("motions",),
    compared=True,
)
WAY = FigureSpec(
    "way_mm",
    "Way walked",
    "mm",
    0,
    lambda r: (r.of(_way), None) if _has_an_end(r) else None,
    _way_working,
    ("motions",),
    compared=True,
)
WAY_SHARE = FigureSpec("way_share", "Of the way asked for", "%", 0, _share_read, _share_working, ("motions",), better=1)
HEADING = FigureSpec(
    "heading_deg",
    "Heading at the end",
    "°",
    1,
    lambda r: (float(np.degrees(_gone(r)[2])), None) if _has_an_end(r) else None,
    lambda r: (f"all turns together: {number(float(np.degrees(_gone(r)[2])))}°",),
    ("motions",),
    compared=True,
)
SPEED = FigureSpec("speed_mm_s", "Speed", "mm/s", 0, _speed_read, _speed_working, ("motions",), better=1, compared=True)
BODY_LENGTHS = FigureSpec(
    "body_lengths_s", "In body lengths", "lengths/s", 2, _lengths_read, _lengths_working, ("motions",), better=1
)
COURSE = FigureSpec(
    "course_s",
    lambda r: f"Course of {length(r.project.floor.course_mm)}",
    "s",
    1,
    _course_read,
    _course_working,
    ("motions",),
    better=-1,
)
STRIDE = FigureSpec("stride_mm", "Stride", "mm", 0, _stride_read, _stride_working, ("stride", "rail"), compared=True)
TURN = FigureSpec("turn_deg", "Turn per cycle", "°", 1, _turn_read, _turn_working, ("stride", "rail"))
STROKE = FigureSpec(
    "stroke_mm", "Longest stroke", "mm", 1, _stroke_read, _stroke_working, ("stride", "motions"), compared=True
)
SWING = FigureSpec("swing_s", "Shortest swing", "s", 2, _swing_read, _swing_working, ("stride", "timing"))

FIGURES = (LASTS, WAY, WAY_SHARE, HEADING, SPEED, BODY_LENGTHS, COURSE, STRIDE, TURN, STROKE, SWING)
