"""URDF out: the walker as a tree of links and joints, in metres, kilograms and radians.

Names are the project's: the joint `<leg>/<joint>` is the column of that name in the table, and moves the link
`<leg>/<joint>_link`; `<leg>/foot` is the foot's frame; a section carries its own name. What follows a joint is written
with `mimic`. What URDF cannot hold is left out and said.
"""

from __future__ import annotations

from xml.etree import ElementTree as ET

import numpy as np

from bustle.core.document.checked import CheckedProject
from bustle.core.geometry.arrays import Array
from bustle.core.machine.slope import against_gravity
from bustle.formats.robot_files.bodies import Body, Joint, robot_of
from bustle.formats.robot_files.robot_file import Written, number, numbers, written
from bustle.formats.robot_files.shapes import Shape

COLOURS = {"frame": ("chalk", "0.96 0.95 0.89 1"), "link": ("marigold", "0.94 0.64 0.23 1")}
SOLE = ("lichen", "0.56 0.66 0.5 1")


def write_urdf(project: CheckedProject) -> Written:
    """The design of a walker, its hinged sections straight."""
    robot = robot_of(project, plainly=True)
    root = ET.Element("robot", name=robot.name)
    for body in robot.bodies:
        link = ET.SubElement(root, "link", name=body.name)
        if body.kg:
            _inertial(link, body)
        for shape in body.shapes:
            _shape(link, shape)
        if body.parent >= 0:
            _joint(root, body, robot.bodies[body.parent].name)
    return written(root, [*robot.lost, *_lost(project)])


def _lost(project: CheckedProject) -> list[str]:
    """What the tree has and the file does not."""
    lost = ["How the soles grip the floor; what reads the file decides.", "The rows and timing of the motions."]
    if project.walker.held != "free":
        lost.append(f"The {project.walker.held} that holds it.")
    if project.floor.slope_deg:
        pull = numbers(-against_gravity(project.floor))
        lost.append(f"That the floor slopes; on a level one it does where gravity is {pull} m/s².")
    return lost


def _inertial(link: ET.Element, body: Body) -> None:
    inertial = ET.SubElement(link, "inertial")
    ET.SubElement(inertial, "origin", xyz=numbers(body.centre), rpy="0 0 0")
    ET.SubElement(inertial, "mass", value=number(body.kg))
    entries = {"ixx": (0, 0), "ixy": (0, 1), "ixz": (0, 2), "iyy": (1, 1), "iyz": (1, 2), "izz": (2, 2)}
    element = ET.SubElement(inertial, "inertia")
    for name, place in entries.items():
        element.set(name, number(body.inertia[place]))


def _shape(link: ET.Element, shape: Shape) -> None:
    """Once to be seen and once to be touched."""
    size = shape.size
    for tag in ("visual", "collision"):
        element = ET.SubElement(link, tag)
        ET.SubElement(element, "origin", xyz=numbers(shape.at), rpy=numbers(_rpy(shape.turn)))
        geometry = ET.SubElement(element, "geometry")
        if shape.kind == "box":
            ET.SubElement(geometry, "box", size=numbers(size))
        elif shape.kind == "rod":
            ET.SubElement(geometry, "cylinder", radius=number(size[0]), length=number(size[1]))
        else:
            ET.SubElement(geometry, "sphere", radius=number(size[0]))
        if tag == "visual":
            name, rgba = COLOURS.get(shape.grip, SOLE)
            ET.SubElement(ET.SubElement(element, "material", name=name), "color", rgba=rgba)


def _joint(root: ET.Element, body: Body, parent: str) -> None:
    joint = body.joint
    name, kind = (f"{body.name}_mount", "fixed") if joint is None else (joint.name, _kind(joint))
    element = ET.SubElement(root, "joint", name=name, type=kind)
    ET.SubElement(element, "parent", link=parent)
    ET.SubElement(element, "child", link=body.name)
    ET.SubElement(element, "origin", xyz=numbers(body.at), rpy=numbers(_rpy(body.turn)))
    if joint is None:
        return
    ET.SubElement(element, "axis", xyz=numbers(joint.axis))
    effort, speed = (joint.turned.stall_nm, joint.turned.no_load_rad_s) if joint.turned else (0.0, 0.0)
    limit = ET.SubElement(element, "limit")
    if joint.ends:
        limit.set("lower", number(joint.low))
        limit.set("upper", number(joint.high))
    limit.set("effort", number(effort))
    limit.set("velocity", number(speed))
    if joint.follows:
        leader, factor = joint.follows
        ET.SubElement(element, "mimic", joint=leader, multiplier=number(factor), offset="0")


def _kind(joint: Joint) -> str:
    if joint.slides:
        return "prismatic"
    return "revolute" if joint.ends else "continuous"


def _rpy(turn: Array) -> Array:
    """Roll, pitch, yaw about fixed axes: R = Rz(yaw)·Ry(pitch)·Rx(roll); yaw is 0 where pitch is ±90°."""
    pitch = np.arctan2(-turn[2, 0], np.hypot(turn[0, 0], turn[1, 0]))
    if abs(turn[2, 0]) > 1 - 1e-15:
        return np.array([np.arctan2(-turn[1, 2], turn[1, 1]), pitch, 0.0])
    return np.array([np.arctan2(turn[2, 1], turn[2, 2]), pitch, np.arctan2(turn[1, 0], turn[0, 0])])
