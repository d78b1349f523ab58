"""Write ui/src/shelf/shapes.json: every starting shape and every leg family as lines to draw, seen from behind the
right shoulder and from the side; a test keeps it current.

.venv/bin/python scripts/draw_shapes.py
"""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import numpy as np

from bustle.core.edits.at_rest import AT_REST, standing
from bustle.core.evaluate import evaluate
from bustle.core.geometry.serial_chain import Chain, forward
from bustle.core.kinds.legs import FAMILIES, Family
from bustle.core.machine.section_shape import outline_mm
from bustle.core.starting.own_numbers import CENTRES
from bustle.core.starting.starting_walkers import SHAPES, start

FILE = Path(__file__).parents[1] / "ui" / "src" / "shelf" / "shapes.json"

# Right and down on the page, of forward, left and up: as the bench's own orbit view.
ACROSS, DOWN = np.array([0.5, -0.866, 0.0]), np.array([-0.398, -0.23, -0.888])
SIZES = (24.0, 60.0, 76.0, 18.0)
WIDE, HIGH = 120.0, 84.0


def fitted(lines: list[np.ndarray], wide: float = WIDE, high: float = HIGH) -> list[list[float]]:
    """Flat lines (N, 2) into a picture of that size, as x, y, x, y …"""
    every = np.concatenate(lines)
    low, top = every.min(axis=0), every.max(axis=0)
    scale = min((wide - 12) / max(1.0, top[0] - low[0]), (high - 12) / max(1.0, top[1] - low[1]))
    placed = [(line - (low + top) / 2) * scale + (wide / 2, high / 2) for line in lines]
    return [[round(float(v), 1) + 0.0 for v in line.ravel()] for line in placed]


def shape(name: str) -> dict[str, Any]:
    project = start(name, "Drawn", SHAPES[name].usual_mm)
    rest = evaluate(standing(project, project.motions[0].name), AT_REST, 2).reading
    seen = [points[0] for points in rest.course.solved.points]
    outline = outline_mm(project.walker.sections[0])
    rim = len(outline) // 2
    edges = [np.vstack([outline[half], outline[half][:1]]) for half in (slice(0, rim), slice(rim, None))]
    edges += [np.array([outline[k], outline[k + rim]]) for k in range(0, rim, max(1, rim // 4))]
    flat = [np.stack([p @ ACROSS, p @ DOWN], axis=-1) for p in (*edges, *seen)]
    lines = fitted(flat)
    return {"body": lines[: len(edges)], "limbs": lines[len(edges) :]}


def leg(family: Family) -> list[float]:
    """The leg from the side, standing as such legs do."""
    if family.open or not family.joints:
        return []
    lengths = np.array([SIZES[: len(family.links)]])
    layout = family.layout(lengths, np.zeros((1, 3)), np.array([False]))
    chain = Chain(layout.axes[None], layout.offsets, np.zeros((1, 3)), np.eye(3)[None], None, layout.coupling)
    usual = {"pitch": 25.0, "knee": -50.0, "ankle": 25.0, "thigh": 25.0, "shank": -25.0}
    usual |= CENTRES.get(family.name, {})
    pose = np.radians([[[usual.get(j.name, 0.0) for j in family.joints]]])
    points = forward(chain, pose)[0][0, 0]
    return fitted([np.stack([points[:, 0], -points[:, 2]], axis=-1)], 64.0, 64.0)[0]


def drawings() -> str:
    made = {"shapes": {name: shape(name) for name in SHAPES}, "legs": {f.name: leg(f) for f in FAMILIES.values()}}
    return json.dumps(made, separators=(",", ":")) + "\n"


if __name__ == "__main__":
    FILE.write_text(drawings())
