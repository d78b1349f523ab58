"""Projects that tests start from, and edits of them."""

from __future__ import annotations

import json
from functools import cache
from pathlib import Path
from typing import Any

from bustle.core.document.checked import CheckedProject, parse_project
from bustle.core.document.file import load_project
from bustle.core.edits.hinge_drives import hinge_driven
from bustle.core.evaluate import Plan
from bustle.core.judge.finding import Finding
from bustle.core.project.project import Project, document
from bustle.core.starting import starting_walkers

ROOT = Path(__file__).resolve().parents[1]


@cache
def _started(shape: str, mm: float) -> CheckedProject:
    return starting_walkers.start(shape, "Walker", mm)


def start(shape: str, name: str, mm: float) -> CheckedProject:
    """Projects are values, so that one made is as good as another; some take half a second to make."""
    return _started(shape, mm).model_copy(update={"name": name})


@cache
def stands(shape: str, name: str, mm: float) -> Project:
    """A starting shape that does nothing but stand."""
    values = document(start(shape, name, mm))
    values["motions"] = [m for m in values["motions"] if m["name"] == "Stand"]
    return parse_project(values)


@cache
def demo(name: str) -> Project:
    return load_project((ROOT / "demo" / f"{name}.bustle.json").read_bytes())


def fault(code: str, sound: bool = False) -> Project:
    """The project that a finding is shown on, or its sound twin."""
    return demo(f"faults/{code}{'.sound' if sound else ''}")


@cache
def hexapod() -> Project:
    return start("six_sprawled", "Test hexapod", 200.0)


@cache
def quadruped() -> Project:
    """As planned: what is sent makes up for nothing."""
    return changed(start("four_upright", "Test quadruped", 200.0), {"against_sag": "off"})


def changed(project: Project, changes: dict[str, Any]) -> Project:
    """The project with the fields at these slash paths set, e.g. {"motions/0/lift_mm": 30.0}."""
    values = document(project)
    for path, value in changes.items():
        *way, last = [int(part) if part.isdigit() else part for part in path.split("/")]
        target: Any = values
        for part in way:
            target = target[part]
        target[last] = value
    return parse_project(values)


def standing_on(gait: Any) -> Project:
    """A sprawled walker with a leg at every place a gait speaks of, walking it forward at its own duty."""
    values = document(hexapod())
    walker, motion = values["walker"], values["motions"][0]
    sources = {"L": "L2", "R": "R2"}
    limbs, drives, legs = [], [], []
    rows = {side: sum(s == side for s, _ in gait.touchdowns) for side in "LR"}
    for (side, row), phase in gait.touchdowns.items():
        source, name = sources[side], f"{side}{row + 1}"
        limb = json.loads(json.dumps(next(m for m in walker["limbs"] if m["name"] == source)))
        x = ((rows[side] - 1) / 2 - row) * 110.0
        limb["name"], limb["mount"]["at_mm"][0], limb["neutral_mm"][0] = name, x, x
        limbs.append(limb)
        for drive in walker["drives"]:
            if drive["joints"][0].startswith(f"{source}/"):
                servos = [{**s, "name": s["name"].replace(source, name)} for s in drive["servos"]]
                drives.append({**drive, "servos": servos, "joints": [j.replace(source, name) for j in drive["joints"]]})
        legs.append({"limb": name, "phase": phase, "duty": gait.duty})
    values["walker"] = {**walker, "limbs": limbs, "drives": drives}
    values["motions"] = [{**motion, "gait": gait.name, "legs": legs, "balance": gait.balance}]
    return parse_project(values)


def telescoping(drive: str = "direct") -> CheckedProject:
    """A hexapod whose tibias telescope instead of bending: turn, lift, slide. drive: what moves the slides."""
    values = document(hexapod())
    for limb in values["walker"]["limbs"]:
        limb.update(family="serial", branch="as_near_as_it_gets")
        limb["joints"] = [
            {"name": "turn", "min_deg": -60.0, "max_deg": 60.0, "axis": [0.0, 0.0, 1.0]},
            {"name": "lift", "min_deg": -80.0, "max_deg": 60.0, "axis": [0.0, -1.0, 0.0]},
            {"name": "reach", "kind": "slide", "min_mm": 0.0, "max_mm": 90.0, "axis": [1.0, 0.0, 0.0]},
        ]
        for link, offset in zip(limb["links"], (40.0, 20.0, 30.0), strict=True):
            link.update(length_mm=offset, offset_mm=[offset, 0.0, 0.0])
    named = {"yaw": "turn", "femur": "lift", "tibia": "reach"}
    for one in values["walker"]["drives"]:
        leg, joint = one["joints"][0].split("/")
        one["joints"] = [f"{leg}/{named[joint]}"]
        one["servos"][0]["centre_deg"] = 0.0
        if joint == "tibia":
            one["kind"] = drive
            if drive == "rack":
                one["servos"][0]["centre_deg"], one["settings"] = 45.0, {"mm_per_turn": 200.0}
    return parse_project(values)


def bending(axis: str = "yaw", to_deg: float = 9.0) -> CheckedProject:
    """A hexapod whose back pair stands on a section of its own, with a servo in the frame's hinge that bends it one way
    and the other in each cycle of its first walk."""
    values = document(hexapod())
    hinge = {"on": "body", "at_mm": [-40.0, 0.0, 3.0], "to_mm": [-50.0, 0.0, 2.0], "axis": axis}
    values["walker"]["sections"].append({"name": "back", "size_mm": [60.0, 80.0, 30.0], "hinge": hinge})
    values["walker"]["masses"].append({"name": "Tail", "mass_g": 80.0, "on": "back", "at_mm": [-10.0, 4.0, 6.0]})
    for limb in values["walker"]["limbs"]:
        if limb["name"] in ("L3", "R3"):
            limb["section"], limb["mount"]["at_mm"] = "back", [0.0, limb["mount"]["at_mm"][1], 0.0]
    values["motions"][0]["pose"]["bends"] = [{"section": "back", "angle_deg": 2.0}]
    values = document(hinge_driven(parse_project(values), "back"))
    move = {"limb": "spine", "joint": "bend", "takes": 0.2}
    values["motions"][0]["moves_of_arms"] = [
        move | {"to": to_deg, "at": 0.05, "back_at": 0.25}, move | {"to": -to_deg, "at": 0.5, "back_at": 0.75},
    ]  # fmt: skip
    return parse_project(values)


def troubles(plan: Plan) -> tuple[Finding, ...]:
    """What is found beyond notes, which a machine that is only planned yet may have."""
    return tuple(f for f in plan.findings if f.severity != "note")
