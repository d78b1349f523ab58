"""What single fields of a project cannot see: names that repeat, parts that do not fit, references to nothing."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable

from bustle.core.foot_paths import FOOT_PATHS
from bustle.core.gaits import CUSTOM, GAITS
from bustle.core.legs import FAMILIES
from bustle.core.project import MAX_ROWS, Limb, Motion, Project, Walker
from bustle.core.servo.drives import DRIVES


def _repeated(path: str, what: str, names: Iterable[str]) -> Iterable[tuple[str, str]]:
    names = list(names)
    for name, count in Counter(n.casefold() for n in names).items():
        if count > 1:
            last = max(i for i, n in enumerate(names) if n.casefold() == name)
            yield f"{path}[{last}].name", f"two {what} are called {names[last]!r}; each needs its own name"


def inconsistencies(project: Project) -> Iterable[tuple[str, str]]:
    """Everything that single fields cannot see, as (path, sentence)."""
    walker = project.walker
    yield from _repeated("walker.limbs", "legs", (limb.name for limb in walker.limbs))
    yield from _repeated("walker.masses", "masses", (m.name for m in walker.masses))
    yield from _repeated("motions", "motions", (m.name for m in project.motions))
    yield from _repeated("servo_types", "servo types", (s.name for s in project.servo_types))
    for i, limb in enumerate(walker.limbs):
        yield from _limb_problems(f"walker.limbs[{i}]", limb, walker)
    yield from _reference_problems(walker, {s.name for s in project.servo_types})
    for i, motion in enumerate(project.motions):
        yield from _motion_problems(f"motions[{i}]", motion, walker)
        rows = motion.cycle_s * 1000 / project.controller.frame_period_ms
        if rows > MAX_ROWS:
            yield (
                f"motions[{i}].cycle_s",
                f"makes {rows:.0f} rows of {project.controller.frame_period_ms:g} ms; a table has at most {MAX_ROWS}",
            )


def _limb_problems(path: str, limb: Limb, walker: Walker) -> Iterable[tuple[str, str]]:
    if limb.section not in {s.name for s in walker.sections}:
        yield (
            f"{path}.section",
            f"leg {limb.name} sits on {limb.section!r}, which is no section of this frame",
        )
    family = FAMILIES.get(limb.family)
    if family is None:
        yield f"{path}.family", f"must be one of {', '.join(FAMILIES)}, got {limb.family!r}"
        return
    if limb.branch not in family.branches:
        yield f"{path}.branch", f"must be one of {', '.join(family.branches)}, got {limb.branch!r}"
    for kind, have, want in (
        ("joints", [j.name for j in limb.joints], [j.name for j in family.joints]),
        ("links", [k.name for k in limb.links], [k.name for k in family.links]),
    ):
        if have != want:
            yield (
                f"{path}.{kind}",
                f"a {family.label} leg has {', '.join(want)} in this order, got {', '.join(have) or 'none'}",
            )
    for n, (link, spec) in enumerate(zip(limb.links, family.links, strict=False)):
        if link.length_mm == 0 and not spec.may_be_zero:
            yield f"{path}.links[{n}].length_mm", f"must be above 0, got 0 (leg {limb.name}, {link.name})"
    for n, joint in enumerate(limb.joints):
        if joint.min_deg >= joint.max_deg:
            yield (
                f"{path}.joints[{n}].max_deg",
                f"must be above min_deg, {joint.min_deg:g}, got {joint.max_deg:g} (leg {limb.name}, {joint.name})",
            )


def _reference_problems(walker: Walker, servo_types: set[str]) -> Iterable[tuple[str, str]]:
    limbs = {limb.name: limb for limb in walker.limbs}
    parts = {s.name for s in walker.sections} | {f"{m.name}/{k.name}" for m in walker.limbs for k in m.links}
    joints = {f"{m.name}/{j.name}" for m in walker.limbs for j in m.joints}
    for i, mass in enumerate(walker.masses):
        if mass.on not in parts:
            yield f"walker.masses[{i}].on", f"{mass.on!r} is no section or link of this walker"
    driven: Counter[str] = Counter()
    for i, drive in enumerate(walker.drives):
        path = f"walker.drives[{i}]"
        kind = DRIVES.get(drive.kind)
        if kind is None:
            yield f"{path}.kind", f"must be one of {', '.join(DRIVES)}, got {drive.kind!r}"
        elif (len(drive.servos), len(drive.joints)) != (kind.servos, kind.joints):
            yield path, f"a {drive.kind} drive has {kind.servos} servo and {kind.joints} joint"
        for n, joint in enumerate(drive.joints):
            driven[joint] += 1
            if joint not in joints:
                yield f"{path}.joints[{n}]", f"{joint!r} is no joint of this walker"
            elif driven[joint] == 2:
                yield f"{path}.joints[{n}]", f"{joint} has a drive already"
        for n, servo in enumerate(drive.servos):
            if servo.type not in servo_types:
                yield f"{path}.servos[{n}].type", f"{servo.type!r} is not among servo_types"
    for joint in sorted(joints - set(driven)):
        yield "walker.drives", f"joint {joint} has no drive"
    for i, measured in enumerate(walker.as_built.limbs):
        path = f"walker.as_built.limbs[{i}]"
        limb = limbs.get(measured.limb)
        if limb is None:
            yield f"{path}.limb", f"{measured.limb!r} is no leg of this walker"
            continue
        for name in set(measured.link_length_mm) - {k.name for k in limb.links}:
            yield f"{path}.link_length_mm.{name}", f"leg {limb.name} has no link {name!r}"
        for name in set(measured.joint_zero_deg) - {j.name for j in limb.joints}:
            yield f"{path}.joint_zero_deg.{name}", f"leg {limb.name} has no joint {name!r}"


def _motion_problems(path: str, motion: Motion, walker: Walker) -> Iterable[tuple[str, str]]:
    if motion.foot_path not in FOOT_PATHS:
        yield f"{path}.foot_path", f"must be one of {', '.join(FOOT_PATHS)}, got {motion.foot_path!r}"
    if motion.gait not in GAITS and motion.gait != CUSTOM:
        yield f"{path}.gait", f"must be {CUSTOM} or one of {', '.join(GAITS)}, got {motion.gait!r}"
    have = [leg.limb for leg in motion.legs]
    for name, count in Counter(have).items():
        if count > 1:
            yield f"{path}.legs", f"leg {name} is timed twice"
    names = [limb.name for limb in walker.limbs]
    for n, leg in enumerate(motion.legs):
        if leg.limb not in names:
            yield f"{path}.legs[{n}].limb", f"{leg.limb!r} is no leg of this walker"
    for name in names:
        if name not in have:
            yield f"{path}.legs", f"leg {name} has no phase and duty"
    moving = any((motion.twist.vx_mm_s, motion.twist.vy_mm_s, motion.twist.omega_deg_s))
    for n, leg in enumerate(motion.legs):
        if leg.duty == 1 and moving:
            yield (
                f"{path}.legs[{n}].duty",
                f"leg {leg.limb} never lifts (duty 1) but the body moves; lower its duty or set the twist to 0",
            )
