"""The straight-line test: the foot is sent along a line and watched, with an error put in on purpose if wanted.

The joints are those of the design; the foot is where the built leg takes it. With play, each joint may hang anywhere in
its band, so the foot's path is a band too: its worst side adds |∂p/∂q|·play/2 across the line.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from bustle.core.clamp.brought_to import LEVEL, brought_to
from bustle.core.clamp.leg_on_the_clamp import find
from bustle.core.geometry.arrays import Array, Indices
from bustle.core.geometry.serial_chain import forward, jacobian
from bustle.core.machine.limb_groups import build_of
from bustle.core.machine.sections import mount_place, section_places
from bustle.core.project.project import Project
from bustle.core.project.walker import MeasuredLimb

SAMPLES = 81

LINES: dict[str, tuple[str, tuple[float, float, float]]] = {
    "up_down": ("Up and down", (0.0, 0.0, 1.0)),
    "fore_aft": ("Fore and aft", (1.0, 0.0, 0.0)),
    "sideways": ("Sideways", (0.0, 1.0, 0.0)),
    "mixed": ("All mixed", (0.577350269, 0.577350269, 0.577350269)),
}


@dataclass(frozen=True)
class LineTest:
    """along_mm (N,): where on the line, 0 in the middle; off_mm (N,): how far the foot is from straight, play
    included; path (N, 3) mm, body.

    lean_deg: how far its straight line leans from the one asked for; shift_mm: how far it lies from it in the mean,
    along it and across. worst_mm and where. limited: what stops it
    first ("L1 tibia end stop", "reach") and where on the line, or None. clear_mm: the longest stretch round the
    middle in which nothing does.
    """

    line: str
    along_mm: Array
    off_mm: Array
    path: Array
    lean_deg: float
    shift_mm: float
    worst_mm: float
    worst_at_mm: float
    limited: str | None
    limited_at_mm: float | None
    clear_mm: float


def line_test(
    project: Project,
    limb: str,
    middle: Array,
    line: str,
    length_mm: float,
    error: MeasuredLimb,
    sole: Array = LEVEL,
) -> LineTest:
    """Send the foot along `length_mm` through `middle` (3,) mm, body frame, its sole turned as `sole` (3, 3).
    `error` is laid over what is known of the leg.
    """
    group, row = find(project, limb)
    leg = project.walker.limbs[int(group.members[row])]
    along = np.linspace(-length_mm / 2, length_mm / 2, SAMPLES)
    way = np.array(LINES[line][1])
    target = np.asarray(middle) + along[:, None] * way
    place = mount_place(section_places(project.walker, {})[leg.section], leg.mount)
    build, built, zeros = build_of([leg], [place], {leg.name: _together(project, error)})
    solution = brought_to(project, group, row, target, sole)
    joints = solution.joints[None] + zeros[:, None]
    points, frames = forward(built, joints)
    path = points[0, :, -1]
    slope = jacobian(built, points, frames)[0, :, :3]
    play = np.radians([error.joint_play_deg.get(j.name, 0.0) for j in leg.joints]) / 2
    fitted, lean = _best_line(path, way)
    gap = path - path.mean(axis=0)
    across = gap - (gap @ fitted)[:, None] * fitted
    swing = slope - way[None, :, None] * np.einsum("a,saj->sj", way, slope)[:, None]
    off = np.linalg.norm(across, axis=1) + (np.linalg.norm(swing, axis=1) * play).sum(axis=1)
    worst = int(off.argmax())
    limited, at = _limit(
        leg.name, [j.name for j in leg.joints], solution.joints, solution.short, build.low[0], build.high[0]
    )
    stops = np.abs(along[at]) if len(at) else np.array([length_mm / 2])
    return LineTest(
        line=line,
        along_mm=along,
        off_mm=off,
        path=path,
        lean_deg=lean,
        shift_mm=float(np.linalg.norm((path - target).mean(axis=0))),
        worst_mm=float(off[worst]),
        worst_at_mm=float(along[worst]),
        limited=limited,
        limited_at_mm=float(along[at[np.argmin(stops)]]) if len(at) else None,
        clear_mm=float(2 * stops.min()),
    )


def straight_mm(test: LineTest, tolerance_mm: float) -> float:
    """The longest stretch round the middle in which nothing stops the foot and it is on the line asked for, straight
    through where it is in the middle, to the tolerance."""
    way = np.array(LINES[test.line][1])
    gap = test.path - test.path[len(test.path) // 2]
    off = np.linalg.norm(gap - test.along_mm[:, None] * way, axis=1)
    beyond = np.abs(test.along_mm[off > tolerance_mm])
    return float(min(test.clear_mm, 2 * beyond.min(initial=np.inf)))


def _best_line(path: Array, way: Array) -> tuple[Array, float]:
    """The direction of the straight line nearest to the path (its first principal axis), and how far it leans."""
    _, sizes, axes = np.linalg.svd(path - path.mean(axis=0))
    line: Array = axes[0] if sizes[0] > 1e-9 else way
    return line, float(np.degrees(np.arccos(np.clip(abs(line @ way), 0.0, 1.0))))


def _together(project: Project, error: MeasuredLimb) -> MeasuredLimb:
    known = next((m for m in project.walker.as_built.limbs if m.limb == error.limb), MeasuredLimb(limb=error.limb))
    zeros = dict(known.joint_zero_deg)
    for name, value in error.joint_zero_deg.items():
        zeros[name] = zeros.get(name, 0.0) + value
    return MeasuredLimb(
        limb=error.limb,
        link_length_mm={**known.link_length_mm, **error.link_length_mm},
        joint_zero_deg=zeros,
    )


def _limit(
    limb: str, names: list[str], joints: Array, short: Array, low: Array, high: Array
) -> tuple[str | None, Indices]:
    """What stops the foot nearest to the middle, and the samples at which anything does."""
    over = (joints < low - 1e-9) | (joints > high + 1e-9)
    missed = short > 1e-6
    at = np.flatnonzero(over.any(axis=1) | missed)
    if not len(at):
        return None, at
    first = at[np.argmin(np.abs(at - len(joints) // 2))]
    if missed[first]:
        return f"{limb} is at the end of its reach", at
    return f"{limb} {names[int(np.argmax(over[first]))]} is at its end stop", at
