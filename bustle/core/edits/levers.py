"""The numbers a builder turns, one at a time: what each reads, how far it goes, and the edit that sets it.

Sliders, sound bands and remedies all go through these, so they agree on what "lift 24 mm" means. An edit is a
JSON Patch (RFC 6902) whose first operation tests the name of what it touches.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, Literal, get_args

import numpy as np
from pydantic.fields import FieldInfo

from bustle.core.edits.patches import Patch, replace
from bustle.core.geometry.arrays import Array
from bustle.core.project.limits import Floor
from bustle.core.project.motion import LegTiming, PhaseGait, SwayTerm
from bustle.core.project.project import Project, gait_of
from bustle.core.project.walker import Limb
from bustle.core.words.problems import refuse
from bustle.core.words.wording import number

# A leg that heads so nearly along an axis of the body (cosine) is one of a row; so near its middle line it has no side.
IN_A_ROW, ON_THE_MIDDLE_MM = 0.9998, 1.0


@dataclass(frozen=True)
class Lever:
    """read(project, motion) → value; set_to(project, motion index, value) → operations.

    low, high: how far it goes. step: its finest turn. typed: what may be typed, which is as far as the field allows.
    relative: the value counts from where it stands now. say(project, motion, value): what setting it does, in words; by
    default the label with both values. in_hand: so many steps are left beyond the least that mends something, where
    walking asks for more room than standing.
    """

    name: str
    label: str
    unit: str
    low: float
    high: float
    step: float
    read: Callable[[Project, PhaseGait], float]
    set_to: Callable[[Project, int, float], Patch]
    typed: tuple[float, float]
    relative: bool = False
    say: Callable[[Project, PhaseGait, float], str] | None = None
    in_hand: int = 0

    def patch(self, project: Project, motion: str, value: float) -> Patch:
        """The edit that sets this lever to `value`, guarded by the motion's name. Raises InputRefused where it
        cannot be put."""
        (low, high), value = self.typed, round(value, 6)
        if not low <= value <= high:
            of = f" {self.unit}" if self.unit else ""
            raise refuse("value", f"{self.label} must be from {low:g} to {high:g}{of}, got {value:g}")
        index = motion_index(project, gait_of(project, motion).name)
        guard = {"op": "test", "path": f"/motions/{index}/name", "value": motion}
        return [guard, *self.set_to(project, index, value)]


def motion_index(project: Project, motion: str) -> int:
    """Where the motion of that name is. Raises InputRefused naming those there are."""
    return project.motions.index(project.motion(motion))


def _bounds(model: Any, *path: str | int) -> tuple[float, float]:
    """The least and the most that a field of the document may be, read off its model."""
    annotation, found = model, []
    for part in path:
        if isinstance(part, int):
            annotation = get_args(annotation)[part]
            found = [m for m in get_args(annotation)[1:] if isinstance(m, FieldInfo)]
        else:
            field = annotation.model_fields[part]
            annotation, found = field.annotation, [field]
    marks = [mark for field in found for mark in field.metadata]
    low = next(v for mark in marks for v in (getattr(mark, "ge", None), getattr(mark, "gt", None)) if v is not None)
    high = next(v for mark in marks for v in (getattr(mark, "le", None), getattr(mark, "lt", None)) if v is not None)
    return float(low), float(high)


Hand = tuple[Callable[[Project, PhaseGait], float], Callable[[Project, int, float], Patch], tuple[float, float]]


def _field(*path: str | int) -> Hand:
    """A plain number of the motion: how it is read, set, and what may be typed."""

    def read(project: Project, motion: PhaseGait) -> float:
        value: Any = motion
        for part in path:
            value = value[part] if isinstance(part, int) else getattr(value, part)
        return float(value)

    def set_to(project: Project, index: int, value: float) -> Patch:
        return [replace(f"/motions/{index}/" + "/".join(map(str, path)), value)]

    return read, set_to, _bounds(PhaseGait, *path)


def _floor(field: str) -> Hand:
    """A plain number of the floor it walks on."""
    return (
        lambda project, motion: float(getattr(project.floor, field)),
        lambda project, index, value: [replace(f"/floor/{field}", value)],
        _bounds(Floor, field),
    )


def _gait(project: Project, index: int) -> PhaseGait:
    return gait_of(project, project.motions[index].name)


def _duty(project: Project, motion: PhaseGait) -> float:
    return float(np.mean([leg.duty for leg in motion.legs]))


def _set_duty(project: Project, index: int, value: float) -> Patch:
    return [replace(f"/motions/{index}/legs/{n}/duty", value) for n in range(len(_gait(project, index).legs))]


def _scaled_twist(project: Project, index: int, share: float) -> Patch:
    twist = _gait(project, index).twist.model_dump()
    return [replace(f"/motions/{index}/twist/{k}", round(v * share, 4)) for k, v in twist.items() if v]


def _stride(project: Project, index: int, value: float) -> Patch:
    return _scaled_twist(project, index, value / 100)


def _slower(project: Project, motion: PhaseGait, value: float) -> float:
    """The cycle time at that share of the pace, in whole rows."""
    row = project.controller.frame_period_ms / 1000
    return float(round(np.ceil(round(motion.cycle_s * 100 / value / row, 6)) * row, 6))


def _pace(project: Project, index: int, value: float) -> Patch:
    """The same strides, slower: the cycle stretched to a whole number of rows, the twist shrunk to match."""
    motion = _gait(project, index)
    slower = _slower(project, motion, value)
    return [
        replace(f"/motions/{index}/cycle_s", slower),
        *_scaled_twist(project, index, motion.cycle_s / slower),
    ]


def _say_pace(project: Project, motion: PhaseGait, value: float) -> str:
    return f"Slower, same strides: cycle {number(motion.cycle_s, 3)} → {number(_slower(project, motion, value), 3)} s"


def _say_stride(project: Project, motion: PhaseGait, value: float) -> str:
    return f"Strides {number(100 - value, 0)} % shorter"


def _say_feet(project: Project, motion: PhaseGait, value: float) -> str:
    return f"Feet {number(abs(value), 0)} mm {'further out' if value > 0 else 'closer in'}"


def _say_mounts(project: Project, motion: PhaseGait, value: float) -> str:
    return f"Legs mounted {number(abs(value), 0)} mm {'further out' if value > 0 else 'closer in'}"


def _feet_out(project: Project, index: int, value: float) -> Patch:
    """Every neutral foot further out, along the line from its mount."""
    patch = []
    for n, limb in enumerate(project.walker.limbs):
        if limb.neutral_mm is None:
            continue
        away = np.array(limb.neutral_mm) - np.array(limb.mount.at_mm[:2])
        size = float(np.hypot(*away))
        along = away / size if size > 1 else _heading(limb)
        patch += [_named(n, limb), _moved(n, "neutral_mm", limb.neutral_mm, value * along)]
    return patch


def _mounts_out(project: Project, index: int, value: float) -> Patch:
    """Every leg further from the frame with its foot: in a row to its side, set round or splayed the way it heads."""
    patch = []
    for n, limb in enumerate(project.walker.limbs):
        if not limb.steps or limb.neutral_mm is None:
            continue
        by = value * _from_the_frame(limb)
        patch += [
            _named(n, limb),
            _moved(n, "mount/at_mm", limb.mount.at_mm, np.append(by, 0.0)),
            _moved(n, "neutral_mm", limb.neutral_mm, by),
        ]
    return patch


def _from_the_frame(limb: Limb) -> Array:
    x, y, _ = limb.mount.at_mm
    heading = _heading(limb)
    if np.abs(heading).max() < IN_A_ROW:
        return heading
    if abs(y) > ON_THE_MIDDLE_MM:
        return np.array([0.0, np.sign(y)])
    return np.array([np.sign(x), 0.0]) if abs(x) > ON_THE_MIDDLE_MM else heading


def _heading(limb: Limb) -> Array:
    turn = np.radians(limb.mount.yaw_deg)
    return np.array([np.cos(turn), np.sin(turn)])


def _named(n: int, limb: Limb) -> dict[str, Any]:
    return {"op": "test", "path": f"/walker/limbs/{n}/name", "value": limb.name}


def _moved(n: int, field: str, at: tuple[float, ...], by: Array) -> dict[str, Any]:
    return replace(f"/walker/limbs/{n}/{field}", [round(float(v), 3) for v in np.array(at) + by])


def _term(motion: PhaseGait, axis: str) -> SwayTerm:
    """The sway along an axis that a hand turns: the first term that has any, else none at its usual harmonic."""
    usual = 2 if axis == "z" else 1
    ends = (f"{axis}_cos_mm", f"{axis}_sin_mm")
    own = [t for t in motion.pose.sway if any(getattr(t, end) for end in ends)]
    return own[0] if own else SwayTerm(harmonic=usual)


def _sway(axis: str, of: Literal["far", "when"]) -> Hand:
    """How far the body sways along an axis, A = √(cos² + sin²) mm, or at which share of its own period it is furthest
    that way, φ = atan2(sin, cos)/2π."""

    def both(motion: PhaseGait) -> tuple[float, float]:
        term = _term(motion, axis)
        c, s = float(getattr(term, f"{axis}_cos_mm")), float(getattr(term, f"{axis}_sin_mm"))
        return float(np.hypot(c, s)), float(np.arctan2(s, c) / (2 * np.pi) % 1.0)

    def read(project: Project, motion: PhaseGait) -> float:
        return both(motion)[of == "when"]

    def set_to(project: Project, index: int, value: float) -> Patch:
        motion = _gait(project, index)
        term, (far, when) = _term(motion, axis), both(motion)
        far, when = (value, when) if of == "far" else (far, value)
        turn = 2 * np.pi * when
        put = {
            f"{axis}_cos_mm": round(far * np.cos(turn), 6) + 0.0,
            f"{axis}_sin_mm": round(far * np.sin(turn), 6) + 0.0,
        }
        terms = [t.model_copy(update=put) if t.harmonic == term.harmonic else t for t in motion.pose.sway]
        if all(t.harmonic != term.harmonic for t in terms):
            terms.append(SwayTerm(harmonic=term.harmonic, **put))
        kept = [t.model_dump() for t in terms if any(v for k, v in t.model_dump().items() if k != "harmonic")]
        return [replace(f"/motions/{index}/pose/sway", kept)]

    return read, set_to, (0.0, 1000.0) if of == "far" else (0.0, 1.0)


LEVERS: dict[str, Lever] = {
    lever.name: lever
    for lever in (
        Lever("vx", "Speed forward", "mm/s", -300, 300, 1, *_field("twist", "vx_mm_s")),
        Lever("vy", "Speed left", "mm/s", -300, 300, 1, *_field("twist", "vy_mm_s")),
        Lever("omega", "Turn left", "°/s", -120, 120, 1, *_field("twist", "omega_deg_s")),
        Lever("steer", "Steers left", "mm/m", -200, 200, 1, *_field("steer_mm_m")),
        Lever("cycle", "Cycle time", "s", 0.2, 6, 0.02, *_field("cycle_s")),
        Lever("lift", "Lift", "mm", 0, 120, 1, *_field("lift_mm")),
        Lever("search", "Searches below the floor by", "mm", 0, 120, 1, *_field("swing", "search_mm")),
        Lever("duty", "On the floor (duty)", "", 0.4, 0.96, 0.01, _duty, _set_duty, _bounds(LegTiming, "duty")),
        Lever("ride_height", "Ride height", "mm", 10, 400, 1, *_field("pose", "ride_height_mm")),
        Lever("shift_x", "Body forward", "mm", -80, 80, 1, *_field("pose", "shift_mm", 0)),
        Lever("shift_y", "Body left", "mm", -80, 80, 1, *_field("pose", "shift_mm", 1)),
        Lever("roll", "Lean right", "°", -25, 25, 0.5, *_field("pose", "roll_deg")),
        Lever("pitch", "Nose down", "°", -25, 25, 0.5, *_field("pose", "pitch_deg")),
        Lever("yaw", "Body turned left", "°", -25, 25, 0.5, *_field("pose", "yaw_deg")),
        Lever("sway_y", "Sways sideways", "mm", 0, 80, 0.5, *_sway("y", "far")),
        Lever("sway_y_at", "furthest left at", "", 0, 1, 0.01, *_sway("y", "when")),
        Lever("sway_x", "Sways fore and aft", "mm", 0, 80, 0.5, *_sway("x", "far")),
        Lever("sway_x_at", "furthest ahead at", "", 0, 1, 0.01, *_sway("x", "when")),
        Lever("sway_z", "Rises and falls", "mm", 0, 40, 0.5, *_sway("z", "far")),
        Lever("sway_z_at", "highest at", "", 0, 1, 0.01, *_sway("z", "when")),
        Lever("slope", "Floor slopes by", "°", 0, 30, 0.5, *_floor("slope_deg")),
        Lever("uphill", "uphill, left of ahead", "°", -180, 180, 5, *_floor("uphill_deg")),
        Lever("stride", "Shorter strides", "%", 0, 100, 1, lambda p, m: 100.0, _stride, (0, 100), True, _say_stride),
        Lever("pace", "Slower, same strides", "%", 10, 100, 1, lambda p, m: 100.0, _pace, (10, 100), True, _say_pace),
        Lever("feet_out", "Feet out", "mm", -80, 80, 1, lambda p, m: 0.0, _feet_out, (-80, 80), True, _say_feet),
        Lever(
            "mounts_out", "Legs out", "mm", -80, 120, 1, lambda p, m: 0.0, _mounts_out, (-80, 120), True, _say_mounts, 2
        ),
    )
}
