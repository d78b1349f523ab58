"""Joints that swing to and fro, given outright: the body comes to lie as the feet let it.

q(t) = q₀ + Σ a·cos(2π·n·(t/T − φ)), taken up and given up over two cycles by the smooth step. The machine rests on the
three points under its mass, corners of soles among them (`geometry.resting_plane`), or on a sole to its left or right
where lying on it brings its mass over to that side: it is thrown there, though it would rest as well on the edges of
both soles. How far it has to be thrown F35 tells. Where it has no three points, as on soles that are round, it lies
level. On flat soles it goes over the floor as the feet that stand let it; on others, how far it rolls and skids is not
told.
"""

from __future__ import annotations

import numpy as np

from bustle.core.at_rest.posed_joints import posed_joints
from bustle.core.at_rest.resting_height import resting_height_mm
from bustle.core.geometry.arrays import Array
from bustle.core.geometry.easing import eased
from bustle.core.geometry.resting_plane import resting_plane
from bustle.core.machine import soles as sole
from bustle.core.machine.kit import kit_of
from bustle.core.machine.limb_groups import joint_columns
from bustle.core.machine.limb_solution import Solved, solve
from bustle.core.machine.limbs_on_soles import foot_at
from bustle.core.machine.masses import centre_of_mass
from bustle.core.machine.tracks import BodyTrack, JointTrack, Travel
from bustle.core.project.motion import JointPose, Swings
from bustle.core.project.project import Project
from bustle.core.project.walker import JointAngle
from bustle.core.walk.motions.stepping import body_at
from bustle.core.walk.score import Scored, no_steps

# From rest, and to rest, its swings grow and shrink over so many cycles.
CYCLES = 2
# A mass that goes less to a side, mm, is not thrown there.
HARDLY_MM = 1e-3
# Where under a sole is looked, as shares of its corners: inside, and on neither diagonal.
INSIDE = np.array([0.31, 0.27, 0.23, 0.19])


def middle_of(motion: Swings) -> JointPose:
    """As it stands between its swings."""
    joints = tuple(JointAngle(limb=s.limb, joint=s.joint, value=s.middle) for s in motion.joints)
    return JointPose(name=motion.name, joints=joints)


def swung_joints(project: Project, motion: Swings, t: Array) -> Array:
    """(S, J) rad or mm."""
    whole = CYCLES * motion.cycle_s
    share = np.ones(len(t))
    if motion.goes == "from_rest":
        share = eased(t, 0.0, whole)
    elif motion.goes == "to_rest":
        share = 1.0 - eased(t, 0.0, whole)
    rest = posed_joints(project.walker, middle_of(motion).joints)
    found, columns = np.tile(rest, (len(t), 1)), joint_columns(project.walker)
    for swing in motion.joints:
        column, scale = columns[swing.limb, swing.joint]
        angle = 2 * np.pi * swing.times * (t / motion.cycle_s - swing.at)
        found[:, column] += share * swing.swing * scale * np.cos(angle)
    return found


def compile_swings(project: Project, motion: Swings) -> Scored:
    walker, steady = project.walker, motion.goes == "on"

    def joints(t: Array) -> JointTrack:
        values = swung_joints(project, motion, t)
        return JointTrack(values, np.ones(values.shape, dtype=bool))

    def travel(t: Array) -> Travel:
        nought = np.zeros(len(t))
        return nought, nought, nought

    def body(t: Array) -> BodyTrack:
        height, tilt = _settled(project, swung_joints(project, motion, t))
        aside, along, _ = travel(t)
        return body_at(travel(t), (aside, along, height), tilt)

    feet = tuple(no_steps("floor" if limb.feet else "none") for limb in walker.limbs)
    whole = motion.cycle_s * (1 if steady else CYCLES)
    flat = all(limb.feet[0].sole.kind == "rectangle" for limb in walker.legs)
    stroke = np.zeros(len(feet))
    return Scored(whole, steady, feet, body, stroke, joints_at=joints, legs_lead=flat, stands_on=flat, travel_at=travel)


def _settled(project: Project, joints: Array) -> tuple[Array, Array]:
    """Height (S,) mm of the body's origin and its tilt (S, 3, 3), lying on its feet."""
    walker, kit, n = project.walker, kit_of(project), len(joints)
    assembled = kit.assembled({})
    given = JointTrack(joints, np.ones(joints.shape, dtype=bool))
    solved = solve(assembled.parts, (), np.zeros((len(walker.limbs), n, 3)), None, given)
    nought = np.zeros(n)
    level = BodyTrack(np.zeros((n, 3)), np.broadcast_to(np.eye(3), (n, 3, 3)), (nought, nought, nought))
    feet = _corners(project, level, solved)
    points = np.concatenate(feet)
    centre = centre_of_mass(assembled.weights, solved)
    usable = np.ones(points.shape[:2], dtype=bool)
    plane, rests = resting_plane(points, usable, centre[:, :2])
    # Where it is hardly thrown to either side it stays as it is.
    middle, most = points.mean(axis=0), np.full(n, HARDLY_MM)
    for sole_at in (np.tensordot(INSIDE, corners, 1) for corners in feet if len(corners) == len(INSIDE)):
        other, lies = resting_plane(points, usable, sole_at[:, :2])
        way = np.sign(sole_at[:, 1] - middle[:, 1])
        mass, under = (np.einsum("nij,nj->ni", _tilt(other), v)[:, 1] for v in (centre, middle))
        over = np.where(lies, way * (mass - under), -np.inf)
        tips = over > most
        plane, rests, most = np.where(tips[:, None], other, plane), rests | tips, np.where(tips, over, most)
    flat = resting_height_mm(walker, joints, {})
    return (
        np.where(rests, -plane[:, 0] / _size(plane), flat),
        np.where(rests[:, None, None], _tilt(plane), np.eye(3)),
    )


def _size(plane: Array) -> Array:
    found: Array = np.sqrt(1.0 + plane[:, 1] ** 2 + plane[:, 2] ** 2)
    return found


def _tilt(plane: Array) -> Array:
    """(S, 3, 3): the least turn that brings the floor's normal upright."""
    x, y, z = np.stack([-plane[:, 1], -plane[:, 2], np.ones(len(plane))]) / _size(plane)
    k = 1.0 / (1.0 + z)
    return np.stack([
        np.stack([1 - k * x * x, -k * x * y, -x], axis=1),
        np.stack([-k * x * y, 1 - k * y * y, -y], axis=1),
        np.stack([x, y, z], axis=1),
    ], axis=1)  # fmt: skip


def _corners(project: Project, level: BodyTrack, solved: Solved) -> list[Array]:
    """(P, S, 3) mm of each foot: every point it may lie on, as the body sees it."""
    found = []
    for i, limb in enumerate(project.walker.limbs):
        if limb.feet:
            at, turn = foot_at(limb, i, level, solved), solved.end_turns(i)
            found.append(sole.corners(limb.feet[0], at, sole.sole_turn(limb, turn, np.zeros(len(at)))))
    return found
