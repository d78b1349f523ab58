"""The walker's limbs as arrays: groups of one family, solved and laid out together."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from bustle.core.geometry.arrays import Array, Flags, Places
from bustle.core.geometry.serial_chain import Chain, forward, to_mount
from bustle.core.kinds.legs import FAMILIES, Build, Family
from bustle.core.machine.sections import Place, mount_place, section_places
from bustle.core.machine.shared_servo_legs import Legs, Tie, settle
from bustle.core.project.walker import JointAngle, Limb, MeasuredLimb, Walker
from bustle.core.walk.score import JointTrack


@dataclass(frozen=True)
class Group:
    """Limbs of one shape. members: their places in walker.limbs. columns: (L, J) into the flat joint array.

    build is the design, which inverse kinematics is solved on; built is the chain as measured, zeros (L, J) are added
    to the solved joints to give what the built joints take. fixed: (L, J) joint values of limbs that have no target,
    or None for limbs that step.
    """

    family: Family
    members: Places
    columns: Places
    build: Build
    built: Chain
    zeros: Array
    fixed: Array | None


def joint_slices(walker: Walker) -> list[slice]:
    """Where each limb's joints are in the flat joint array."""
    slices, start = [], 0
    for limb in walker.limbs:
        slices.append(slice(start, start + len(limb.joints)))
        start += len(limb.joints)
    return slices


def joint_columns(walker: Walker) -> dict[tuple[str, str], tuple[int, float]]:
    """(limb, joint) → its column in the flat joint array, and what turns its unit on screen into the core's."""
    found, column = {}, 0
    for limb in walker.limbs:
        for joint in limb.joints:
            found[limb.name, joint.name] = (column, 1.0 if joint.kind == "slide" else float(np.radians(1.0)))
            column += 1
    return found


def limits_of(limb: Limb) -> tuple[list[float], list[float]]:
    """The joints' ends, rad or mm."""
    low = [j.min_mm if j.kind == "slide" else float(np.radians(j.min_deg)) for j in limb.joints]
    high = [j.max_mm if j.kind == "slide" else float(np.radians(j.max_deg)) for j in limb.joints]
    return low, high


def _shape(limb: Limb) -> tuple[object, ...]:
    """Limbs alike in this are one batch."""
    kinds = tuple(j.kind for j in limb.joints) if FAMILIES[limb.family].open else ()
    return limb.family, limb.steps, kinds


def groups(walker: Walker, bends_deg: dict[str, float], held: Sequence[JointAngle] = ()) -> list[Group]:
    """The walker's limbs by shape, in the order in which shapes first appear.

    bends_deg: the angle of each hinged section. held: joints of limbs that do not step.
    """
    sections = section_places(walker, bends_deg)
    measured = {m.limb: m for m in walker.as_built.limbs}
    values = {(a.limb, a.joint): a.value for a in held}
    slices = joint_slices(walker)
    found = []
    for shape in dict.fromkeys(_shape(limb) for limb in walker.limbs):
        members = [i for i, limb in enumerate(walker.limbs) if _shape(limb) == shape]
        limbs = [walker.limbs[i] for i in members]
        places = [mount_place(sections[limb.section], limb.mount) for limb in limbs]
        build, built, zeros = build_of(limbs, places, measured)
        fixed = None if limbs[0].steps else np.array([_held(limb, values) for limb in limbs])
        found.append(
            Group(
                family=FAMILIES[limbs[0].family],
                members=np.array(members),
                columns=np.array([list(range(slices[i].start, slices[i].stop)) for i in members], dtype=np.intp),
                build=build,
                built=built,
                zeros=zeros,
                fixed=fixed,
            )
        )
    return found


def _held(limb: Limb, values: dict[tuple[str, str], float]) -> list[float]:
    """Joint values of a limb without a target: as held, else 0 or the end of travel nearest to it."""
    angles = []
    for joint, low, high in zip(limb.joints, *limits_of(limb), strict=True):
        asked = values.get((limb.name, joint.name))
        if asked is None:
            angles.append(min(max(0.0, low), high))
        else:
            angles.append(asked if joint.kind == "slide" else float(np.radians(asked)))
    return angles


def build_of(
    limbs: Sequence[Limb], places: Sequence[Place], measured: dict[str, MeasuredLimb]
) -> tuple[Build, Chain, Array]:
    """Limbs of one shape as a build, the chain as measured, and the joints' measured zeros (L, J)."""
    family = FAMILIES[limbs[0].family]
    mirrored = np.array([limb.mirrored for limb in limbs])
    hip = np.array([limb.hip_offset_mm for limb in limbs])
    hip[mirrored, 1] *= -1
    design = np.array([[k.length_mm for k in limb.links] for limb in limbs]).reshape(len(limbs), -1)
    true, zeros = design.copy(), np.zeros((len(limbs), len(limbs[0].joints)))
    for row, limb in enumerate(limbs):
        truth = measured.get(limb.name)
        if truth:
            for n, link in enumerate(limb.links):
                true[row, n] = truth.link_length_mm.get(link.name, design[row, n])
            for n, joint in enumerate(limb.joints):
                zero = truth.joint_zero_deg.get(joint.name, 0.0)
                zeros[row, n] = zero if joint.kind == "slide" else np.radians(zero)
    at, turn = np.array([p.at for p in places]), np.array([p.turn for p in places])

    def laid_out(lengths: Array) -> Chain:
        if family.open:
            return _free_chain(limbs, lengths, mirrored, at, turn)
        layout = family.layout(lengths, hip, mirrored)
        return Chain(layout.axes[None], layout.offsets, at, turn, None, layout.coupling, layout.link_at)

    limits = np.array([limits_of(limb) for limb in limbs]).reshape(len(limbs), 2, -1)
    keeps = [k.name for k in family.keeps]
    build = Build(
        lengths=design,
        hip=hip,
        mirrored=mirrored,
        branch=np.array([family.branches.index(limb.branch) for limb in limbs]),
        keep=np.array([keeps.index(limb.keep) if limb.keep else 0 for limb in limbs]),
        low=limits[:, 0],
        high=limits[:, 1],
        chain=laid_out(design),
    )
    return build, laid_out(true) if measured else build.chain, zeros


def _free_chain(limbs: Sequence[Limb], lengths: Array, mirrored: Flags, at: Array, turn: Array) -> Chain:
    """A free chain from its own axes and offsets; a measured length stretches its offset. Mirrored: y turned round, and
    the axes so that positive joints mirror too."""
    axes = np.array([[j.axis for j in limb.joints] for limb in limbs], dtype=float)
    offsets = np.array([[k.offset_mm for k in limb.links] for limb in limbs], dtype=float)
    axes /= np.linalg.norm(axes, axis=-1, keepdims=True)
    size = np.linalg.norm(offsets, axis=-1)
    drawn = np.array([[k.length_mm for k in limb.links] for limb in limbs])
    stretch = np.where((drawn > 0) & (size > 0), lengths / np.where(drawn > 0, drawn, 1.0), 1.0)
    offsets = offsets * stretch[..., None]
    slides = np.array([j.kind == "slide" for j in limbs[0].joints])
    flip = np.where(mirrored, -1.0, 1.0)
    offsets[..., 1] *= flip[:, None]
    axes[..., 1] *= flip[:, None]
    # A mirrored hinge turns the other way about its mirrored axis; a slide goes the same way along it.
    axes = np.where(slides[:, None], axes, axes * flip[:, None, None])
    return Chain(axes, offsets, at, turn, slides)


@dataclass(frozen=True)
class Solved:
    """All limbs over S samples, in the body frame.

    joints: (S, J), rad or mm, what the table says. points: per limb (S, n+1, 3) mm, of the built machine. frames: per
    limb (S, n, 3, 3); mount_turns: per limb (3, 3). miss_mm: (L, S), how far the design's foot is from what
    it is meant to meet of its target; miss_rad: how far its tilt. straight_mm: (L, S), infinite where there is no knee.
    """

    joints: Array
    points: tuple[Array, ...]
    frames: tuple[Array, ...]
    mount_turns: tuple[Array, ...]
    miss_mm: Array
    miss_rad: Array
    straight_mm: Array

    def end_turns(self, limb: int) -> Array:
        """The orientation of a limb's last link (S, 3, 3); of its mount where it has none."""
        frames = self.frames[limb]
        if frames.shape[1]:
            return frames[:, -1]
        return np.broadcast_to(self.mount_turns[limb], (len(frames), 3, 3))


def chain_of(parts: Sequence[Group]) -> dict[int, Chain]:
    """The design chain of every limb, by its place in walker.limbs (to ask it where links and joints are)."""
    return {int(member): group.build.chain for group in parts for member in group.members}


def solve(
    parts: list[Group], tied: list[Tie], targets: Array, aims: Array | None, given: JointTrack | None = None
) -> Solved:
    """Inverse kinematics of every limb, of those that share a servo together, then forward kinematics of the result.

    targets: (L, S, 3) mm; aims: (L, S, 3, 3), how the feet should be turned, needed where some family has `pose`;
    both in the body frame. given: joints that are not solved for.
    """
    limbs, samples, _ = targets.shape
    joints = np.empty((samples, sum(g.columns.size for g in parts)))
    miss, tilt = np.zeros((limbs, samples)), np.zeros((limbs, samples))
    straight = np.full((limbs, samples), np.inf)
    for group in parts:
        if group.fixed is None:
            seen = to_mount(group.build.chain, targets[group.members])
            turned = None
            if group.family.pose and aims is not None:
                turned = np.swapaxes(group.build.chain.mount_turn, -1, -2)[:, None] @ aims[group.members]
            solution = group.family.solve(group.build, seen, turned)
            found = solution.joints
            miss[group.members] = solution.short
            tilt[group.members] = np.linalg.norm(solution.residual[..., 3:], axis=-1)
            if group.family.straight_mm:
                straight[group.members] = group.family.straight_mm(group.build, found)
        else:
            found = np.broadcast_to(group.fixed[:, None], (len(group.members), samples, group.fixed.shape[1]))
        for row in range(len(group.members)):
            joints[:, group.columns[row]] = found[row]
    if tied:
        for member, missing in settle(tied, _with_targets(parts, targets), joints).items():
            miss[member] = missing
    if given:
        joints = np.where(given.given, given.values, joints)
        for group in parts:
            for row, member in enumerate(group.members):
                free = ~given.given[:, group.columns[row]].all(axis=1)
                miss[member] *= free
                tilt[member] *= free
    return _laid_out(parts, joints, miss, tilt, straight)


def _with_targets(parts: list[Group], targets: Array) -> list[Legs]:
    return [
        Legs(int(member), group.build.only([row]).chain, group.columns[row].tolist(), targets[member])
        for group in parts
        if group.fixed is None
        for row, member in enumerate(group.members)
    ]


def _laid_out(parts: list[Group], joints: Array, miss: Array, tilt: Array, straight: Array) -> Solved:
    """Where everything of the built machine is."""
    points: list[Array] = [np.empty(0)] * len(miss)
    frames: list[Array] = [np.empty(0)] * len(miss)
    mounts: list[Array] = [np.empty(0)] * len(miss)
    for group in parts:
        at, turn = forward(group.built, np.moveaxis(joints[:, group.columns], 1, 0) + group.zeros[:, None])
        for row, member in enumerate(group.members):
            points[member], frames[member] = at[row], turn[row]
            mounts[member] = group.built.mount_turn[row]
    return Solved(joints, tuple(points), tuple(frames), tuple(mounts), miss, tilt, straight)


def needs_aims(parts: list[Group]) -> bool:
    """Whether some family here has a foot to turn."""
    return any(g.family.pose for g in parts if g.fixed is None)
