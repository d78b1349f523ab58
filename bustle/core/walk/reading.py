"""What figures and findings are read from: one evaluation's arrays, computed once."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from bustle.core.geometry.arrays import Array, Flags
from bustle.core.geometry.support_polygon import Support
from bustle.core.judge.balance.arm_push import Kick, kicks
from bustle.core.judge.measures.belly_clearance import belly
from bustle.core.judge.measures.foot_play import FootPlay, foot_plays
from bustle.core.judge.measures.foot_slip import slip_mm, wander
from bustle.core.judge.measures.footing import Footing, footings
from bustle.core.judge.measures.gaps import Gap, nearest
from bustle.core.judge.measures.late_foot import Search, searches
from bustle.core.judge.measures.lead_lengths import LeadNeed, lead_needs
from bustle.core.judge.measures.mid_stance import MidStance, mid_stances
from bustle.core.judge.measures.swing_clearance import Budget, budgets
from bustle.core.judge.measures.turning_circle import turning_radius_mm
from bustle.core.kinds.drives import DRIVES
from bustle.core.machine.limb_groups import Group, joint_slices, limits_of
from bustle.core.machine.masses import Entry
from bustle.core.machine.sections import section_places
from bustle.core.project.motion import Balance, LegTiming, Motion, PhaseGait
from bustle.core.project.parts import ServoType
from bustle.core.project.project import Project
from bustle.core.project.walker import Drive, Limb
from bustle.core.walk.course import Course
from bustle.core.walk.motions.made_of import balance_of
from bustle.core.walk.score import Score

# Share of the cycle by which "just before an event" is earlier, for whoever looks there.
JUST_BEFORE = 1e-6

# Margins that differ by less are one to whoever looks for the worst.
ALIKE_MM = 1e-6


@dataclass(frozen=True)
class JointName:
    """One joint: its ends in rad, or mm where it slides."""

    limb: Limb
    name: str
    low: float
    high: float
    slides: bool
    free: bool

    @property
    def unit(self) -> str:
        return "mm" if self.slides else "°"

    @property
    def scale(self) -> float:
        """Core units → the unit on screen."""
        return 1.0 if self.slides else float(np.degrees(1.0))

    @property
    def path(self) -> str:
        return f"{self.limb.name}/{self.name}"

    def __str__(self) -> str:
        return f"{self.limb.name} {self.name}"


@dataclass(frozen=True)
class ServoName:
    """One servo: its sheet, the joints (columns) of its drive, and the one of them it is named for."""

    name: str
    sheet: ServoType
    columns: tuple[int, ...]
    first: int


@dataclass(frozen=True)
class Evidence:
    """course and support cover the samples first (`samples` of them), then each event from before and after.

    At the instants past the samples only contacts differ from a plain sample.
    """

    project: Project
    motion: Motion
    score: Score
    parts: list[Group]
    masses: list[Entry]
    course: Course
    support: Support
    samples: int
    before: Flags

    def time_at(self, instant: int) -> float:
        """When an instant is. Just before an event it is a hair earlier: at 0 that is the end of the cycle."""
        time = float(self.course.time_s[instant])
        if not self.before[instant]:
            return time
        return (time or self.score.duration_s) - JUST_BEFORE * self.score.duration_s

    @property
    def row_s(self) -> float:
        """Time from one sample to the next."""
        return self.score.duration_s / (self.samples if self.score.periodic else self.samples - 1)

    @cached_property
    def joints(self) -> list[JointName]:
        return [
            JointName(limb, j.name, low, high, j.kind == "slide", j.free)
            for limb in self.project.walker.limbs
            for j, low, high in zip(limb.joints, *limits_of(limb), strict=True)
        ]

    @cached_property
    def slices(self) -> list[slice]:
        return joint_slices(self.project.walker)

    @cached_property
    def angles(self) -> Array:
        """(S, J) at the samples, rad or mm."""
        return self.course.solved.joints[: self.samples]

    @cached_property
    def scale(self) -> Array:
        """(J,): core units → degrees, or mm where a joint slides."""
        return np.array([j.scale for j in self.joints])

    @cached_property
    def drives(self) -> dict[str, list[Drive]]:
        """The walker's drives by kind."""
        found: dict[str, list[Drive]] = {}
        for drive in self.project.walker.drives:
            found.setdefault(drive.kind, []).append(drive)
        return found

    @cached_property
    def columns(self) -> dict[str, int]:
        """Joint path → its column in the joint array."""
        return {joint.path: n for n, joint in enumerate(self.joints)}

    @cached_property
    def servos(self) -> list[ServoName]:
        """In the order of `servo_angles`."""
        sheets = {s.name: s for s in self.project.servo_types}
        return [
            ServoName(
                servo.name,
                sheets[servo.type],
                tuple(self.columns[j] for j in drive.joints),
                self.columns[drive.joints[min(k, len(drive.joints) - 1)]],
            )
            for drives in self.drives.values()
            for drive in drives
            for k, servo in enumerate(drive.servos)
        ]

    @cached_property
    def servo_angles(self) -> Array:
        """(S + 2E, servos) rad from each servo's centre; all drives of a kind in one go."""
        joints = self.course.solved.joints
        parts = [np.empty((len(joints), 0))]
        for kind, drives in self.drives.items():
            columns, centres, settings = self.gearing(drives)
            parts.append(DRIVES[kind].to_servos(joints[:, columns], centres, settings).reshape(len(joints), -1))
        return np.concatenate(parts, axis=1)

    def gearing(self, drives: list[Drive]) -> tuple[list[list[int]], Array, Array]:
        """Drives of one kind as arrays: columns (D, joints), centres (D, servos) rad, settings (D, K)."""
        kind = DRIVES[drives[0].kind]
        columns = [[self.columns[j] for j in drive.joints] for drive in drives]
        centres = np.radians([[servo.centre_deg for servo in drive.servos] for drive in drives])
        return columns, centres, np.array([kind.values(drive.settings) for drive in drives]).reshape(len(drives), -1)

    @cached_property
    def strain(self) -> dict[str, Array]:
        """(S + 2E,) by the first joint of each drive that some instant strains: above 0 where it cannot follow."""
        found = {}
        for kind, drives in self.drives.items():
            columns, centres, settings = self.gearing(drives)
            strain = DRIVES[kind].strain(self.course.solved.joints[:, columns], centres, settings)
            for n, drive in enumerate(drives):
                if strain[:, n].max(initial=0.0) > 0:
                    found[drive.joints[0]] = strain[:, n]
        return found

    @cached_property
    def steps(self) -> Array:
        """(S, J): from each row to the next, the last one back to the first where the motion repeats; hinges the short
        way round."""
        return self._to_next(self.angles, np.array([j.slides for j in self.joints]))

    @cached_property
    def rates(self) -> Array:
        """(S, J) rad/s of the joints, row to row."""
        return self.steps / self.row_s

    @cached_property
    def servo_rates(self) -> Array:
        """(S, servos) rad/s, row to row."""
        return self._to_next(self.servo_angles[: self.samples]) / self.row_s

    def _to_next(self, angles: Array, slides: Flags | None = None) -> Array:
        step: Array = np.roll(angles, -1, axis=0) - angles
        turned = step - 2 * np.pi * np.round(step / (2 * np.pi))
        step = turned if slides is None else np.where(slides, step, turned)
        if not self.score.periodic:
            step[-1] = 0.0
        return step

    @cached_property
    def bends_deg(self) -> dict[str, float]:
        return dict(self.score.bends_deg)

    @cached_property
    def gait(self) -> PhaseGait | None:
        """The motion where it is a gait: told by phases, duties and a twist."""
        return self.motion if isinstance(self.motion, PhaseGait) else None

    @cached_property
    def timing(self) -> dict[str, LegTiming]:
        """The gait's timing by leg; empty where it is none."""
        return {leg.limb: leg for leg in self.gait.legs} if self.gait else {}

    @cached_property
    def balance(self) -> Balance:
        return balance_of(self.project, self.motion)

    @cached_property
    def planted(self) -> Flags:
        """(L, S): which feet should stand still."""
        still = [bool(limb.feet) and limb.feet[0].contact.kind == "planted" for limb in self.project.walker.limbs]
        asked = self.score.planted(self.course.time_s[: self.samples])
        return self.course.contact[:, : self.samples] & asked & np.array(still)[:, None]

    @cached_property
    def wander(self) -> Array:
        """(L, S, 2) mm: where each foot is, less where it should stand, along and across its heading."""
        return wander(self.course, self.samples)

    @cached_property
    def slip(self) -> Array:
        """(L,) mm: how far each foot wanders over the floor in one stance."""
        return slip_mm(self.wander, self.planted)

    @cached_property
    def tilt(self) -> Array:
        """(L, S) rad: how far each sole is from lying as asked while it stands."""
        return self.course.solved.miss_rad[:, : self.samples] * self.planted

    @cached_property
    def gaps(self) -> list[Gap]:
        """The least gaps between parts over the cycle, smallest first."""
        places = section_places(self.project.walker, self.bends_deg)
        spots = {name: (place.at, place.turn) for name, place in places.items()}
        return nearest(self.project.walker, spots, self.course.solved, self.samples)

    @cached_property
    def leads(self) -> list[LeadNeed]:
        return lead_needs(self.project.walker, self.parts, self.course.solved, self.bends_deg, self.samples)

    @cached_property
    def belly(self) -> tuple[float, int, str]:
        """The lowest that the frame and the limbs that do not stand come: mm above the floor, when, and what."""
        return belly(self.project.walker, self.course, self.bends_deg, self.samples)

    @cached_property
    def mid_stances(self) -> list[MidStance]:
        return mid_stances(self)

    @cached_property
    def foot_plays(self) -> list[FootPlay]:
        return foot_plays(self)

    @cached_property
    def footings(self) -> list[Footing]:
        return footings(self)

    @cached_property
    def budgets(self) -> list[Budget]:
        """The swings' clearances, the least left first."""
        return budgets(self)

    @cached_property
    def kicks(self) -> list[Kick]:
        return kicks(self)

    @cached_property
    def searches(self) -> list[Search]:
        return searches(self)

    @cached_property
    def turning_radius(self) -> float | None:
        return turning_radius_mm(self)

    @cached_property
    def worst_margin(self) -> tuple[float, int] | None:
        """The least margin over samples and both sides of events, and its instant; None without any contact.

        Of instants that are as bad but for rounding, as those of a gait alike left and right, the earliest.
        """
        margin = self.support.margin_mm
        if not self.support.supported.any():
            return None
        least = float(np.nanmin(margin))
        alike = np.flatnonzero(margin <= least + ALIKE_MM)
        return least, min(alike.tolist(), key=self.time_at)
