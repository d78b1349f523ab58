"""Closed-form inverse kinematics of a million foot targets against the trigonometry it cannot avoid.

Smallest processor times in one process; the ratio is what counts.
"""

from __future__ import annotations

import numpy as np
from floor import SOLUTIONS, bare, least_s

from bustle.core.kinds.legs import FAMILIES
from tests.legs import build, foot

ROUNDS = 9


def main() -> None:
    random = np.random.default_rng(1)
    for family in (FAMILIES["sprawled_3"], FAMILIES["upright_3"]):
        legs = build(family, [[36.0, 64.0, 101.0]])
        # Knees that bend the first branch's way and legs that hang: targets as walks have them.
        angles = random.uniform([-1.0, 0.2, -1.7], [1.0, 1.0, -0.4], (1, SOLUTIONS, 3))
        batch = np.ascontiguousarray(foot(legs, angles)[0])
        floor = least_s(bare(batch), ROUNDS)
        full = least_s(lambda: family.solve(legs, batch, None), ROUNDS)  # noqa: B023
        print(f"{family.name}: {full * 1e3:.0f} ms, bare {floor * 1e3:.0f} ms, ratio {full / floor:.2f} (aim: 2)")


if __name__ == "__main__":
    main()
