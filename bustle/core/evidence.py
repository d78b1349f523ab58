"""What figures and findings are read from: one evaluation's arrays, computed once."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from bustle.core.course import Course
from bustle.core.limbs import joint_slices
from bustle.core.mass import Entry
from bustle.core.project import Drive, Limb, Motion, Project, ServoType
from bustle.core.score import Score
from bustle.core.servo.drives import DRIVES
from bustle.core.support import Support

Array = NDArray[np.float64]

# Share of the cycle by which "just before an event" is earlier, for whoever looks there.
JUST_BEFORE = 1e-6


@dataclass(frozen=True)
class JointName:
    limb: Limb
    name: str
    min_rad: float
    max_rad: float

    @property
    def path(self) -> str:
        return f"{self.limb.name}/{self.name}"

    def __str__(self) -> str:
        return f"{self.limb.name} {self.name}"


@dataclass(frozen=True)
class ServoName:
    """One servo: its sheet, the joints (columns) of its drive."""

    name: str
    sheet: ServoType
    columns: tuple[int, ...]


@dataclass(frozen=True)
class Evidence:
    """course and support cover the samples first (`samples` of them), then each event from before and after.

    At the instants past the samples only contacts differ from a plain sample.
    """

    project: Project
    motion: Motion
    score: Score
    masses: list[Entry]
    course: Course
    support: Support
    samples: int
    before: NDArray[np.bool_]

    def time_at(self, instant: int) -> float:
        """When an instant is. Just before an event it is a hair earlier: at 0 that is the end of the cycle."""
        time = float(self.course.time_s[instant])
        if not self.before[instant]:
            return time
        return (time or self.score.duration_s) - JUST_BEFORE * self.score.duration_s

    @property
    def row_s(self) -> float:
        """Time from one sample to the next."""
        return self.score.duration_s / self.samples

    @cached_property
    def joints(self) -> list[JointName]:
        return [
            JointName(limb, j.name, float(np.radians(j.min_deg)), float(np.radians(j.max_deg)))
            for limb in self.project.walker.limbs
            for j in limb.joints
        ]

    @cached_property
    def slices(self) -> list[slice]:
        return joint_slices(self.project.walker)

    @cached_property
    def angles(self) -> Array:
        """(S, J) rad at the samples."""
        return self.course.solved.joints[: self.samples]

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
            ServoName(servo.name, sheets[servo.type], tuple(self.columns[j] for j in drive.joints))
            for drives in self.drives.values()
            for drive in drives
            for servo in drive.servos
        ]

    @cached_property
    def servo_angles(self) -> Array:
        """(S + 2E, servos) rad from each servo's centre; all drives of a kind in one go."""
        joints = self.course.solved.joints
        parts = [np.empty((len(joints), 0))]
        for kind, drives in self.drives.items():
            columns = [[self.columns[j] for j in drive.joints] for drive in drives]
            centres = np.radians([[servo.centre_deg for servo in drive.servos] for drive in drives])
            parts.append(DRIVES[kind].to_servos(joints[:, columns], centres).reshape(len(joints), -1))
        return np.concatenate(parts, axis=1)

    @cached_property
    def steps(self) -> Array:
        """(S, J) rad: from each row to the next, the last one back to the first, the short way round."""
        return _to_next(self.angles)

    @cached_property
    def rates(self) -> Array:
        """(S, J) rad/s of the joints, row to row."""
        return self.steps / self.row_s

    @cached_property
    def servo_rates(self) -> Array:
        """(S, servos) rad/s, row to row."""
        return _to_next(self.servo_angles[: self.samples]) / self.row_s

    @cached_property
    def worst_margin(self) -> tuple[float, int] | None:
        """The least margin over samples and both sides of events, and its instant; None without any contact."""
        margin = self.support.margin_mm
        if not self.support.supported.any():
            return None
        at = int(np.nanargmin(margin))
        return float(margin[at]), at


def _to_next(angles: Array) -> Array:
    step = np.roll(angles, -1, axis=0) - angles
    turned: Array = step - 2 * np.pi * np.round(step / (2 * np.pi))
    return turned
