"""Starting shapes: a whole walker with motions from a kind of machine and one length.

A new shape is a builder in one of the files here and one line in this registry.
"""

from __future__ import annotations

import dataclasses
from collections.abc import Callable
from functools import partial
from typing import Any

from bustle.core.document.checked import CheckedProject, parse_project
from bustle.core.edits.levers import motion_index
from bustle.core.edits.patches import patched, replace
from bustle.core.evaluate import evaluate
from bustle.core.kinds.gaits import GAITS, spots_of
from bustle.core.loads.held_by_supports import legs_half_mm
from bustle.core.project.motion import PhaseGait
from bustle.core.project.project import FORMAT, VERSION, gait_of, mounts_of
from bustle.core.search.progress import Tell, silent
from bustle.core.search.smallest_sway import keeps, swayed
from bustle.core.starting import legs_and_wheels, rectangular, two_legs
from bustle.core.starting.building_blocks import Built, Shape, Timed, mm, motions_of, walker_of
from bustle.core.starting.own_numbers import OwnNumbers, built_from
from bustle.core.starting.timed_walks import held_at_least, with_start_and_stop, with_swings, with_timed
from bustle.core.starting.trot_tempo import with_trot
from bustle.core.words.problems import refuse

LEG_LENGTH_MM = (60.0, 600.0)

NO_TROT = "It has no trot: in dry runs it fell, or rocked up, or was stopped, in each way that was tried."

# Strides are tried in these shares of what is usual.
SHARES = (1.0, 0.7, 0.5, 0.35, 0.25)

TRIPOD = "Three legs step while three stand: it may stop at any instant."
CREEP = "One leg at a time, the body over the other three: slow, and it may stop at any instant."

SHAPES: dict[str, Shape] = {
    shape.name: shape
    for shape in (
        Shape("six_sprawled", "Six legs, sprawled", "Six legs", 220.0, partial(rectangular.sprawled, 6),
              f"{TRIPOD} Goes and turns any way.", 6, "sprawled_3", "sides"),
        Shape("six_radial", "Six legs, circle", "Six legs", 220.0, partial(rectangular.radial, 6, 3),
              f"{TRIPOD} Goes any way alike.", 6, "sprawled_3", "round"),
        Shape("six_two", "Six two-joint legs", "Six legs", 160.0, partial(rectangular.sprawled_two, 6),
              f"{TRIPOD} Two servos a leg: short strides ahead and back.", 6, "sprawled_2", "sides"),
        Shape("six_two_radial", "Six two-joint legs, circle", "Six legs", 160.0, partial(rectangular.radial, 6, 2),
              f"{TRIPOD} Two servos a leg: the feet slip, and the body goes as they let it.", 6, "sprawled_2", "round"),
        Shape("six_upright", "Six legs, upright", "Six legs", 220.0, partial(rectangular.upright, 6),
              f"{TRIPOD} Tall and narrow.", 6, "upright_3", "sides"),
        Shape("four_sprawled", "Four legs, sprawled", "Four legs", 220.0, partial(rectangular.sprawled, 4),
              CREEP, 4, "sprawled_3", "sides"),
        Shape("four_upright", "Four legs, upright", "Four legs", 220.0, partial(rectangular.upright, 4),
              CREEP, 4, "upright_3", "sides"),
        Shape("four_upright_2", "Four two-joint legs, upright", "Four legs", 200.0, rectangular.upright_two,
              f"{CREEP} Two servos a leg: straight ahead and back.", 4, "upright_2", "sides"),
        Shape("four_radial_2", "Four two-joint legs, circle", "Four legs", 160.0, partial(rectangular.radial, 4, 2),
              f"{CREEP} Two servos a leg: the feet slip.", 4, "sprawled_2", "round"),
        Shape("two_full", "Two six-joint legs", "Two legs", 260.0, two_legs.full,
              "Stands on flat soles that lie and turn as asked; shifts its weight before it steps."),
        Shape("two_parallelogram", "Two parallelogram legs, roll and yaw", "Two legs", 260.0, two_legs.parallelogram,
              "Rods keep its soles level; it has no ankle, so it steps quickly."),
        Shape("two_planar", "Two planar legs, boom", "Two legs", 260.0, two_legs.planar,
              "A boom holds it sideways; it walks ahead and back round the boom."),
        Shape("two_servo", "Two two-servo legs", "Two legs", 140.0, two_legs.two_servo,
              "Tips its weight over one sole and turns the other ahead: four servos in all."),
        Shape("two_rocker", "Two rocker legs", "Two legs", 180.0, two_legs.rocker,
              "Rocks from one curved sole to the other; it lives by its timing."),
        Shape("two_moving_mass", "Two legs and a moving mass", "Two legs", 220.0, two_legs.moving_mass,
              "Throws a weight over one foot while the other steps."),
        Shape("four_casters", "Four legs and two casters", "Legs and wheels", 160.0, legs_and_wheels.with_casters,
              "Casters carry it, legs push two and two."),
        Shape("two_wheels", "Two legs, two wheels", "Legs and wheels", 220.0, legs_and_wheels.legs_and_wheels,
              "Legs in front, wheels behind that roll along."),
    )
}  # fmt: skip


def start(shape: str, name: str, leg_length_mm: float) -> CheckedProject:
    """A project in the proportions of a starting shape. Raises InputRefused naming the field."""
    if shape not in SHAPES:
        raise refuse("shape", f"must be one of {', '.join(SHAPES)}, got {shape!r}")
    low, high = LEG_LENGTH_MM
    if not low <= leg_length_mm <= high:
        raise refuse("leg_length_mm", f"must be from {low:g} to {high:g}, got {leg_length_mm:g}")
    return _whole(SHAPES[shape].build(leg_length_mm), name, leg_length_mm)


def start_from(own: OwnNumbers, name: str, tell: Tell = silent) -> CheckedProject:
    """A project by the builder's own numbers, its strides shortened until nothing stops them or they are a quarter of
    what is usual, its trot as goes well in a dry run; its note says where none does. Raises InputRefused naming
    each number out of its range."""
    built = built_from(own)
    project = _whole(built, name, own.leg_length_mm, partial(with_trot, tell=tell))
    made = {motion.name for motion in project.motions}
    if any(way not in made for timed in built.timed for way in timed.ways):
        project = project.model_copy(update={"note": NO_TROT})
    for motion in project.motions:
        index = motion_index(project, motion.name)
        for share in SHARES:
            shorter = patched(project, _paced(project, index, share))
            if evaluate(shorter, motion.name).sound:
                break
        project = shorter
    return project


def unwalked(own: OwnNumbers, name: str) -> CheckedProject:
    """The same with its strides as is usual, whatever stops them, and without what lives by its timing, which takes
    seconds to find: to be looked at. Raises InputRefused as above."""
    return _whole(dataclasses.replace(built_from(own), timed=(), swings=()), name, own.leg_length_mm)


def stopped_at_any_stride(project: CheckedProject) -> str | None:
    """What stops a machine as it stands, or in its walk ahead at the shortest stride there is; None where nothing
    does."""
    shortest = patched(project, _paced(project, motion_index(project, "Forward"), SHARES[-1]))
    found = (f for name in ("Stand", "Forward") for f in evaluate(shortest, name).findings if f.severity == "stop")
    return next((finding.message for finding in found), None)


def _paced(project: CheckedProject, index: int, share: float) -> list[dict[str, Any]]:
    motion = project.motions[index]
    if not isinstance(motion, PhaseGait):
        return []
    twist = {name: round(value * share, 1) for name, value in motion.twist.model_dump().items()}
    return [replace(f"/motions/{index}/twist", twist)]


def _whole(
    built: Built,
    name: str,
    leg_length_mm: float,
    walked: Callable[[CheckedProject, Timed, float], CheckedProject] = with_timed,
) -> CheckedProject:
    walker, servo = walker_of(built, leg_length_mm)
    project = parse_project(
        {
            "format": FORMAT,
            "version": VERSION,
            "name": name,
            "walker": walker,
            "motions": motions_of(built, leg_length_mm),
            "servo_types": [servo],
            "against_sag": held_at_least(built.against_sag, *(timed.against_sag for timed in built.timed)),
            "limits": limits_of(leg_length_mm),
        }
    )
    for motion in project.motions:
        project = steadied(project, motion.name)
    for timed in built.timed:
        project = walked(project, timed, leg_length_mm)
    project = with_start_and_stop(overlapped(project))
    for swinging in built.swings:
        project = with_swings(project, swinging, leg_length_mm)
    return project


def limits_of(leg_length_mm: float) -> dict[str, float]:
    """What is little for a large walker is much for a small one."""
    return {
        "margin_mm": mm(min(12.0, leg_length_mm * 0.04)),
        "straight_knee_mm": mm(min(4.0, leg_length_mm * 0.02)),
        "slip_mm": mm(max(2.0, leg_length_mm * 0.03)),
        "clearance_mm": mm(min(3.0, leg_length_mm * 0.012)),
        "foot_play_mm": mm(max(2.0, leg_length_mm * 0.03)),
    }


def overlapped(project: CheckedProject) -> CheckedProject:
    """With casters half as high above the feet's floor as the legs beside them give, so that both carry."""
    reading = evaluate(project, project.motions[0].name).reading
    higher = reading.of(legs_half_mm)
    if not higher:
        return project
    places = {i: project.walker.limbs[i].mount.at_mm for i in reading.kit.supports.tolist()}
    return patched(
        project,
        [replace(f"/walker/limbs/{i}/mount/at_mm", [x, y, round(z + higher, 2)]) for i, (x, y, z) in places.items()],
    )


def steadied(project: CheckedProject, motion: str) -> CheckedProject:
    """The motion with the static leg order that keeps the most margin, and the least sway that still lacks."""
    asked = gait_of(project, motion)
    if asked.balance != "static" or not any(leg.duty < 1 for leg in asked.legs):
        return project
    index = motion_index(project, motion)
    spots = spots_of(mounts_of(project, asked))
    rivals = [project]
    for gait in GAITS.values():
        if len(spots) == 4 and gait.fits(spots) and gait.balance == asked.balance:
            timing = [replace(f"/motions/{index}/legs/{n}/phase", v) for n, v in enumerate(gait.phases(spots))]
            rivals.append(patched(project, [*timing, replace(f"/motions/{index}/gait", gait.name)]))
    best = max(rivals, key=lambda rival: evaluate(rival, motion).figure("worst_margin_mm") or 0.0)
    limit = project.limits.margin_mm
    if keeps(best, motion, limit):
        return best
    terms = swayed(best, motion, limit) or ()
    return patched(best, [replace(f"/motions/{index}/pose/sway", [t.model_dump() for t in terms])])
