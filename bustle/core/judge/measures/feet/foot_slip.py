"""How far feet that should stand still wander over the floor, for want of joints."""

from __future__ import annotations

import numpy as np

from bustle.core.geometry.arrays import Array, Flags
from bustle.core.geometry.width import width
from bustle.core.walk.course import stands_still
from bustle.core.walk.reading import Reading
from bustle.core.walk.wheels import axles

# A wheel that is brought less far stays where it is; one brought more than 45° off the way it rolls goes across it.
LEAST_MM, ACROSS_SHARE = 0.5, 0.5**0.5


def planted(r: Reading) -> Flags:
    """(L, S): which feet should stand still."""
    return stands_still(r.kit, r.score, r.course, r.samples)


def wander(r: Reading) -> Array:
    """(L, S, 2) mm: where each foot is, less where it should stand, turned with its heading so that one stance is like
    the next."""
    gap = (r.course.print_ground_mm - r.course.target_ground_mm)[:, : r.samples, :2]
    turn = r.course.headings[:, : r.samples]
    c, s = np.cos(turn), np.sin(turn)
    return np.stack([c * gap[..., 0] + s * gap[..., 1], c * gap[..., 1] - s * gap[..., 0]], axis=-1)


def slip_mm(r: Reading) -> Array:
    """(L,) mm: the widest distance between two places of one foot in stance; of a wheel, how far it is dragged across
    the way it rolls in a cycle."""
    standing = np.array([width(w[s]) for w, s in zip(r.of(wander), r.of(planted), strict=True)])
    return np.maximum(standing, r.of(scrub_mm))


def aside_mm(r: Reading) -> Array:
    """(L,) mm: how far each foot on average stands from where it should."""
    down = r.of(planted)
    count = np.maximum(down.sum(axis=1), 1)
    mean = (r.of(wander) * down[..., None]).sum(axis=1) / count[:, None]
    return np.asarray(np.linalg.norm(mean, axis=-1))


def scrub_mm(r: Reading) -> Array:
    """(L,) mm: how far each wheel, or blade that rolls, goes across its own heading while it is down, all ways added up
    over the whole motion."""
    return r.of(_wheels_go)[0]


def wheels_way(r: Reading) -> tuple[Array, Array]:
    """(L,) mm each: how far each wheel is brought over the whole motion, across its heading and in all; to and fro is
    no way."""
    return r.of(_wheels_go)[1:]


def dragged_across(r: Reading) -> list[int]:
    """Wheels that are brought along more across the way they roll than along it, the worst first: whatever pushes them
    slips before they do."""
    across, whole = r.of(wheels_way)
    return [int(i) for i in np.argsort(-across) if across[i] > max(LEAST_MM, ACROSS_SHARE * whole[i])]


def _wheels_go(r: Reading) -> tuple[Array, Array, Array]:
    scrub, across, whole = np.zeros((3, len(r.project.walker.limbs)))
    n = r.samples
    rows = n / max(1, n - 1)
    for i, axle in r.of(axles).items():
        step = np.diff(r.course.feet_ground_mm[i, :n, :2], axis=0)
        down = r.course.contact[i, : n - 1] & r.course.contact[i, 1:n]
        aside = (step * axle[:-1]).sum(axis=1) * down
        along = (step[:, 1] * axle[:-1, 0] - step[:, 0] * axle[:-1, 1]) * down
        scrub[i], across[i] = np.abs(aside).sum() * rows, abs(aside.sum()) * rows
        whole[i] = np.hypot(across[i], along.sum() * rows)
    return scrub, across, whole
