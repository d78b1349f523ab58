"""Starting shapes: a whole walker with motions from a leg count, a leg family and one length."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from math import cos, radians, sin
from typing import Any

from bustle.core.document import parse_project
from bustle.core.gaits import GAITS, places
from bustle.core.levers import motion_index, patched, replace
from bustle.core.plan import evaluate
from bustle.core.problems import refuse
from bustle.core.project import FORMAT, VERSION, Project
from bustle.core.sway import swayed

LEG_LENGTH_MM = (60.0, 600.0)


@dataclass(frozen=True)
class Shape:
    """A starting shape; build(name, leg_length_mm) → Project."""

    name: str
    label: str
    legs: int
    family: str
    usual_mm: float


SHAPES: dict[str, Shape] = {
    shape.name: shape
    for shape in (
        Shape("six_sprawled", "Six legs, sprawled", 6, "sprawled_3", 220.0),
        Shape("four_sprawled", "Four legs, sprawled", 4, "sprawled_3", 220.0),
        Shape("six_upright", "Six legs, upright", 6, "upright_3", 220.0),
        Shape("four_upright", "Four legs, upright", 4, "upright_3", 220.0),
    )
}

_SERVO = {
    "name": "Metal-gear servo",
    "mass_g": 56.0,
    "stall_torque_nm": 1.9,
    "no_load_speed_deg_s": 400.0,
    "rated_v": 6.0,
    "travel_deg": 200.0,
    "frame_period_ms": 20.0,
}

_LABELS = {6: ("L1", "L2", "L3", "R1", "R2", "R3"), 4: ("FL", "FR", "BL", "BR")}


def start(shape: str, name: str, leg_length_mm: float) -> Project:
    """A project in the proportions of a starting shape. Raises InputRefused naming the field."""
    if shape not in SHAPES:
        raise refuse("shape", f"must be one of {', '.join(SHAPES)}, got {shape!r}")
    low, high = LEG_LENGTH_MM
    if not low <= leg_length_mm <= high:
        raise refuse("leg_length_mm", f"must be from {low:g} to {high:g}, got {leg_length_mm:g}")
    kind = SHAPES[shape]
    built = _BUILDERS[kind.family](kind.legs, leg_length_mm)
    project = parse_project(
        {
            "format": FORMAT,
            "version": VERSION,
            "name": name,
            "walker": built["walker"],
            "motions": _motions(built, kind.legs),
            "servo_types": [built["servo"]],
            "limits": {"margin_mm": _mm(min(12.0, leg_length_mm * 0.04))},
        }
    )
    for motion in project.motions:
        project = steadied(project, motion.name)
    return project


def steadied(project: Project, motion: str) -> Project:
    """The motion with the static leg order that keeps the most margin, and the least sway that still lacks."""
    asked = project.motion(motion)
    index = motion_index(project, motion)
    limbs = {limb.name: limb for limb in project.walker.limbs}
    spots = places([limbs[leg.limb].mount.at_mm[:2] for leg in asked.legs])
    rivals = [project]
    for gait in GAITS.values():
        if gait.legs == len(spots) == 4 and gait.balance == asked.balance == "static":
            timing = [replace(f"/motions/{index}/legs/{n}/phase", v) for n, v in enumerate(gait.phases(spots))]
            rivals.append(patched(project, [*timing, replace(f"/motions/{index}/gait", gait.name)]))
    best = max(rivals, key=lambda rival: evaluate(rival, motion).figure("worst_margin_mm") or 0.0)
    limit = project.limits.margin_mm
    if (evaluate(best, motion).figure("worst_margin_mm") or 0.0) >= limit:
        return best
    terms = swayed(best, motion, limit) or ()
    return patched(best, [replace(f"/motions/{index}/pose/sway", [t.model_dump() for t in terms])])


def _mm(value: float) -> float:
    return round(value * 2) / 2


def _walker(legs: int, length: float, limbs: list[dict[str, Any]], size: list[float], centres: list[float]) -> dict:
    grams = round(2.2 * length) + 60.0
    servo = {**_SERVO, "mass_g": round(min(180.0, max(12.0, length / 4)), 0)}
    drives = [
        {
            "servos": [{"name": f"{limb['name']} {joint['name']}", "type": servo["name"], "centre_deg": centre}],
            "joints": [f"{limb['name']}/{joint['name']}"],
        }
        for limb in limbs
        for joint, centre in zip(limb["joints"], centres, strict=True)
    ]
    masses = [
        {"name": "Frame and controller", "mass_g": grams, "at_mm": [0.0, 0.0, 0.0], "size_mm": size},
        {
            "name": "Battery",
            "mass_g": round(length * 0.8),
            "at_mm": [0.0, 0.0, -_mm(size[2] / 4)],
            "size_mm": [_mm(size[0] / 3), _mm(size[1] / 3), _mm(size[2] / 3)],
        },
    ]
    for mass in masses:
        mass["mass_g"] = float(str(mass["mass_g"]))
    walker = {
        "sections": [{"name": "body", "size_mm": size}],
        "limbs": limbs,
        "masses": masses,
        "drives": drives,
    }
    return {"walker": walker, "servo": servo}


def _limb(name: str, at: list[float], yaw: float, family: str, links: list, joints: list, neutral: list) -> dict:
    return {
        "name": name,
        "mount": {"at_mm": at, "yaw_deg": yaw},
        "family": family,
        "joints": [{"name": n, "min_deg": a, "max_deg": b} for n, a, b in joints],
        "links": [{"name": n, "length_mm": _mm(mm), "mass_g": round(mm * 0.15, 1)} for n, mm in links],
        "neutral_mm": neutral,
    }


def _sprawled(legs: int, length: float) -> dict:
    """Coxa, femur and tibia as 0.22 : 0.30 : 0.48 of the leg; legs fan out at the corners."""
    rows = legs // 2
    size = [_mm(length * (0.95 if rows == 3 else 0.7)), _mm(length * 0.5), _mm(length * 0.2)]
    limbs = []
    for name in _LABELS[legs]:
        side, row = _side_and_row(name, rows)
        along = (rows - 1) / 2 - row
        x = size[0] / 2 * along / ((rows - 1) / 2)
        y = side * size[1] / 2
        fan = 35.0 * (along > 0) - 35.0 * (along < 0)
        yaw = side * (90.0 - fan)
        out = length * 0.52
        neutral = [_mm(x + out * cos(radians(yaw))), _mm(y + out * sin(radians(yaw)))]
        limb = _limb(
            name,
            [_mm(x), _mm(y), 0.0],
            yaw,
            "sprawled_3",
            [("coxa", length * 0.22), ("femur", length * 0.3), ("tibia", length * 0.48)],
            [("yaw", -60.0, 60.0), ("femur", -60.0, 100.0), ("tibia", -165.0, -10.0)],
            neutral,
        )
        limbs.append({**limb, "branch": "knee_up"})
    built = _walker(legs, length, limbs, size, [0.0, 20.0, -85.0])
    return {**built, "ride": _mm(length * 0.36), "stroke": length * 0.26, "lift": _mm(length * 0.12)}


def _upright(legs: int, length: float) -> dict:
    """Thigh and shank are half the leg each, the hip offset a sixth; feet stand under the thighs."""
    rows = legs // 2
    size = [_mm(length * (1.15 if rows == 2 else 1.7)), _mm(length * 0.5), _mm(length * 0.22)]
    offset = _mm(length * 0.18)
    limbs = []
    for name in _LABELS[legs]:
        side, row = _side_and_row(name, rows)
        x = size[0] / 2 * ((rows - 1) / 2 - row) / ((rows - 1) / 2)
        y = side * size[1] / 2
        limb = _limb(
            name,
            [_mm(x), _mm(y), 0.0],
            0.0,
            "upright_3",
            [("hip", offset), ("thigh", length * 0.5), ("shank", length * 0.5)],
            [("roll", -45.0, 45.0), ("pitch", -60.0, 95.0), ("knee", -150.0, -8.0)],
            [_mm(x), _mm(y + side * offset)],
        )
        limbs.append({**limb, "mirrored": side < 0, "branch": "knee_forward"})
    built = _walker(legs, length, limbs, size, [0.0, 30.0, -75.0])
    return {**built, "ride": _mm(length * 0.82), "stroke": length * 0.22, "lift": _mm(length * 0.12)}


def _side_and_row(name: str, rows: int) -> tuple[int, int]:
    if rows == 3:
        return (1 if name[0] == "L" else -1), int(name[1]) - 1
    return (1 if name[1] == "L" else -1), 0 if name[0] == "F" else 1


_BUILDERS: dict[str, Callable[[int, float], dict[str, Any]]] = {
    "sprawled_3": _sprawled,
    "upright_3": _upright,
}


def _motions(built: dict[str, Any], legs: int) -> list[dict[str, Any]]:
    """Forward, turn left and sideways, at the gait that keeps the most in hand while still getting somewhere."""
    limbs = built["walker"]["limbs"]
    gait = GAITS["tripod" if legs == 6 else "creep"]
    # Tripod with half a tenth of double support, so that feet change over with all six down.
    duty = 0.55 if legs == 6 else 0.88
    cycle = 1.2 if legs == 6 else 3.0
    phases = gait.phases(places([tuple(limb["mount"]["at_mm"][:2]) for limb in limbs]))
    speed = built["stroke"] / (duty * cycle)
    reach = sum(sum(v * v for v in limb["neutral_mm"]) ** 0.5 for limb in limbs) / len(limbs)
    twists = {
        "Forward": {"vx_mm_s": round(speed, 1)},
        "Turn left": {"omega_deg_s": round(speed / reach * 57.3 * 0.8, 1)},
        "Sideways left": {"vy_mm_s": round(speed * 0.6, 1)},
    }
    return [
        {
            "name": name,
            "gait": gait.name,
            "legs": [
                {"limb": limb["name"], "phase": phase, "duty": duty} for limb, phase in zip(limbs, phases, strict=True)
            ],
            "cycle_s": cycle,
            "twist": twist,
            "foot_path": "cycloid",
            "lift_mm": built["lift"],
            "pose": {"ride_height_mm": built["ride"]},
            "balance": gait.balance,
        }
        for name, twist in twists.items()
    ]
