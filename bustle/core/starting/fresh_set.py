"""The set of motions of a machine, made from the machine alone: whatever walks it has are left out of account.

Two legs walk by their timing as their soles and ankles let them; more legs by the gait that builders start such a
machine with, four a trot besides, six a slower walk. With a start and a stop, each whose rows cannot be mixed
with another's.
"""

from __future__ import annotations

from contextlib import suppress
from dataclasses import replace
from math import cos, radians

from bustle.core.at_rest.posed_joints import centred_joints
from bustle.core.at_rest.resting_height import resting_height_mm
from bustle.core.document.checked import CheckedProject, parse_project
from bustle.core.dry_run.dry_run import dry_run
from bustle.core.edits.patches import only_motions, patched
from bustle.core.edits.patches import replace as replace_value
from bustle.core.evaluate import evaluate
from bustle.core.falling.pushing_point import heads, keeps_flat_sideways, on_broad_soles, rolls, sole_length_mm
from bustle.core.judge.judgements.balance.into_the_slope import uphill_shifts
from bustle.core.judge.judgements.ground.scuffing import feet_brought_along
from bustle.core.judge.judgements.joints.out_of_reach import as_its_legs_stand
from bustle.core.judge.judgements.machine.collision import soles_brought_apart
from bustle.core.kinds.gaits import CUSTOM, Gait
from bustle.core.kinds.gaits.in_turn import cycle_in_turn_s, duty_in_turn, phases_in_turn
from bustle.core.loads.held_by_supports import legs_half_mm
from bustle.core.project.motion import LegTiming, Motion, PhaseGait, Pose
from bustle.core.project.project import document
from bustle.core.search.motion_set import fitting, motion_set, set_of, template, usual
from bustle.core.search.progress import Tell, silent
from bustle.core.starting.building_blocks import (
    AHEAD_AND_BACK,
    ANY_TROT,
    KEPT_LEVEL,
    ON_A_BOOM,
    ROLLING,
    SLOWLY,
    SWUNG,
    THROWN,
    TROTS,
    crawls_held,
)
from bustle.core.starting.crawls import WAYS, crawls
from bustle.core.starting.starting_walkers import LEG_LENGTH_MM
from bustle.core.starting.timed_walks import (
    held_at_least,
    what_stops,
    with_motions,
    with_start_and_stop,
    with_starts_of_other_orders,
    with_swings,
    with_timed,
)
from bustle.core.starting.trot_tempo import with_trot
from bustle.core.words.problems import InputRefused, refuse

# Links may come to so much less, or more, than the length that a machine was begun with.
AS_TOLD = 0.1
# What does not reach its pose is tried in such shares of its height.
LOWER = (1.0, 0.97, 0.94, 0.91, 0.88, 0.84, 0.8, 0.75, 0.7)
HIGHER = (1.05, 1.1, 1.16, 1.22, 1.3, 1.4, 1.5, 1.65, 1.8, 2.0, 2.3, 2.6)
# Legs that miss by more do not reach.
MISS_MM = 0.1
# With knees bent so far a leg has reach in hand.
CROUCH = 0.97
# Soles stand so far apart, as a share of their length.
ROOM_TO_TURN = 0.06
# A leg points straight out to its side to so much of a right angle's cosine.
ASIDE = 0.05


def renewed(project: CheckedProject, tell: Tell = silent) -> CheckedProject:
    """The project with these motions in place of all its own; what names one that is gone is gone too. Raises
    InputRefused with the reason where it walks in no way."""
    values, was = document(fresh_set(project, tell)), document(project)
    names = {motion["name"] for motion in values["motions"]}
    start_up = was.get("start_up", {})
    values["start_up"] = {k: v for k, v in start_up.items() if k not in ("pose", "fail_safe") or v in names}
    values["controls"] = [c for c in was.get("controls", []) if c["does"] == "axis" or c["target"] in names]
    values["walked"] = [w for w in was.get("walked", []) if w["motion"] in names]
    return parse_project(values)


def fresh_set(project: CheckedProject, tell: Tell = silent) -> CheckedProject:
    """The project with the motions of its set alone. Raises InputRefused with the reason where it walks in no way."""
    legs = project.walker.legs
    length = max(sum(link.length_mm for link in leg.links) for leg in legs)
    # Walks of these kinds were tried on no others.
    low, high = LEG_LENGTH_MM
    if not low * (1 - AS_TOLD) <= length <= high * (1 + AS_TOLD):
        raise refuse("walker.limbs", f"legs are {length:.0f} mm long; walks are made for {low:.0f} to {high:.0f} mm")
    own = stand_of(project)
    try:
        return _standing_so(project, own, length, tell)
    except InputRefused:
        # As after legs were changed for another kind: what reaches where it stands may reach no further.
        other = _with_most_room(project, own)
        if other is None:
            raise
        with suppress(InputRefused):
            return _standing_so(project, other, length, tell)
        raise


def _standing_so(project: CheckedProject, stand: PhaseGait, length: float, tell: Tell) -> CheckedProject:
    legs = project.walker.legs
    standing = only_motions(project, stand)
    # Legs that cannot choose how they stand stand as they are built, and feet are asked for where legs put them.
    for brought in (as_its_legs_stand, feet_brought_along):
        standing = patched(standing, brought(evaluate(standing, standing.motions[0].name, 2).reading))
    standing = _with_room_to_turn(standing)
    alone = len(legs) == 2 and not any(limb.passive for limb in project.walker.limbs)
    swung = SWUNG.get(legs[0].family)
    if alone and swung and legs[1].family == legs[0].family:
        left, right = sorted(legs, key=lambda leg: -leg.mount.at_mm[1])
        standing = _held(standing, "static")
        if not evaluate(standing, standing.motions[0].name).sound:
            raise _nothing_walks(standing)
        for swinging in swung(left.name, right.name):
            standing = with_swings(standing, swinging, length)
        for walk in standing.motions:
            against = [f for f in evaluate(standing, walk.name).findings if f.severity == "stop"]
            if against:
                raise refuse("walker", f"nothing walks: {walk.name}: {against[0].message}")
        return standing
    made = _two(standing, length) if alone else _more(standing, length, tell)
    return with_starts_of_other_orders(with_start_and_stop(made))


def _with_room_to_turn(standing: CheckedProject) -> CheckedProject:
    """With soles so far apart that they may turn a little beside each other, where its legs can stand so."""
    name = standing.motions[0].name
    r = evaluate(standing, name, 2).reading
    apart = soles_brought_apart(r, ROOM_TO_TURN * sole_length_mm(r))
    wider = patched(standing, apart)
    return wider if apart and evaluate(wider, name, 2).sound else standing


def _nothing_walks(standing: CheckedProject, why: str = "") -> InputRefused:
    """For what stops it where it stands, else for what stops its walk."""
    plan = evaluate(standing, standing.motions[0].name)
    said = next((finding.message for finding in plan.findings if finding.severity == "stop"), why)
    return refuse("walker", f"nothing walks: {said or 'at every stride and height something stops it'}")


def stand_of(project: CheckedProject) -> PhaseGait:
    """How it stands: in its own standing pose, or lower or higher where its legs do not take that, as after a link was
    made shorter or with another kind of leg; else as its servos are centred, a little lower."""
    own = next((m for m in project.motions if isinstance(m, PhaseGait) and m.stands), None)
    if own:
        others = (_riding(own, share) for share in (*LOWER, *HIGHER))
        return next((stand for stand in others if _reaches(project, stand)), own)
    walker = project.walker
    joints = centred_joints(walker)
    # Legs that tip and swing stand as tall as they are.
    crouch = 1.0 if walker.legs[0].family in SWUNG else CROUCH
    ride = float(resting_height_mm(walker, joints[None], {})[0]) * crouch
    length = max(sum(link.length_mm for link in leg.links) for leg in walker.legs)
    stand = _standing(project, ride, length)
    if any(limb.passive for limb in walker.limbs):
        low = evaluate(only_motions(project, stand), stand.name, 2).reading
        touch = float(low.course.feet_ground_mm[low.kit.supports, 0, 2].min())
        stand = _standing(project, ride - touch, length)
        beside = evaluate(only_motions(project, stand), stand.name, 2).reading
        stand = _standing(project, ride - touch + beside.of(legs_half_mm), length)
    return stand


def _with_most_room(project: CheckedProject, own: PhaseGait) -> PhaseGait | None:
    """As high as its joints have most room to both sides; None where that is as high as it stands."""
    room = {}
    for share in (*LOWER, *HIGHER):
        stand = _riding(own, share)
        r = evaluate(only_motions(project, stand), stand.name, 2).reading
        if r.course.solved.miss_mm.max() < MISS_MM:
            # Arms and heads are held as they are, however high it stands.
            of_legs = (
                (joint, at) for joint, at in zip(r.kit.joints, r.angles[0].tolist(), strict=True) if joint.limb.steps
            )
            room[share] = min(min(at - joint.low, joint.high - at) for joint, at in of_legs)
    best = max(room, key=lambda share: room[share], default=1.0)
    return None if best == 1.0 else _riding(own, best)


def _into_the_slope(standing: CheckedProject) -> CheckedProject:
    """What falls by where its mass is stands uphill on a floor that slopes, as far as its legs go."""
    (stand,) = standing.motions
    assert isinstance(stand, PhaseGait)
    for shift in uphill_shifts(evaluate(standing, stand.name, 2).reading, stand):
        leaning = patched(standing, [replace_value("/motions/0/pose/shift_mm", shift)])
        if evaluate(leaning, stand.name, 2).sound:
            return leaning
    return standing


def _riding(stand: PhaseGait, share: float) -> PhaseGait:
    if share == 1.0:
        return stand
    pose = stand.pose.model_copy(update={"ride_height_mm": round(stand.pose.ride_height_mm * share, 1)})
    return stand.model_copy(update={"pose": pose})


def _reaches(project: CheckedProject, stand: PhaseGait) -> bool:
    found = evaluate(only_motions(project, stand), stand.name, 2).findings_among(("F15", "F17"))
    return all(finding.severity != "stop" for finding in found)


def _standing(project: CheckedProject, ride_mm: float, length: float) -> PhaseGait:
    return PhaseGait(
        name="Stand",
        gait=CUSTOM,
        legs=tuple(LegTiming(limb=leg.name, phase=0.0, duty=1.0) for leg in project.walker.legs),
        cycle_s=2.0,
        foot_path="cycloid",
        lift_mm=round(0.1 * length, 1),
        pose=Pose(ride_height_mm=round(ride_mm, 2)),
        balance="dynamic" if any(leg.feet[0].sole.kind == "curved" for leg in project.walker.legs) else "static",
    )


def _two(standing: CheckedProject, length: float) -> CheckedProject:
    standing = _into_the_slope(standing)
    r = evaluate(standing, standing.motions[0].name, 2).reading
    if not on_broad_soles(r):
        raise refuse(
            "walker.limbs", "two legs without flat soles have no walk that is made here; tell its joints' swings"
        )
    if not evaluate(standing, standing.motions[0].name).sound:
        # Every walk begins and ends there.
        raise _nothing_walks(standing)
    held = standing.walker.held != "free"
    turns = not held and heads(r)
    if held:
        timed = ON_A_BOOM
    elif keeps_flat_sideways(r):
        timed = ROLLING
    elif not rolls(r):
        if not any(limb.joints and not limb.feet for limb in standing.walker.limbs):
            raise refuse("walker.limbs", "its legs cannot shift its weight sideways, and it has no mass to throw")
        timed = THROWN
    else:
        timed = KEPT_LEVEL
    timed = timed if turns else replace(timed, ways=AHEAD_AND_BACK)
    made = with_timed(standing, timed, length)
    if not any(isinstance(m, PhaseGait) and _goes(m) for m in made.motions):
        raise _nothing_walks(standing, what_stops(standing, timed, length))
    return made


def _more(standing: CheckedProject, length: float, tell: Tell) -> CheckedProject:
    stand = standing.motions[0]
    assert isinstance(stand, PhaseGait)
    legs, fits = len(standing.walker.legs), {gait.name: gait for gait in fitting(standing)}
    standing = _held(standing)
    trots: list[Motion] = []
    # Casters carry what a trot would fall by, and its feet push too far.
    if legs == 4 and "trot" in fits and not any(limb.passive for limb in standing.walker.limbs):
        quick = with_trot(_into_the_slope(standing), TROTS.get(standing.walker.legs[0].family, ANY_TROT), length, tell)
        trots = [m for m in quick.motions if m.name != stand.name]
        # As the trot asks, the others are held too.
        standing = standing.model_copy(update={"against_sag": quick.against_sag})
    # Where the usual gait does not walk, as between casters, another may.
    first = usual(standing)
    names = [name for name in dict.fromkeys((first, "trot", "tripod", "wave")) if name in fits]
    why = ""
    for start in [template(standing, fits[name]) for name in names] or [_in_turn(standing, stand)]:
        found = set_of(standing, start, tell=tell)
        made = found.kept_in(standing)
        falls = _falls(made) if start.balance == "dynamic" else ""
        why = why or next((one.reason for one in found.left_out if one.name == "Forward"), falls)
        if not falls and any(isinstance(m, PhaseGait) and _goes(m) for m in made.motions):
            break
    else:
        timing = template(standing, fits[first]) if first in fits else _in_turn(standing, stand)
        led = crawls(standing, timing, length)
        if not led:
            raise _nothing_walks(standing, why)
        made = with_motions(standing, [*led, stand])
    if trots:
        stands = [m for m in made.motions if isinstance(m, PhaseGait) and m.stands]
        made = with_motions(made, [*(m for m in made.motions if m not in stands), *trots, *stands])
    slow = next((g for g in fitting(standing) if g.name in ("ripple", "wave")), None)
    if legs == 6 and slow:
        ahead = _slowly(standing, slow, made, length)
        made = with_motions(made, [*made.motions, *(m.model_copy(update={"name": SLOWLY}) for m in ahead)])
    return made


def _slowly(standing: CheckedProject, slow: Gait, made: CheckedProject, length: float) -> list[PhaseGait]:
    """Its walk ahead with more feet down, led by its legs where they lead those made so far."""
    if any(isinstance(m, PhaseGait) and m.travel == "implied" for m in made.motions):
        return crawls(standing, template(standing, slow), length, WAYS[:1])
    walks = motion_set(standing, slow.name).made
    return [m.motion for m in walks if m.motion.name == "Forward"][:1]


def _falls(made: CheckedProject) -> str:
    """What becomes of its walk ahead in a dry run, where any machine of it falls; nothing where none does."""
    if "Forward" not in {motion.name for motion in made.motions}:
        return ""
    runs = dry_run(with_start_and_stop(made), "Forward", until_one_falls=True)
    return next((f"Forward {run.sentence}" for run in runs if run.fell_s is not None), "")


def _held(standing: CheckedProject, needed: str = "") -> CheckedProject:
    """Against sag, as it is needed, else as its legs need it, or more where it was. Casters beside legs of two joints
    carry what those would give under."""
    legs = standing.walker.legs
    if not needed:
        aside = all(abs(cos(radians(leg.mount.yaw_deg))) < ASIDE for leg in legs)
        carried = legs[0].family == "sprawled_2" and any(limb.passive for limb in standing.walker.limbs)
        needed = "off" if carried else crawls_held(legs[0].family, len(legs), aside)
    return standing.model_copy(update={"against_sag": held_at_least(standing.against_sag, needed)})


def _goes(walk: PhaseGait) -> bool:
    return bool(walk.twist.vx_mm_s or walk.twist.vy_mm_s)


def _in_turn(standing: CheckedProject, stand: PhaseGait) -> PhaseGait:
    """Of legs in places that no gait is told for."""
    legs = standing.walker.legs
    duty = duty_in_turn(len(legs))
    timing = zip(legs, phases_in_turn([leg.mount.at_mm[:2] for leg in legs]), strict=True)
    turns = tuple(LegTiming(limb=leg.name, phase=phase, duty=duty) for leg, phase in timing)
    return stand.model_copy(update={"legs": turns, "cycle_s": cycle_in_turn_s(len(legs)), "balance": "static"})
