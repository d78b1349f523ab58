"""Where the whole machine pushes on the floor (its zero-moment point) against what it stands on."""

from __future__ import annotations

import numpy as np

from bustle.core.geometry.arrays import Array, Flags
from bustle.core.geometry.longest_run import longest_run
from bustle.core.geometry.support_polygon import margins
from bustle.core.loads.told import not_pushed
from bustle.core.loads.zero_moment_point import zero_moment_point
from bustle.core.machine.limb_groups import Group
from bustle.core.walk.plumb import over_floor
from bustle.core.walk.reading import Reading
from bustle.core.walk.standing_polygon import standing

# An axis turns sideways where so much of it lies along the machine.
ALONG = 0.9


def on_broad_soles(r: Reading) -> bool:
    """Whether every foot that steps has breadth."""
    return len(broad_feet(r)) == len(r.project.walker.legs)


def broad_feet(r: Reading) -> list[int]:
    """The limbs that step on a foot with breadth."""
    return r.of(_broad)


def _broad(r: Reading) -> list[int]:
    return [i for i, m in enumerate(r.project.walker.limbs) if m.steps and m.feet[0].sole.kind == "rectangle"]


def sole_width_mm(r: Reading) -> float:
    """Of the narrowest sole."""
    soles = [m.feet[0].sole for m in r.project.walker.legs]
    return min((s.width_mm for s in soles if s.kind == "rectangle"), default=0.0)


def sole_length_mm(r: Reading) -> float:
    """Of the shortest sole."""
    soles = [m.feet[0].sole for m in r.project.walker.legs]
    return min((s.length_mm for s in soles if s.kind == "rectangle"), default=0.0)


def keeps_flat_sideways(r: Reading) -> bool:
    """Whether every leg rolls at its hip and again at its ankle, so that its sole lies flat as the body sways."""
    return rolls(r) >= 2


def rolls(r: Reading) -> int:
    """How many hinges of a leg turn sideways, of the leg with the fewest."""
    return r.of(_roll)


def heads(r: Reading) -> bool:
    """Whether every leg has a hinge that turns its toes."""
    return _fewest(r, 2) >= 1


def _roll(r: Reading) -> int:
    return _fewest(r, 0)


def _fewest(r: Reading, axis: int) -> int:
    groups = [g for g in r.assembled.parts if any(r.project.walker.limbs[m].steps for m in g.members.tolist())]
    return min((int(_about(group, axis).sum()) for group in groups), default=7)


def sideways(group: Group) -> Flags:
    """(J,) which of a group's hinges turn sideways, and are turned by a servo."""
    return _about(group, 0)


def _about(group: Group, axis: int) -> Flags:
    """(J,) the same of an axis of the frame, 0 ahead to 2 up."""
    turns: Flags = np.abs(group.built.axes[0, :, axis]) > ALONG
    if group.built.coupling is not None:
        turns &= np.abs(group.built.coupling).any(axis=1)
    return turns


def not_pushing(r: Reading) -> str | None:
    """Why nothing is told of where it pushes."""
    why = not_on_soles(r)
    if why:
        return why
    return "its ankles do not roll: it rocks over the edges of its soles, by design" if rocks_sideways(r) else None


def not_on_soles(r: Reading) -> str | None:
    """Why nothing is told even of where it pushes fore and aft."""
    return not_pushed(r) or (None if broad_feet(r) else "its feet have no breadth to push on")


def rocks_sideways(r: Reading) -> bool:
    """Whether it cannot but lean over the edges of its two soles."""
    return r.project.walker.held == "free" and len(r.project.walker.legs) == 2 and not keeps_flat_sideways(r)


def room(r: Reading) -> Array:
    """(N,) mm at the rows: from the pushing point to the nearest edge of what it stands on, below 0 outside; −∞ where
    no foot is down."""
    held, points = r.of(standing), 1000 * r.of(zero_moment_point)
    found: Array = np.where(held.supported[: r.samples], margins(held, points), -np.inf)
    return found


def room_on_soles(r: Reading) -> Array:
    """(N,) mm: the same; ∞ where a machine with tips besides stands on those alone, and leans (see `tipping`)."""
    found, broad = r.of(room), broad_feet(r)
    if on_broad_soles(r) or len(r.project.walker.legs) < 3:
        return found
    return np.where(r.course.contact[broad, : r.samples].any(axis=0), found, np.inf)


def room_ahead(r: Reading) -> Array:
    """(N,) mm at the rows: the same along the way it heads alone, to the foremost or hindmost of what it stands on."""
    return _ahead(r, 1000 * r.of(zero_moment_point))


def plumb_ahead(r: Reading) -> Array:
    """(N,) mm at the rows: the same of the point under its mass."""
    return _ahead(r, r.of(over_floor)[: r.samples])


def _ahead(r: Reading, points: Array) -> Array:
    """points: (N, 2) mm on the floor."""
    held, n = r.of(standing), r.samples
    heading = r.course.body.travel[2][:n]
    ahead = np.stack([np.cos(heading), np.sin(heading)], axis=-1)
    corners = (held.corners[:n] * ahead[:, None]).sum(axis=-1)
    at = (points * ahead).sum(axis=-1)
    left = np.minimum(at - corners.min(axis=1), corners.max(axis=1) - at)
    found: Array = np.where(held.supported[:n], left, -np.inf)
    return found


def least_room(r: Reading, left: Array) -> tuple[float, float]:
    """The least room, mm, and when, s."""
    lowest = int(np.argmin(np.round(left, 9)))
    return float(left[lowest]), float(lowest * r.row_s)


def longest_outside_s(r: Reading, left: Array) -> tuple[float, int]:
    """left: (N,) one of the rooms above. The longest that it pushes outside at a stretch, and the row at which it is
    furthest outside then."""
    out: Flags = left < 0
    first, count = longest_run(out, r.score.periodic)
    if not count or out.all():
        return (r.score.duration_s if count else 0.0), int(np.argmin(np.round(left, 9)))
    outside = (np.arange(count) + first) % len(left)
    return count * r.row_s, int(outside[int(np.argmin(np.round(left[outside], 9)))])
