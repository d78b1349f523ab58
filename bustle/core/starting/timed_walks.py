"""Walks that live by their timing, made from a machine alone, and a start and a stop for every walk ahead.

Each is made in the pose its machine stands in; where its knees would come straight or something would stop it, the
body rides a little lower.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from itertools import islice
from typing import Any

import numpy as np

from bustle.core.document.checked import CheckedProject
from bustle.core.dry_run.dry_run import as_its_sheets_say, not_run
from bustle.core.dry_run.ladder import Rung
from bustle.core.edits.levers import LEVERS
from bustle.core.edits.patches import only_motions, patched
from bustle.core.evaluate import evaluate
from bustle.core.judge.measures.feet.sole_gaps import soles_that_overlap
from bustle.core.kinds.gaits import CUSTOM, GAITS, spots_of
from bustle.core.project.motion import (
    ArmMove,
    JointSwing,
    LegTiming,
    MotionAt,
    PhaseGait,
    SwayTerm,
    Swings,
    Transition,
    Twist,
)
from bustle.core.project.project import mounts_of
from bustle.core.search.pendulum_sway import pendulum_sway
from bustle.core.starting.building_blocks import Swinging, Timed

# A cycle has so many rows at least.
LEAST_ROWS = 12
# Shares of a swing that are tried until soles keep clear of each other.
LESS_FAR = (1.0, 0.8, 0.65, 0.5, 0.4, 0.3, 0.25, 0.2, 0.15, 0.1)
# Rides tried, as shares of the height it stands at, until its knees are so far from straight and nothing stops it.
RIDES = (1.0, 0.98, 0.965, 0.95, 0.935, 0.92, 0.9, 0.88)
# Strides and turns are tried in these shares, as large as nothing stops.
SHARES = (1.0, 0.8, 0.6, 0.45, 0.3)
# Where nothing is sound in the cycle asked for, as on a short body whose trot leans too far before the next feet land,
# the same steps are tried in such shares of it.
QUICKER = (0.85, 0.72, 0.6)
# Where its servos are rushed in that cycle, as those of small machines are, in these shares of it.
SLOWER = (1.25, 1.5, 1.75)
RUSHED, DEEPER = "F06", 4

# From how it stands to how it walks, and back: a heavy body far from its feet is long under way.
POSES_S = (0.5, 0.8, 1.2)
# Strides tried where a start or a stop asks too much of the legs, as shares of the walk's own.
END_SHARES = (1.0, 0.9, 0.8, 0.65, 0.5, 0.35)

# Each holds against more than the one before.
AGAINST_SAG = ("off", "static", "full")

WAYS: dict[str, tuple[float, float]] = {
    "Forward": (1.0, 0.0),
    "Back": (-1.0, 0.0),
    "Turn left": (0.0, 1.0),
    "Turn right": (0.0, -1.0),
    "Trot": (1.0, 0.0),
}


def held_at_least(*asked: str) -> str:
    """What holds against all that each of these settings against sag does."""
    return max(asked, key=AGAINST_SAG.index)


def with_timed(project: CheckedProject, timed: Timed, leg_length_mm: float) -> CheckedProject:
    """With the walk in each of its ways, held against sag as it asks; a way in which something stops it at any stride
    is left out, and where all are it is held as it was."""
    was = project
    project = project.model_copy(update={"against_sag": held_at_least(project.against_sag, timed.against_sag)})
    stand = next(m for m in project.motions if isinstance(m, PhaseGait) and m.stands)
    made: list[PhaseGait] = []
    for name in timed.ways:
        # What rides lower once, rides lower in every way.
        ride = made[0].pose.ride_height_mm if made else None
        walk = _soundest(project, timed, name, stand, leg_length_mm, ride)
        if walk:
            # In every way it goes as slowly as in the first.
            size = np.sqrt(leg_length_mm / timed.at_mm)
            timed = replace(timed, cycle_s=max(timed.cycle_s, walk.cycle_s / size))
            made.append(walk)
    if not made:
        return was
    first = [m for m in project.motions if not (isinstance(m, PhaseGait) and m.stands)]
    last = [m for m in project.motions if isinstance(m, PhaseGait) and m.stands]
    if not first:
        # It stands as it walks, so that nothing but its feet and its sway has to move between them.
        low = made[0].pose.ride_height_mm
        last = [m.model_copy(update={"pose": m.pose.model_copy(update={"ride_height_mm": low})}) for m in last]
    return with_motions(project, [*first, *made, *last])


def what_stops(project: CheckedProject, timed: Timed, leg_length_mm: float) -> str:
    """What stops the shortest of its first way, its start or its stop, as high as its knees are bent enough."""
    stand = next(m for m in project.motions if isinstance(m, PhaseGait) and m.stands)
    held = project.model_copy(update={"against_sag": held_at_least(project.against_sag, timed.against_sag)})
    bend = f"Its knees come nearer to straight than the {project.limits.knee_bend_deg:.0f}° that are kept"
    for share in RIDES:
        ride = stand.pose.ride_height_mm * share
        walk = _swayed(held, timed, _walk(held, timed, timed.ways[0], stand, leg_length_mm, SHARES[-1], ride))
        whole = with_motions(only_motions(held, walk), [walk, stand])
        if _least_bend_deg(whole, walk.name) < project.limits.knee_bend_deg:
            continue
        whole = with_start_and_stop(whole)
        found = ((motion.name, f) for motion in whole.motions for f in evaluate(whole, motion.name).findings)
        told = next(((name, f.message) for name, f in found if f.severity == "stop"), (walk.name, ""))
        return told[1] if told[0] == walk.name else f"{told[0]}: {told[1]}"
    return bend


def with_motions(project: CheckedProject, motions: list[Any]) -> CheckedProject:
    """With these motions and no others."""
    values = [m.model_dump(mode="json") for m in motions]
    return patched(project, [{"op": "replace", "path": "/motions", "value": values}])


def _soundest(
    project: CheckedProject, timed: Timed, name: str, stand: PhaseGait, leg_length_mm: float, ride: float | None
) -> PhaseGait | None:
    heights = [stand.pose.ride_height_mm * share for share in RIDES] if ride is None else [ride]

    def tried(tempo: float, share: float, height: float) -> CheckedProject | None:
        hurried = replace(timed, cycle_s=timed.cycle_s * tempo)
        walk = _swayed(project, timed, _walk(project, hurried, name, stand, leg_length_mm, share, height))
        whole = with_motions(only_motions(project, walk), [walk, stand])
        if _least_bend_deg(whole, name) < project.limits.knee_bend_deg:
            return None
        if not all(evaluate(whole, motion.name).sound for motion in whole.motions):
            return None
        ends = sound_ends(whole, walk, stand, "")
        return with_motions(whole, [walk, stand, *ends]) if ends else None

    asked = ((share, height, tried(1.0, share, height)) for share in SHARES for height in heights)
    share, height, found = next((made for made in asked if made[2]), (0.0, 0.0, None))
    if found and ride is None:
        told = _warned(found, name)
        # A slower sway is wider, and takes knees further from straight.
        lower = [h for h in heights if h <= height][:DEEPER]
        slower = (tried(tempo, share, low) for tempo in SLOWER for low in lower) if RUSHED in told else iter(())
        found = next((whole for whole in slower if whole and _warned(whole, name) <= told - {RUSHED}), found)
    elif not found:
        quicker = (tried(tempo, share, heights[0]) for share in SHARES[::2] for tempo in QUICKER)
        sound = list(islice(filter(None, quicker), len(QUICKER)))
        found = next((whole for whole in sound if _goes_well(whole, name)), sound[0] if sound else None)
    walk = found.motion(name) if found else None
    assert walk is None or isinstance(walk, PhaseGait)
    return walk


def _warned(project: CheckedProject, motion: str) -> frozenset[str]:
    """The codes of what is told of it."""
    return frozenset(finding.code for finding in evaluate(project, motion).findings)


def _goes_well(project: CheckedProject, motion: str) -> bool:
    told = not_run(evaluate(project, motion).reading) is None
    return told and not as_its_sheets_say(project, motion).goes_badly


def _walk(
    project: CheckedProject, timed: Timed, name: str, stand: PhaseGait, leg_length_mm: float, share: float, ride: float
) -> PhaseGait:
    size = leg_length_mm / timed.at_mm
    row_s = project.controller.frame_period_ms / 1000
    cycle = round(max(LEAST_ROWS, round(timed.cycle_s * np.sqrt(size) / row_s)) * row_s, 3)
    ahead, turn = WAYS[name]
    gait = GAITS[timed.gait]
    spots = spots_of(mounts_of(project, stand))
    # Two steps a cycle.
    pace = 2 * timed.step_mm * size * share / cycle
    twist = Twist(
        vx_mm_s=round(ahead * pace, 1) + 0.0, omega_deg_s=round(turn * timed.turn_deg * share / cycle, 1) + 0.0
    )
    pose = stand.pose.model_copy(update={"ride_height_mm": round(ride, 1), "sway": ()})
    return PhaseGait(
        name=name,
        gait=gait.name if gait.fits(spots) else CUSTOM,
        legs=tuple(
            LegTiming(limb=leg.limb, phase=phase, duty=timed.duty)
            for leg, phase in zip(stand.legs, gait.phases(spots), strict=True)
        ),
        cycle_s=cycle,
        twist=twist,
        foot_path=stand.foot_path,
        lift_mm=round(timed.lift_mm * size, 1),
        pose=pose,
        moves_of_arms=_thrown(project, timed),
        balance=gait.balance,
        travel=timed.travel,
    )


def _swayed(project: CheckedProject, timed: Timed, walk: PhaseGait) -> PhaseGait:
    if timed.sway == "planned":
        found = pendulum_sway(project, walk)
        pose = walk.pose.model_copy(update={"sway": found.terms, "shift_mm": found.shift_mm})
    else:
        size = walk.lift_mm / timed.lift_mm
        terms = (SwayTerm(**{name: round(v * size, 1) for name, v in term.items()}) for term in timed.sway)
        pose = walk.pose.model_copy(update={"sway": tuple(terms)})
    return walk.model_copy(update={"pose": pose})


def _thrown(project: CheckedProject, timed: Timed) -> tuple[ArmMove, ...]:
    """A mass on an arm swings to the left while the left foot stands, and to the right half a cycle later."""
    if not timed.swings_deg:
        return ()
    arm = next(limb for limb in project.walker.limbs if limb.joints and not limb.feet)
    found = []
    for side, late in ((-1.0, 0.0), (1.0, 0.5)):
        begins = (timed.swings_at - 0.25 + late) % 1.0
        found.append(
            ArmMove(
                limb=arm.name, joint=arm.joints[0].name, to=side * timed.swings_deg, at=round(begins, 4),
                back_at=round((begins + 0.25) % 1.0, 4), takes=0.25,
            )
        )  # fmt: skip
    return tuple(found)


def _least_bend_deg(project: CheckedProject, motion: str) -> float:
    """The straightest a knee comes; many degrees where there is none."""
    r = evaluate(project, motion).reading
    knees = [n for n, joint in enumerate(r.kit.joints) if joint.name == "knee"]
    return float(np.degrees(np.abs(r.angles[:, knees]).min())) if knees else 180.0


def with_swings(project: CheckedProject, asked: Swinging, leg_length_mm: float) -> CheckedProject:
    """With a walk of joints that swing, and the same from rest and to rest."""
    row_s = project.controller.frame_period_ms / 1000
    rows = max(LEAST_ROWS, round(asked.cycle_s * np.sqrt(leg_length_mm / asked.at_mm) / row_s))
    for share in LESS_FAR if asked.less else (1.0,):
        joints = []
        for path, swing, at in asked.joints:
            limb, _, joint = path.partition("/")
            far = round(share * swing, 1) if path in asked.less else swing
            joints.append(JointSwing(limb=limb, joint=joint, swing=far, at=at))
        walk = Swings(name=asked.name, cycle_s=round(rows * row_s, 3), joints=tuple(joints))
        plan = evaluate(with_motions(project, [walk]), walk.name)
        too_fast = any(f.severity == "stop" for f in plan.findings_among(("F06",)))
        if not too_fast and not plan.reading.of(soles_that_overlap):
            break
    # Walks come first, then how it stands, then starts and stops.
    walks = [m for m in project.motions if isinstance(m, Swings) and m.goes == "on"]
    others = [m for m in project.motions if m not in walks]
    return with_motions(project, [*walks, walk, *others, *swung_from_and_to_rest(walk, of_walk(asked.name))])


def swung_from_and_to_rest(walk: Swings, of: str) -> list[Swings]:
    ways = (("Start", "from_rest"), ("Stop", "to_rest"))
    return [walk.model_copy(update={"name": name + of, "goes": how}) for name, how in ways]


def of_walk(name: str) -> str:
    """What the name of a start or a stop says besides."""
    return "" if name == "Forward" else f" {name[0].lower()}{name[1:]}"


def with_start_and_stop(project: CheckedProject) -> CheckedProject:
    """With a start from standing and a stop into it for the walk ahead, and for each way of one that lives by its
    timing; the walk ahead with strides as short as its start and stop need them."""
    gaits = [m for m in project.motions if isinstance(m, PhaseGait)]
    stand = next((m for m in gaits if m.stands), None)
    added: list[Transition] = []
    for walk in gaits:
        if stand is None or walk.stands or not (walk.name == "Forward" or walk.balance == "dynamic"):
            continue
        shorter, ends = _with_sound_ends(project, walk, stand)
        if shorter is not walk:
            project = with_motions(project, [shorter if m.name == walk.name else m for m in project.motions])
        added += ends
    return with_motions(project, [*project.motions, *added]) if added else project


def _with_sound_ends(project: CheckedProject, walk: PhaseGait, stand: PhaseGait) -> tuple[PhaseGait, list[Transition]]:
    """The walk and its start and stop. Feet that set out or come to rest reach further than on the way; one that may
    halt anywhere strides shorter for it. As it is, where nothing helps."""
    of, alone = of_walk(walk.name), only_motions(project, walk)
    for share in END_SHARES if walk.balance == "static" else (1.0,):
        shorter = walk
        if share < 1.0:
            cut = patched(alone, LEVERS["stride"].patch(alone, walk.name, 100 * share))
            shorter = next(m for m in cut.motions if isinstance(m, PhaseGait))
            if not evaluate(cut, walk.name).sound:
                continue
        ends = sound_ends(project, shorter, stand, of)
        if ends:
            return shorter, ends
    return walk, start_and_stop(walk, stand, of, POSES_S[0])


def with_starts_of_other_orders(project: CheckedProject) -> CheckedProject:
    """With a start and a stop, where both are sound, for each walk whose legs step in another order than ahead: its
    rows cannot be mixed with that walk's."""
    gaits = [m for m in project.motions if isinstance(m, PhaseGait)]
    stand = next((m for m in gaits if m.stands), None)
    ahead = next((m.legs for m in gaits if m.name == "Forward"), None)
    begun = {m.end.motion for m in project.motions if isinstance(m, Transition)}
    added: list[Transition] = []
    for walk in gaits:
        if stand is None or not walk.moves or walk.legs == ahead or walk.name in begun:
            continue
        added += sound_ends(project, walk, stand, of_walk(walk.name))
    return with_motions(project, [*project.motions, *added]) if added else project


def with_rungs(project: CheckedProject, rungs: Sequence[Rung]) -> CheckedProject:
    """With a motion for every rung of a ladder, its start and its stop, in place of those of the same names."""
    stand = next((m for m in project.motions if isinstance(m, PhaseGait) and m.stands), None)
    added: list[Any] = []
    for rung in rungs:
        added.append(rung.motion)
        if isinstance(rung.motion, Swings):
            added += swung_from_and_to_rest(rung.motion, f" {rung.motion.name.lower()}")
        elif stand is not None and not rung.motion.stands:
            added += start_and_stop(rung.motion, stand, f" {rung.motion.name.lower()}", POSES_S[0])
    names = {m.name for m in added}
    return with_motions(project, [*(m for m in project.motions if m.name not in names), *added])


def sound_ends(project: CheckedProject, walk: PhaseGait, stand: PhaseGait, of: str) -> list[Transition]:
    """A start of the walk from standing and a stop into it in the quickest of POSES_S in which nothing stops either;
    none where something does in each."""
    for pose_s in POSES_S:
        ends = start_and_stop(walk, stand, of, pose_s)
        whole = only_motions(project, walk, stand, *ends)
        if all(evaluate(whole, end.name).sound for end in ends):
            return ends
    return []


def start_and_stop(walk: PhaseGait, stand: PhaseGait, of: str, pose_s: float) -> list[Transition]:
    there, here = MotionAt(motion=walk.name), MotionAt(motion=stand.name)
    return [
        Transition(name=f"Start{of}", start=here, end=there, pose_s=pose_s),
        Transition(name=f"Stop{of}", start=there, end=here, pose_s=pose_s),
    ]
