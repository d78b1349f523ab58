"""F25: stiff, geared legs stamp."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from bustle.core.edits.patches import replace
from bustle.core.geometry.extremes import greatest
from bustle.core.judge.figure import FigureSpec, Lines, Told
from bustle.core.judge.finding import Finding
from bustle.core.judge.judgement import Judgement, of_gaits
from bustle.core.judge.measures.feet.foot_give import Footing, footings
from bustle.core.judge.measures.feet.landing_jolt import jolt_n
from bustle.core.judge.ways import Edit, Mending, Offer, Turn
from bustle.core.kinds.foot_paths import FOOT_PATHS
from bustle.core.machine.masses import GRAVITY
from bustle.core.walk.reading import Reading
from bustle.core.words.wording import also, number


def jolts(r: Reading) -> list[tuple[float, Footing]]:
    """The jolt of each leg's landing, N, the hardest first."""
    found = [(jolt_n(f, float(r.score.landing_mm_s[f.limb, 1])), f) for f in r.of(footings)]
    return sorted(found, key=lambda j: -round(j[0], 6))


def stamping(r: Reading) -> Iterator[Finding]:
    """The jolt of the hardest landing against a share of the weight."""
    weight = r.assembled.total_kg * GRAVITY
    if not weight:
        return
    limit = r.project.limits.jolt_share * weight
    hard = [(force, f) for force, f in r.of(jolts) if force > limit]
    if not hard:
        return
    force, footing = hard[0]
    down = float(r.score.landing_mm_s[footing.limb, 1])
    names = [r.project.walker.limbs[f.limb].name for _, f in hard]
    source = "stiffness and inertia assumed" if footing.assumed else "inertia assumed"
    yield Finding(
        "F25", "warn", "Feet stamp",
        f"{names[0]} lands at {number(down, 0)} mm/s, a jolt of at most {number(force, 1)} N ({source}); that is "
        f"{number(100 * force / weight, 0)} % of the weight, keep {number(100 * limit / weight, 0)} %."
        + also(names[1:]),
        tuple((name, "") for name in names), None, force, limit, "N",
    )  # fmt: skip


def softly(m: Mending) -> Iterator[Edit]:
    """Feet that land without speed: the path matched to the ground, or a smooth one; or their chosen speed undone."""
    swing = m.gait.swing
    if swing.landing_mm_s:
        title = f"Land without speed instead of {number(swing.landing_mm_s, 0)} mm/s"
        yield Edit(title, (replace(f"{m.path}/swing/landing_mm_s", 0.0),))
        return
    yield Edit("Match the path to the ground as it lands", (replace(f"{m.path}/swing/matched", True),))
    edits = (replace(f"{m.path}/foot_path", "minimum_jerk"), replace(f"{m.path}/swing/points", []))
    yield Edit("Path: minimum jerk, which lands softly", edits)


def _read(r: Reading) -> Told | None:
    found = r.of(jolts)
    return (found[0][0], None) if found else None


def _working(r: Reading) -> Lines:
    force, f = r.of(jolts)[0]
    down = float(r.score.landing_mm_s[f.limb, 1])
    return (
        "v·√(k·m)",
        f"{r.project.walker.limbs[f.limb].name}: {number(down, 0)} mm/s × √({number(1 / f.give_mm_per_n, 2)} N/mm × "
        f"{number(f.mass_kg * 1000, 0)} g) = {number(force)} N",
        "stiffness of the drive " + ("assumed: stall torque 5° off" if f.assumed else "as stated"),
        "servo inertia assumed: up to speed in 30 ms",
    )


def _hardest(r: Reading) -> int:
    """The limb that lands with the most speed."""
    return greatest(np.hypot(*r.score.landing_mm_s.T))


def _speed_read(r: Reading) -> Told | None:
    return (float(np.hypot(*r.score.landing_mm_s[_hardest(r)])), None) if r.gait else None


def _speed_working(r: Reading) -> Lines:
    assert r.gait
    limb = r.project.walker.limbs[_hardest(r)].name
    across, down = (float(v) for v in r.score.landing_mm_s[_hardest(r)])
    own = r.timing[limb].foot_path if limb in r.timing else None
    label = FOOT_PATHS[own or r.gait.foot_path].label.lower()
    return (
        f"{limb} on a {label}: slope of the path at its end × step or lift / swing time",
        f"{number(down, 0)} mm/s down, {number(across, 0)} mm/s across the ground",
    )


JOLT = FigureSpec("jolt_n", "Jolt of a landing", "N", 1, _read, _working, ("stride/ground",), better=-1, compared=True)
LANDING_SPEED = FigureSpec(
    "landing_speed_mm_s",
    "Landing speed",
    "mm/s",
    0,
    _speed_read,
    _speed_working,
    ("stride/ground",),
    better=-1,
    compared=True,
)

JUDGEMENT = Judgement(
    "F25",
    "Feet land without stamping",
    ("stride",),
    stamping,
    of_gaits,
    stops=False,
    figures=(JOLT, LANDING_SPEED),
    ways=(Offer(softly), Turn("pace", up=False), Turn("lift", up=False)),
)
