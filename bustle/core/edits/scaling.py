"""The whole machine larger or smaller by a factor f.

Lengths go by f: links, frames, places, strokes, lifts, sways. Weights of what is printed go by f³; servos, battery and
boards are bought, and stay as they are unless all is asked to go by f³. A pendulum of f times the length swings √f
times as slowly, so cycles and holds go by √f, in whole rows; speeds by √f, turning speeds by 1/√f. What the floor is
like stays; what was measured on the machine that was built is of another one, and goes. Source: the square–cube law and
equal Froude numbers v²/(g·L), texts on dynamic similarity.
"""

from __future__ import annotations

from math import sqrt
from typing import Any

from bustle.core.document.checked import CheckedProject, parse_project
from bustle.core.edits.mirroring import limb_lists
from bustle.core.project.project import document
from bustle.core.words.problems import refuse

Values = dict[str, Any]

FACTORS = (0.1, 10.0)
# Of a project, what is not the machine's own.
OUTSIDE = ("servo_types", "controller", "floor", "budget", "start_up", "controls", "name", "note")
TIMES = ("cycle_s", "hold_s", "move_s", "pose_s", "from_s", "takes_s")


def scaled(project: CheckedProject, factor: float, all_weights: bool = False) -> CheckedProject:
    """Raises InputRefused for a factor outside 0.1 … 10, and where a field would leave its range, naming it."""
    low, high = FACTORS
    if not low <= factor <= high:
        raise refuse("factor", f"must be from {low:g} to {high:g}, got {factor:g}")
    values = document(project)
    row_s = project.controller.frame_period_ms / 1000
    values["walker"]["as_built"] = {"limbs": []}
    values["walked"] = []
    kept_sizes = {m["name"]: m["size_mm"] for m in values["walker"]["masses"] if not (all_weights or m["print_h"])}
    for key, part in values.items():
        if key not in OUTSIDE:
            _stretch(part, factor, row_s)
    _slides(values, factor)
    for mass in values["walker"]["masses"]:
        if mass["name"] in kept_sizes:
            mass["size_mm"] = kept_sizes[mass["name"]]
        else:
            _weigh(mass, factor)
    for limb in values["walker"]["limbs"]:
        for link in limb["links"]:
            _weigh(link, factor)
    if all_weights:
        for sheet in values["servo_types"]:
            sheet["mass_g"] = _rounded(sheet["mass_g"] * factor**3)
    return parse_project(values)


def _slides(values: Values, factor: float) -> None:
    """Where joints that slide are held, or go to."""
    walker = values["walker"]
    slides = {(m["name"], j["name"]) for m in walker["limbs"] for j in m["joints"] if j["kind"] == "slide"}
    told = [entries for motion in values["motions"] for entries in limb_lists(motion)]
    for entry in (e for entries in (*told, (walker["folded"] or {}).get("joints", [])) for e in entries):
        for key in ("value", "to"):
            if key in entry and (entry["limb"], entry["joint"]) in slides:
                entry[key] = _rounded(entry[key] * factor)


def _rounded(value: float) -> float:
    return round(value, 3) + 0.0


def _weigh(part: Values, factor: float) -> None:
    for field in ("mass_g", "print_h"):
        part[field] = _rounded(part[field] * factor**3)


def _stretch(part: Any, factor: float, row_s: float) -> None:
    """Every length, speed and time of a part and of what it holds, by the unit its name ends in; in place."""
    if isinstance(part, list):
        for entry in part:
            _stretch(entry, factor, row_s)
        return
    if not isinstance(part, dict):
        return
    for name, value in part.items():
        if value is None:
            continue
        if name.endswith("_mm_s"):
            part[name] = _times(value, sqrt(factor))
        elif name.endswith("_mm") and name != "course_mm":
            part[name] = _times(value, factor)
        elif name.endswith("_deg_s"):
            part[name] = _times(value, 1 / sqrt(factor))
        elif name in TIMES:
            rows = max(1, round(value * sqrt(factor) / row_s)) if value else 0
            part[name] = round(rows * row_s, 6)
        else:
            _stretch(value, factor, row_s)


def _times(value: Any, factor: float) -> Any:
    if isinstance(value, list):
        return [_times(v, factor) for v in value]
    if isinstance(value, dict):
        return {name: _times(v, factor) for name, v in value.items()}
    return _rounded(value * factor)
