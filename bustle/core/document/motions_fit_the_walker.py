"""What motions say that does not fit the walker or each other."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterable, Iterator
from itertools import islice, pairwise
from typing import Any

from bustle.core.document.rows_of_motions import too_many_rows, too_many_rows_in_all
from bustle.core.kinds.foot_paths import FOOT_PATHS
from bustle.core.kinds.gaits import CUSTOM, GAITS
from bustle.core.project.kept_by_identity import KeptByIdentity
from bustle.core.project.motion import (
    ArmMove,
    FreeWalk,
    JointPose,
    Keyframes,
    PhaseGait,
    Portion,
    Pose,
    Programme,
    Swings,
    Transition,
)
from bustle.core.project.project import Project
from bustle.core.project.walker import JointAngle, Walker
from bustle.core.words.problems import MOST_PROBLEMS

Found = Iterator[tuple[str, str]]

NONE: frozenset[str] = frozenset()

# Motions that name no other: what is wrong with one lies between it and the walker.
_known: KeptByIdentity[tuple[tuple[str, str], ...]] = KeptByIdentity(256)


def motion_problems(project: Project) -> Found:
    """Field path and sentence of everything that does not fit."""
    walker = project.walker
    known = {m.name for m in project.motions}
    for field, name in (("pose", project.start_up.pose), ("fail_safe", project.start_up.fail_safe)):
        if name is not None and name not in known:
            yield f"start_up.{field}", f"no motion is called {name!r}"
    for n, walked in enumerate(project.walked):
        if walked.motion not in known:
            yield f"walked[{n}].motion", f"no motion is called {walked.motion!r}"
    joints = {f"{m.name}/{j.name}" for m in walker.limbs for j in m.joints if not m.steps}
    taken: set[tuple[str, str, bool]] = set()
    for n, control in enumerate(project.controls):
        if control.does == "motion" and control.target not in known:
            yield f"controls[{n}].target", f"no motion is called {control.target!r}"
        if control.does == "axis" and control.target not in joints:
            free = ", ".join(sorted(joints)) or "none: no head or arm has any"
            yield f"controls[{n}].target", f"must be a joint of a head or an arm ({free}), got {control.target!r}"
        key = (control.mode, control.input, control.shift)
        if key in taken:
            yield f"controls[{n}].input", f"{control.input} does something else in {control.mode} already"
        taken.add(key)
    yield from too_many_rows_in_all(project)
    for i in range(len(project.motions)):
        yield from problems_of_motion(project, i)


def problems_of_motion(project: Project, index: int) -> Found:
    """What one motion says that does not fit."""
    motion = project.motions[index]
    yield from too_many_rows(project, index)
    path, check = f"motions[{index}]", CHECKERS[motion.kind]
    if motion.kind not in OF_OTHERS:
        found = _known.of((project.walker, motion), lambda: tuple(islice(check(project, "", motion), MOST_PROBLEMS)))
        yield from ((path + where, said) for where, said in found)
    else:
        yield from check(project, path, motion)


def angle_problems(
    path: str, angles: tuple[JointAngle, ...], walker: Walker, idle_only: bool = False, held: frozenset[str] = NONE
) -> Found:
    limbs = {limb.name: limb for limb in walker.limbs}
    seen: set[tuple[str, str]] = set()
    for n, angle in enumerate(angles):
        limb = limbs.get(angle.limb)
        if limb is None:
            yield f"{path}[{n}].limb", f"{angle.limb!r} is no limb of this walker"
        elif angle.joint not in {j.name for j in limb.joints}:
            yield f"{path}[{n}].joint", f"{angle.limb} has no joint {angle.joint!r}"
        elif idle_only and limb.steps and limb.name not in held:
            yield f"{path}[{n}].limb", f"{angle.limb} steps, so its joints follow from its foot"
        elif (angle.limb, angle.joint) in seen:
            yield f"{path}[{n}].joint", f"{angle.limb} {angle.joint} is set twice"
        seen.add((angle.limb, angle.joint))


def _gait_problems(project: Project, path: str, motion: PhaseGait) -> Found:
    walker = project.walker
    yield from _path_problems(path, motion)
    if motion.gait not in GAITS and motion.gait != CUSTOM:
        yield f"{path}.gait", f"must be {CUSTOM} or one of {', '.join(GAITS)}, got {motion.gait!r}"
    have = [leg.limb for leg in motion.legs]
    for name, count in Counter(have).items():
        if count > 1:
            yield f"{path}.legs", f"leg {name} is timed twice"
    stepping = {limb.name: limb for limb in walker.legs}
    names = {limb.name for limb in walker.limbs}
    for n, leg in enumerate(motion.legs):
        if leg.limb not in names:
            yield f"{path}.legs[{n}].limb", f"{leg.limb!r} is no leg of this walker"
        elif leg.limb not in stepping:
            yield f"{path}.legs[{n}].limb", f"{leg.limb} does not step, so it has no phase and duty"
    for n, name in enumerate(leg.limb for leg in motion.held):
        if name not in stepping:
            yield f"{path}.held[{n}].limb", f"{name!r} is no leg of this walker"
        elif name in have:
            yield f"{path}.held[{n}].limb", f"leg {name} is held and has a phase and duty; take one away"
        elif name in {other.limb for other in motion.held[:n]}:
            yield f"{path}.held[{n}].limb", f"leg {name} is held twice"
    for name in stepping:
        if name not in have and name not in motion.held_legs:
            yield f"{path}.legs", f"leg {name} has no phase and duty"
    if stepping and motion.held_legs >= set(stepping) and not any(limb.passive for limb in walker.limbs):
        yield f"{path}.held", "no feet are down: every leg is held; let one take part"
    for n, leg in enumerate(motion.legs):
        limb = stepping.get(leg.limb)
        planted = limb is None or limb.feet[0].contact.kind == "planted"
        if leg.duty == 1 and motion.moves and planted:
            yield (
                f"{path}.legs[{n}].duty",
                f"leg {leg.limb} never lifts (duty 1) but the body moves; lower its duty or set the twist to 0",
            )
    yield from angle_problems(f"{path}.joints", motion.joints, walker, True, motion.held_legs)
    yield from _arm_problems(f"{path}.moves_of_arms", motion.moves_of_arms, walker)
    yield from _bend_problems(f"{path}.pose", motion.pose, walker)


def _arm_problems(path: str, moves: tuple[ArmMove, ...], walker: Walker) -> Found:
    """A joint may move several times a cycle, one move after another."""
    for n, move in enumerate(moves):
        asked = JointAngle(limb=move.limb, joint=move.joint, value=move.to)
        yield from ((f"{path}[{n}]{where.removeprefix('[0]')}", said)
                    for where, said in angle_problems("", (asked,), walker, idle_only=True))  # fmt: skip
        for other in moves[:n]:
            if (other.limb, other.joint) == (move.limb, move.joint) and _overlap(other, move):
                yield (
                    f"{path}[{n}].at",
                    f"{move.limb} {move.joint} is still under way at {move.at:g} of the cycle; move it once it is back",
                )
                break


def _overlap(one: ArmMove, other: ArmMove) -> bool:
    """Whether one begins before the other is back."""

    def inside(later: ArmMove, earlier: ArmMove) -> bool:
        return (later.at - earlier.at) % 1.0 < (earlier.back_at - earlier.at) % 1.0 + earlier.takes - 1e-9

    return inside(one, other) or inside(other, one)


def _joint_pose_problems(project: Project, path: str, motion: JointPose) -> Found:
    yield from angle_problems(f"{path}.joints", motion.joints, project.walker)


def _swings_problems(project: Project, path: str, motion: Swings) -> Found:
    """Each swing of a joint by itself: a joint may have several, at several times a cycle."""
    seen: set[tuple[str, str, int]] = set()
    for n, swing in enumerate(motion.joints):
        asked = JointAngle(limb=swing.limb, joint=swing.joint, value=swing.middle)
        yield from ((f"{path}.joints[{n}]{where.removeprefix('[0]')}", said)
                    for where, said in angle_problems("", (asked,), project.walker))  # fmt: skip
        key = (swing.limb, swing.joint, swing.times)
        if key in seen:
            yield f"{path}.joints[{n}].times", f"{swing.limb} {swing.joint} swings {swing.times} times a cycle twice"
        seen.add(key)


def _path_problems(path: str, motion: PhaseGait) -> Found:
    known = ", ".join(FOOT_PATHS)
    if motion.foot_path not in FOOT_PATHS:
        yield f"{path}.foot_path", f"must be one of {known}, got {motion.foot_path!r}"
        return
    for n, leg in enumerate(motion.legs):
        if leg.foot_path is not None and leg.foot_path not in FOOT_PATHS:
            yield f"{path}.legs[{n}].foot_path", f"must be one of {known}, got {leg.foot_path!r}"
            return
    used = [
        FOOT_PATHS[name] for name in {motion.foot_path, *(leg.foot_path or motion.foot_path for leg in motion.legs)}
    ]
    most = max(p.most_points for p in used)
    if len(motion.swing.points) > most:
        takes = f"takes {most}" if most else "takes no points"
        yield f"{path}.swing.points", f"a {used[0].label.lower()} {takes}, got {len(motion.swing.points)}"
    if motion.swing.landing_mm_s and not motion.swing.matched and not all(p.smooth for p in used):
        hard = next(p for p in used if not p.smooth)
        yield (
            f"{path}.swing.landing_mm_s",
            f"a {hard.label.lower()} lands at its own speed; choose a smooth path or match it to the ground",
        )


def _bend_problems(path: str, pose: Pose, walker: Walker) -> Found:
    hinges = {s.name: s.hinge for s in walker.sections if s.hinge}
    for n, bend in enumerate(pose.bends):
        hinge = hinges.get(bend.section)
        if hinge is None:
            yield f"{path}.bends[{n}].section", f"{bend.section!r} is no hinged section of this frame"
        elif hinge.turned_by:
            yield (
                f"{path}.bends[{n}].section",
                f"{bend.section} is turned by {hinge.turned_by}; hold or move that joint",
            )
        elif not hinge.min_deg <= bend.angle_deg <= hinge.max_deg:
            low, high = hinge.min_deg, hinge.max_deg
            yield f"{path}.bends[{n}].angle_deg", f"must be from {low:g} to {high:g}, got {bend.angle_deg:g}"


def _keyframe_problems(project: Project, path: str, motion: Keyframes) -> Found:
    walker = project.walker
    stepping = {limb.name for limb in walker.legs}
    names = {limb.name for limb in walker.limbs}
    for n, frame in enumerate(motion.frames):
        here = f"{path}.frames[{n}]"
        for k, foot in enumerate(frame.feet):
            if foot.limb not in stepping:
                yield f"{here}.feet[{k}].limb", f"{foot.limb!r} is no leg of this walker"
        if len({f.limb for f in frame.feet}) < len(frame.feet):
            yield f"{here}.feet", "a foot is placed twice"
        for k, ease in enumerate(frame.ease):
            if ease.limb not in names:
                yield f"{here}.ease[{k}].limb", f"{ease.limb!r} is no limb of this walker"
        yield from angle_problems(f"{here}.joints", frame.joints, walker, idle_only=True)
        yield from _bend_problems(f"{here}.pose", frame.pose, walker)
    if motion.repeats and len(motion.frames) > 1 and not sum(f.move_s + f.hold_s for f in motion.frames):
        yield f"{path}.frames", "the frames take no time at all"


def _named_problems(project: Project, path: str, name: str) -> Found:
    motion = next((m for m in project.motions if m.name == name), None)
    if motion is None:
        yield path, f"no motion is called {name!r}"
    elif isinstance(motion, (Transition, Programme, FreeWalk)):
        yield path, f"{name} is itself made of motions; name those instead"
    elif not any(isinstance(m, PhaseGait) for m in project.motions):
        yield path, "needs a gait or a standing pose among the motions, from which it knows how the walker stands"


def _transition_problems(project: Project, path: str, motion: Transition) -> Found:
    yield from _named_problems(project, f"{path}.start.motion", motion.start.motion)
    yield from _named_problems(project, f"{path}.end.motion", motion.end.motion)
    yield from _sides_problems(project, path, (motion.start.motion, motion.end.motion))


def _free_walk_problems(project: Project, path: str, motion: FreeWalk) -> Found:
    like = next((m for m in project.motions if m.name == motion.like), None)
    if like is None:
        yield f"{path}.like", f"no motion is called {motion.like!r}"
    elif not isinstance(like, PhaseGait):
        yield f"{path}.like", f"{motion.like} is no gait, so it has no steps to make others like"
    elif like.inverted or like.held or any(leg.duty == 1 for leg in like.legs):
        what = (
            "walks upside down" if like.inverted else f"has legs that {'take no part' if like.held else 'never lift'}"
        )
        yield f"{path}.like", f"{motion.like} {what}; name a walk whose legs all lift"
    if len(project.walker.legs) < 4:
        yield path, "legs lift by the rule where three others stand, so it takes four legs or more"
    times = [way.from_s for way in motion.ways]
    if any(later <= earlier for earlier, later in pairwise(times)):
        yield f"{path}.ways", "must come one after another in time"


def _sides_problems(project: Project, path: str, names: Iterable[str]) -> Found:
    motions = {m.name: m for m in project.motions}
    known = [motions[name] for name in names if name in motions]
    over = [m.name for m in known if isinstance(m, PhaseGait) and m.inverted]
    if over and len(over) < len(known):
        other = next(m.name for m in known if m.name not in over)
        yield path, f"{over[0]} goes upside down and {other} does not; turn the walker over by hand between the two"


def _programme_problems(project: Project, path: str, motion: Programme) -> Found:
    yield from _sides_problems(project, path, (part.motion for part in motion.parts))
    for n, part in enumerate(motion.parts):
        here = f"{path}.parts[{n}]"
        wrong = list(_named_problems(project, f"{here}.motion", part.motion))
        yield from wrong
        if not wrong:
            yield from _amount_problems(project, here, part)


def _amount_problems(project: Project, path: str, part: Portion) -> Found:
    motion = project.motion(part.motion)
    if isinstance(motion, PhaseGait):
        twist = motion.twist
        if part.by == "distance_mm" and not (twist.vx_mm_s or twist.vy_mm_s):
            yield f"{path}.by", f"{motion.name} covers no distance; say it in cycles, a turn or seconds"
        if part.by == "turn_deg" and not twist.omega_deg_s:
            yield f"{path}.by", f"{motion.name} does not turn; say it in cycles, a distance or seconds"
    elif isinstance(motion, JointPose) and part.by != "seconds":
        yield f"{path}.by", f"{motion.name} is a pose; say for how many seconds"
    elif isinstance(motion, Keyframes) and part.by != "cycles":
        yield f"{path}.by", f"{motion.name} is a set of keyframes; say how many times"
    elif isinstance(motion, Swings) and part.by in ("distance_mm", "turn_deg"):
        yield f"{path}.by", f"how far {motion.name} goes its swings decide; say it in cycles or seconds"


# Kinds of motions that are made of others, or like another.
OF_OTHERS = frozenset({"transition", "programme", "free_walk"})

# By kind: checker(project, path, motion) → what does not fit.
CHECKERS: dict[str, Callable[[Project, str, Any], Found]] = {
    "phase_gait": _gait_problems,
    "joint_pose": _joint_pose_problems,
    "swings": _swings_problems,
    "keyframes": _keyframe_problems,
    "transition": _transition_problems,
    "programme": _programme_problems,
    "free_walk": _free_walk_problems,
}
