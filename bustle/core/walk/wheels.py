"""Which way a wheel's axle lies over the floor: along it a wheel holds like a foot, across it it rolls."""

from __future__ import annotations

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.walk.reading import Reading


def axles(r: Reading) -> dict[int, Array]:
    """By limb that rolls one way alone: (N, 2) in the ground frame, to the left of the way it rolls."""
    n, body, found = r.samples, r.course.body, {}
    for i, limb in enumerate(r.project.walker.limbs):
        contact = limb.feet[0].contact if limb.feet else None
        if contact is None or contact.kind != "rolls" or contact.any_way:
            continue
        if limb.passive:
            heading = np.full(n, np.radians(contact.heading_deg + limb.mount.yaw_deg))
            if limb.steers:
                heading += r.angles[:, r.kit.slices[i].start]
            local = np.stack([-np.sin(heading), np.cos(heading), np.zeros(n)], axis=-1)
            found[i] = (body.turn[:n] @ local[..., None])[:, :2, 0]
        else:
            heading = r.course.headings[i, :n] + np.radians(contact.heading_deg)
            found[i] = np.stack([-np.sin(heading), np.cos(heading)], axis=-1)
    return found
