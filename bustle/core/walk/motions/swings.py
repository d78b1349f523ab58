"""Joints that swing to and fro, given outright: the body comes to lie as the feet let it.

q(t) = q₀ + Σ a·cos(2π·n·(t/T − φ)), taken up and given up over two cycles by the smooth step. The machine rests on the
three points under its mass, corners of soles among them (`geometry.resting_plane`), or, where its mass would come lower
so, on those a hair to its left or right: it tips on to a sole from beside its edge. Where it has no three, as on soles
that are round, it lies level. On flat soles it goes over the floor as the feet that stand let it; on others, how far it
rolls and skids is not told.
"""

from __future__ import annotations

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.geometry.easing import eased
from bustle.core.geometry.resting_plane import resting_plane
from bustle.core.machine import soles as sole
from bustle.core.machine.kit import kit_of
from bustle.core.machine.limb_groups import joint_columns
from bustle.core.machine.limb_solution import Solved, solve
from bustle.core.machine.limbs_on_soles import foot_at
from bustle.core.machine.masses import centre_of_mass
from bustle.core.machine.posed_joints import posed_joints
from bustle.core.machine.resting_height import resting_height_mm
from bustle.core.machine.tracks import BodyTrack, JointTrack
from bustle.core.project.motion import Swings
from bustle.core.project.project import Project
from bustle.core.project.walker import JointAngle
from bustle.core.walk.motions.stepping import body_at
from bustle.core.walk.score import Scored, no_steps

# From rest, and to rest, its swings grow and shrink over so many cycles.
CYCLES = 2
# A mass no further from an edge than this share of what it stands on tips over it.
HAIR = 0.03


def swung_joints(project: Project, motion: Swings, t: Array) -> Array:
    """(S, J) rad or mm."""
    whole = CYCLES * motion.cycle_s
    share = np.ones(len(t))
    if motion.goes == "from_rest":
        share = eased(t, 0.0, whole)
    elif motion.goes == "to_rest":
        share = 1.0 - eased(t, 0.0, whole)
    middles = {(s.limb, s.joint): s.middle for s in motion.joints}
    rest = posed_joints(project.walker, tuple(JointAngle(limb=a, joint=b, value=v) for (a, b), v in middles.items()))
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

    def body(t: Array) -> BodyTrack:
        nought = np.zeros(len(t))
        height, tilt = _settled(project, swung_joints(project, motion, t))
        return body_at((nought, nought, nought), (nought, nought, height), tilt)

    feet = tuple(no_steps("floor" if limb.feet else "none") for limb in walker.limbs)
    whole = motion.cycle_s * (1 if steady else CYCLES)
    flat = all(limb.feet[0].sole.kind == "rectangle" for limb in walker.legs)
    return Scored(whole, steady, feet, body, np.zeros(len(feet)), joints_at=joints, legs_lead=flat, stands_on=flat)


def _settled(project: Project, joints: Array) -> tuple[Array, Array]:
    """Height (S,) mm of the body's origin and its tilt (S, 3, 3), lying on its feet."""
    walker, kit, n = project.walker, kit_of(project), len(joints)
    assembled = kit.assembled({})
    given = JointTrack(joints, np.ones(joints.shape, dtype=bool))
    solved = solve(assembled.parts, (), np.zeros((len(walker.limbs), n, 3)), None, given)
    nought = np.zeros(n)
    level = BodyTrack(np.zeros((n, 3)), np.broadcast_to(np.eye(3), (n, 3, 3)), (nought, nought, nought))
    points = _corners(project, level, solved)
    centre = centre_of_mass(assembled.masses, solved)
    usable = np.ones(points.shape[:2], dtype=bool)
    plane, rests = resting_plane(points, usable, centre[:, :2])
    lowest = np.where(rests, _height(plane, centre), np.inf)
    for way in (1.0, -1.0):
        beside = centre[:, :2] + [0.0, way * HAIR * float(np.ptp(points[..., 1]))]
        other, lies = resting_plane(points, usable, beside)
        height = np.where(lies, _height(other, centre), np.inf)
        lower = height < lowest - 1e-6
        plane = np.where(lower[:, None], other, plane)
        rests, lowest = rests | lower, np.minimum(height, lowest)
    flat = resting_height_mm(walker, joints, {})
    a, b, c = plane.T
    normal = np.stack([-b, -c, np.ones(len(b))], axis=1)
    size = np.linalg.norm(normal, axis=1)
    normal /= size[:, None]
    # The least turn that brings the floor's normal upright.
    x, y, z = normal.T
    k = 1.0 / (1.0 + z)
    tilt = np.stack([
        np.stack([1 - k * x * x, -k * x * y, -x], axis=1),
        np.stack([-k * x * y, 1 - k * y * y, -y], axis=1),
        np.stack([x, y, z], axis=1),
    ], axis=1)  # fmt: skip
    return np.where(rests, -a / size, flat), np.where(rests[:, None, None], tilt, np.eye(3))


def _height(plane: Array, centre: Array) -> Array:
    """(S,) mm: how high the mass lies over a floor z = a + b·x + c·y."""
    a, b, c = plane.T
    return (centre[:, 2] - a - b * centre[:, 0] - c * centre[:, 1]) / np.sqrt(1 + b**2 + c**2)


def _corners(project: Project, level: BodyTrack, solved: Solved) -> Array:
    """(P, S, 3) mm: every point it may lie on, as the body sees it."""
    found = []
    for i, limb in enumerate(project.walker.limbs):
        if limb.feet:
            at, turn = foot_at(limb, i, level, solved), solved.end_turns(i)
            found.append(sole.corners(limb.feet[0], at, sole.sole_turn(limb, turn, np.zeros(len(at)))))
    return np.concatenate(found)
