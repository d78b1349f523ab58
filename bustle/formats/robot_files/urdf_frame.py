"""The frame of a machine read from URDF: the largest part of the root link or of what is fixed to it.

The origin of a walker's frame is its middle, and a file's root may lie anywhere: all of the file is read from there.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.formats.robot_files.urdf_legs import ALIKE, rounded
from bustle.formats.robot_files.urdf_supports import stands_on_the_frame
from bustle.formats.robot_files.urdf_tree import Touch, Tree

# A frame of which nothing shows is as long and wide as its limbs hang apart, each at least this share of the other, and
# so high of the shorter; it lies on where they hang.
LEAST, HIGH = 0.5, 0.4
LEAST_MM = 20.0


@dataclass(frozen=True)
class Frame:
    """middle (3,): from the file's root, mm; size_mm (3,); round: whether it stands on end; shown: whether the file
    says how large it is."""

    middle: Array
    size_mm: Array
    round: bool = False
    shown: bool = True

    def as_section(self) -> dict[str, Any]:
        return {"name": "body", "shape": "round" if self.round else "box", "size_mm": rounded(self.size_mm)}


def frame_of(tree: Tree) -> Frame:
    """Of boxes, rods and balls that are fixed together the one with the most room in it."""
    shown, hung = [], []
    for touch, at in _fixed(tree, tree.root, np.zeros(3), np.eye(3)):
        if touch is None:
            hung.append(at)
        else:
            shown.append(_outline(touch))
    if shown:
        return max(shown, key=lambda frame: round(float(frame.size_mm.prod()), 6))
    low, high = np.min(hung or [np.zeros(3)], axis=0), np.max(hung or [np.zeros(3)], axis=0)
    long, wide = (high - low)[:2]
    long, wide = max(long, LEAST * wide, LEAST_MM), max(wide, LEAST * long, LEAST_MM)
    tall = HIGH * min(long, wide)
    middle = np.array([*((low + high) / 2)[:2], low[2] + tall / 2])
    return Frame(middle, np.array([long, wide, tall]), shown=False)


def _fixed(tree: Tree, link: str, at: Array, turn: Array) -> Iterator[tuple[Touch | None, Array]]:
    """What is fixed together, each part from the root; None: where a joint that moves sits."""
    for touch in tree.bodies[link].touches:
        yield touch.placed(at, turn), at
    for hinge in tree.below[link]:
        here = at + turn @ hinge.at
        if hinge.kind != "fixed":
            yield None, here
        elif tree.below[hinge.child] or not stands_on_the_frame(tree.bodies[hinge.child]):
            yield from _fixed(tree, hinge.child, here, turn @ hinge.turn)


def _outline(touch: Touch) -> Frame:
    """An upright rod is round; what lies aslant is as large as it reaches along each axis."""
    if touch.kind == "rod":
        radius, length = touch.size
        up = np.abs(touch.turn[:, 2])
        size = length * up + 2 * radius * np.sqrt(np.clip(1 - up * up, 0.0, None))
        return Frame(touch.at, size, round=bool(up[2] > 1 - ALIKE))
    if touch.kind == "box":
        return Frame(touch.at, np.abs(touch.turn) @ touch.size)
    return Frame(touch.at, np.full(3, 2 * float(touch.size[0])))
