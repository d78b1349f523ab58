"""The ends that a servo of a bus is told never to pass: its joint's end stops, as counts."""

from __future__ import annotations

from itertools import product

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.machine.kit import Kit, kit_of
from bustle.core.project.project import Project
from bustle.core.servo.pulses import pulse_map


def servo_limits(project: Project, kit: Kit | None = None) -> Array:
    """(N, 2): the least and greatest µs or count of each servo with its drive's joints anywhere within their stops,
    and within what the servo takes. At the corners of the drive's joints: what drives turn grows one way with each."""
    kit = kit or kit_of(project)
    pulses = pulse_map(project, kit)
    most = max((len(s.columns) for s in kit.servos), default=0)
    rows = []
    for corner in product((False, True), repeat=most):
        joints = kit.low.copy()
        for servo in kit.servos:
            for column, high in zip(servo.columns, corner, strict=False):
                joints[column] = (kit.high if high else kit.low)[column]
        rows.append(joints)
    told = pulses.told(kit.servo_angles(np.array(rows)))
    ends = np.stack([told.min(axis=0), told.max(axis=0)], axis=1)
    return np.asarray(np.clip(ends, pulses.low[:, None], pulses.high[:, None]))
