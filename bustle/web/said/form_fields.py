"""The fields of a project as a form needs them: what each is called, its unit, its ends, what it may be.

All of it is read off the project's own models; only what a builder would call otherwise than its key is said here. A
new field of the core appears on screen by naming it.
"""

from __future__ import annotations

from collections.abc import Iterator
from functools import cache
from types import NoneType, UnionType
from typing import Annotated, Any, Literal, Union, get_args, get_origin

from pydantic import BaseModel, Field
from pydantic.fields import FieldInfo
from pydantic_core import PydanticUndefined

from bustle.core.project.field_types import UpTo, Value
from bustle.core.project.project import Project

UNITS = {
    "mm_s": "mm/s", "mm_m": "mm/m", "deg_s": "°/s", "nm_deg": "N·m/°", "nm": "N·m", "mm": "mm", "deg": "°", "ms": "ms",
    "mm_per_n": "mm/N", "n": "N", "g": "g", "s": "s", "us": "µs", "v": "V", "a": "A", "h": "h",
    "mohm": "mΩ", "mah": "mAh",
}  # fmt: skip
STEPS = {"mm": 0.5, "°": 1.0, "g": 1.0, "s": 0.02, "mm/s": 5.0, "mm/m": 5.0, "°/s": 1.0, "N·m": 0.1, "N·m/°": 0.01,
    "mΩ": 5.0, "mAh": 100.0,
}  # fmt: skip

# What builders say where the key says less or more.
CALLED = {
    "Mount.at_mm": "Sits at",
    "Mount.yaw_deg": "turned left",
    "Mount.pitch_deg": "nose down",
    "Mount.roll_deg": "leaned right",
    "Limb.neutral_mm": "Foot stands at",
    "Limb.toe_deg": "Toes to the left",
    "Limb.lean_deg": "Sole leaned right",
    "Limb.hip_offset_mm": "Hip offset, first joint to second",
    "Limb.branch": "Knee",
    "Limb.keep": "Foot follows",
    "Foot.at_mm": "From the end of the last link",
    "Foot.contact": "On the floor it",
    "Foot.side": "On the side",
    "HingeJoint.axis": "Axis",
    "HingeJoint.min_deg": "lowest",
    "HingeJoint.max_deg": "highest",
    "HingeJoint.free": "no servo turns it",
    "HingeJoint.in_files": "As they have it",
    "SlideJoint.in_files": "As they have it",
    "InFiles.called": "called",
    "InFiles.reversed": "counted the other way",
    "SlideJoint.axis": "Axis",
    "SlideJoint.min_mm": "lowest",
    "SlideJoint.max_mm": "highest",
    "SlideJoint.free": "no servo moves it",
    "Link.radius_mm": "radius",
    "Link.print_h": "print time",
    "Link.offset_mm": "to the next joint",
    "Mass.on": "Rides on",
    "Mass.mass_g": "Weight",
    "Mass.at_mm": "At",
    "Mass.size_mm": "Size",
    "Mass.fills": "As large as what it rides on",
    "Mass.print_h": "print time",
    "Drag.on": "Hangs on",
    "Drag.pull_n": "Pulls back with",
    "Drag.at_mm": "At",
    "Section.size_mm": "Size",
    "Section.shape": "Body",
    "SectionHinge.at_mm": "Hinge, from the middle of what it hangs on",
    "SectionHinge.to_mm": "Middle, from the hinge",
    "SectionHinge.axis": "Bends in",
    "SectionHinge.min_deg": "lowest",
    "SectionHinge.max_deg": "highest",
    "Walker.held": "Held sideways by",
    "DriveServo.centre_deg": "joint at the servo's middle",
    "DriveServo.sits_on": "sits on",
    "Drive.stiffness_nm_deg": "Horn stiffness",
    "EdgeSole.heading_deg": "heading",
    "RectangleSole.ahead_mm": "middle ahead of the leg",
    "RectangleSole.left_mm": "middle left of the leg",
    "CurvedSole.radius_fore_mm": "radius fore and aft",
    "CurvedSole.radius_side_mm": "radius sideways",
    "CurvedSole.length_mm": "curve ends, length",
    "CurvedSole.width_mm": "curve ends, width",
    "RollingContact.heading_deg": "rolls towards",
    "RollingContact.any_way": "every way",
    "RollingContact.steered": "steered by its first joint",
    "SwayTerm.harmonic": "times a cycle",
    "Limits.margin_mm": "Margin to keep",
    "Limits.drift_mm_m": "Drift allowed",
    "Limits.lean_deg": "Lean allowed",
    "Limits.jolt_share": "Jolt allowed, share of the weight",
    "Limits.slip_mm": "Slip allowed",
    "Limits.clearance_mm": "Clearance to keep under a foot",
    "Limits.lead_slack_mm": "Slack each lead keeps",
    "Limits.step_height_mm": "Steps over",
    "Limits.turning_radius_mm": "Turns within a circle of radius",
    "Limits.end_stop_deg": "Keep from end stops",
    "Limits.speed_share": "Of a servo's speed, use at most",
    "Limits.held_share": "Held all along, at most",
    "Limits.straight_knee_mm": "Keep short of a straight knee",
    "Limits.knee_bend_deg": "Knees bent at least",
    "Limits.row_step_deg": "Largest step from row to row",
    "Limits.foot_play_mm": "Play allowed at a foot",
    "Floor.unevenness_mm": "Floor uneven by",
    "Floor.slope_deg": "Floor slopes by",
    "Floor.uphill_deg": "uphill, left of ahead",
    "Floor.pile_mm": "Carpet pile",
    "Floor.obstacle_mm": "Obstacle, height",
    "Floor.obstacle_at": "Obstacle at, share of the step",
    "Floor.friction": "The floor holds, share of the load",
    "Floor.friction_across": "across the machine",
    "Floor.friction_note": "Soles and floor, noted",
    "Floor.gives_mm_per_n": "The floor gives",
    "Floor.bounces": "It springs back",
    "Floor.course_mm": "A way of",
    "Limb.gives_mm_per_n": "Mount and links give",
    "HingeJoint.friction_nm": "friction ring",
    "Walker.lifted_n": "A counterweight lifts",
    "ServoType.rotor": "Rotor",
    "Rotor.mass_g": "Rotor weighs",
    "Rotor.radius_mm": "its radius",
    "Rotor.ratio": "Turns for one of the horn",
    "ServoType.mass_g": "Weight",
    "ServoType.no_load_speed_deg_s": "Speed without load",
    "ServoType.rated_v": "At",
    "ServoType.stall_current_a": "Stall current",
    "Controller.memory_kb": "Room for tables",
    "Controller.frame_period_ms": "Row period",
    "ServoType.signal": "Told by",
    "ServoType.middle_us": "Middle",
    "ServoType.pulse_low_us": "Shortest pulse",
    "ServoType.pulse_high_us": "Longest pulse",
    "ServoType.us_per_deg": "Per degree",
    "ServoType.dead_band_us": "Dead band",
    "ServoType.counts_per_turn": "Counts a turn",
    "ServoType.middle_count": "Middle count",
    "ServoType.reads_back": "Reads its place back",
    "ServoType.spline_teeth": "Spline teeth",
    "ServoType.full_torque_at_deg": "Full torque when off by",
    "ServoType.unpulsed": "When pulses stop it",
    "ServoType.most_v": "May take",
    "ServoType.least_v": "Needs",
    "Electrics.trim_range_deg": "Trim reaches",
    "StopSwitch.where": "Hit from",
    "StopSwitch.effect": "Then it",
    "StopSwitch.drop_mm": "It drops",
    "FailSafe.after_ms": "Silent for",
    "FailSafe.finish_step": "Finish the step first",
    "FailSafe.effect": "Then it",
    "FailSafe.supply_switched": "The servos' supply is switched",
    "Bank.full_v": "Full",
    "Bank.empty_v": "Empty",
    "Bank.cut_off_v": "Cut-off",
    "Bank.regulated_v": "Regulated to",
    "Bank.regulator_a": "Regulator",
    "Bank.fuse_a": "Fuse",
    "Bank.resistance_mohm": "Pack and leads resist",
    "Bank.capacity_mah": "The pack holds",
    "Bank.feeds_logic": "Feeds the logic too",
    "Bank.ground_joined": "Ground joined to the controller's",
    "Signal.does": "What it is",
    "Signal.at_start": "At start it",
    "Keyframes.repeats": "Repeats",
    "Keyframes.judged": "May be stopped anywhere: judge its balance",
    "Keyframe.move_s": "Reached in",
    "Keyframe.hold_s": "Held for",
    "Pose.ride_height_mm": "Ride height",
    "Pose.shift_mm": "Body",
    "ArmMove.to": "Goes to",
    "ArmMove.at": "At, share of the cycle",
    "ArmMove.back_at": "Back at",
    "ArmMove.takes": "Takes",
    "SwingShape.lift_start_mm": "Lift at start",
    "SwingShape.lift_end_mm": "Lift at end",
    "SwingShape.early": "Runs ahead",
    "SwingShape.landing_mm_s": "Lands at",
    "LegTiming.lift_mm": "Lift",
    "LegTiming.foot_path": "Path",
    "PhaseGait.travel": "The body goes",
    "PhaseGait.steer_mm_m": "Steers left",
    "StartUp.pose": "Starts into",
    "StartUp.fail_safe": "Radio lost: into",
    "StartUp.at_once": "Servos at a time",
    "StartUp.speed_deg_s": "Time allowed at",
}  # fmt: skip

CHOICES = {
    "point": "tip", "ball": "ball", "edge": "straight edge or blade", "rectangle": "flat", "curved": "curved",
    "planted": "stays where it is put", "rolls": "rolls", "slides": "slides", "under": "under", "upper": "upper",
    "free": "nothing", "boom": "a boom", "rail": "a rail", "hinge": "turns", "slide": "slides", "box": "a box",
    "round": "a round", "yaw": "yaw, about the upright", "pitch": "pitch, nose up and down",
    "roll": "roll, about its length", "asked": "as asked", "implied": "as its legs walk",
    "holds": "holds", "goes_limp": "goes limp", "pose": "takes its fail-safe pose", "pulse": "pulses",
    "bus": "counts over a bus", "servo_supply": "the servos' supply", "outputs": "the outputs", "logic": "the logic",
    "floats": "floats", "pulled": "is pulled up or down", "off": "is off", "pack_voltage": "pack voltage",
    "static": "static: may stop anywhere", "dynamic": "dynamic: keeps moving",
}  # fmt: skip

PARTS = {"size_mm": ("long", "wide", "high"), "box_mm": ("long", "wide", "high")}
PLACE = ("forward", "left", "up")


class FormChoice(BaseModel):
    name: str
    label: str


class FormField(BaseModel):
    """One field. kind: numbers are a fixed few side by side, called as in `parts`; form is a group of the model `of`;
    forms a list of them, `most` at the most; either a group of one of `kinds`, told apart by its own field kind.

    above: whether the low end itself is left out. default: null where one must be said.
    """

    name: str
    label: str
    kind: Literal["number", "whole", "flag", "text", "choice", "numbers", "form", "forms", "either", "other"]
    unit: str = ""
    step: float = 1.0
    low: float | None = None
    high: float | None = None
    above: bool = False
    optional: bool = False
    default: Any = None
    parts: list[str] = Field(default_factory=list)
    choices: list[FormChoice] = Field(default_factory=list)
    of: str = ""
    kinds: dict[str, str] = Field(default_factory=dict)
    most: int | None = None


@cache
def forms() -> dict[str, list[FormField]]:
    """Every model a project is made of, by name, with its fields in order."""
    found: dict[str, list[FormField]] = {}
    for model in _models(Project):
        found[model.__name__] = [_field(model, name, info) for name, info in model.model_fields.items()]
    return found


def _models(model: type[Value], seen: set[type] | None = None) -> Iterator[type[Value]]:
    seen = set() if seen is None else seen
    if model in seen:
        return
    seen.add(model)
    yield model
    for info in model.model_fields.values():
        for inner in _inside(info.annotation):
            yield from _models(inner, seen)


def _inside(kind: Any) -> Iterator[type[Value]]:
    if isinstance(kind, type) and issubclass(kind, Value):
        yield kind
    for part in get_args(kind):
        yield from _inside(part)


def _flat(kind: Any, marks: list[Any]) -> Any:
    """The bare type, with every mark on the way to it in `marks`."""
    while get_origin(kind) is Annotated:
        kind, *more = get_args(kind)
        marks += [m for mark in more for m in (mark.metadata if isinstance(mark, FieldInfo) else [mark])]
    return kind


def _field(model: type[Value], name: str, info: FieldInfo) -> FormField:
    marks = list(info.metadata)
    kind = _flat(info.annotation, marks)
    optional = get_origin(kind) in (Union, UnionType) and NoneType in get_args(kind)
    if optional:
        rest = [k for k in get_args(kind) if k is not NoneType]
        kind = _flat(rest[0], marks) if len(rest) == 1 else Union[tuple(rest)]  # noqa: UP007
    plain, unit = _unit(name)
    field = FormField(
        name=name,
        label=CALLED.get(f"{model.__name__}.{name}", plain.replace("_", " ").strip().capitalize()),
        kind="other",
        unit=unit,
        step=STEPS.get(unit, 0.01),
        optional=optional,
        default=_default(info),
    )
    return _told(field, kind, marks)


def _unit(name: str) -> tuple[str, str]:
    for suffix, unit in UNITS.items():
        if name.endswith(f"_{suffix}"):
            return name[: -len(suffix) - 1], unit
    return name, ""


def _default(info: FieldInfo) -> Any:
    value = info.get_default(call_default_factory=True)
    if value is PydanticUndefined:
        return None
    if isinstance(value, BaseModel):
        return value.model_dump(mode="json")
    if isinstance(value, tuple):
        return [v.model_dump(mode="json") if isinstance(v, BaseModel) else v for v in value]
    return value


def _told(field: FormField, kind: Any, marks: list[Any]) -> FormField:
    changes: dict[str, Any] = {}
    origin, args = get_origin(kind), get_args(kind)
    if kind in (float, int):
        changes = {"kind": "number" if kind is float else "whole", **_ends(marks)}
        if kind is int:
            changes["step"] = 1.0
    elif kind is bool:
        changes = {"kind": "flag"}
    elif kind is str:
        changes = {"kind": "text"}
    elif origin is Literal:
        changes = {"kind": "choice", "choices": [FormChoice(name=str(a), label=_choice(str(a))) for a in args]}
    elif origin is tuple and args and args[-1] is not Ellipsis:
        inner: list[Any] = []
        _flat(args[0], inner)
        changes = {"kind": "numbers", "parts": list(PARTS.get(field.name, PLACE))[: len(args)], **_ends(inner)}
    elif origin is tuple:
        most = next((m.most for m in marks if isinstance(m, UpTo)), None)
        of = next(_inside(args[0]), None)
        kinds = _kinds(_flat(args[0], []))
        changes = {"kind": "forms" if of else "other", "of": of.__name__ if of else "", "most": most, "kinds": kinds}
    elif kinds := _kinds(kind):
        changes = {"kind": "either", "kinds": kinds}
    elif isinstance(kind, type) and issubclass(kind, Value):
        changes = {"kind": "form", "of": kind.__name__}
    return field.model_copy(update=changes)


def _kinds(kind: Any) -> dict[str, str]:
    """The models of a union, by their own field `kind`."""
    if get_origin(kind) not in (Union, UnionType):
        return {}
    models = [next(_inside(part), None) for part in get_args(kind)]
    return {str(m.model_fields["kind"].default): m.__name__ for m in models if m and "kind" in m.model_fields}


def _choice(name: str) -> str:
    return CHOICES.get(name, name.replace("_", " "))


def _ends(marks: list[Any]) -> dict[str, Any]:
    ends: dict[str, Any] = {}
    for mark in marks:
        for end, within, beyond in (("low", "ge", "gt"), ("high", "le", "lt")):
            for name in (within, beyond):
                value = getattr(mark, name, None)
                if value is not None:
                    ends[end] = float(value)
                    ends["above"] = ends.get("above", False) or name == "gt"
    return ends
