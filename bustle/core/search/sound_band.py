"""The sound band: the values of one lever at which no stop finding fires."""

from __future__ import annotations

import numpy as np

from bustle.core.document.checked import CheckedProject
from bustle.core.edits.levers import Lever
from bustle.core.edits.patches import patched
from bustle.core.evaluate import evaluate
from bustle.core.search.progress import Tell, silent
from bustle.core.words.problems import InputRefused

# Values tried across the range; each border found is then halved this often.
TRIES = 21
HALVINGS = 4


def sound_band(
    project: CheckedProject, motion: str, lever: Lever, low: float, high: float, tell: Tell = silent
) -> list[tuple[float, float]]:
    """Ranges within [low, high] where the motion has no stop finding, borders to the lever's step or finer."""

    # What stops it at one value is likely to at the next.
    likely: str | None = None

    def sound(value: float) -> bool:
        nonlocal likely
        try:
            found = evaluate(patched(project, lever.patch(project, motion, value)), motion).stopped_by(likely)
        except InputRefused:
            return False
        likely = found or likely
        return found is None

    def border(bad: float, good: float) -> float:
        for _ in range(HALVINGS):
            middle = (bad + good) / 2
            if sound(middle):
                good = middle
            else:
                bad = middle
            if abs(good - bad) <= lever.step / 2:
                break
        return good

    values = [float(v) for v in np.linspace(low, high, TRIES)]
    flags = []
    for n, value in enumerate(values):
        tell(n, TRIES, lever.label)
        flags.append(sound(value))
    bands: list[tuple[float, float]] = []
    start: float | None = None
    for n, (value, good) in enumerate(zip(values, flags, strict=True)):
        if good and start is None:
            start = value if n == 0 else border(values[n - 1], value)
        if not good and start is not None:
            bands.append((start, border(value, values[n - 1])))
            start = None
    if start is not None:
        bands.append((start, values[-1]))
    return bands
