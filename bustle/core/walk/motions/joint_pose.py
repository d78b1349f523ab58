"""A pose given by its joints, and the way from one set of joints to another: the body lies where they let it."""

from __future__ import annotations

import numpy as np

from bustle.core.at_rest.posed_joints import posed_joints
from bustle.core.at_rest.resting_height import resting_height_mm
from bustle.core.geometry.arrays import Array
from bustle.core.geometry.easing import eased
from bustle.core.machine.tracks import BodyTrack, JointTrack
from bustle.core.project.motion import JointPose
from bustle.core.project.project import Project
from bustle.core.walk.motions.stepping import body_at
from bustle.core.walk.score import Scored, no_steps

# A pose that is held is told over this long.
HELD_S = 1.0


def compile_pose(project: Project, pose: JointPose) -> Scored:
    joints = posed_joints(project.walker, pose.joints)
    return given_joints(project, joints, joints, HELD_S)


def given_joints(project: Project, before: Array, after: Array, seconds: float) -> Scored:
    """All joints (J,) from `before` to `after`, each from rest to rest."""
    walker = project.walker

    def joints(t: Array) -> JointTrack:
        share = eased(t, 0.0, seconds)[:, None]
        values = before + share * (after - before)
        return JointTrack(values, np.ones(values.shape, dtype=bool))

    def body(t: Array) -> BodyTrack:
        nought = np.zeros(len(t))
        height = resting_height_mm(walker, joints(t).values, {})
        return body_at((nought, nought, nought), (nought, nought, height), np.eye(3))

    feet = tuple(no_steps("floor" if limb.feet else "none") for limb in walker.limbs)
    return Scored(seconds, False, feet, body, np.zeros(len(feet)), joints_at=joints, may_rest=True)
