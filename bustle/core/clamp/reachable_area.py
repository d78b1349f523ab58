"""Where a leg's foot can be: slices of its workspace with joint limits and drives, and how far its edge is.

A place is within reach if inverse kinematics, on the leg's own branch, brings the foot there with every joint between
its stops, every servo within its travel, and no drive past its dead point. A slice through the present foot is tried on
a grid; its outline is traced from grid square to grid square and every corner of it is put on the true edge by halving,
so that outline and inverse kinematics agree but in squares whose four corners cannot tell: slivers narrower than the
grid, where the true edge is never farther than a square's diagonal.
"""

from __future__ import annotations

from dataclasses import dataclass

import contourpy
import numpy as np
import shapely

from bustle.core.clamp.brought_to import LEVEL, brought_to, shares_a_servo
from bustle.core.geometry.arrays import Array, Flags
from bustle.core.kinds.drives import DRIVES
from bustle.core.machine.limb_groups import Group
from bustle.core.project.project import Project

GRID = 241
# Of a leg that shares a servo each place is a search of its own: fewer are tried.
TIED_GRID = 61
HALVINGS = 22
SHORT_MM = 1e-6

# The two body axes that a view shows, across and up the page: x forward, y left, z up.
PLANES: dict[str, tuple[int, int]] = {"side": (0, 2), "plan": (0, 1), "front": (1, 2)}


@dataclass(frozen=True)
class Slice:
    """The workspace cut by a plane through the foot: rings (N, 2) mm in that plane, outer ones and holes alike.

    edge_mm: how far the foot is from the nearest edge, below 0 outside; 0 in a sliver too narrow for the outline.
    """

    plane: str
    rings: tuple[Array, ...]
    edge_mm: float


def within(project: Project, group: Group, row: int, places: Array, sole: Array = LEVEL) -> Flags:
    """Which places (N, 3) mm of the body frame the foot of this limb can be brought to, its sole turned as `sole`."""
    found = brought_to(project, group, row, places, sole, nearest=False)
    joints, low, high = found.joints, group.build.low[row], group.build.high[row]
    good = (found.short <= SHORT_MM) & (np.linalg.norm(found.residual[:, :3], axis=-1) <= _slip(project, group))
    good &= ((joints >= low - 1e-9) & (joints <= high + 1e-9)).all(axis=1)
    return good & _driven(project, group, row, joints)


def _slip(project: Project, group: Group) -> float:
    """A leg that follows all three coordinates misses none; one that cannot may slip as far as the project allows."""
    return SHORT_MM if len(group.family.joints) >= 3 or group.family.open else project.limits.slip_mm


def _driven(project: Project, group: Group, row: int, joints: Array) -> Flags:
    """Whether the servos that turn only this limb's joints are within their travel, and no drive is strained."""
    limb = project.walker.limbs[int(group.members[row])]
    own = {f"{limb.name}/{j.name}": n for n, j in enumerate(limb.joints)}
    sheets = {s.name: s for s in project.servo_types}
    good = np.ones(len(joints), dtype=bool)
    for drive in project.walker.drives:
        if not all(j in own for j in drive.joints):
            continue
        kind = DRIVES[drive.kind]
        columns = [own[j] for j in drive.joints]
        centres = np.radians([[s.centre_deg for s in drive.servos]])
        settings = np.array([kind.values(drive.settings)]).reshape(1, -1)
        values = joints[:, None, columns]
        half = np.radians([sheets[s.type].travel_deg / 2 for s in drive.servos])
        good &= (np.abs(kind.to_servos(values, centres, settings)[:, 0]) <= half + 1e-9).all(axis=1)
        good &= kind.strain(values, centres, settings)[:, 0] <= 0
    return good


def cut(
    project: Project, group: Group, row: int, foot: Array, plane: str, size_mm: float, sole: Array = LEVEL
) -> Slice:
    """The slice through `foot` (3,) mm, body frame, as far as size_mm from the limb's mount; `sole` as for `within`."""
    across, up = PLANES[plane]
    middle = group.build.chain.mount_at[row]

    def inside(u: Array, v: Array) -> Flags:
        places = np.tile(foot, (u.size, 1))
        places[:, across], places[:, up] = u.ravel(), v.ravel()
        return within(project, group, row, places, sole).reshape(u.shape)

    grid = TIED_GRID if shares_a_servo(project.walker, project.walker.limbs[int(group.members[row])]) else GRID
    u = middle[across] + np.linspace(-size_mm, size_mm, grid)
    v = middle[up] + np.linspace(-size_mm, size_mm, grid)
    grid_u, grid_v = np.meshgrid(u, v)
    flags = np.zeros(grid_u.shape, dtype=bool)
    # Beyond the leg laid out straight there is nothing to try.
    near = np.hypot(grid_u - middle[across], grid_v - middle[up]) < size_mm
    flags[near] = inside(grid_u[near], grid_v[near])
    # What the grid's border cuts off is closed there.
    flags[[0, -1]] = flags[:, [0, -1]] = False
    lines = contourpy.contour_generator(u, v, flags.astype(float)).lines(0.5)
    rings = tuple(_on_the_edge(np.asarray(line), u, v, flags, inside) for line in lines if len(line) > 3)
    point = foot[[across, up]]
    reached = bool(inside(point[:1], point[1:])[0])
    edge = min((float(shapely.distance(shapely.linestrings(r), shapely.points(point))) for r in rings), default=0.0)
    if covers(rings, point[None])[0] != reached:
        edge = 0.0
    return Slice(plane, rings, edge if reached else -edge)


def _on_the_edge(line: Array, u: Array, v: Array, flags: Flags, inside) -> Array:  # type: ignore[no-untyped-def]
    """Corners of a traced outline lie half-way along a grid edge; halve between its two ends to the true edge."""
    i, j = (line[:, 0] - u[0]) / (u[1] - u[0]), (line[:, 1] - v[0]) / (v[1] - v[0])
    low_i, low_j = np.floor(i + 1e-6).astype(int), np.floor(j + 1e-6).astype(int)
    along_u = np.abs(i - np.round(i)) > 1e-3
    high_i, high_j = np.where(along_u, low_i + 1, low_i), np.where(along_u, low_j, low_j + 1)
    high_i, high_j = np.minimum(high_i, len(u) - 1), np.minimum(high_j, len(v) - 1)
    first = np.stack([u[low_i], v[low_j]], axis=-1)
    second = np.stack([u[high_i], v[high_j]], axis=-1)
    swap = ~flags[low_j, low_i]
    good, bad = np.where(swap[:, None], second, first), np.where(swap[:, None], first, second)
    for _ in range(HALVINGS):
        middle = (good + bad) / 2
        flag = inside(middle[:, 0], middle[:, 1])[:, None]
        good, bad = np.where(flag, middle, good), np.where(flag, bad, middle)
    return good


def covers(rings: tuple[Array, ...], points: Array) -> Flags:
    """Which points (N, 2) lie within the rings, holes left out (even–odd rule)."""
    count = np.zeros(len(points), dtype=int)
    spots = shapely.points(points)
    for ring in rings:
        if len(ring) > 3:
            count += shapely.contains(shapely.make_valid(shapely.polygons(ring)), spots)
    odd: Flags = count % 2 == 1
    return odd
