"""The joints of one leg for places of its foot, as the table would have them: with the legs it shares a servo with
standing where they stand.

A servo that turns joints of two legs cannot follow both; what the table does then depends on where the other foot is.
On the clamp that one stands at its neutral place, as deep below the frame as the walker's first gait rides.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.geometry.serial_chain import Chain, forward, to_mount
from bustle.core.machine.limb_groups import Group, groups, joint_slices
from bustle.core.machine.limb_solution import solve
from bustle.core.machine.sections import turned
from bustle.core.machine.shared_servo_legs import ties
from bustle.core.project.motion import PhaseGait
from bustle.core.project.project import Project
from bustle.core.project.walker import Limb, Walker

LEVEL = np.eye(3)


@dataclass(frozen=True)
class Brought:
    """N places of one leg's foot. joints: (N, J), rad or mm; residual: (N, 6) mm and rad as in `Solution`; short:
    (N,) mm of the miss that the leg is meant to meet."""

    joints: Array
    residual: Array
    short: Array


def aims(chain: Chain, sole: Array, count: int) -> Array:
    """One orientation `sole` (3, 3), body frame, asked at `count` places: (L, count, 3, 3), in each mount's frame."""
    seen = np.swapaxes(chain.mount_turn, -1, -2) @ sole
    return np.broadcast_to(seen[:, None], (len(seen), count, 3, 3))


def brought_to(
    project: Project, group: Group, row: int, places: Array, sole: Array = LEVEL, nearest: bool = True
) -> Brought:
    """places: (N, 3) mm, body frame; sole: how its foot is turned, where it has one to turn. nearest: as in `Build`."""
    one = replace(group.build.only([row]), nearest=nearest)
    wanted = aims(one.chain, sole, len(places)) if group.family.pose else None
    found = group.family.solve(one, to_mount(one.chain, places[None]), wanted)
    alone = Brought(found.joints[0], found.residual[0], found.short[0])
    limb = project.walker.limbs[int(group.members[row])]
    few = _those_tied(project.walker, limb)
    return _together(project, few, limb, places, sole, alone) if few else alone


def shares_a_servo(walker: Walker, limb: Limb) -> bool:
    """Whether some servo turns a joint of this limb and one of another."""
    return _those_tied(walker, limb) is not None


def _those_tied(walker: Walker, limb: Limb) -> Walker | None:
    """The walker with no more limbs than this one and those it shares servos with, directly or through others."""
    shared = [d for d in walker.drives if len(d.servos) < len(d.joints)]
    names = {limb.name}
    for _ in shared:
        for drive in shared:
            owners = {joint.partition("/")[0] for joint in drive.joints}
            names |= owners if owners & names else set()
    if len(names) == 1:
        return None
    drives = tuple(d for d in walker.drives if {j.partition("/")[0] for j in d.joints} <= names)
    limbs = tuple(m for m in walker.limbs if m.name in names)
    return walker.model_copy(update={"limbs": limbs, "drives": drives})


def _together(project: Project, few: Walker, limb: Limb, places: Array, sole: Array, alone: Brought) -> Brought:
    ride_mm = next((m.pose.ride_height_mm for m in project.motions if isinstance(m, PhaseGait)), 0.0)
    own = [m.name for m in few.limbs].index(limb.name)
    targets, soles = np.zeros((len(few.limbs), len(places), 3)), np.zeros((len(few.limbs), len(places), 3, 3))
    for i, other in enumerate(few.limbs):
        targets[i] = (*(other.neutral_mm or (0.0, 0.0)), -ride_mm)
        soles[i] = turned(other.toe_deg, 0.0, 0.0)
    targets[own], soles[own] = places, sole
    parts = groups(few, {})
    solved = solve(parts, ties(few), targets, soles)
    joints = solved.joints[:, joint_slices(few)[own]]
    residual = alone.residual.copy()
    chain = next(g.build.only([list(g.members).index(own)]).chain for g in parts if own in g.members)
    residual[:, :3] = to_mount(chain, places[None])[0] - to_mount(chain, forward(chain, joints[None])[0][:, :, -1])[0]
    return Brought(joints, residual, solved.miss_mm[own])
