"""The jolt of a landing.

At touchdown with speed v the mass m that moves with the foot has to be stopped. On a spring k = 1/c that it meets with
v it is pushed back with at most F = v·√(k·m) (energy: ½mv² = ½F²/k).
"""

from __future__ import annotations

import numpy as np

from bustle.core.judge.measures.feet.foot_give import Footing


def jolt_n(footing: Footing, down_mm_s: float) -> float:
    """F = v·√(k·m)."""
    return float(down_mm_s / 1000 * np.sqrt(1000 / footing.give_mm_per_n * footing.mass_kg))
