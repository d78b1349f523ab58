"""From readings of a servo to its middle and its µs (or counts) per degree.

told = centre + k·θ,  least squares over two readings or more; direction = sign k, µs per degree = |k|
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from bustle.core.document.checked import CheckedProject, parse_project
from bustle.core.project.electrics import ServoItem, ServoReading
from bustle.core.project.project import Project, document
from bustle.core.words.problems import refuse
from bustle.core.words.wording import degrees, number

# A reading further than this off the line is a slip of the hand; a servo further off its type's mean has its own.
RESIDUAL_DEG = 3.0
ALIKE_DEG = 2.0
# So many of a type measured tell for the rest.
ENOUGH = 3


@dataclass(frozen=True)
class Calibration:
    """centre: µs or count at the horn's middle; per_deg: signed; residual_deg: of each reading off the line."""

    centre: float
    per_deg: float
    residual_deg: tuple[float, ...]

    @property
    def direction(self) -> int:
        return 1 if self.per_deg > 0 else -1

    @property
    def worst_deg(self) -> float:
        return max((abs(v) for v in self.residual_deg), default=0.0)


def fitted_line(readings: Sequence[ServoReading], path: str = "readings") -> Calibration:
    """The line through two readings or more.

    Raises InputRefused for fewer than two, equal angles, equal pulses, and a reading more than 3° off the line.
    """
    if len(readings) < 2:
        raise refuse(path, f"two readings at two angles are needed, got {len(readings)}")
    angle, told = np.array([r.horn_deg for r in readings]), np.array([r.told for r in readings])
    if np.ptp(angle) < 1.0:
        raise refuse(path, "the readings are at one angle; take two at least 1° apart")
    if np.ptp(told) < 1e-9:
        raise refuse(path, "the readings have one pulse; the horn moved and nothing told it to")
    design = np.stack([np.ones(len(angle)), angle], axis=1)
    (centre, per_deg), *_ = np.linalg.lstsq(design, told, rcond=None)
    if abs(per_deg) < 1e-9:
        raise refuse(path, "the readings have no slope: the angle does not follow what is told")
    off = (told - design @ np.array([centre, per_deg])) / per_deg
    worst = int(np.argmax(np.abs(off)))
    if len(readings) > 2 and abs(off[worst]) > RESIDUAL_DEG:
        raise refuse(
            f"{path}[{worst}].horn_deg",
            f"is {degrees(abs(float(off[worst])))} off the line through the others; read it again",
        )
    return Calibration(float(centre), float(per_deg), tuple(float(v) for v in off))


def type_mean(project: Project, kind: str) -> float | None:
    """|µs per degree| on average of the servos of a type that were measured; None where fewer than three were.

    Those whose travel would be off by more than 2° with the mean are left out of it, one after another.
    """
    sheet = next(s for s in project.servo_types if s.name == kind)
    found = [abs(fitted_line(i.readings).per_deg) for i in project.electrics.items
             if i.type == kind and len(i.readings) > 1]  # fmt: skip
    half = sheet.travel_deg / 2
    while len(found) >= ENOUGH:
        mean = float(np.median(found))
        furthest = max(found, key=lambda k: abs(k - mean))
        if half * abs(furthest / mean - 1) <= ALIKE_DEG:
            return float(np.mean(found))
        found.remove(furthest)
    return None


def calibrated(project: CheckedProject, name: str) -> tuple[CheckedProject, tuple[str, ...]]:
    """The project with an item's middle, direction and µs per degree from its readings, and what is to be said of it.

    Where three of its type are measured and it is within 2° of their mean over half its travel, it takes the mean.
    """
    index, item = _item(project, name)
    sheet = next(s for s in project.servo_types if s.name == item.type)
    path = f"electrics.items[{index}].readings"
    line = fitted_line(item.readings, path)
    bus = sheet.signal == "bus"
    said = [f"off the line by {degrees(line.worst_deg)} at most"]
    for n, reading in enumerate(item.readings):
        low, high = sheet.pulse_low_us, sheet.pulse_high_us
        if not bus and ((low is not None and reading.told < low) or (high is not None and reading.told > high)):
            words = f"{number(reading.told, 0)} µs is outside what its sheet says it takes"
            raise refuse(f"{path}[{n}].told", words)
    per = abs(line.per_deg)
    mean = None if bus else type_mean(project, item.type)
    if mean is not None and sheet.travel_deg / 2 * abs(per / mean - 1) <= ALIKE_DEG:
        said.append(f"takes {number(mean, 2)} µs per degree, the mean of its type; its own is {number(per, 2)}")
        per = mean
    elif mean is not None:
        said.append(f"keeps {number(per, 2)} µs per degree of its own; its type has {number(mean, 2)}")
    if line.direction != item.direction:
        said.append("it turns the other way than was set; its direction is turned round")
    values = document(project)
    entry = values["electrics"]["items"][index]
    entry["centre"], entry["direction"] = round(line.centre, 1), line.direction
    entry["us_per_deg"] = None if bus else round(per, 3)
    return parse_project(values), tuple(said)


def read_at(
    project: CheckedProject, place: str, told: float, horn_deg: float, at: str
) -> tuple[CheckedProject, tuple[str, ...]]:
    """The servo of a place was told so much, and its horn read at so many degrees from its middle. What it was told
    before is read anew; with a second reading its middle and slope are worked out.

    Raises InputRefused where no servo sits there.
    """
    project = project if any(i.place == place for i in project.electrics.items) else numbered(project)
    item = next((i for i in project.electrics.items if i.place == place), None)
    if item is None:
        raise refuse("place", f"{place[:60]!r} is no servo of this walker")
    values = document(project)
    entry = next(i for i in values["electrics"]["items"] if i["name"] == item.name)
    others = [r for r in entry["readings"] if abs(r["told"] - told) > 1e-6]
    entry["readings"], entry["read_on"] = [*others, {"told": told, "horn_deg": horn_deg}], at
    after = parse_project(values)
    if not others:
        return after, ("one more, at another angle",)
    return calibrated(after, item.name)


def replaced(project: CheckedProject, name: str) -> CheckedProject:
    """Another servo with that number: what was measured and seen of the old one says nothing of it."""
    index, item = _item(project, name)
    values = document(project)
    kept = {"name": item.name, "type": item.type, "place": item.place}
    values["electrics"]["items"][index] = kept
    values["electrics"]["seen"] = [s for s in values["electrics"]["seen"] if s["place"] != item.place]
    return parse_project(values)


def _item(project: Project, name: str) -> tuple[int, ServoItem]:
    for n, item in enumerate(project.electrics.items):
        if item.name == name:
            return n, item
    raise refuse("item", f"no servo is numbered {name[:60]!r}")


def numbered(project: CheckedProject) -> CheckedProject:
    """A servo with a number for every place that has none: 1, 2, … on their cases."""
    values = document(project)
    items = values["electrics"]["items"]
    taken, sat = {i["name"] for i in items}, {i["place"] for i in items}
    fresh = (str(n) for n in range(1, 1000) if str(n) not in taken)
    for drive in values["walker"]["drives"]:
        for servo in drive["servos"]:
            if servo["name"] not in sat:
                items.append({"name": next(fresh), "type": servo["type"], "place": servo["name"]})
    return parse_project(values)
