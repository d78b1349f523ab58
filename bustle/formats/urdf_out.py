"""URDF out: the walker as a tree of links and joints, in metres, kilograms and radians.

Frames are named as in the project: `<leg>/<joint>` is the link that a joint moves, `<leg>/foot` the foot's frame, and a
section carries its own name. Every mass of the ledger is in the link it rides on, as a point or, where it has a
size, as a box with that box's inertia; so the centre of mass is the same. What URDF cannot hold is left out and
said: a joint that follows two others, a servo that turns two joints, closed loops of rods, play, gears, timing.

Joints that follow one other are written with `mimic`. A stiff part before the first joint is a fixed joint.
"""

from __future__ import annotations

from dataclasses import dataclass
from xml.etree import ElementTree as ET

import numpy as np
from scipy.spatial.transform import Rotation

from bustle.core.document.checked import CheckedProject
from bustle.core.geometry.arrays import Array
from bustle.core.geometry.serial_chain import Chain
from bustle.core.machine.kit import kit_of
from bustle.core.machine.masses import Entry
from bustle.core.machine.sections import section_places
from bustle.core.project.parts import ServoType
from bustle.core.project.walker import Foot, Limb

LEAST_KG = 1e-9
CHALK, MARIGOLD = "0.96 0.95 0.89 1", "0.94 0.64 0.23 1"


@dataclass(frozen=True)
class Written:
    """The file and, one sentence each, what it could not hold."""

    data: bytes
    lost: tuple[str, ...]


def write_urdf(project: CheckedProject) -> Written:
    """The design of a walker, its hinged sections straight."""
    walker = project.walker
    robot = ET.Element("robot", name=project.name)
    lost: list[str] = []
    straight = kit_of(project).assembled({})
    parts, entries = straight.parts, straight.masses
    boxes = {m.name: np.array(m.size_mm) for m in walker.masses}
    _sections(robot, project, [e for e in entries if e.limb < 0], boxes)
    for group in parts:
        for row, member in enumerate(group.members):
            limb = walker.limbs[int(member)]
            one = group.build.only([row]).chain
            own = [e for e in entries if e.limb == int(member)]
            _limb(robot, project, limb, one, own, lost)
    _drives_lost(project, lost)
    ET.indent(robot, " ")
    data = b'<?xml version="1.0" encoding="utf-8"?>\n' + ET.tostring(robot, encoding="utf-8") + b"\n"
    return Written(data, tuple(lost))


def _drives_lost(project: CheckedProject, lost: list[str]) -> None:
    for drive in project.walker.drives:
        if drive.kind not in ("direct", "riding"):
            lost.append(
                f"{drive.servos[0].name}: its {drive.kind} drive; the joints are there, the servo's gearing is not."
            )
    for truth in project.walker.as_built.limbs:
        lost.append(f"{truth.limb}: what was measured of the built leg; the design is written.")


def _sections(robot: ET.Element, project: CheckedProject, entries: list[Entry], boxes: dict[str, Array]) -> None:
    """Section 0 is the root; everything on the frame that is placed in the body frame goes to it, straight."""
    walker = project.walker
    places = section_places(walker, {})
    on_section = {m.name: m.on for m in walker.masses}
    for section in walker.sections:
        link = ET.SubElement(robot, "link", name=section.name)
        place = places[section.name]
        own = []
        for entry in entries:
            home = on_section.get(entry.name, walker.sections[0].name)
            if home == section.name:
                at = (np.array(entry.at) - place.at) @ place.turn
                own.append((entry.mass_kg, at, boxes.get(entry.name, np.zeros(3))))
        _inertial(link, own)
        visual = ET.SubElement(link, "visual")
        ET.SubElement(ET.SubElement(visual, "geometry"), "box", size=_vector(np.array(section.size_mm) / 1000))
        _material(visual, "chalk", CHALK)
        if section.hinge:
            hinge = section.hinge
            axis = {"yaw": "0 0 1", "pitch": "0 1 0", "roll": "1 0 0"}[hinge.axis]
            # URDF turns a link about its own origin: the hinge gets a link of its own, without mass of note.
            pivot = ET.SubElement(robot, "link", name=f"{section.name}/hinge")
            _inertial(pivot, [])
            joint = ET.SubElement(robot, "joint", name=f"{section.name}/hinge", type="revolute")
            _joined(joint, hinge.on, f"{section.name}/hinge", np.array(hinge.at_mm), np.eye(3))
            ET.SubElement(joint, "axis", xyz=axis)
            low, high = np.radians([hinge.min_deg, hinge.max_deg])
            ET.SubElement(joint, "limit", lower=_number(low), upper=_number(high), effort="0", velocity="0")
            fixed = ET.SubElement(robot, "joint", name=f"{section.name}/mount", type="fixed")
            _joined(fixed, f"{section.name}/hinge", section.name, np.array(hinge.to_mm), np.eye(3))


def _limb(
    robot: ET.Element, project: CheckedProject, limb: Limb, chain: Chain, entries: list[Entry], lost: list[str]
) -> None:
    place = section_places(project.walker, {})[limb.section]
    at, turn = (chain.mount_at[0] - place.at) @ place.turn, place.turn.T @ chain.mount_turn[0]
    parent = limb.section
    masses = {m.name: m for m in project.walker.masses}
    hinges = chain.offsets.shape[1]
    coupling = np.eye(hinges) if chain.coupling is None else chain.coupling
    named: dict[int, str] = {}
    for h in range(hinges):
        name = _hinge_name(limb, chain, coupling, h)
        offset = chain.offsets[0, h]
        link = ET.SubElement(robot, "link", name=name)
        own = [
            (
                e.mass_kg,
                e.along * offset + np.array(e.at),
                np.array(masses[e.name].size_mm) if e.name in masses else np.zeros(3),
            )
            for e in entries
            if e.link == h
        ]
        _inertial(link, own)
        _bone(link, offset, limb)
        joint = _joint(robot, project, limb, chain, coupling, h, name, named, lost)
        _joined(joint, parent, name, at, turn)
        parent, at, turn = name, offset, np.eye(3)
    for foot in limb.feet:
        _foot(robot, limb, foot, parent, at, turn)


def _hinge_name(limb: Limb, chain: Chain, coupling: Array, h: int) -> str:
    """`<leg>/<joint>` for the first hinge a joint moves; what follows is numbered."""
    for n, joint in enumerate(limb.joints):
        if chain.hinge_of_joint(n) == h:
            return f"{limb.name}/{joint.name}"
    return f"{limb.name}/part{h + 1}"


def _joint(
    robot: ET.Element, project: CheckedProject, limb: Limb, chain: Chain, coupling: Array, h: int, name: str,
    named: dict[int, str], lost: list[str],
) -> ET.Element:  # fmt: skip
    own = next((n for n in range(len(limb.joints)) if chain.hinge_of_joint(n) == h), None)
    moved_by = np.flatnonzero(coupling[h])
    if not len(moved_by):
        return ET.SubElement(robot, "joint", name=name, type="fixed")
    slides = chain.slide(h)
    element = ET.SubElement(robot, "joint", name=name, type="prismatic" if slides else "revolute")
    ET.SubElement(element, "axis", xyz=_vector(chain.axes[0, h]))
    leader = own if own is not None else int(moved_by[0])
    spec = limb.joints[leader]
    if spec.kind == "slide":
        low, high = spec.min_mm / 1000, spec.max_mm / 1000
    else:
        low, high = (float(v) for v in np.radians([spec.min_deg, spec.max_deg]))
    if own is None or len(moved_by) > 1:
        low, high = -np.pi, np.pi
    sheet = _sheet(project, f"{limb.name}/{spec.name}")
    speed = np.radians(sheet.no_load_speed_deg_s) if sheet else 0.0
    effort = sheet.stall_torque_nm if sheet else 0.0
    ET.SubElement(
        element, "limit", lower=_number(low), upper=_number(high), effort=_number(effort), velocity=_number(speed)
    )
    others = [int(n) for n in moved_by if n != own]
    if own is None and len(others) == 1:
        ET.SubElement(
            element, "mimic", joint=named[others[0]], multiplier=_number(float(coupling[h, others[0]])), offset="0"
        )
    elif others:
        also = " and ".join(limb.joints[n].name for n in moved_by)
        lost.append(f"{name} follows {also} together; in the file it turns by itself.")
    if own is not None:
        named[own] = name
    return element


def _sheet(project: CheckedProject, joint: str) -> ServoType | None:
    sheets = {s.name: s for s in project.servo_types}
    return next((sheets[d.servos[0].type] for d in project.walker.drives if joint in d.joints), None)


def _joined(joint: ET.Element, parent: str, child: str, at_mm: Array, turn: Array) -> None:
    ET.SubElement(joint, "parent", link=parent)
    ET.SubElement(joint, "child", link=child)
    ET.SubElement(joint, "origin", xyz=_vector(at_mm / 1000), rpy=_vector(_rpy(turn)))


def _bone(link: ET.Element, offset_mm: Array, limb: Limb) -> None:
    """The link as a rod, a cylinder along its own z turned to the offset."""
    length = float(np.linalg.norm(offset_mm))
    if length < 0.5:
        return
    radius = max((k.radius_mm for k in limb.links), default=4.0)
    visual = ET.SubElement(link, "visual")
    turn, _ = Rotation.align_vectors([offset_mm / length], [[0.0, 0.0, 1.0]])
    ET.SubElement(visual, "origin", xyz=_vector(offset_mm / 2000), rpy=_vector(_rpy(turn.as_matrix())))
    cylinder = ET.SubElement(ET.SubElement(visual, "geometry"), "cylinder")
    cylinder.set("radius", _number(max(radius, 0.5) / 1000))
    cylinder.set("length", _number(length / 1000))
    _material(visual, "marigold", MARIGOLD)


def _foot(robot: ET.Element, limb: Limb, foot: Foot, parent: str, at: Array, turn: Array) -> None:
    name = f"{limb.name}/foot" if foot.side == "under" else f"{limb.name}/upper_foot"
    link = ET.SubElement(robot, "link", name=name)
    _inertial(link, [])
    visual = ET.SubElement(link, "visual")
    geometry = ET.SubElement(visual, "geometry")
    sole = foot.sole
    if sole.kind == "rectangle":
        ET.SubElement(visual, "origin", xyz=_vector(np.array([sole.ahead_mm, sole.left_mm, 0.0]) / 1000), rpy="0 0 0")
        ET.SubElement(geometry, "box", size=_vector(np.array([sole.length_mm, sole.width_mm, 2.0]) / 1000))
    else:
        radius = sole.radius_mm if sole.kind == "ball" else 4.0
        ET.SubElement(geometry, "sphere", radius=_number(max(radius, 0.5) / 1000))
    _material(visual, "chalk", CHALK)
    joint = ET.SubElement(robot, "joint", name=name, type="fixed")
    _joined(joint, parent, name, at + turn @ np.array(foot.at_mm), turn)


def _inertial(link: ET.Element, parts: list[tuple[float, Array, Array]]) -> None:
    """The masses of a link together: (kg, place mm, box size mm) each. I = Σ mᵢ·(box + (d²·1 − d·dᵀ)), parallel
    axes.
    """
    total = sum(kg for kg, _, _ in parts)
    mass = max(total, LEAST_KG)
    centre = sum((kg * at for kg, at, _ in parts), np.zeros(3)) / total if total else np.zeros(3)
    inertia = np.zeros((3, 3))
    for kg, at, size in parts:
        d = (at - centre) / 1000
        x, y, z = (size / 1000) ** 2
        inertia += kg * (np.diag([y + z, x + z, x + y]) / 12 + d @ d * np.eye(3) - np.outer(d, d))
    inertia += np.eye(3) * mass * 1e-9
    inertial = ET.SubElement(link, "inertial")
    ET.SubElement(inertial, "origin", xyz=_vector(centre / 1000), rpy="0 0 0")
    ET.SubElement(inertial, "mass", value=_number(mass))
    entries = {"ixx": (0, 0), "ixy": (0, 1), "ixz": (0, 2), "iyy": (1, 1), "iyz": (1, 2), "izz": (2, 2)}
    element = ET.SubElement(inertial, "inertia")
    for name, place in entries.items():
        element.set(name, _number(float(inertia[place])))


def _material(visual: ET.Element, name: str, rgba: str) -> None:
    ET.SubElement(ET.SubElement(visual, "material", name=name), "color", rgba=rgba)


def _rpy(turn: Array) -> Array:
    """Roll, pitch, yaw about fixed axes: R = Rz(yaw)·Ry(pitch)·Rx(roll); yaw is 0 where pitch is ±90°."""
    pitch = np.arcsin(np.clip(-turn[2, 0], -1.0, 1.0))
    if abs(turn[2, 0]) > 1 - 1e-12:
        return np.array([np.arctan2(-turn[1, 2], turn[1, 1]), pitch, 0.0])
    return np.array([np.arctan2(turn[2, 1], turn[2, 2]), pitch, np.arctan2(turn[1, 0], turn[0, 0])])


def _number(value: float) -> str:
    return f"{value + 0.0:.12g}"


def _vector(values: Array) -> str:
    return " ".join(_number(float(v)) for v in values)
