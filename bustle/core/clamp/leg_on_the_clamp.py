"""One leg on a clamp: its joints for a place of its foot, what each joint does there, and how it came about."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from bustle.core.at_rest.drive_springs import Bent, gives
from bustle.core.clamp.brought_to import LEVEL, aims, brought_to
from bustle.core.clamp.reachable_area import PLANES, Slice, cut
from bustle.core.geometry.arrays import Array
from bustle.core.geometry.serial_chain import forward, jacobian, to_mount
from bustle.core.kinds.legs import FAMILIES
from bustle.core.kinds.legs.in_one_plane import in_one_plane
from bustle.core.kinds.legs.working import Step, Triangle
from bustle.core.machine.limb_groups import Group, groups
from bustle.core.machine.soles import carried, corners
from bustle.core.project.project import Project
from bustle.core.project.walker import Limb
from bustle.core.words.problems import refuse


@dataclass(frozen=True)
class JointState:
    """A joint at that place. per_unit_mm: what the foot moves per degree (per mm where it slides); direction: which
    way, body axes. newtons_per_nm: what force a torque on it becomes at the foot, 1000/lever, lever in mm per radian.
    """

    name: str
    label: str
    value: float
    low: float
    high: float
    unit: str
    per_unit_mm: float
    direction: tuple[float, float, float]
    newtons_per_nm: float | None


@dataclass(frozen=True)
class Clamped:
    """All in the body frame, mm. sole: (K, 3), corners of a flat sole or ends of an edge.
    missing: target less foot. short_mm: of it, what the leg is meant to meet.

    give_mm_per_n: how far the foot moves for each newton that presses up on it, None where no horn is sprung.
    """

    limb: Limb
    label: str
    target: Array
    foot: Array
    points: Array
    sole: Array
    missing: Array
    short_mm: float
    tilt_deg: float
    straight_mm: float | None
    knee_deg_per_mm: float | None
    give_mm_per_n: tuple[float, float, float] | None
    joints: tuple[JointState, ...]
    slices: tuple[Slice, ...]
    steps: tuple[Step, ...]
    triangles: tuple[Triangle, ...]


def find(project: Project, name: str) -> tuple[Group, int]:
    """The group and row of a limb that steps. Raises InputRefused naming those there are."""
    legs = [limb.name for limb in project.walker.legs]
    if name not in legs:
        raise refuse("limb", f"no leg is called {name[:40]!r}; this walker has {', '.join(legs)}")
    for group in groups(project.walker, {}):
        for row, member in enumerate(group.members):
            if project.walker.limbs[int(member)].name == name:
                return group, row
    raise AssertionError(name)


def reach_mm(group: Group, row: int) -> float:
    """The length of the leg laid out straight, and a little."""
    return float(np.linalg.norm(group.build.chain.offsets[row], axis=-1).sum()) * 1.08 + 5.0


def clamp(
    project: Project, name: str, foot_mm: Array, views: Sequence[str] = tuple(PLANES), sole: Array = LEVEL
) -> Clamped:
    """Bring the foot of a leg to foot_mm (3,), body frame; where it has a sole, turned as `sole` (3, 3), by default
    level and pointing ahead.

    views: of which planes the reach is wanted; a leg that moves in one plane has reach in that one only.
    """
    group, row = find(project, name)
    limb = project.walker.limbs[int(group.members[row])]
    planes = [v for v in views if v == "side" or not in_one_plane(limb)]
    one = group.build.only([row])
    chain = one.chain
    target = np.asarray(foot_mm, dtype=float)
    seen = to_mount(chain, target[None, None])
    turned = aims(chain, sole, 1)
    solution = brought_to(project, group, row, target[None], sole)
    joints = solution.joints[0]
    points, frames = forward(chain, solution.joints[None])
    slope = jacobian(chain, points, frames)[0, 0, :3]
    steps: list[Step] = []
    triangles: list[Triangle] = []
    if group.family.working and solution.short[0] < 1e-3:
        steps, triangles = group.family.working(one, seen[0, 0], turned[0, 0], joints)
    straight = group.family.straight_mm(one, solution.joints[None])[0, 0] if group.family.straight_mm else None
    (sprung,) = gives(project, [Bent(limb, joints, slope)])
    return Clamped(
        limb=limb,
        label=group.family.label,
        target=target,
        foot=points[0, 0, -1],
        points=points[0, 0],
        sole=_sole(limb, points[0, :, -1], frames[0, :, -1]),
        missing=target - points[0, 0, -1],
        short_mm=float(solution.short[0]),
        tilt_deg=float(np.degrees(np.linalg.norm(solution.residual[0, 3:]))),
        straight_mm=None if straight is None else float(straight),
        knee_deg_per_mm=_knee_rate(group, row, joints),
        give_mm_per_n=None if sprung is None else (float(sprung[0]), float(sprung[1]), float(sprung[2])),
        joints=tuple(_states(group, limb, joints, slope)),
        slices=tuple(cut(project, group, row, target, plane, reach_mm(group, row), sole) for plane in planes),
        steps=tuple(steps),
        triangles=tuple(_placed(triangles, chain.mount_at[0], chain.mount_turn[0])),
    )


def _sole(limb: Limb, end: Array, turn: Array) -> Array:
    """Corners (K, 3) of a sole that is turned by its leg and has any; end (1, 3), turn (1, 3, 3)."""
    if FAMILIES[limb.family].sole_follows and limb.feet[0].sole.kind in ("rectangle", "edge"):
        return corners(limb.feet[0], carried(limb.feet[0], end, turn), turn)[:, 0]
    return np.empty((0, 3))


def _states(group: Group, limb: Limb, joints: Array, slope: Array) -> list[JointState]:
    labels = {j.name: j.label for j in group.family.joints}
    states = []
    for n, joint in enumerate(limb.joints):
        slides = joint.kind == "slide"
        low, high = (joint.min_mm, joint.max_mm) if joint.kind == "slide" else (joint.min_deg, joint.max_deg)
        lever = float(np.linalg.norm(slope[:, n]))
        way = slope[:, n] / lever if lever > 1e-9 else np.zeros(3)
        states.append(
            JointState(
                name=joint.name,
                label=labels.get(joint.name, joint.name),
                value=float(joints[n] if slides else np.degrees(joints[n])),
                low=low,
                high=high,
                unit="mm" if slides else "°",
                per_unit_mm=lever if slides else lever * float(np.radians(1.0)),
                direction=(float(way[0]), float(way[1]), float(way[2])),
                newtons_per_nm=None if slides or lever < 1e-6 else 1000.0 / lever,
            )
        )
    return states


def _knee_rate(group: Group, row: int, joints: Array) -> float | None:
    """Degrees the knee turns per mm the foot goes in or out along hip–foot: dβ/dL = L/(ab·sin β) (law of cosines)."""
    family = group.family
    if family.knee is None:
        return None
    a, b = (float(group.build.lengths[row, k]) for k in family.knee_links)
    bend = float(joints[family.knee])
    if family.name.startswith("parallelogram"):
        bend -= float(joints[family.knee - 1])
    length = np.sqrt(max(a * a + b * b + 2 * a * b * np.cos(bend), 0.0))
    sine = abs(np.sin(bend))
    return float(np.degrees(length / (a * b * sine))) if sine > 1e-6 else None


def _placed(triangles: list[Triangle], at: Array, turn: Array) -> list[Triangle]:
    """Triangles of the mount's frame in the body frame."""
    found = []
    for triangle in triangles:
        corners = np.array(triangle.corners) @ turn.T + at
        first, second, third = ((float(x), float(y), float(z)) for x, y, z in corners)
        found.append(Triangle((first, second, third), triangle.sides, triangle.angles))
    return found
