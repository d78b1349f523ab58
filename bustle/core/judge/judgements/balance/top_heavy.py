"""F34: top-heavy: standing, it is soon tipped over; trotting, it rocks."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from bustle.core.edits.patches import replace
from bustle.core.geometry.arrays import Flags
from bustle.core.geometry.extremes import least
from bustle.core.judge.figure import FigureSpec, Lines, Told
from bustle.core.judge.finding import Finding
from bustle.core.judge.judgement import Judgement
from bustle.core.judge.judgements.balance.falls_over import not_judged
from bustle.core.judge.measures.margins.tip_angles import WAYS, tip_angles
from bustle.core.judge.ways import Edit, Mending, Offer, Turn
from bustle.core.walk.reading import Reading
from bustle.core.words.wording import degrees, joined, length, number, told_apart

# Standing with all feet down, a machine that tips at less goes over from a nudge, or on a floor as steep as a ramp for
# wheels is (5°) by what its servos give beside it. Those that were walked with no word of it tip at 10° and more.
TIPS_DEG = 8.0
# On two feet at a time a machine that tips at less rocks on what its servos give. Trots of upright legs of 120 to 320
# mm under a mast went in one physics engine, with servos that give their torque at 4°, 0.5 to 0.8 of their way at 23°,
# 0.7 to 1.1 at 25°, and 0.9 to 1.1 from 26° on; at 3° 0.4 to 0.6 at 25°, and 0.9 to 1.0 from 28° on.
ROCKS_DEG = 26.0
# So many of its masses are tried lower.
TRIED = 3


def not_standing_still(r: Reading) -> str | None:
    """It is told of what stands on all that it has; what lifts a foot is judged by its margin."""
    why = not_judged(r)
    if why:
        return why
    if not _steps(r) or not _down(r).all():
        return "a foot is in the air; it is judged by its margin"
    return None


def judged(r: Reading) -> str | None:
    why = not_standing_still(r)
    return None if why is None or r.of(on_two_at_a_time) else why


def on_two_at_a_time(r: Reading) -> bool:
    """Whether it is a gait of four legs or more that lives by its timing, on two of them or fewer and then on all."""
    if r.gait is None or r.balance == "static" or len(r.project.walker.legs) < 4 or not r.assembled.total_kg:
        return False
    down = _down(r).sum(axis=0)
    return bool(down.min() <= 2 and down.max() == len(_steps(r)))


def _steps(r: Reading) -> list[int]:
    return [n for n, limb in enumerate(r.project.walker.limbs) if limb.steps]


def _down(r: Reading) -> Flags:
    """(stepping limbs, N): whose foot is down at the rows."""
    return r.course.contact[_steps(r), : r.samples]


def top_heavy(r: Reading) -> Iterator[Finding]:
    """Warn where it is tipped over by less than the limit; what stands outside its feet falls anyhow."""
    way, row = r.of(_worst)
    angle = float(np.degrees(r.of(tip_angles)[way, row]))
    if r.of(on_two_at_a_time):
        if angle < ROCKS_DEG:
            tipped_by, keep = told_apart(degrees, angle, ROCKS_DEG)
            yield Finding(
                "F34", "warn", "Top-heavy for a trot",
                f"Standing, it goes over {WAYS[way]} once it is tipped by {tipped_by}, its mass "
                f"{length(float(r.course.com_ground_mm[row, 2]))} high: on two feet at a time it rocks on what its "
                f"servos give, and falls short of its way. Keep {keep}.",
                (), float(row * r.row_s), angle, ROCKS_DEG, "°",
            )  # fmt: skip
        return
    if not 0 < angle < TIPS_DEG:
        return
    yield Finding(
        "F34", "warn", "Top-heavy",
        f"Standing, it goes over {WAYS[way]} once it is tipped by {degrees(angle)}: its mass is "
        f"{length(float(r.course.com_ground_mm[row, 2]))} high; below {degrees(TIPS_DEG)} a nudge is enough.",
        (), float(row * r.row_s), angle, TIPS_DEG, "°",
    )  # fmt: skip


def _worst(r: Reading) -> tuple[int, int]:
    """The way it goes over soonest of those instants at which it stands on all feet, and when."""
    rows = np.flatnonzero(_down(r).all(axis=0))
    angles = r.of(tip_angles)[:, rows]
    way, row = np.unravel_index(least(angles), angles.shape)
    return int(way), int(rows[row])


def _lower(m: Mending) -> Iterator[Edit]:
    """What rides high on the frame, at its underside."""
    sections = {s.name: s for s in m.project.walker.sections}
    masses = m.project.walker.masses
    high = sorted(range(len(masses)), key=lambda n: -masses[n].mass_g * masses[n].at_mm[2])
    for n in high[:TRIED]:
        mass = masses[n]
        if mass.on not in sections or mass.fills:
            continue
        x, y, z = mass.at_mm
        lowest = round((mass.size_mm[2] - sections[mass.on].size_mm[2]) / 2, 1)
        if lowest < z:
            yield Edit(
                f"{mass.name} {length(z - lowest)} lower", (replace(f"/walker/masses/{n}/at_mm", [x, y, lowest]),)
            )


def _read(r: Reading) -> Told | None:
    if judged(r):
        return None
    way, row = r.of(_worst)
    return float(np.degrees(r.of(tip_angles)[way, row])), float(row * r.row_s)


def _working(r: Reading) -> Lines:
    way, row = r.of(_worst)
    angles, tall = r.of(tip_angles)[:, row], float(r.course.com_ground_mm[row, 2])
    off = tall * float(np.tan(angles[way]))
    each = joined([f"{number(float(np.degrees(a)), 1)}° {name}" for a, name in zip(angles, WAYS, strict=True)])
    return (
        f"tilted until its mass is over the border of its feet: {each}",
        f"{WAYS[way]}: atan({number(off, 1)} mm to the border / {number(tall, 1)} mm high) = "
        f"{number(float(np.degrees(angles[way])), 1)}°",
    )


TIPS = FigureSpec(
    "tips_deg", "Tips over at", "°", 1, _read, _working, ("balance", "frame"), better=1, compared=True
)  # fmt: skip

JUDGEMENT = Judgement(
    "F34",
    "Not top-heavy",
    ("balance", "frame"),
    top_heavy,
    judged,
    stops=False,
    figures=(TIPS,),
    ways=(
        Offer(_lower, any_motion=True),
        Turn("ride_height", up=False),
        Turn("shift_x"),
        Turn("shift_y"),
        Turn("feet_out", down=False),
    ),
)
