"""How far the legs walk beside how far they were asked to."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.geometry.planar_twist import displacement
from bustle.core.judge.measures.feet.foot_slip import planted, slip_mm
from bustle.core.loads.giving.pulled_aside import pulled_aside
from bustle.core.loads.told import not_balanced, not_pushed
from bustle.core.project.motion import Keyframes, PhaseGait
from bustle.core.walk.course import Implied
from bustle.core.walk.implied_travel import drawn_on, implied_travel
from bustle.core.walk.motions.pace import METRE_MM, velocity
from bustle.core.walk.reading import Reading

# Feet that slide for more than this share of their stroke crawl: in a physics engine they took a walk an eighth further
# than dry friction tells where servos are held against sag, and down to half as far where they give or have play.
CRAWLS = 0.4
# Feet that slide for more than this share of it are pulled on by a drag without having to give.
SLIDES = 0.1
# What goes less far in a cycle goes nowhere.
LEAST_WAY_MM = 2.0
# What is asked to turn further than this in a metre, rad, has no way to be beside.
MOST_TURN = np.pi / 2


def crawls(r: Reading) -> bool:
    """Whether its feet slide so much that what its servos give decides how far it goes."""
    return r.of(slid) > CRAWLS


def slid(r: Reading) -> float:
    """The largest share of its stroke that a foot slides."""
    stroke = np.where(r.score.stroke_mm > 1.0, r.score.stroke_mm, np.inf)
    return float((r.of(slip_mm) / stroke).max(initial=0.0))


def asked_twist(r: Reading) -> Array:
    """(3,) mm/s, mm/s, rad/s over the whole duration; zero where a motion has no twist of its own."""
    if not isinstance(r.motion, (PhaseGait, Keyframes)):
        return np.zeros(3)
    twist = r.motion.twist
    asked = np.array([twist.vx_mm_s, twist.vy_mm_s, np.radians(twist.omega_deg_s)])
    # Pauses come on top of the time in which a gait walks.
    return asked * (r.gait.cycle_s / r.score.duration_s) if r.gait else asked


def led_twist(r: Reading) -> Array:
    """(3,) mm/s, mm/s, rad/s over the whole duration, by which its legs are led: as asked, and as it is steered."""
    asked = r.of(asked_twist)
    if not r.gait or not r.gait.steer_mm_m:
        return asked
    return np.array(velocity(r.gait)) * (r.gait.cycle_s / r.score.duration_s)


def implied(r: Reading) -> Implied:
    """What the legs walk beyond what they are led by."""
    if r.course.implied:
        return r.course.implied
    drawn = drawn_on(r.project.floor)
    return implied_travel(r.course, r.of(planted), r.samples, r.row_s, r.score.periodic, drawn=drawn)


def walked_twist(r: Reading) -> Array:
    """(3,): the twist on average that the body goes by, as led, or as the legs imply where the motion says so."""
    led = r.of(led_twist)
    return led + r.course.implied.twist.mean(axis=0) if r.course.implied else led


def share_walked(r: Reading) -> float:
    """Of what its legs are led by, along it, where a motion's travel is taken from them; 1 where nothing is asked."""
    asked = r.of(asked_twist)
    size = float(asked @ asked)
    return float(r.of(walked_twist) @ asked) / size if size > 0 else 1.0


@dataclass(frozen=True)
class Deviation:
    """At the neutral feet, per cycle, root of the mean square over the legs, mm: how far they were asked to go, and how
    far from there they go. gone: the displacement (3,), mm, mm, rad, by its legs and by what drags on it; pulled (3,):
    by the latter."""

    asked_mm: float
    off_mm: float
    gone: Array
    pulled: Array

    @property
    def share(self) -> float:
        """Of what was asked; 0 where nothing much was."""
        return self.off_mm / self.asked_mm if self.asked_mm > 1.0 else 0.0


@dataclass(frozen=True)
class Drift:
    """Once a walk has gone a metre: how far left it is of where it was asked to be, mm, and how far turned, degrees."""

    aside_mm: float
    turned_deg: float


def not_pulled(r: Reading) -> str | None:
    """Why it is not told what drags do to its way."""
    if not r.score.periodic:
        return "only a walk that goes on and on is pulled aside"
    if r.project.walker.held != "free":
        return f"a {r.project.walker.held} holds it"
    if r.of(slid) > SLIDES:
        return "its feet slide, and the floor decides where it is pulled"
    # What rocks from foot to foot is pulled round as it rocks: trots in an engine by up to four times as much.
    return not_pushed(r) or not_balanced(r)


def pulled(r: Reading) -> Array:
    """(3,) mm, mm, rad a cycle: by what drags on it; zero where nothing does, or that is not told."""
    off = None if not r.project.walker.drags or not_pulled(r) else r.of(pulled_aside)
    return np.zeros(3) if off is None else off


def drift(r: Reading) -> Drift | None:
    """Of all of it."""
    found = r.of(deviation)
    return None if found is None else _after_a_metre(r, found.gone)


def drift_of_legs(r: Reading) -> Drift | None:
    """As if nothing dragged on it."""
    found = r.of(deviation)
    return None if found is None else _after_a_metre(r, found.gone - found.pulled)


def mostly_dragged(r: Reading) -> bool:
    """Whether drags have a larger part in its drift than its legs."""
    whole, legs = r.of(drift), r.of(drift_of_legs)
    return bool(whole and legs and abs(whole.aside_mm - legs.aside_mm) > abs(legs.aside_mm))


def _after_a_metre(r: Reading, gone: Array) -> Drift | None:
    """None of what goes nowhere or turns more than it goes, or where no standing foot tells how it goes.

    With ξ the twist that is asked and ζ that by which it goes, each for a metre of way, the places are exp(ξ) and
    exp(ζ): that it goes further or less far than asked does not count.
    """
    asked = r.of(asked_twist) * r.score.duration_s
    ways = [float(np.hypot(*way[:2])) for way in (asked, gone)]
    if min(ways) < LEAST_WAY_MM or abs(asked[2]) * METRE_MM / ways[0] > MOST_TURN:
        return None
    each = (twist * METRE_MM / way for twist, way in zip((asked, gone), ways, strict=True))
    (x, y, heading), there = (displacement(vx, vy, omega, 1.0) for vx, vy, omega in each)
    # Across the chord of the way asked, as a builder lays a string along it.
    across = (x * (there[1] - y) - y * (there[0] - x)) / np.hypot(x, y)
    return Drift(float(across), float(np.degrees(there[2] - heading)))


def deviation(r: Reading) -> Deviation | None:
    """None where no motion with a twist of its own, or no foot that stands still, tells it."""
    feet = [leg.neutral_mm for leg in r.project.walker.legs if leg.neutral_mm is not None]
    if not isinstance(r.motion, (PhaseGait, Keyframes)) or not r.of(planted).any() or not feet:
        return None
    asked = r.of(asked_twist) * r.score.duration_s
    dragged = r.of(pulled)
    gone = (r.of(led_twist) + r.of(implied).twist.mean(axis=0)) * r.score.duration_s + dragged
    x, y = np.array(feet).T

    def way(step: Array) -> float:
        """Of the body at a foot: v + ω·ẑ × r."""
        return float(np.sqrt(((step[0] - step[2] * y) ** 2 + (step[1] + step[2] * x) ** 2).mean()))

    return Deviation(way(asked), way(gone - asked), gone, dragged)
