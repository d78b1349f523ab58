"""F17: a foot that cannot get to its target."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import numpy as np

from bustle.core.edits.levers import motion_index
from bustle.core.edits.patches import replace
from bustle.core.geometry.arrays import Array, Flags
from bustle.core.geometry.extremes import greatest
from bustle.core.judge.figure import FigureSpec, Lines, Told
from bustle.core.judge.finding import Finding, offenders
from bustle.core.judge.judgement import Judgement
from bustle.core.judge.ways import Edit, Mending, Offer, Turn
from bustle.core.machine.soles import is_tip
from bustle.core.project.motion import PhaseGait
from bustle.core.walk.reading import Reading
from bustle.core.words.wording import also, length, number, seconds

# A foot that misses by less is where it should be, for anything made by hand.
MISS_MM = 0.01
# A foot that stands so far from the floor of its plan puts the body elsewhere.
OFF_MM = 2.0


def _misses(r: Reading) -> Flags:
    return np.asarray((r.course.solved.miss_mm > MISS_MM).any(axis=0), dtype=bool)


def out_of_reach(r: Reading) -> Iterator[Finding]:
    """Stop wherever a foot misses its target, and where a leg that leaves its height to its stroke never stands on the
    floor that is planned."""
    found = offenders(r.course.solved.miss_mm.T - MISS_MM)
    if not found:
        yield from _elsewhere(r)
        return
    limbs, row = found
    names = [r.project.walker.limbs[i].name for i in limbs]
    miss, time = float(r.course.solved.miss_mm[limbs[0], row]), r.time_at(row)
    yield Finding(
        "F17", "stop", "Out of reach",
        f"{names[0]} misses its target by {length(miss)} at {seconds(time)}; the leg does not reach that far."
        + also(names[1:]),
        tuple((name, "") for name in names), time, miss, 0.0, "mm",
    )  # fmt: skip


def off_the_floor_mm(r: Reading) -> Array:
    """(L,): how high each foot stands over the floor of its plan, under it below 0, where it is lowest; 0 of what never
    stands, of a broad sole that stands on its edge, and of a leg that was measured to be off (F28 tells of those)."""
    walker, rows = r.project.walker, slice(r.samples)
    found, measured = np.zeros(len(walker.limbs)), {leg.limb for leg in walker.as_built.limbs}
    heights = np.where(r.course.contact[:, rows], r.course.feet_ground_mm[:, rows, 2], np.inf)
    for i, (limb, lowest) in enumerate(zip(walker.limbs, heights.min(axis=1).tolist(), strict=True)):
        if limb.steps and lowest < np.inf and limb.name not in measured:
            found[i] = lowest if is_tip(limb.feet[0]) else min(lowest, 0.0)
    return found


def _elsewhere(r: Reading) -> Iterator[Finding]:
    off = r.of(off_the_floor_mm)
    wrong = [int(i) for i in np.argsort(-np.abs(off), kind="stable") if abs(off[i]) > OFF_MM]
    if r.gait is None or not wrong:
        return
    first, names = wrong[0], [r.project.walker.limbs[i].name for i in wrong]
    where = "under" if off[first] < 0 else "over"
    yield Finding(
        "F17", "stop", "Stands elsewhere than planned",
        f"{names[0]} stands {length(abs(float(off[first])))} {where} the floor that is planned: its joints leave its "
        f"height to its stroke, and the body rides where that puts it." + also(names[1:]),
        tuple((name, "height") for name in names), 0.0, float(off[first]), 0.0, "mm",
    )  # fmt: skip


def _furthest(r: Reading) -> tuple[int, int]:
    """Limb and row of the furthest miss."""
    miss = r.course.solved.miss_mm[:, : r.samples]
    limb, row = np.unravel_index(greatest(miss), miss.shape)
    return int(limb), int(row)


def as_its_legs_stand(r: Reading) -> tuple[dict[str, Any], ...]:
    """Feet asked for where they have got to, standing, and the body as high as they put it: legs of two joints that tip
    and turn, or swing, have no height and no stance to choose. Nothing where the motion does not stand, or none
    misses."""
    gait, out = r.gait, (r.course.solved.miss_mm[:, 0] > MISS_MM) | (np.abs(r.of(off_the_floor_mm)) > MISS_MM)
    if gait is None or not gait.stands or not out.any():
        return ()
    gaps = r.course.feet_ground_mm[:, 0] - r.course.target_ground_mm[:, 0]
    edits = [
        replace(
            f"/walker/limbs/{i}/neutral_mm",
            [round(v + float(gap), 3) + 0.0 for v, gap in zip(limb.neutral_mm, gaps[i], strict=False)],
        )
        for i, limb in enumerate(r.project.walker.limbs)
        if out[i] and limb.neutral_mm is not None
    ]
    ride = round(gait.pose.ride_height_mm - float(gaps[out, 2].mean()), 3)
    path = f"/motions/{motion_index(r.project, gait.name)}/pose/ride_height_mm"
    return (*edits, replace(path, ride))


def _as_it_stands(m: Mending) -> Iterator[Edit]:
    edits = as_its_legs_stand(m.reading)
    if edits and _misses(m.reading).any():
        yield Edit("Feet and ride to where the legs put them", edits)


def _as_high_as_its_legs(m: Mending) -> Iterator[Edit]:
    """Every gait that rides as high as this one."""
    off, gait = m.reading.of(off_the_floor_mm), m.reading.gait
    wrong = np.abs(off) > OFF_MM
    if gait is None or not wrong.any():
        return
    was, ride = gait.pose.ride_height_mm, round(gait.pose.ride_height_mm - float(off[wrong].mean()), 1)
    yield Edit(
        f"Ride {length(ride)} high, as its legs put it",
        tuple(
            replace(f"/motions/{n}/pose/ride_height_mm", ride)
            for n, other in enumerate(m.project.motions)
            if isinstance(other, PhaseGait) and other.pose.ride_height_mm == was
        ),
    )


def _read(r: Reading) -> Told | None:
    limb, row = r.of(_furthest)
    return float(r.course.solved.miss_mm[limb, row]), float(row * r.row_s)


def _working(r: Reading) -> Lines:
    limb, row = r.of(_furthest)
    stands, asked = (_place(ground[limb, row]) for ground in (r.course.feet_ground_mm, r.course.target_ground_mm))
    return (
        "distance from foot to target, the furthest of all legs and samples",
        f"{r.project.walker.limbs[limb].name} at {seconds(row * r.row_s)}: at {stands}, asked for at {asked}",
        f"= {number(float(r.course.solved.miss_mm[limb, row]))} mm",
    )


def _place(point: Array) -> str:
    return f"({', '.join(number(float(v)) for v in point)}) mm"


MISS = FigureSpec("miss_mm", "Furthest miss", "mm", 1, _read, _working, better=-1)

JUDGEMENT = Judgement(
    "F17",
    "Feet reach their targets",
    ("stride",),
    out_of_reach,
    tier="drag",
    limits_stride=True,
    figures=(MISS,),
    ways=(
        Turn("stride", up=False, subject=""),
        Turn("ride_height", subject=""),
        Turn("feet_out", subject=""),
        Turn("lift", up=False, subject=""),
        Offer(_as_it_stands),
        # What rides elsewhere than planned is put there whole, not to where it is just not told.
        Offer(_as_high_as_its_legs),
    ),
    unplayable=_misses,
)
