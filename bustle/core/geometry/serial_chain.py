"""A limb as a serial chain: where every joint and the foot are, for any joint values.

A chain is axes and offsets. From the mount, hinge j turns about its axis (a slide moves along it), then an offset
leads to the next joint (the last one to the foot). Chains of one family share their joints' kinds and differ in
axes and offsets, so a whole batch of limbs is one call.

Where rods tie joints to each other (a parallelogram keeps its foot level), or a stiff part stands before the first
joint, the chain has more hinges than the limb has joints, and `coupling` says how they follow: hinges = coupling ·
joints.
"""

from __future__ import annotations

from dataclasses import dataclass
from math import cos, sin

import numpy as np

from bustle.core.geometry.arrays import Array, Flags, skew
from bustle.core.geometry.compiled import (
    Vector,
    about,
    compiled,
    compiled_for,
    crossed,
    dot,
    flags,
    floats,
    matrix,
    minus,
    of,
    plus,
    put,
    through,
    times,
    vector,
)
from bustle.core.geometry.stacked_turns import about_axes

FIXED = np.zeros((0, 3))


@dataclass(frozen=True)
class Chain:
    """Limbs of one shape.

    axes: (L, H, 3) or (1, H, 3) unit vectors, in the frame before their joint, at zero pose.
    offsets: (L, H, 3) mm, from joint h to joint h+1 or the foot, in the frame after joint h.
    mount_at: (L, 3) mm and mount_turn: (L, 3, 3), from the body to the first joint.
    slides: (H,), which joints slide (mm) instead of turning (rad). coupling: (H, J), or None where H = J.
    link_at: the hinge behind which each link lies; empty where link k lies behind hinge k.
    """

    axes: Array
    offsets: Array
    mount_at: Array
    mount_turn: Array
    slides: Flags | None = None
    coupling: Array | None = None
    link_at: tuple[int, ...] = ()

    def hinge_of_link(self, link: int) -> int:
        return self.link_at[link] if self.link_at else link

    def hinge_of_joint(self, joint: int) -> int:
        """The first hinge that the joint moves."""
        return joint if self.coupling is None else int(np.flatnonzero(self.coupling[:, joint])[0])

    def hinges(self, joints: Array) -> Array:
        """Joint values (L, S, J) → chain values (L, S, H)."""
        return joints if self.coupling is None else joints @ self.coupling.T

    def slide(self, h: int) -> bool:
        return self.slides is not None and bool(self.slides[h])

    @property
    def sliding(self) -> Flags:
        """(H,): which hinges slide."""
        return np.zeros(self.axes.shape[1], dtype=bool) if self.slides is None else self.slides


def turns(axis: Array, angle: Array) -> Array:
    """Rotation matrices (..., 3, 3) about unit axes: R = I + sin q·K + (1 − cos q)·K² (axis–angle form).

    axis: (3,) for all angles, or (L, 3) for angles (L, S).
    """
    k = skew(axis).reshape(-1, 3, 3)
    flat = angle.reshape(len(k), -1)
    return about_axes(k, k @ k, np.sin(flat), np.cos(flat)).reshape(*angle.shape, 3, 3)


STRAIGHT = np.eye(3)


def turned_by(vector: Array) -> Array:
    """Rotation matrices (..., 3, 3) about vectors (..., 3) by as many radians as they are long: Rodrigues' formula."""
    x, y, z = vector[..., 0], vector[..., 1], vector[..., 2]
    k, angle = skew(vector), np.sqrt(x * x + y * y + z * z)[..., None, None] / 2
    # sin(a)/a; of nothing 1.
    half = np.where(angle > 0, np.sin(angle) / np.where(angle > 0, angle, 1.0), 1.0)
    rotation: Array = STRAIGHT + half * (np.cos(angle) * k + 0.5 * half * (k @ k))
    return rotation


def rotated(turn: Array, points: Array) -> Array:
    """Points (..., S, 3) turned by S rotations (S, 3, 3)."""
    return _rotated(turn, points.reshape(-1, *points.shape[-2:])).reshape(points.shape)


@compiled_for(floats(3), floats(3))
def _rotated(turn: Array, points: Array) -> Array:
    found = np.empty(points.shape)
    for k in range(points.shape[0]):
        for s in range(points.shape[1]):
            put(found[k, s], through(turn[s], vector(points[k, s])))
    return found


@compiled_for(floats(2), floats(3), floats(1), floats(1), floats(1), floats(3))
def seen_from_travel(at: Array, turn: Array, x: Array, y: Array, theta: Array, points: Array) -> Array:
    """Points (3, P, S) of a body that is at (S, 3), turned by (S, 3, 3), from a frame that travels over the ground by
    x, y and θ (S,): (S, P, 3)."""
    _, count, samples = points.shape
    found = np.empty((samples, count, 3))
    for k in range(samples):
        own, (u, v, w), c, s = matrix(turn[k]), vector(at[k]), cos(theta[k]), sin(theta[k])
        for p in range(count):
            a, b, high = plus(of(own, (points[0, p, k], points[1, p, k], points[2, p, k])), (u - x[k], v - y[k], w))
            put(found[k, p], (c * a + s * b, c * b - s * a, high))
    return found


def forward(chain: Chain, joints: Array) -> tuple[Array, Array]:
    """Forward kinematics: down a chain, T' = T·R and p' = p + T'·o, of a slide T' = T and p' = p + T·(o + n·q).

    Args: joints (L, S, J), rad (mm where a joint slides).
    Returns: points (L, S, H+1, 3) mm: the mount and the end of every link, in the body frame;
    frames (L, S, H, 3, 3): the orientation of every link. Samples stand last in memory: long rows are quick rows.
    """
    at, turn = _forward(
        chain.hinges(joints), chain.axes, chain.offsets, chain.mount_at, chain.mount_turn, chain.sliding
    )
    return at.transpose(1, 3, 0, 2), turn.transpose(1, 4, 0, 2, 3)


@compiled
def past_hinge(
    at: Vector, x: Vector, y: Vector, z: Vector, axis: Vector, offset: Vector, slides: bool, value: float
) -> tuple[Vector, Vector, Vector, Vector]:
    """Where a chain has got to, and the rows of its frame, past one hinge more and what leads on from it."""
    if slides:
        offset = plus(offset, times(axis, value))
    else:
        sine, cosine = sin(value), cos(value)
        x, y, z = about(x, axis, sine, cosine), about(y, axis, sine, cosine), about(z, axis, sine, cosine)
    return (at[0] + dot(x, offset), at[1] + dot(y, offset), at[2] + dot(z, offset)), x, y, z


@compiled_for(floats(3), floats(3), floats(3), floats(2), floats(3), flags(1))
def _forward(
    values: Array, axes: Array, offsets: Array, mount_at: Array, mount_turn: Array, sliding: Flags
) -> tuple[Array, Array]:
    """points (H+1, L, 3, S) and frames (H, L, 3, 3, S)."""
    limbs, samples, hinges = values.shape
    points, frames = np.empty((hinges + 1, limbs, 3, samples)), np.empty((hinges, limbs, 3, 3, samples))
    for n in range(limbs):
        mount = mount_turn[n]
        for s in range(samples):
            at, x, y, z = vector(mount_at[n]), vector(mount[0]), vector(mount[1]), vector(mount[2])
            points[0, n, 0, s], points[0, n, 1, s], points[0, n, 2, s] = at
            for h in range(hinges):
                axis, offset = vector(axes[n if len(axes) > 1 else 0, h]), vector(offsets[n, h])
                at, x, y, z = past_hinge(at, x, y, z, axis, offset, sliding[h], values[n, s, h])
                points[h + 1, n, 0, s], points[h + 1, n, 1, s], points[h + 1, n, 2, s] = at
                for k in range(3):
                    frames[h, n, 0, k, s], frames[h, n, 1, k, s], frames[h, n, 2, k, s] = x[k], y[k], z[k]
    return points, frames


def jacobian(chain: Chain, points: Array, frames: Array, tip: Array | None = None) -> Array:
    """What the foot does per unit of each joint: (L, S, 6, J), mm then rad, in the body frame.

    Hinge: v = ω × (tip − p), ω the axis; slide: v along the axis, ω = 0. Source: the geometric Jacobian of any text
    on serial arms. points and frames as `forward` gave them; tip (L, S, 3) mm, by default the end of the last link.
    """
    end = points[:, :, -1] if tip is None else tip
    columns: Array = _columns(chain.axes, chain.mount_turn, chain.sliding, points, frames, end)
    return columns if chain.coupling is None else columns @ chain.coupling


@compiled_for(floats(3), floats(3), flags(1), floats(4), floats(5), floats(3))
def _columns(axes: Array, mounts: Array, sliding: Flags, points: Array, frames: Array, end: Array) -> Array:
    """(L, S, 6, H): what points (L, S, 3) do per unit of each hinge."""
    limbs, samples, hinges = frames.shape[:3]
    found = np.zeros((limbs, samples, 6, hinges))
    for n in range(limbs):
        for s in range(samples):
            for h in range(hinges):
                turn = matrix(mounts[n]) if h == 0 else matrix(frames[n, s, h - 1])
                axis = of(turn, vector(axes[n if len(axes) > 1 else 0, h]))
                moves = axis if sliding[h] else crossed(axis, minus(vector(end[n, s]), vector(points[n, s, h])))
                for i in range(3):
                    found[n, s, i, h] = moves[i]
                    found[n, s, 3 + i, h] = 0.0 if sliding[h] else axis[i]
    return found


def to_mount(chain: Chain, points: Array) -> Array:
    """Body-frame points (L, S, 3) seen from each limb's mount."""
    seen: Array = (points - chain.mount_at[:, None]) @ chain.mount_turn
    return seen
