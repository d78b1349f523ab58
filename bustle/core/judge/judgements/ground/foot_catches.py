"""F24: a foot meets a step, a cable or carpet that it cannot clear."""

from __future__ import annotations

from collections.abc import Iterator

from bustle.core.edits.patches import replace
from bustle.core.judge.figure import FigureSpec, Lines, Told
from bustle.core.judge.finding import Finding
from bustle.core.judge.judgement import Judgement, of_gaits
from bustle.core.judge.measures.feet.swing_clearance import clearances
from bustle.core.judge.ways import Edit, Mending, Offer, Turn
from bustle.core.kinds.foot_paths import FOOT_PATHS
from bustle.core.walk.reading import Reading
from bustle.core.words.wording import also, length, number, seconds


def foot_catches(r: Reading) -> Iterator[Finding]:
    """The path's height over the obstacle, and over carpet pile, less sag and droop. Judged where one is given."""
    floor, limbs = r.project.floor, r.project.walker.limbs
    if floor.obstacle_mm is None and not floor.pile_mm:
        return
    swings = r.of(clearances)
    names: dict[str, list[str]] = {}
    for swing in swings:
        spent = swing.sag_mm + swing.droop_mm
        name = limbs[swing.limb].name
        if swing.over_obstacle_mm is not None and floor.obstacle_mm is not None:
            over = swing.over_obstacle_mm - spent
            if over <= floor.obstacle_mm:
                names.setdefault("obstacle", []).append(name)
        if floor.pile_mm and swing.left_mm <= floor.pile_mm:
            names.setdefault("pile", []).append(name)
    assumed = ", stiffness assumed" if any(s.assumed for s in swings) else ""
    for what, legs in names.items():
        swing = next(s for s in swings if limbs[s.limb].name == legs[0])
        spent = swing.sag_mm + swing.droop_mm
        if what == "obstacle":
            high, sample = swing.over_obstacle_mm or 0.0, swing.over_obstacle_sample
            limit, words = floor.obstacle_mm or 0.0, f"an obstacle of {length(floor.obstacle_mm or 0.0)} there"
        else:
            high, sample, limit = swing.height_mm, swing.sample, floor.pile_mm
            spent += swing.uneven_mm
            words = f"pile of {length(floor.pile_mm)}"
        yield Finding(
            "F24", "stop", "Foot catches",
            f"{legs[0]}'s path is {length(high)} up, {length(high - spent)} after sag and droop of {length(spent)}"
            f"{assumed}; it cannot clear {words}." + also(legs[1:]),
            tuple((leg, what) for leg in legs), float(sample * r.row_s), high - spent, limit, "mm",
        )  # fmt: skip


def _squarer_path(m: Mending) -> Iterator[Edit]:
    """A path that is high over more of its way."""
    if m.gait.foot_path != "rectangle":
        edits = (replace(f"{m.path}/foot_path", "rectangle"), replace(f"{m.path}/swing/points", []))
        yield Edit(f"Path: {FOOT_PATHS['rectangle'].label.lower()}", edits)


def _read(r: Reading) -> Told | None:
    swings = r.of(clearances)
    return (swings[0].left_mm, float(swings[0].sample * r.row_s)) if swings else None


def _working(r: Reading) -> Lines:
    swing = r.of(clearances)[0]
    assumed = " (drive stiffness assumed)" if swing.assumed else ""
    uneven = r.project.floor.unevenness_mm
    said = f"− {length(swing.uneven_mm)} floor unevenness" if uneven is not None else "− 0 mm, floor taken as even"
    name = r.project.walker.limbs[swing.limb].name
    return (
        f"{name} at its highest, {seconds(swing.sample * r.row_s)}: path {length(swing.height_mm)} up",
        f"− {number(swing.sag_mm, 2)} mm sag of the body{assumed}",
        f"− {number(swing.droop_mm, 2)} mm backlash droop",
        said,
        f"= {length(swing.left_mm)}",
    )


LEFT_UNDER_FOOT = FigureSpec(
    "clear_mm", "Room under a swinging foot", "mm", 1, _read, _working, ("stride/ground",), better=1, compared=True
)

JUDGEMENT = Judgement(
    "F24",
    "Feet clear what lies on the floor",
    ("stride",),
    foot_catches,
    of_gaits,
    figures=(LEFT_UNDER_FOOT,),
    ways=(Turn("lift", down=False), Offer(_squarer_path)),
)
