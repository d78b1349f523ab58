"""The walker's limbs as arrays: groups of one family, solved and laid out together."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from bustle.core.geometry.arrays import Array, Flags, Indices
from bustle.core.geometry.serial_chain import Chain
from bustle.core.kinds.legs import FAMILIES, Build, Family
from bustle.core.machine.aside_feet import Aside, aside_of
from bustle.core.machine.sections import Place, mount_place, section_places
from bustle.core.project.walker import JointAngle, Limb, MeasuredLimb, Walker


@dataclass(frozen=True)
class Group:
    """Limbs of one shape. members: their places in walker.limbs. columns: (L, J) into the flat joint array.

    build is the design, which inverse kinematics is solved on; built is the chain as measured, zeros (L, J) are added
    to the solved joints to give what the built joints take. fixed: (L, J) joint values of limbs that have no target,
    or None for limbs that step. aside: what is solved instead where feet are beside the ends of their links.
    """

    family: Family
    members: Indices
    columns: Indices
    build: Build
    built: Chain
    zeros: Array
    fixed: Array | None
    aside: Aside | None = None


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
                aside=aside_of(limbs, build) if fixed is None else None,
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


def chain_of(parts: Sequence[Group]) -> dict[int, Chain]:
    """The design chain of every limb, by its place in walker.limbs (to ask it where links and joints are)."""
    return {int(member): group.build.chain for group in parts for member in group.members}


def needs_aims(parts: list[Group]) -> bool:
    """Whether some family here has a foot to turn."""
    return any(g.family.pose for g in parts if g.fixed is None)
