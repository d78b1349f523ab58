"""What is sent to the servos so that the machine stands where it is planned, though they give under its weight.

A servo off its place by δ pushes with τ = K·δ. To have it push τ where it is planned, it is told θ + τ/K:
    static: δ = τ_static/K, gravity alone: right even where the true K is half or double what is assumed;
    full:   δ = τ/K + θ_f·θ̇/ω₀, with the motion's own forces and the lag of a servo under way.
What drags is not held against: a table is the same with a cable on it and without.
Three joint arrays follow: planned q; sent, what the table says; carried, where the machine is under its load:
    carried = sent − τ/K.
"""

from __future__ import annotations

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.loads.by_servo import planned_servos
from bustle.core.loads.held_back import undragged
from bustle.core.loads.joint_torques import held_gives, servo_loads
from bustle.core.loads.told import not_worked_out
from bustle.core.machine.limb_solution import posed
from bustle.core.walk.reading import Reading


def sent_servos(r: Reading) -> Array:
    """(N, servos) rad from each servo's centre, as they are told."""
    planned = r.of(planned_servos)[: r.samples]
    how = r.project.against_sag
    if how == "off" or not_worked_out(r):
        return planned
    ahead = r.of(held_gives) if how == "static" else np.radians(undragged(r).of(servo_loads).lag_deg)
    return planned + np.where(r.kit.hornless, 0.0, ahead)


def sent_joints(r: Reading) -> Array:
    """(N, J) rad or mm: what the table says. The planned joints themselves where nothing is held against."""
    if r.project.against_sag == "off":
        return r.angles
    return _joints(r, r.of(sent_servos))


def carried_joints(r: Reading) -> Array:
    """(N, J) rad or mm: where the machine is under the load of the planned motion, as its servos give."""
    if not_worked_out(r):
        return r.angles
    give = np.radians(r.of(servo_loads).load_deg)
    return _joints(r, r.of(sent_servos) - np.where(r.kit.hornless, 0.0, give))


def carried_points(r: Reading) -> list[Array]:
    """(N, P, 3) mm of each limb in the body frame: where its joints are under the load of the planned motion."""
    return list(posed(r.assembled.parts, r.of(carried_joints)).points)


def commanded(r: Reading) -> Array:
    """(S + 2E, J): as the course has the joints, with what is sent in the place of the rows."""
    joints = r.course.solved.joints
    if r.project.against_sag == "off":
        return joints
    return np.concatenate([r.of(sent_joints), joints[r.samples :]])


def _joints(r: Reading, servos: Array) -> Array:
    found = r.angles.copy()
    first = 0
    for gearing in r.kit.gearings:
        drives, each = gearing.centres.shape
        own = servos[:, first : first + drives * each]
        hornless = r.kit.hornless[first : first + drives * each : each]
        moved = gearing.to_joints(own.reshape(len(servos), drives, each))
        found[:, gearing.columns] = np.where(hornless[:, None], found[:, gearing.columns], moved)
        first += drives * each
    return found
