"""The first move from power-on: no servo's place is known, so each is let go alone or a few at a time.

A servo that is switched on drives to its first command from wherever it stands, at full speed and with its stall
current until it gets there. What can be told beforehand is the worst: the joint stands at the end of its travel
furthest from where it is to go. Servos are switched on so many at a time, each group when the one before has had
time for its worst way at the start speed; within a leg from the foot up, so that no leg lifts the body while others
are limp.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import NamedTuple

import numpy as np

from bustle.core.at_rest.posed_joints import posed_joints
from bustle.core.geometry.arrays import Array
from bustle.core.loads.held_against_sag import sent_joints
from bustle.core.loads.supply_current import currents_a
from bustle.core.machine.limb_groups import joint_columns
from bustle.core.project.motion import JointPose, PhaseGait
from bustle.core.project.project import Project
from bustle.core.project.walker import DriveServo, Limb
from bustle.core.walk.course import joints_of
from bustle.core.walk.motions import compile_motion
from bustle.core.walk.read import read
from bustle.core.words.problems import refuse


@dataclass(frozen=True)
class Switch:
    """One joint's start: when its servo is switched on, what it is told, and the furthest it may have to go."""

    at_s: float
    servo: str
    joint: str
    to: float
    unit: str
    travel: float


class Place(NamedTuple):
    """A servo, the limb of the joint it is named for, and that joint's number in it."""

    servo: DriveServo
    limb: Limb
    joint: int


@dataclass(frozen=True)
class SoftStart:
    """pose: the motion whose first pose it is. takes_s: until the last group has arrived. inrush_a: of the largest
    group, should all of it stall; None of a machine without servos."""

    pose: str
    switches: tuple[Switch, ...]
    at_once: int
    takes_s: float
    worst: Switch | None
    inrush_a: float | None


def starting_pose(project: Project) -> str:
    """The pose set for starting, else the first standing pose, else the first motion.

    Raises InputRefused where there is none.
    """
    if not project.motions:
        raise refuse("motions", "needs a pose to start into")
    if project.start_up.pose is not None:
        return project.start_up.pose
    standing = [m.name for m in project.motions if isinstance(m, JointPose) or (isinstance(m, PhaseGait) and m.stands)]
    return standing[0] if standing else project.motions[0].name


def pose_joints(project: Project, name: str) -> Array:
    """(J,) rad or mm: the joints of a motion's first pose, as they are sent."""
    motion = project.motion(name)
    if project.against_sag != "off":
        held: Array = read(project, name).of(sent_joints)[0]
        return held
    if isinstance(motion, JointPose):
        return posed_joints(project.walker, motion.joints)
    joints: Array = joints_of(project, compile_motion(project, motion), np.zeros(1)).joints[0]
    return joints


def switched_together(project: Project) -> tuple[tuple[Place, ...], ...]:
    """Groups of servos in the order in which they are switched on: of each limb from its foot up."""
    waiting = []
    limbs = {limb.name: limb for limb in project.walker.limbs}
    for drive in project.walker.drives:
        for n, servo in enumerate(drive.servos):
            limb, _, name = drive.joints[min(n, len(drive.joints) - 1)].partition("/")
            names = [j.name for j in limbs[limb].joints]
            depth = len(names) - names.index(name)
            waiting.append(((depth, list(limbs).index(limb)), Place(servo, limbs[limb], names.index(name))))
    waiting.sort(key=lambda w: w[0])
    order, by = [place for _, place in waiting], project.start_up.at_once
    return tuple(tuple(order[first : first + by]) for first in range(0, len(order), by))


def soft_start(project: Project) -> SoftStart:
    """The order in which servos are switched on."""
    pose = starting_pose(project)
    joints = pose_joints(project, pose)
    columns, sheets = joint_columns(project.walker), {s.name: s for s in project.servo_types}
    switches, now, inrush, most = [], 0.0, 0.0, 0
    for group in switched_together(project):
        furthest = 0.0
        for servo, limb, number in group:
            joint = limb.joints[number]
            column, scale = columns[limb.name, joint.name]
            low, high = (joint.min_mm, joint.max_mm) if joint.kind == "slide" else (joint.min_deg, joint.max_deg)
            to = float(joints[column]) / scale
            travel = max(abs(to - low), abs(high - to))
            unit, path = "mm" if joint.kind == "slide" else "°", f"{limb.name}/{joint.name}"
            switches.append(Switch(round(now, 3), servo.name, path, round(to, 2) + 0.0, unit, round(travel, 1)))
            furthest = max(furthest, travel)
        inrush = max(inrush, sum(currents_a(sheets[place.servo.type])[0] for place in group))
        now, most = now + furthest / project.start_up.speed_deg_s, max(most, len(group))
    worst = max(switches, key=lambda s: s.travel, default=None)
    return SoftStart(pose, tuple(switches), most, now, worst, inrush or None)
