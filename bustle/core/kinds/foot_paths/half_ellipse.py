"""Half ellipse: along = (1 − cos πu)/2, height = sin πu.

The foot meets the floor straight down, at π·lift/swing time.
"""

import numpy as np

from bustle.core.kinds.foot_paths.foot_path import FootPath

HALF_ELLIPSE = FootPath(
    name="half_ellipse",
    label="Half ellipse",
    about="Rises and lands straight up and down, at speed.",
    along=lambda u, _: (1 - np.cos(np.pi * u)) / 2,
    height=lambda u, _: np.sin(np.pi * u),
    start=lambda _: (0.0, float(np.pi)),
    end=lambda _: (0.0, -float(np.pi)),
)
