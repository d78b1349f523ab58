"""The floor that speeds are told against, and how they are measured: the smallest processor time of several rounds."""

from __future__ import annotations

import resource
import sys
import time
from collections.abc import Callable
from pathlib import Path

import numpy as np

sys.path.insert(0, str(Path(__file__).parents[1]))

from bustle.core.geometry.arrays import Array
from bustle.core.kinds.legs import FAMILIES
from tests.legs import build, foot

SOLUTIONS = 1_000_000
ROUNDS = 40


def least_s(run: Callable[[], object], rounds: int = ROUNDS) -> float:
    """Processor seconds of one call, at its best."""
    run()
    times = []
    for _ in range(rounds):
        begun = time.process_time()
        run()
        times.append(time.process_time() - begun)
    return min(times)


def page_faults(run: Callable[[], object]) -> int:
    """How many pages one call makes the system bring in, once it is warm."""
    run()
    before = resource.getrusage(resource.RUSAGE_SELF).ru_minflt
    run()
    return resource.getrusage(resource.RUSAGE_SELF).ru_minflt - before


def targets() -> tuple[object, Array]:
    """Three-joint legs, and a million targets as walks have them: knees bent the first branch's way, legs that hang."""
    random = np.random.default_rng(1)
    legs = build(FAMILIES["sprawled_3"], [[36.0, 64.0, 101.0]])
    angles = random.uniform([-1.0, 0.2, -1.7], [1.0, 1.0, -0.4], (1, SOLUTIONS, 3))
    return legs, np.ascontiguousarray(foot(legs, angles)[0])


def bare(target: Array) -> Callable[[], None]:
    """The trigonometry that a million three-joint solutions cannot do without: four arc tangents, two square roots."""
    x, y, z = np.ascontiguousarray(target[0].T)
    far, out = x * x + y * y, np.empty(SOLUTIONS)

    def run() -> None:
        for one, other in ((y, x), (y, z), (z, x), (x, z)):
            np.arctan2(one, other, out=out)
        np.sqrt(far, out=out)
        np.sqrt(far, out=out)

    return run


def floor_s() -> float:
    return least_s(bare(targets()[1]), 9)
