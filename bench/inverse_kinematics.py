"""Closed-form inverse kinematics of a million foot targets against the trigonometry it cannot avoid.

Both are measured in this run, in turn, several times; the ratio of the medians is what counts.
"""

from __future__ import annotations

import statistics
import sys
import time
from pathlib import Path

import numpy as np

sys.path.insert(0, str(Path(__file__).parents[1]))

from bustle.core.kinds.legs import FAMILIES
from tests.legs import build, foot

TARGETS = 1_000_000
ROUNDS = 7


def seconds(run) -> float:
    start = time.perf_counter()
    run()
    return time.perf_counter() - start


def main() -> None:
    rng = np.random.default_rng(1)
    out = np.empty(TARGETS)

    for family in (FAMILIES["sprawled_3"], FAMILIES["upright_3"]):
        legs = build(family, [[36.0, 64.0, 101.0]])
        # Knees that bend the first branch's way and legs that hang: targets as walks have them.
        angles = rng.uniform([-1.0, 0.2, -1.7], [1.0, 1.0, -0.4], (1, TARGETS, 3))
        target = foot(legs, angles)[0]
        x, y, z = np.ascontiguousarray(target[0].T)
        far = x * x + y * y

        def bare(x=x, y=y, z=z, far=far) -> None:
            """Four atan2 and two square roots over the same arrays."""
            for one, other in ((y, x), (y, z), (z, x), (x, z)):
                np.arctan2(one, other, out=out)
            np.sqrt(far, out=out)
            np.sqrt(far, out=out)

        batch = np.ascontiguousarray(target)
        times = [(seconds(bare), seconds(lambda: family.solve(legs, batch, None))) for _ in range(ROUNDS)]  # noqa: B023
        floor, full = (statistics.median(t[k] for t in times) for k in (0, 1))
        print(f"{family.name}: {full * 1e3:.0f} ms, bare {floor * 1e3:.0f} ms, ratio {full / floor:.2f} (aim: 2)")


if __name__ == "__main__":
    main()
