"""Which family of legs a limb read from URDF belongs to, by how its joints lie with all of them at zero."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from bustle.core.geometry.arrays import Array, Flags
from bustle.core.kinds.legs import FAMILIES, Family

# Axes are alike to this, lengths to this many mm.
ALIKE = 1e-4
# Limbs without a foot are read as these too.
PLAIN = ("sprawled_3", "upright_3")

Values = dict[str, Any]


@dataclass(frozen=True)
class Measures:
    """yaw, rad, by which its mount is turned; lengths (K,) of its links, and its hip's offset (3,), mm; mirrored; turns
    (J,): −1 for each joint that the file counts the other way, else 1."""

    yaw: float
    lengths: Array
    hip: Array
    mirrored: bool
    turns: Array

    @property
    def rank(self) -> tuple[bool, int]:
        """The less the better: a leg looks ahead or aside where it may, and few joints are counted the other way."""
        return abs(self.yaw) > np.pi / 2 + ALIKE, int((self.turns < 0).sum())


@dataclass(frozen=True)
class _Lies:
    """How a family's joints lie at zero pose, by its links' lengths: axes (J, 3), offsets (J, 3) = base + Σ l·grows,
    grows (K, J, 3). stiff: whether a part before its first joint is left out; what turns that is the mount then."""

    axes: Array
    base: Array
    grows: Array
    stiff: bool


def as_family(axes: Sequence[Array], places: Sequence[Array], joints: list[Values], foot: bool) -> Values | None:
    """The limb as one of a family with a closed form; None where none lies so. axes of its joints; places: its first
    joint, then from each to the next or its end, mm; joints as they were read."""
    fits = []
    for spec in FAMILIES.values():
        if not spec.open and len(spec.joints) == len(joints) and (foot or spec.name in PLAIN):
            found = _measures(spec, np.array(axes), np.array(places[1:]))
            if found:
                fits.append((spec, found))
    for spec, found in sorted(fits, key=lambda fit: fit[1].rank)[:1]:
        ways = [_turned(read, way < 0) for read, way in zip(joints, found.turns, strict=True)]
        knee = None if spec.knee is None else ways[spec.knee]
        other_way = knee is not None and knee["min_deg"] + knee["max_deg"] > 0
        return {
            "mount": {"at_mm": rounded(places[0]), "yaw_deg": float(np.degrees(found.yaw))},
            "family": spec.name,
            "branch": spec.branches[min(int(other_way), len(spec.branches) - 1)],
            "keep": spec.keeps[0].name if spec.keeps else None,
            "mirrored": found.mirrored,
            "hip_offset_mm": rounded(found.hip * ([1, -1, 1] if found.mirrored else [1, 1, 1])),
            "joints": [
                {"name": j.name, "min_deg": read["min_deg"], "max_deg": read["max_deg"], "reversed": bool(way < 0)}
                for j, read, way in zip(spec.joints, ways, found.turns, strict=True)
            ],
            "links": [
                {"name": k.name, "length_mm": float(max(0.0, round(v, 9)))}
                for k, v in zip(spec.links, found.lengths, strict=True)
            ],
        }
    return None


def link_hinges(family: str, joints: int) -> tuple[int, ...]:
    """Of each link, the joint behind which it lies, counted among the limb's own."""
    spec = FAMILIES[family]
    if spec.open:
        return tuple(range(joints))
    layout = spec.layout(np.ones((1, len(spec.links))), np.zeros((1, 3)), np.array([False]))
    before = len(layout.axes) - joints
    return tuple(max(0, hinge - before) for hinge in layout.link_at or range(len(spec.links)))


def _turned(joint: Values, other_way: bool) -> Values:
    """Its ends as the family counts."""
    return {**joint, "min_deg": -joint["max_deg"], "max_deg": -joint["min_deg"]} if other_way else joint


def rounded(values: Array) -> list[float]:
    return [float(round(v, 9)) + 0.0 for v in values]


def _lies(spec: Family, mirrored: bool) -> _Lies | None:
    """None where one servo moves several of its hinges."""
    none, flags, count = np.zeros((1, 3)), np.array([mirrored]), len(spec.links)
    zero = spec.layout(np.zeros((1, count)), none, flags)
    turns: Flags = np.ones(len(zero.axes), dtype=bool)
    if zero.coupling is not None:
        turns = np.asarray(zero.coupling.any(axis=1), dtype=bool)
        if not np.array_equal(zero.coupling[turns], np.eye(zero.coupling.shape[1])):
            return None
    # What lies behind a bend that does not turn is of the part before it.
    first = int(np.argmax(turns))
    parts = np.cumsum(turns[first:]) - 1

    def of_parts(lengths: Array) -> Array:
        found = np.zeros((int(turns.sum()), 3))
        np.add.at(found, parts, spec.layout(lengths[None], none, flags).offsets[0, first:])
        return found

    base = of_parts(np.zeros(count))
    grows = np.array([of_parts(unit) - base for unit in np.eye(count)])
    return _Lies(zero.axes[turns], base, grows, first > 0)


def _measures(spec: Family, axes: Array, offsets: Array) -> Measures | None:
    """For its joints to lie so, (J, 3), (J, 3) mm, whichever way each turns; None where none do. What is beside its
    links is its hip's offset."""
    found = [_lying(spec, mirrored, way, axes, offsets) for mirrored in (False, True) for way in (1.0, -1.0)]
    return min((m for m in found if m), key=lambda m: m.rank, default=None)


def _lying(spec: Family, mirrored: bool, way: float, axes: Array, offsets: Array) -> Measures | None:
    """With the joint that tells its yaw turning as the family's (1), or the other way (−1)."""
    lies = _lies(spec, mirrored)
    if lies is None:
        return None
    k = int(np.argmax(np.hypot(*lies.axes[:, :2].T)))
    (x, y), (u, v) = lies.axes[k, :2], way * axes[k, :2]
    yaw = float(np.arctan2(x * v - y * u, x * u + y * v))
    c, s = np.cos(yaw), np.sin(yaw)
    turn = np.array([[c, -s, 0.0], [s, c, 0.0], [0.0, 0.0, 1.0]])
    turned = axes @ turn
    turns = np.where((turned * lies.axes).sum(axis=1) < 0, -1.0, 1.0)
    if not np.allclose(turned * turns[:, None], lies.axes, atol=ALIKE):
        return None
    local = offsets @ turn - lies.base
    lengths = np.linalg.lstsq(lies.grows.reshape(len(lies.grows), -1).T, local.ravel(), rcond=None)[0]
    left = local - np.tensordot(lengths, lies.grows, axes=1)
    hip = left[0].copy() if spec.takes_hip_offset and not lies.stiff else np.zeros(3)
    least = np.array([-ALIKE / 2 if link.may_be_zero else ALIKE for link in spec.links])
    left[0] -= hip
    if (lengths >= least).all() and np.allclose(left, 0.0, atol=ALIKE):
        return Measures(yaw, lengths, hip, mirrored, turns)
    return None
