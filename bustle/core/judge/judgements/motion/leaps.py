"""F39: a parameter is changed by a large factor at once and everything collapses."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import numpy as np

from bustle.core.edits.patches import replace
from bustle.core.judge.finding import Finding
from bustle.core.judge.judgement import Judgement, of_gaits
from bustle.core.judge.ways import Edit, Mending, Offer
from bustle.core.walk.reading import Reading
from bustle.core.words.wording import number


def leaps(r: Reading) -> Iterator[Finding]:
    """Stroke, lift and pace against how the machine last walked this motion, by the factor allowed at once."""
    last = next((w for w in r.project.walked if w.motion == r.motion.name), None)
    if last is None or not r.gait:
        return
    limit = r.project.limits.change_factor
    stroke = float(r.score.stroke_mm.max(initial=0.0))
    for what, before, now, unit in (
        ("stroke", last.stroke_mm, stroke, "mm"),
        ("lift", last.lift_mm, r.gait.lift_mm, "mm"),
        ("pace", 60.0 / last.cycle_s, 60.0 / r.gait.cycle_s, "cycles a minute"),
    ):
        factor = now / before if before > 0 else 1.0
        if factor > limit + 1e-9:
            yield Finding(
                "F39", "warn", "Changed by a large factor",
                f"The {what} of {r.motion.name} goes from {number(before)} to {number(now)} {unit} at once, "
                f"{number(factor, 2)} times what it last walked; go by {number(limit, 2)} times at most.",
                (("", what),), None, factor, limit, "times",
            )  # fmt: skip


def _in_steps(m: Mending) -> Iterator[Edit]:
    """Only as far as the factor allows at once, from how it last walked."""
    gait, what = m.gait, m.finding.subject
    # To three figures, downwards, so that the factor is kept.
    share = int(m.finding.limit / m.finding.value * 1000) / 1000
    if what == "lift":
        lift = float(np.floor(10 * gait.lift_mm * share) / 10)
        yield Edit(f"In steps: lift {number(lift)} mm first", (replace(f"{m.path}/lift_mm", lift),))
    elif what == "stroke":
        title = f"In steps: strides of {number(100 * share, 0)} % of these first"
        yield Edit(title, _shrunk_twist(m, share, 3))
    else:
        row = m.project.controller.frame_period_ms / 1000
        cycle = float(round(np.ceil(round(gait.cycle_s / share / row, 6)) * row, 6))
        edits = (replace(f"{m.path}/cycle_s", cycle), *_shrunk_twist(m, gait.cycle_s / cycle, 4))
        yield Edit(f"In steps: a cycle of {number(cycle, 3)} s first", edits)


def _shrunk_twist(m: Mending, share: float, digits: int) -> tuple[dict[str, Any], ...]:
    twist = m.gait.twist.model_dump()
    # Towards none: nearest might be a little too much.
    scale = 10**digits
    return tuple(
        replace(f"{m.path}/twist/{k}", float(np.trunc(scale * v * share) / scale)) for k, v in twist.items() if v
    )


JUDGEMENT = Judgement(
    "F39",
    "It changes by little at once",
    ("motions",),
    leaps,
    of_gaits,
    stops=False,
    ways=(Offer(_in_steps),),
)
