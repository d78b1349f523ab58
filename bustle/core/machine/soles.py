"""Soles: where a foot touches the floor, from where its link ends and how that is turned.

A level floor at z = 0 in the ground frame. A ball touches below its middle. A curved sole rolls: with d the downward
direction as the foot sees it, the contact lies at ρ_x·d_x ahead and ρ_y·d_y to the left of the lowest point, and as
high up as a circle of the mean radius in that direction has risen; exact where both radii agree. Edges and
rectangles touch with the corners that are down.
"""

from __future__ import annotations

import numpy as np

from bustle.core.geometry.arrays import Array, Flags
from bustle.core.geometry.serial_chain import turns
from bustle.core.geometry.stacked_turns import put_at
from bustle.core.kinds.legs import FAMILIES
from bustle.core.project.walker import BallSole, CurvedSole, EdgeSole, Foot, Limb, RectangleSole

# Corners this near to the lowest one are down too.
LEVEL_MM = 0.5

UP = np.array([0.0, 0.0, 1.0])


def height_mm(limb: Limb) -> float:
    """How far above the floor the end of the limb's last link belongs when its foot stands."""
    sole = limb.feet[0].sole
    return sole.radius_mm if isinstance(sole, BallSole) else 0.0


def is_tip(foot: Foot) -> bool:
    """A plain tip at the end of the limb, which touches where it is."""
    return foot.sole.kind == "point" and not any(foot.at_mm)


def off_its_end(limb: Limb) -> bool:
    """Whether the contact moves about what is solved for as the limb leans: a curved sole, or a foot aside of the end
    of a leg that cannot take it as another last link (see `aside_feet`)."""
    if not limb.feet:
        return False
    aside = any(limb.feet[0].at_mm) and not FAMILIES[limb.family].carries_aside
    return aside or isinstance(limb.feet[0].sole, CurvedSole)


def carried(foot: Foot, end: Array, turn: Array) -> Array:
    """Where the foot is, (S, 3) mm: `at_mm` from the end (S, 3) of the last link, which is turned by (S, 3, 3)."""
    return end + turn @ np.array(foot.at_mm) if any(foot.at_mm) else end


def sole_turn(limb: Limb, end_turn: Array, heading: Array) -> Array:
    """How the sole lies, (S, 3, 3): with the last link, or flat on the floor where a ball joint or a soft tip lets
    it.
    """
    if limb.joints and not FAMILIES[limb.family].sole_follows:
        return turns(UP, heading)
    return end_turn


def touching(foot: Foot, at: Array, turn: Array) -> Array:
    """The point that touches, or is nearest to the floor: (S, 3) mm. at (S, 3): where the foot is; turn (S, 3, 3): how
    its sole lies; both in the ground frame."""
    sole = foot.sole
    if isinstance(sole, BallSole):
        return at - sole.radius_mm * UP
    if isinstance(sole, CurvedSole):
        return at + np.einsum("sab,sb->sa", turn, _rolled(sole, turn))
    return at


def print_of(foot: Foot, at: Array, turn: Array) -> Array:
    """Where the sole is put, (S, 3) mm: its contact, less what it has rolled from its lowest point at rest.

    A curved sole that does not skid rolls R·φ over the floor as it leans by φ, R the radius that way: so its print
    stays where it is while the contact runs along. For the stance swing ±θ of a leg of length L the body then goes on
    by 2·(R·θ + (L − R)·sin θ) and the contact by 2·R·θ. Other soles are put where they touch.
    """
    sole, contact = foot.sole, touching(foot, at, turn)
    if not isinstance(sole, CurvedSole):
        return contact
    ahead, left = _on_the_curve(sole, turn)
    slant = np.hypot(ahead, left)
    share = np.where(slant > 1e-9, np.arcsin(np.clip(slant, 0.0, 1.0)) / np.where(slant > 1e-9, slant, 1.0), 1.0)
    along = np.stack([sole.radius_fore_mm * ahead, sole.radius_side_mm * left, np.zeros(len(turn))], axis=-1)
    way = np.einsum("sab,sb->sa", turn, along)[:, :2]
    size = np.linalg.norm(way, axis=1)
    rolled = (share * np.linalg.norm(along, axis=1) / np.where(size > 1e-12, size, 1.0))[:, None] * way
    found: Array = contact.copy()
    found[:, :2] -= rolled
    return found


def _rolled(sole: CurvedSole, turn: Array) -> Array:
    """From the lowest point at rest to the contact, in the foot's frame (S, 3)."""
    ahead, left = _on_the_curve(sole, turn)
    slant = ahead**2 + left**2
    under = -np.sqrt(np.maximum(1.0 - slant, 0.0))
    if not (sole.length_mm or sole.width_mm):
        under = -turn[:, 2, 2]
    weight = np.where(slant > 1e-18, slant, 1.0)
    mean = np.where(
        slant > 1e-18, (sole.radius_fore_mm * ahead**2 + sole.radius_side_mm * left**2) / weight, sole.radius_fore_mm
    )
    return np.stack([sole.radius_fore_mm * ahead, sole.radius_side_mm * left, mean * (1.0 + under)], axis=-1)


def _on_the_curve(sole: CurvedSole, turn: Array) -> tuple[Array, Array]:
    """(S,) each: the sines of how far the floor is from under the sole's middle, ahead and to the left, no further than
    its curve goes."""
    ahead, left = -turn[:, 2, 0], -turn[:, 2, 1]
    if sole.length_mm:
        most = min(1.0, sole.length_mm / 2 / sole.radius_fore_mm)
        ahead = np.clip(ahead, -most, most)
    if sole.width_mm:
        most = min(1.0, sole.width_mm / 2 / sole.radius_side_mm)
        left = np.clip(left, -most, most)
    return ahead, left


def corners(foot: Foot, at: Array, turn: Array) -> Array:
    """The points the foot may stand on, (K, S, 3) mm in the ground frame: one for round soles, ends or corners else."""
    sole = foot.sole
    if isinstance(sole, EdgeSole):
        angle = np.radians(sole.heading_deg)
        half = sole.length_mm / 2 * np.array([np.cos(angle), np.sin(angle), 0.0])
        local = np.array([half, -half])
    elif isinstance(sole, RectangleSole):
        middle = np.array([sole.ahead_mm, sole.left_mm, 0.0])
        half = np.array([sole.length_mm / 2, sole.width_mm / 2, 0.0])
        local = middle + half * np.array([(1, 1, 0), (-1, 1, 0), (-1, -1, 0), (1, -1, 0)])
    else:
        return touching(foot, at, turn)[None]
    return put_at(local, at, turn)


def down(points: Array, standing: Flags) -> Flags:
    """Which of a foot's corners (K, S, 3) carry while it stands (S,)."""
    low: Flags = points[..., 2] <= points[..., 2].min(axis=0) + LEVEL_MM
    return low & standing
