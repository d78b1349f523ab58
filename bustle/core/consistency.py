"""What single fields of a project cannot see: names that repeat, parts that do not fit, references to nothing."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable

from bustle.core.foot_paths import FOOT_PATHS
from bustle.core.gaits import CUSTOM, GAITS
from bustle.core.limb_consistency import limb_problems
from bustle.core.motion import Motion
from bustle.core.project import MAX_ROWS, Project
from bustle.core.servo.drives import DRIVES
from bustle.core.walker import Drive, JointAngle, Walker

Found = Iterable[tuple[str, str]]

LEGS = (2, 12)


def _repeated(path: str, what: str, names: Iterable[str]) -> Found:
    names = list(names)
    for name, count in Counter(n.casefold() for n in names).items():
        if count > 1:
            last = max(i for i, n in enumerate(names) if n.casefold() == name)
            yield f"{path}[{last}].name", f"two {what} are called {names[last]!r}; each needs its own name"


def inconsistencies(project: Project) -> Found:
    """Everything that single fields cannot see, as (path, sentence)."""
    walker = project.walker
    yield from _repeated("walker.sections", "sections", (s.name for s in walker.sections))
    yield from _repeated("walker.limbs", "legs", (limb.name for limb in walker.limbs))
    yield from _repeated("walker.masses", "masses", (m.name for m in walker.masses))
    yield from _repeated("walker.leads", "leads", (m.name for m in walker.leads))
    yield from _repeated("motions", "motions", (m.name for m in project.motions))
    yield from _repeated("servo_types", "servo types", (s.name for s in project.servo_types))
    legs = len(walker.legs)
    if not LEGS[0] <= legs <= LEGS[1]:
        yield "walker.limbs", f"a walker has {LEGS[0]} to {LEGS[1]} legs that step, got {legs}"
    yield from _section_problems(walker)
    for i, limb in enumerate(walker.limbs):
        yield from limb_problems(f"walker.limbs[{i}]", limb, walker)
    yield from _part_problems(walker)
    yield from _drive_problems(walker, {s.name for s in project.servo_types})
    yield from _measured_problems(walker)
    if walker.folded:
        yield from _angle_problems("walker.folded.joints", walker.folded.joints, walker)
    for i, motion in enumerate(project.motions):
        yield from _motion_problems(f"motions[{i}]", motion, walker)
        rows = motion.cycle_s * 1000 / project.controller.frame_period_ms
        if rows > MAX_ROWS:
            yield (
                f"motions[{i}].cycle_s",
                f"makes {rows:.0f} rows of {project.controller.frame_period_ms:g} ms; a table has at most {MAX_ROWS}",
            )


def _section_problems(walker: Walker) -> Found:
    known: set[str] = set()
    for i, section in enumerate(walker.sections):
        path = f"walker.sections[{i}].hinge"
        if i == 0 and section.hinge:
            yield path, f"{section.name} is the body frame, which hangs on nothing; remove its hinge"
        if i and not section.hinge:
            yield path, f"is missing: how {section.name} hangs on another section"
        if section.hinge:
            if section.hinge.on not in known:
                yield f"{path}.on", f"must be a section listed before {section.name}, got {section.hinge.on!r}"
            if section.hinge.min_deg >= section.hinge.max_deg:
                low, high = section.hinge.min_deg, section.hinge.max_deg
                yield f"{path}.max_deg", f"must be above min_deg, {low:g}, got {high:g}"
        known.add(section.name)


def part_paths(walker: Walker) -> set[str]:
    """Every section and link, by its path."""
    return {s.name for s in walker.sections} | {f"{m.name}/{k.name}" for m in walker.limbs for k in m.links}


def _part_problems(walker: Walker) -> Found:
    parts = part_paths(walker)
    for i, mass in enumerate(walker.masses):
        if mass.on not in parts:
            yield f"walker.masses[{i}].on", f"{mass.on!r} is no section or link of this walker"
    for i, lead in enumerate(walker.leads):
        for n, point in enumerate(lead.path):
            if point.on not in parts:
                yield f"walker.leads[{i}].path[{n}].on", f"{point.on!r} is no section or link of this walker"
    for i, drive in enumerate(walker.drives):
        for n, servo in enumerate(drive.servos):
            if servo.sits_on is not None and servo.sits_on not in parts:
                path = f"walker.drives[{i}].servos[{n}].sits_on"
                yield path, f"{servo.sits_on!r} is no section or link of this walker"


def _drive_problems(walker: Walker, servo_types: set[str]) -> Found:
    joints = {f"{m.name}/{j.name}": j for m in walker.limbs for j in m.joints}
    driven: Counter[str] = Counter()
    for i, drive in enumerate(walker.drives):
        path = f"walker.drives[{i}]"
        yield from _kind_problems(path, drive)
        for n, name in enumerate(drive.joints):
            driven[name] += 1
            if name not in joints:
                yield f"{path}.joints[{n}]", f"{name!r} is no joint of this walker"
            elif driven[name] == 2:
                yield f"{path}.joints[{n}]", f"{name} has a drive already"
            elif joints[name].free:
                yield f"{path}.joints[{n}]", f"{name} is free, so no servo turns it; remove the drive or the freedom"
        for n, servo in enumerate(drive.servos):
            if servo.type not in servo_types:
                yield f"{path}.servos[{n}].type", f"{servo.type!r} is not among servo_types"
    for name in sorted(joints):
        if name not in driven and not joints[name].free:
            yield "walker.drives", f"joint {name} has no drive"


def _kind_problems(path: str, drive: Drive) -> Found:
    kind = DRIVES.get(drive.kind)
    if kind is None:
        yield f"{path}.kind", f"must be one of {', '.join(DRIVES)}, got {drive.kind!r}"
        return
    if (len(drive.servos), len(drive.joints)) != (kind.servos, kind.joints):
        plural = ("servo" if kind.servos == 1 else "servos", "joint" if kind.joints == 1 else "joints")
        yield path, f"a {drive.kind} drive has {kind.servos} {plural[0]} and {kind.joints} {plural[1]}"
    specs = {s.name: s for s in kind.settings}
    for name, value in drive.settings.items():
        spec = specs.get(name)
        if spec is None:
            known = f"has {', '.join(specs)}" if specs else "has no settings"
            yield f"{path}.settings.{name}", f"a {drive.kind} drive {known}"
        elif not spec.low <= value <= spec.high:
            yield f"{path}.settings.{name}", f"must be from {spec.low:g} to {spec.high:g}, got {value:g}"
        elif name == "ratio" and value == 0:
            yield f"{path}.settings.{name}", "must not be 0"


def _measured_problems(walker: Walker) -> Found:
    limbs = {limb.name: limb for limb in walker.limbs}
    for i, measured in enumerate(walker.as_built.limbs):
        path = f"walker.as_built.limbs[{i}]"
        limb = limbs.get(measured.limb)
        if limb is None:
            yield f"{path}.limb", f"{measured.limb!r} is no leg of this walker"
            continue
        links, joints = {k.name for k in limb.links}, {j.name for j in limb.joints}
        for name in set(measured.link_length_mm) - links:
            yield f"{path}.link_length_mm.{name}", f"leg {limb.name} has no link {name!r}"
        for name in set(measured.joint_zero_deg) - joints:
            yield f"{path}.joint_zero_deg.{name}", f"leg {limb.name} has no joint {name!r}"
        for name in set(measured.joint_play_deg) - joints:
            yield f"{path}.joint_play_deg.{name}", f"leg {limb.name} has no joint {name!r}"


def _angle_problems(path: str, angles: tuple[JointAngle, ...], walker: Walker, idle_only: bool = False) -> Found:
    limbs = {limb.name: limb for limb in walker.limbs}
    seen: set[tuple[str, str]] = set()
    for n, angle in enumerate(angles):
        limb = limbs.get(angle.limb)
        if limb is None:
            yield f"{path}[{n}].limb", f"{angle.limb!r} is no limb of this walker"
        elif angle.joint not in {j.name for j in limb.joints}:
            yield f"{path}[{n}].joint", f"{angle.limb} has no joint {angle.joint!r}"
        elif idle_only and limb.steps:
            yield f"{path}[{n}].limb", f"{angle.limb} steps, so its joints follow from its foot"
        elif (angle.limb, angle.joint) in seen:
            yield f"{path}[{n}].joint", f"{angle.limb} {angle.joint} is set twice"
        seen.add((angle.limb, angle.joint))


def _motion_problems(path: str, motion: Motion, walker: Walker) -> Found:
    if motion.foot_path not in FOOT_PATHS:
        yield f"{path}.foot_path", f"must be one of {', '.join(FOOT_PATHS)}, got {motion.foot_path!r}"
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
    for name in stepping:
        if name not in have:
            yield f"{path}.legs", f"leg {name} has no phase and duty"
    moving = any((motion.twist.vx_mm_s, motion.twist.vy_mm_s, motion.twist.omega_deg_s))
    for n, leg in enumerate(motion.legs):
        limb = stepping.get(leg.limb)
        planted = limb is None or limb.feet[0].contact.kind == "planted"
        if leg.duty == 1 and moving and planted:
            yield (
                f"{path}.legs[{n}].duty",
                f"leg {leg.limb} never lifts (duty 1) but the body moves; lower its duty or set the twist to 0",
            )
    yield from _angle_problems(f"{path}.joints", motion.joints, walker, idle_only=True)
    hinges = {s.name: s.hinge for s in walker.sections if s.hinge}
    for n, bend in enumerate(motion.pose.bends):
        hinge = hinges.get(bend.section)
        if hinge is None:
            yield f"{path}.pose.bends[{n}].section", f"{bend.section!r} is no hinged section of this frame"
        elif not hinge.min_deg <= bend.angle_deg <= hinge.max_deg:
            yield (
                f"{path}.pose.bends[{n}].angle_deg",
                f"must be from {hinge.min_deg:g} to {hinge.max_deg:g}, got {bend.angle_deg:g}",
            )
