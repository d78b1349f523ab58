"""A machine at rest as a few lines, seen from behind the right shoulder: for cards on which one is chosen."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from bustle.core.document.checked import CheckedProject
from bustle.core.edits.at_rest import AT_REST, standing
from bustle.core.evaluate import evaluate
from bustle.core.geometry.arrays import Array
from bustle.core.machine.section_shape import outline_mm
from bustle.core.walk.foot_outlines import foot_outlines

# Right and down on the page, of forward, left and up: as the bench's own orbit view.
ACROSS, DOWN = np.array([0.5, -0.866, 0.0]), np.array([-0.398, -0.23, -0.888])
WIDE, HIGH, EDGE = 120.0, 84.0, 6.0

Lines = list[list[float]]


def machine_lines(project: CheckedProject) -> tuple[Lines, Lines]:
    """The lines of the body, its soles and wheels, and those of the limbs, x, y, x, y … on a page of WIDE by HIGH; it
    stands as its first motion does."""
    rest = evaluate(standing(project, project.motions[0].name), AT_REST, 2).reading
    seen = [points[0] for points in rest.course.solved.points]
    outline = outline_mm(project.walker.sections[0])
    rim = len(outline) // 2
    edges = [np.vstack([outline[half], outline[half][:1]]) for half in (slice(0, rim), slice(rim, None))]
    edges += [np.array([outline[k], outline[k + rim]]) for k in range(0, rim, max(1, rim // 4))]
    body = rest.course.body
    edges += [(lies[:, 0] - body.at[0]) @ body.turn[0] for lies in rest.of(foot_outlines)]
    lines = fitted([np.stack([p @ ACROSS, p @ DOWN], axis=-1) for p in (*edges, *seen)])
    return lines[: len(edges)], lines[len(edges) :]


def fitted(lines: Sequence[Array], wide: float = WIDE, high: float = HIGH) -> Lines:
    """Flat lines (N, 2) into a picture of that size, as x, y, x, y …"""
    every = np.concatenate(lines)
    low, top = every.min(axis=0), every.max(axis=0)
    scale = min((wide - 2 * EDGE) / max(1.0, top[0] - low[0]), (high - 2 * EDGE) / max(1.0, top[1] - low[1]))
    placed = [(line - (low + top) / 2) * scale + (wide / 2, high / 2) for line in lines]
    return [[round(float(v), 1) + 0.0 for v in line.ravel()] for line in placed]
