"""Write ui/src/shelf/shapes.json: every starting shape and every leg family as lines to draw, seen from behind the
right shoulder and from the side; a test keeps it current.

.venv/bin/python scripts/draw_shapes.py
"""

from __future__ import annotations

import json
from collections.abc import Iterable
from pathlib import Path
from typing import Any

import numpy as np

from bustle.core.geometry.serial_chain import Chain, forward
from bustle.core.kinds.legs import FAMILIES, Family
from bustle.core.starting.own_numbers import CENTRES
from bustle.core.starting.starting_walkers import SHAPES, start
from bustle.formats.machine_lines import fitted, machine_lines

FILE = Path(__file__).parents[1] / "ui" / "src" / "shelf" / "shapes.json"

SIZES = (24.0, 60.0, 76.0, 18.0)


def shape(name: str) -> dict[str, Any]:
    body, limbs = machine_lines(start(name, "Drawn", SHAPES[name].usual_mm))
    return {"body": body, "limbs": limbs}


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


def drawings(names: Iterable[str] = tuple(SHAPES)) -> str:
    made = {"shapes": {name: shape(name) for name in names}, "legs": {f.name: leg(f) for f in FAMILIES.values()}}
    return json.dumps(made, separators=(",", ":")) + "\n"


if __name__ == "__main__":
    FILE.write_text(drawings())
