"""Rod linkage: a horn on the servo, a rod, and a lever on the joint; a four-bar linkage, solved exactly.

The servo's shaft S and the joint's axis O are `base` apart. Seen along the axis, angles are measured from the line
S → O. The horn h stands at θ = horn_deg + servo, the lever l at φ = lever_deg + joint − centre; the rod r joins
their ends:

    |h·e(θ) − (g + l·e(φ))|² = r²,   e(·) the unit vector, g along the line

With P = g + l·e(φ), D = |P| and δ its direction: θ = δ ± acos((h² + D² − r²)/(2hD)) (law of cosines), and the other way
about in the same manner. The signs are those of the assembly at rest and hold between the dead points. Source: the
four-bar linkage of any text on mechanisms.
"""

from __future__ import annotations

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.kinds.drives.drive import DriveKind, Setting

# A hair short of aligned, 0.003°: nearer than this to a dead point the angle is no longer told to 1e-9°.
DEAD = 1e-9


def _parts(settings: Array) -> tuple[Array, ...]:
    base, horn, rod, lever, horn_deg, lever_deg = settings.T
    return base, horn, rod, lever, np.radians(horn_deg), np.radians(lever_deg)


def _cosine(near: Array, far: Array, rod: Array) -> Array:
    """Cosine of the angle between a crank `near` and the line `far` to the other pin."""
    return (near**2 + far**2 - rod**2) / np.maximum(2 * near * far, 1e-300)


def _wrapped(angle: Array) -> Array:
    return angle - 2 * np.pi * np.round(angle / (2 * np.pi))


def _signs(settings: Array) -> tuple[Array, Array]:
    """Which way the horn and the lever stand off their diagonals at rest."""
    base, horn, _, lever, theta, phi = _parts(settings)
    delta = np.arctan2(lever * np.sin(phi), base + lever * np.cos(phi))
    epsilon = np.arctan2(horn * np.sin(theta), horn * np.cos(theta) - base)
    return np.where(_wrapped(theta - delta) < 0, -1.0, 1.0), np.where(_wrapped(phi - epsilon) < 0, -1.0, 1.0)


def _lever_angle(joints: Array, centres: Array, settings: Array) -> Array:
    return _parts(settings)[5] + joints[..., 0] - centres[:, 0]


def _from_shaft(phi: Array, settings: Array) -> tuple[Array, Array]:
    """Distance and direction of the lever's end from the servo's shaft."""
    base, _, _, lever, _, _ = _parts(settings)
    x, y = base + lever * np.cos(phi), lever * np.sin(phi)
    return np.hypot(x, y), np.arctan2(y, x)


def _to_servos(joints: Array, centres: Array, settings: Array) -> Array:
    _, horn, rod, _, theta_rest, _ = _parts(settings)
    away, delta = _from_shaft(_lever_angle(joints, centres, settings), settings)
    theta = delta + _signs(settings)[0] * np.arccos(np.clip(_cosine(horn, away, rod), -1.0, 1.0))
    return _wrapped(theta - theta_rest)[..., None]


def _to_joints(servos: Array, centres: Array, settings: Array) -> Array:
    base, horn, rod, lever, theta_rest, phi_rest = _parts(settings)
    theta = theta_rest + servos[..., 0]
    x, y = horn * np.cos(theta) - base, horn * np.sin(theta)
    away, epsilon = np.hypot(x, y), np.arctan2(y, x)
    phi = epsilon + _signs(settings)[1] * np.arccos(np.clip(_cosine(lever, away, rod), -1.0, 1.0))
    return (_wrapped(phi - phi_rest) + centres[:, 0])[..., None]


def _strain(joints: Array, centres: Array, settings: Array) -> Array:
    """Above 0 past a dead point: where the rod is too long or short, or the lever has swung through its diagonal."""
    base, horn, rod, lever, theta_rest, _ = _parts(settings)
    away, _ = _from_shaft(_lever_angle(joints, centres, settings), settings)
    short = np.maximum(np.abs(_cosine(horn, away, rod)) - 1.0 + DEAD, 0.0)
    servos = _to_servos(joints, centres, settings)
    theta = theta_rest + servos[..., 0]
    opposite = np.hypot(horn * np.cos(theta) - base, horn * np.sin(theta))
    short += np.maximum(np.abs(_cosine(lever, opposite, rod)) - 1.0 + DEAD, 0.0)
    back = _to_joints(servos, centres, settings)
    flipped = np.abs(_wrapped(back[..., 0] - joints[..., 0]))
    return short + np.where(flipped > 1e-6, flipped, 0.0)


def longer_mm(settings: Array, turn: float) -> float:
    """How much longer the rod has to be for its joint to stand turn (rad) further with the servo at its centre: how far
    the pins are apart then, less now. settings (6,)."""
    base, horn, _, lever, theta, phi_rest = _parts(settings[None])
    rest = _to_joints(np.zeros((1, 1)), np.zeros((1, 1)), settings[None])[..., 0]

    def apart(joint: Array) -> float:
        phi = phi_rest + joint
        x, y = base + lever * np.cos(phi) - horn * np.cos(theta), lever * np.sin(phi) - horn * np.sin(theta)
        return float(np.hypot(x, y)[0])

    return apart(rest + turn) - apart(rest)


ROD = DriveKind(
    name="rod",
    label="Rod",
    about="Horn, rod and lever between servo and joint, with its own dead points.",
    servos=1,
    joints=1,
    to_servos=_to_servos,
    to_joints=_to_joints,
    settings=(
        Setting("base_mm", "Servo shaft to joint axis", "mm", 40.0, 1.0, 2000.0),
        Setting("horn_mm", "Horn", "mm", 15.0, 1.0, 500.0),
        Setting("rod_mm", "Rod", "mm", 40.0, 1.0, 2000.0),
        Setting("lever_mm", "Lever", "mm", 15.0, 1.0, 500.0),
        Setting("horn_deg", "Horn at servo centre, from the line to the joint", "°", 90.0, -360.0, 360.0),
        Setting("lever_deg", "Lever at joint centre, from the same line", "°", 90.0, -360.0, 360.0),
    ),
    strain=_strain,
)
