"""Cycloid: along = u − sin(2πu)/2π, height = (1 − cos 2πu)/2.

The foot lifts and lands with no speed over the ground.
"""

import numpy as np

from bustle.core.kinds.foot_paths.foot_path import FootPath, still

CYCLOID = FootPath(
    name="cycloid",
    label="Cycloid",
    about="Lifts and lands with no speed over the ground.",
    along=lambda u, _: u - np.sin(2 * np.pi * u) / (2 * np.pi),
    height=lambda u, _: (1 - np.cos(2 * np.pi * u)) / 2,
    start=still,
    end=still,
    smooth=True,
)
