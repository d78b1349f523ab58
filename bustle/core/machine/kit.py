"""The kit: what depends on the walker alone, worked out once for as long as the walker stays as it is.

Kept by the walker's content, not by who holds it: a draft that comes in anew with every move of a handle finds the kit
of the one before. Where its feet stand is no part of it, so that they may be dragged. Its arrays are read-only.
"""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property
from itertools import groupby
from threading import Lock

import numpy as np

from bustle.core.geometry.arrays import Array, Flags, Indices, kept
from bustle.core.machine.joints_and_servos import (
    Gearing,
    JointName,
    ServoName,
    column_of,
    gearings,
    joint_names,
    servo_names,
)
from bustle.core.machine.limb_groups import Group, groups, joint_slices
from bustle.core.machine.links_as_rods import Rod, rods
from bustle.core.machine.masses import Entry, Riding, Weights, ledger, riding
from bustle.core.machine.rigid_parts import PartsOfGroup, RigidPart, frame_part, limb_parts
from bustle.core.machine.section_shape import outline_mm
from bustle.core.machine.sections import Place, Swung, section_places, swung_sections
from bustle.core.machine.shared_servo_legs import Tie, ties
from bustle.core.machine.tracks import JointTrack
from bustle.core.project.kept_by_identity import KeptByIdentity
from bustle.core.project.parts import ServoType
from bustle.core.project.project import Project
from bustle.core.project.walker import JointAngle, Walker

# Kits kept at a time, and ways of holding each.
KITS = 24
HOLDS = 16

# Where no sheet says at how many degrees off its place a servo gives its stall torque.
FULL_TORQUE_AT_DEG = 5.0

# How long a servo is assumed to take to come up to speed, s.
TAU_S = 0.03


@dataclass(frozen=True)
class Turner:
    """A joint that turns a section of the frame: its column among the joints, and its name."""

    section: str
    column: int
    joint: JointName


@dataclass(frozen=True)
class Assembled:
    """The walker with its frame's hinges bent and the limbs that do not step held. rims: of each section, in the
    project's order, (2K, 3) mm in the body frame."""

    parts: list[Group]
    sections: Mapping[str, Place]
    rims: Mapping[str, Array]
    masses: list[Entry]

    @cached_property
    def riding(self) -> dict[int, Riding]:
        return kept(riding(self.masses))

    @cached_property
    def rigid(self) -> tuple[PartsOfGroup, ...]:
        """What moves with each hinge, group by group."""
        return kept(tuple(limb_parts(group, self.masses) for group in self.parts))

    @cached_property
    def rigid_frame(self) -> RigidPart:
        return kept(frame_part(self.masses, self.sections))

    @cached_property
    def weights(self) -> Weights:
        return kept(Weights.of(self.masses))

    @property
    def total_kg(self) -> float:
        return self.weights.kg


class Kit:
    """One walker with its servos' sheets."""

    def __init__(self, walker: Walker, servo_types: tuple[ServoType, ...]) -> None:
        self.walker, self.servo_types = walker, servo_types
        self._assembled: OrderedDict[tuple[object, ...], Assembled] = OrderedDict()

    def assembled(self, bends_deg: Mapping[str, float], held: tuple[JointAngle, ...] = ()) -> Assembled:
        """bends_deg: the angle of each hinged section; held: joints of limbs that do not step."""
        bends_deg = self.bent(bends_deg, held)
        key = (tuple(sorted(bends_deg.items())), held)
        found = self._assembled.get(key)
        if found is None:
            parts = groups(self.walker, dict(bends_deg), held)
            sections = section_places(self.walker, dict(bends_deg))
            rims = kept({s.name: sections[s.name].carry(outline_mm(s)) for s in self.walker.sections})
            found = Assembled(kept(parts), sections, rims, ledger(self.walker, self.servo_types, parts, sections))
            self._assembled[key] = found
            while len(self._assembled) > HOLDS:
                self._assembled.popitem(last=False)
        return found

    @cached_property
    def turners(self) -> tuple[Turner, ...]:
        """The joints that turn sections of the frame."""
        names = {s.hinge.turned_by: s.name for s in self.walker.sections if s.hinge and s.hinge.turned_by}
        return tuple(Turner(names[j.path], n, j) for n, j in enumerate(self.joints) if j.path in names)

    def held_at(self, column: int, value: float) -> JointAngle:
        """A joint held at a value, degrees or mm."""
        joint = self.joints[column]
        return JointAngle(limb=joint.limb.name, joint=joint.name, value=value)

    def bent(self, bends_deg: Mapping[str, float], held: tuple[JointAngle, ...]) -> Mapping[str, float]:
        """The bends with those of driven hinges as their joints are held."""
        if not self.turners:
            return bends_deg
        values = {f"{a.limb}/{a.joint}": a.value for a in held}
        ends = ((t, float(np.degrees(t.joint.low)), float(np.degrees(t.joint.high))) for t in self.turners)
        return {**bends_deg, **{t.section: values.get(t.joint.path, min(max(0.0, a), b)) for t, a, b in ends}}

    def swung(
        self, bends_deg: Mapping[str, float], held: tuple[JointAngle, ...], given: JointTrack | None
    ) -> dict[str, Swung]:
        """The sections that move with the joints that are given over time, by name."""
        if given is None or not self.turners:
            return {}
        bent = self.bent(bends_deg, held)
        moving = {
            t.section: np.where(given.given[:, t.column], np.degrees(given.values[:, t.column]), bent[t.section])
            for t in self.turners
            if given.given[:, t.column].any()
        }
        return swung_sections(self.walker, bent, moving)

    @cached_property
    def joints(self) -> tuple[JointName, ...]:
        return joint_names(self.walker)

    @cached_property
    def slices(self) -> tuple[slice, ...]:
        """Where each limb's joints are in the flat joint array."""
        return tuple(joint_slices(self.walker))

    @cached_property
    def column_of(self) -> dict[str, int]:
        return column_of(self.walker)

    @cached_property
    def low(self) -> Array:
        """(J,) rad or mm."""
        return kept(np.array([j.low for j in self.joints]))

    @cached_property
    def high(self) -> Array:
        """(J,) rad or mm."""
        return kept(np.array([j.high for j in self.joints]))

    @cached_property
    def slides(self) -> Flags:
        """(J,)"""
        return kept(np.array([j.slides for j in self.joints], dtype=bool))

    @cached_property
    def scale(self) -> Array:
        """(J,): core units → degrees, or mm where a joint slides."""
        return kept(np.array([j.scale for j in self.joints]))

    @cached_property
    def gearings(self) -> tuple[Gearing, ...]:
        return kept(gearings(self.walker))

    @cached_property
    def servos(self) -> tuple[ServoName, ...]:
        """In the order of `servo_angles`."""
        return servo_names(self.gearings, self.servo_types)

    @cached_property
    def slowest_refreshed(self) -> ServoType | None:
        """The servo type that waits longest from one pulse to the next."""
        return max((s.sheet for s in self.servos), key=lambda sheet: sheet.frame_period_ms, default=None)

    @cached_property
    def rotors_told(self) -> Array:
        """(servos,) kg·m²: how heavy each motor feels through its gears, where its sheet says so; else 0."""
        return kept(np.array([s.sheet.rotor.felt_kg_m2 if s.sheet.rotor else 0.0 for s in self.servos]))

    @cached_property
    def limb_of_servo(self) -> tuple[int, ...]:
        """Whose first joint each servo turns."""
        owner = [n for n, own in enumerate(self.slices) for _ in range(own.start, own.stop)]
        return tuple(owner[servo.first] for servo in self.servos)

    @cached_property
    def joints_of_servos(self) -> Flags:
        """(servos, J): which joints each servo may turn."""
        found = np.zeros((len(self.servos), len(self.joints)), dtype=bool)
        for n, servo in enumerate(self.servos):
            found[n, list(servo.columns)] = True
        return kept(found)

    @cached_property
    def hornless(self) -> Flags:
        """(servos,): whose drive pushes a slide straight, so that nothing turns."""
        return kept(np.array([self.slides[s.first] and not s.turns_slides for s in self.servos], dtype=bool))

    def servo_angles(self, joints: Array) -> Array:
        """Joints (S, J) → (S, servos) rad from each servo's centre, in the order of `servos`; 0 of what is hornless:
        its sheet is told in degrees, and how far it goes the slide's own ends say."""
        found = [g.to_servos(joints).reshape(len(joints), -1) for g in self.gearings]
        angles = np.concatenate([np.empty((len(joints), 0)), *found], axis=1)
        if self.hornless.any():
            angles[:, self.hornless] = 0.0
        return angles

    @cached_property
    def servo_speed(self) -> Array:
        """(servos,) rad/s without load."""
        return kept(np.radians([s.sheet.no_load_speed_deg_s for s in self.servos]))

    @cached_property
    def horn_give(self) -> Array:
        """(servos,) rad for each N·m: what a sprung horn or drive gives besides its servo; 0 where it is stiff."""
        found = [
            0.0 if drive.stiffness_nm_deg is None else float(np.radians(1.0)) / drive.stiffness_nm_deg
            for gearing in self.gearings
            for drive in gearing.drives
            for _ in drive.servos
        ]
        return kept(np.array(found, dtype=float))

    @cached_property
    def full_torque_at(self) -> Array:
        """(servos,) rad off its place at which a servo gives its stall torque; assumed where its sheet does not say."""
        angles = [s.sheet.full_torque_at_deg or FULL_TORQUE_AT_DEG for s in self.servos]
        return kept(np.radians(np.array(angles, dtype=float)))

    @cached_property
    def servo_half_travel(self) -> Array:
        """(servos,) rad either way from the centre."""
        return kept(np.radians([s.sheet.travel_deg / 2 for s in self.servos]))

    @cached_property
    def ties(self) -> tuple[Tie, ...]:
        return tuple(ties(self.walker))

    @cached_property
    def rods(self) -> tuple[Rod, ...]:
        return rods(self.walker, self.assembled({}).parts)

    @cached_property
    def hinges_of_rods(self) -> tuple[tuple[int, Indices], ...]:
        """Limb by limb, as its rods are listed: behind which of its hinges each begins."""
        by_limb = groupby(self.rods, key=lambda rod: rod.member)
        return kept(tuple((member, np.array([rod.hinge for rod in own], np.intp)) for member, own in by_limb))

    @cached_property
    def _turned_by(self) -> list[tuple[int, ServoType]]:
        """The column of every joint that is driven, and the sheet of the servo that turns it."""
        sheets = {s.name: s for s in self.servo_types}
        return [
            (column, sheets[drive.servos[min(n, len(drive.servos) - 1)].type])
            for gearing in self.gearings
            for drive, columns in zip(gearing.drives, gearing.columns.tolist(), strict=True)
            for n, column in enumerate(columns)
        ]

    @cached_property
    def rotor_inertia(self) -> Array:
        """(J,) kg·m²: the servos' own inertia as each joint sees it, assumed where a sheet tells of no rotor.

        A motor that comes up to its no-load speed ω with the time constant TAU_S under its stall torque T has
        I = T·TAU_S/ω.
        """
        found = np.zeros(len(self.joints))
        for column, servo in self._turned_by:
            spun_up = servo.stall_torque_nm * TAU_S / np.radians(servo.no_load_speed_deg_s)
            found[column] += servo.rotor.felt_kg_m2 if servo.rotor else spun_up
        return kept(found)

    @cached_property
    def friction_nm(self) -> Array:
        """(J,) N·m: what a friction ring on each joint holds against."""
        rings = [j for limb in self.walker.limbs for j in limb.joints]
        return kept(np.array([j.friction_nm if j.kind == "hinge" else 0.0 for j in rings], dtype=float))

    @cached_property
    def servo_play_deg(self) -> Array:
        """(J,): the play of the servo that turns each joint, by its sheet."""
        found = np.zeros(len(self.joints))
        for column, servo in self._turned_by:
            found[column] = servo.play_deg
        return kept(found)

    @cached_property
    def measured_play_deg(self) -> Array:
        """(J,): the play that was measured of each joint, NaN where none was."""
        truths = {
            f"{m.limb}/{joint}": play for m in self.walker.as_built.limbs for joint, play in m.joint_play_deg.items()
        }
        return kept(np.array([truths.get(joint.path, np.nan) for joint in self.joints], dtype=float))

    @cached_property
    def unstated_stiffness(self) -> frozenset[str]:
        """Limbs of which nobody has said how far some drive gives, its horn or its servo."""
        told = {s.name for s in self.servo_types if s.full_torque_at_deg is not None}
        return frozenset(
            j.split("/")[0]
            for d in self.walker.drives
            if d.stiffness_nm_deg is None and not all(s.type in told for s in d.servos)
            for j in d.joints
        )

    @cached_property
    def supports(self) -> Indices:
        """Limbs that stand on the floor without joints: casters, wheels, skids on the frame."""
        return kept(np.array([n for n, m in enumerate(self.walker.limbs) if m.passive], dtype=np.intp))

    @cached_property
    def rolls(self) -> bool:
        """Whether some leg has a sole that touches elsewhere than where it was put."""
        return any(m.feet and m.feet[0].sole.kind == "curved" for m in self.walker.limbs)

    @cached_property
    def planted(self) -> Flags:
        """(L,): whose feet stand still where they stand."""
        return kept(
            np.array([bool(m.feet) and m.feet[0].contact.kind == "planted" for m in self.walker.limbs], dtype=bool)
        )


_kits: OrderedDict[bytes, Kit] = OrderedDict()
# Whoever edits motions alone hands on the same walker.
_seen: KeptByIdentity[Kit] = KeptByIdentity(KITS)
_lock = Lock()


def kit_of(project: Project) -> Kit:
    """The kit of a project's walker."""
    return _seen.of((project.walker, *project.servo_types), lambda: _by_content(project))


def _by_content(project: Project) -> Kit:
    limbs = tuple(limb.model_copy(update={"neutral_mm": None}) for limb in project.walker.limbs)
    walker = project.walker.model_copy(update={"limbs": limbs})
    key = b"\n".join((walker.model_dump_json().encode(), *(s.model_dump_json().encode() for s in project.servo_types)))
    with _lock:
        found = _kits.get(key)
        if found is None:
            found = _kits[key] = Kit(walker, project.servo_types)
            while len(_kits) > KITS:
                _kits.popitem(last=False)
        else:
            _kits.move_to_end(key)
    return found
