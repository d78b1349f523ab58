"""Which tooth the horn goes on with the servo centred, what that leaves, and the trim it takes.

A horn fits in whole teeth of 360°/N. Counted from where the joint stands at its zero, a joint that is to stand at θ_c
with its servo centred takes tooth round(θ_c·N/360), and what is left over, θ_c − tooth·360/N, is told to the servo.
"""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass

from bustle.core.document.checked import CheckedProject, parse_project
from bustle.core.project.project import Project, document
from bustle.core.servo.fitted_servos import ServoAt, servos_at


@dataclass(frozen=True)
class Horn:
    """at_deg: where the horn is to stand with the servo centred: the joint's angle, or a rod's horn from its line.

    teeth: of the spline; None where the sheet does not say, and then tooth and left are None too.
    """

    servo: ServoAt
    at_deg: float
    teeth: int | None
    tooth: int | None
    left_deg: float | None


def horns(project: Project) -> tuple[Horn, ...]:
    """For every servo, in the kit's order."""
    at = {}
    for drive in project.walker.drives:
        for servo in drive.servos:
            at[servo.name] = (
                drive.settings.get("horn_deg", servo.centre_deg) if drive.kind == "rod" else servo.centre_deg
            )
    return tuple(_horn(servo, at[servo.place]) for servo in servos_at(project))


def _horn(servo: ServoAt, at_deg: float) -> Horn:
    teeth = servo.sheet.spline_teeth
    if teeth is None:
        return Horn(servo, at_deg, None, None, None)
    pitch = 360.0 / teeth
    tooth = round(at_deg / pitch)
    return Horn(servo, at_deg, teeth, tooth, at_deg - tooth * pitch)


def fitted_on_nearest_teeth(project: CheckedProject, places: Collection[str] | None = None) -> CheckedProject:
    """Every horn, or those here, on its nearest tooth, with what is left over told to its servo; trims stay."""
    values = document(project)
    entries = {f["place"]: f for f in values["electrics"]["fitted"]}
    for horn in horns(project):
        if places is not None and horn.servo.place not in places:
            continue
        if horn.tooth is not None and horn.left_deg is not None:
            entry = entries.setdefault(horn.servo.place, {"place": horn.servo.place, "trim_deg": 0.0})
            entry["tooth"], entry["tooth_left_deg"] = horn.tooth, round(horn.left_deg, 3) + 0.0
    values["electrics"]["fitted"] = list(entries.values())
    return parse_project(values)


def centred_on_teeth(project: CheckedProject, places: Collection[str]) -> CheckedProject:
    """The joints at these places planned to stand, servo centred, where their nearest tooth puts them: nothing is left
    over. A rod's horn keeps its angle."""
    project = fitted_on_nearest_teeth(project, places)
    left = {f.place: f.tooth_left_deg for f in project.electrics.fitted if f.place in places}
    values = document(project)
    for drive in values["walker"]["drives"]:
        for servo in drive["servos"]:
            if servo["name"] in left and drive["kind"] != "rod":
                servo["centre_deg"] = round(servo["centre_deg"] - left[servo["name"]], 3) + 0.0
    for entry in values["electrics"]["fitted"]:
        if entry["place"] in left:
            entry["tooth_left_deg"] = 0.0
    return parse_project(values)
