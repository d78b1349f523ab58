"""What single fields of a project cannot see: names that repeat, parts that do not fit, references to nothing."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable
from itertools import islice

from bustle.core.document.electrics_fit_the_walker import electrics_problems
from bustle.core.document.limb_fits_its_family import limb_problems
from bustle.core.document.motions_fit_the_walker import angle_problems, motion_problems
from bustle.core.kinds.drives import DRIVES
from bustle.core.project.kept_by_identity import KeptByIdentity
from bustle.core.project.project import Project
from bustle.core.project.walker import Drive, Section, Walker
from bustle.core.words.problems import MOST_PROBLEMS

Found = Iterable[tuple[str, str]]

LEGS = (2, 12)


def _repeated(path: str, what: str, names: Iterable[str]) -> Found:
    names = list(names)
    for name, count in Counter(n.casefold() for n in names).items():
        if count > 1:
            last = max(i for i, n in enumerate(names) if n.casefold() == name)
            yield f"{path}[{last}].name", f"two {what} are called {names[last]!r}; each needs its own name"


# What is told of a machine without its motions, and no more of it than anybody is told.
_known: KeptByIdentity[tuple[tuple[str, str], ...]] = KeptByIdentity(32)


def inconsistencies(project: Project) -> Found:
    """Everything that single fields cannot see, as (path, sentence), MOST_PROBLEMS of the machine at most."""
    parts = (project.walker, *project.servo_types, project.electrics, project.controller)
    yield from _known.of(parts, lambda: tuple(islice(_machine_problems(project), MOST_PROBLEMS)))
    yield from _repeated("motions", "motions", (m.name for m in project.motions))
    yield from motion_problems(project)


def _machine_problems(project: Project) -> Found:
    walker = project.walker
    yield from _repeated("walker.sections", "sections", (s.name for s in walker.sections))
    yield from _repeated("walker.limbs", "legs", (limb.name for limb in walker.limbs))
    yield from _repeated("walker.masses", "masses", (m.name for m in walker.masses))
    yield from _repeated("walker.leads", "leads", (m.name for m in walker.leads))
    yield from _repeated("walker.drags", "drags", (m.name for m in walker.drags))
    yield from _repeated("servo_types", "servo types", (s.name for s in project.servo_types))
    legs = len(walker.legs)
    if not LEGS[0] <= legs <= LEGS[1]:
        yield "walker.limbs", f"a walker has {LEGS[0]} to {LEGS[1]} legs that step, got {legs}"
    yield from _section_problems(walker)
    if walker.lifted_n and walker.held != "boom":
        yield "walker.lifted_n", f"is what a boom's counterweight lifts, and {walker.held} is none; put 0"
    for i, sheet in enumerate(project.servo_types):
        if sheet.rotor and sheet.rotor.mass_g > sheet.mass_g:
            path, heavy = f"servo_types[{i}].rotor.mass_g", f"{sheet.rotor.mass_g:g}"
            yield path, f"a rotor is lighter than its servo, {sheet.mass_g:g} g; got {heavy}"
    for i, limb in enumerate(walker.limbs):
        yield from limb_problems(f"walker.limbs[{i}]", limb, walker)
    yield from _file_name_problems(walker)
    yield from _part_problems(walker)
    yield from _drive_problems(walker, {s.name for s in project.servo_types})
    yield from _measured_problems(walker)
    if walker.folded:
        yield from angle_problems("walker.folded.joints", walker.folded.joints, walker)
    yield from electrics_problems(project)


def _section_problems(walker: Walker) -> Found:
    known: set[str] = set()
    for i, section in enumerate(walker.sections):
        if section.shape == "round" and section.size_mm[0] != section.size_mm[1]:
            across = f"{section.size_mm[0]:g} and {section.size_mm[1]:g}"
            yield f"walker.sections[{i}].size_mm", f"a round section is as wide as it is long, got {across}"
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
            yield from _turner_problems(walker, section, f"{path}.turned_by")
        known.add(section.name)


def _turner_problems(walker: Walker, section: Section, path: str) -> Found:
    """What turns a section is a limb of one driven hinge, where that section hangs, with nothing behind it."""
    hinge = section.hinge
    if hinge is None or hinge.turned_by is None:
        return
    limb = next((m for m in walker.limbs if hinge.turned_by in {f"{m.name}/{j.name}" for j in m.joints}), None)
    if limb is None:
        yield path, f"{hinge.turned_by!r} is no joint of this walker"
    elif limb.feet or len(limb.joints) != 1 or limb.joints[0].kind == "slide":
        yield path, f"{limb.name} cannot turn a section; that takes a limb of one hinge and no foot"
    elif limb.section != hinge.on:
        yield path, f"{limb.name} sits on {limb.section}; what turns {section.name} sits on {hinge.on}"
    elif any(k.length_mm or k.mass_g for k in limb.links):
        yield path, f"{limb.name} has a link of its own; behind what turns a section there is that section alone"
    elif sum(1 for s in walker.sections if s.hinge and s.hinge.turned_by == hinge.turned_by) > 1:
        yield path, f"{hinge.turned_by} turns more than one section"


def part_paths(walker: Walker) -> set[str]:
    """Every section and link, by its path."""
    return {s.name for s in walker.sections} | {f"{m.name}/{k.name}" for m in walker.limbs for k in m.links}


def _part_problems(walker: Walker) -> Found:
    parts = part_paths(walker)
    for i, mass in enumerate(walker.masses):
        if mass.on not in parts:
            yield f"walker.masses[{i}].on", f"{mass.on!r} is no section or link of this walker"
        elif mass.fills and "/" in mass.on:
            yield f"walker.masses[{i}].fills", f"only a section can be filled, and {mass.on} is a link"
    for i, lead in enumerate(walker.leads):
        for n, point in enumerate(lead.path):
            if point.on not in parts:
                yield f"walker.leads[{i}].path[{n}].on", f"{point.on!r} is no section or link of this walker"
    for i, drag in enumerate(walker.drags):
        if drag.on not in {s.name for s in walker.sections}:
            yield f"walker.drags[{i}].on", f"{drag.on!r} is no section of this walker"
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
            elif drive.kind in DRIVES and DRIVES[drive.kind].turns_slides and joints[name].kind != "slide":
                yield f"{path}.kind", f"a {drive.kind} drive moves a slide, and {name} turns"
            elif joints[name].free:
                yield f"{path}.joints[{n}]", f"{name} is free, so no servo turns it; remove the drive or the freedom"
        for n, servo in enumerate(drive.servos):
            if servo.type not in servo_types:
                yield f"{path}.servos[{n}].type", f"{servo.type!r} is not among servo_types"
    for name in sorted(joints):
        if name not in driven and not joints[name].free:
            yield "walker.drives", f"joint {name} has no drive"


def _file_name_problems(walker: Walker) -> Found:
    """No two joints are called the same in files."""
    taken: set[str] = set()
    for i, limb in enumerate(walker.limbs):
        for n, joint in enumerate(limb.joints):
            called, _ = limb.called_in_files(joint)
            if called in taken:
                yield f"walker.limbs[{i}].joints[{n}].in_files.called", f"another joint is called {called!r} in files"
            taken.add(called)


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
