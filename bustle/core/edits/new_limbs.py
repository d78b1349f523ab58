"""New limbs, and legs of another family in place of those that are there, in usual proportions and with usual stops."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import chain, repeat
from math import atan2, copysign, cos, degrees, radians, sin
from typing import Any, Literal

from bustle.core.document.checked import CheckedProject, parse_project
from bustle.core.edits.as_free_chain import closed_again, opened
from bustle.core.edits.parts_gone import forget, unmeasured
from bustle.core.edits.wiring import follow_places, in_order
from bustle.core.kinds.gaits import CUSTOM
from bustle.core.kinds.legs import FAMILIES
from bustle.core.project.motion import PhaseGait
from bustle.core.project.project import document
from bustle.core.words.problems import refuse

Values = dict[str, Any]
Role = Literal["leg", "arm", "support"]

# Each link as a share of the leg's length, in the family's order.
SHARES: dict[str, tuple[float, ...]] = {
    "sprawled_3": (0.22, 0.30, 0.48),
    "sprawled_2": (0.25, 0.75),
    "upright_3": (0.18, 0.5, 0.5),
    "upright_2": (0.18, 0.5, 0.5),
    "rocker_2": (0.1, 0.9),
    "one_joint": (0.1, 0.9),
    "biped_2": (0.1, 0.8, 0.1),
}
# A leg whose ankle rods hold level, with a joint and a servo there instead.
WITHOUT_RODS = {
    "parallelogram_2": "biped_planar_3",
    "parallelogram_3": "biped_4_roll",
    "parallelogram_4": "biped_5_no_ankle_roll",
}
WITH_FOOT = (0.1, 0.42, 0.42, 0.1)
WITHOUT_FOOT = (0.1, 0.45, 0.45)

STOPS: dict[str, tuple[float, float]] = {
    "yaw": (-60.0, 60.0),
    "femur": (-60.0, 100.0),
    "tibia": (-165.0, -10.0),
    "lift": (-80.0, 60.0),
    "roll": (-45.0, 45.0),
    "pitch": (-70.0, 95.0),
    "knee": (-150.0, -6.0),
    "thigh": (-70.0, 80.0),
    "shank": (-110.0, 60.0),
    "ankle": (-60.0, 60.0),
    "ankle_roll": (-35.0, 35.0),
    "swing": (-60.0, 60.0),
}

# What a millimetre of a link weighs.
LINK_G_MM = 0.15

SERVO: Values = {
    "name": "Metal-gear servo",
    "mass_g": 55.0,
    "stall_torque_nm": 1.8,
    "no_load_speed_deg_s": 400.0,
    "rated_v": 6.0,
    "travel_deg": 200.0,
}


def _parts(family: str, length: float, leg: bool = True) -> Values:
    """Joints and links of a limb of that family, `length` mm from hip to foot."""
    spec = FAMILIES[family]
    if spec.open and leg:
        # It turns at the hip, lifts and bends.
        return {
            "joints": [
                {"name": "turn", "min_deg": -60.0, "max_deg": 60.0, "axis": [0.0, 0.0, 1.0]},
                {"name": "lift", "min_deg": -75.0, "max_deg": 60.0, "axis": [0.0, 1.0, 0.0]},
                {"name": "bend", "min_deg": 0.0, "max_deg": 140.0, "axis": [0.0, 1.0, 0.0]},
            ],
            "links": [
                usual_link(name, round(length * share, 1), (1.0, 0.0, 0.0))
                for name, share in zip(("root", "upper", "lower"), SHARES["sprawled_3"], strict=True)
            ],
        }
    if spec.open:
        return {
            "joints": [
                {"name": "turn", "min_deg": -60.0, "max_deg": 60.0, "axis": [0.0, 0.0, 1.0]},
                {"name": "nod", "min_deg": -60.0, "max_deg": 60.0, "axis": [0.0, 1.0, 0.0]},
            ],
            "links": [
                usual_link("neck", length / 3, (0.0, 0.0, 1.0)),
                usual_link("head", length * 2 / 3, (1.0, 0.0, 0.0)),
            ],
        }
    shares = SHARES.get(family) or (WITH_FOOT if len(spec.links) == 4 else WITHOUT_FOOT)
    return {
        "joints": [{"name": j.name, "min_deg": STOPS[j.name][0], "max_deg": STOPS[j.name][1]} for j in spec.joints],
        "links": [usual_link(k.name, round(length * s, 1)) for k, s in zip(spec.links, shares, strict=False)],
    }


def usual_link(name: str, length_mm: float, way: tuple[float, float, float] | None = None) -> Values:
    """Of usual weight; in a free chain, along a way of length 1."""
    link: Values = {"name": name, "length_mm": length_mm, "mass_g": round(length_mm * LINK_G_MM, 1)}
    return link if way is None else {**link, "offset_mm": [length_mm * share for share in way]}


def direct_drives(values: Values, limb: Values, types: Sequence[str] = ()) -> list[Values]:
    """A direct drive per joint: of these types of servo, of the last where there are more joints, else of the walker's
    first."""
    if not values["servo_types"]:
        values["servo_types"].append(dict(SERVO))
    known = types or [values["servo_types"][0]["name"]]
    return [
        {
            "servos": [{"name": f"{limb['name']} {j['name']}", "type": kind, "centre_deg": _middle(j)}],
            "joints": [f"{limb['name']}/{j['name']}"],
        }
        for j, kind in zip(limb["joints"], chain(known, repeat(known[-1])), strict=False)
    ]


def servo_types_of(values: Values, limb: Values) -> list[str]:
    """One for each joint of a limb that is driven, in their order: of the servo that has its place in its drive."""
    found = []
    for joint in (f"{limb['name']}/{j['name']}" for j in limb["joints"]):
        for drive in values["walker"]["drives"]:
            if joint in drive["joints"]:
                place = min(drive["joints"].index(joint), len(drive["servos"]) - 1)
                found.append(drive["servos"][place]["type"])
    return found


def _middle(joint: Values) -> float:
    return float(round((joint["min_deg"] + joint["max_deg"]) / 2)) if "min_deg" in joint else 0.0


def longest_mm(values: Values) -> float:
    """Of its legs; where there is none, of what else moves."""
    moving = [limb for limb in values["walker"]["limbs"] if limb["joints"]]
    legs = [limb for limb in moving if limb["feet"]] or moving
    return max((sum(k["length_mm"] for k in limb["links"]) for limb in legs), default=160.0)


def added(
    project: CheckedProject,
    role: Role,
    family: str,
    at_mm: tuple[float, float] | None = None,
    length_mm: float | None = None,
) -> CheckedProject:
    """A new limb: a leg on the left, an arm or head on top, or a support under the middle; or where one points, on the
    body seen from above. As long as the longest there is where no length is told."""
    values = document(project)
    family = "fixed" if role == "support" else family
    if family not in FAMILIES or (role != "support" and family == "fixed"):
        raise refuse("family", f"must be one of {', '.join(f for f in FAMILIES if f != 'fixed')}, got {family[:40]!r}")
    taken = {limb["name"].casefold() for limb in values["walker"]["limbs"]}
    stem = {"leg": "leg", "arm": "arm", "support": "caster"}[role]
    name = next(f"{stem}{n}" for n in range(1, 100) if f"{stem}{n}".casefold() not in taken)
    long, wide, high = values["walker"]["sections"][0]["size_mm"]
    ride = next((m.pose.ride_height_mm for m in project.motions if isinstance(m, PhaseGait)), 80.0)
    length = length_mm or longest_mm(values)
    limb: Values = {
        "name": name,
        "family": family,
        "branch": FAMILIES[family].branches[0],
        **_parts(family, length, role == "leg"),
    }
    x, y = at_mm or ((0.0, wide / 2) if role == "leg" else (long / 2, 0.0) if role == "arm" else (0.0, 0.0))
    if role == "leg":
        sprawled = _sprawls(family)
        away = degrees(atan2(y, x)) if at_mm and sprawled else copysign(90.0, y or 1.0)
        # As high up as the others hang.
        up = next((m["mount"]["at_mm"][2] for m in values["walker"]["limbs"] if m["joints"] and m["feet"]), 0.0)
        limb["mount"] = {"at_mm": [x, y, up], "yaw_deg": round(away) if sprawled else 0.0}
        limb["mirrored"] = not sprawled and y < 0
        limb["neutral_mm"] = _stands_at(limb["mount"]["at_mm"], away, family, length)
    elif role == "arm":
        limb["mount"], limb["feet"] = {"at_mm": [x, y, high / 2]}, []
    else:
        limb["mount"] = {"at_mm": [x, y, -ride]}
        limb["feet"] = [{"contact": {"kind": "rolls", "any_way": True}}]
    # A leg is driven as the others are.
    others = [m for m in values["walker"]["limbs"] if role == "leg" and m["joints"] and m["feet"]]
    values["walker"]["limbs"].append(limb)
    values["walker"]["drives"] += direct_drives(values, limb, servo_types_of(values, others[0]) if others else ())
    if role == "leg":
        for gait, motion in zip(project.motions, values["motions"], strict=True):
            if isinstance(gait, PhaseGait):
                duty = max((leg.duty for leg in gait.legs), default=1.0)
                motion["legs"].append({"limb": name, "phase": 0.0, "duty": duty})
                motion["gait"] = CUSTOM
    return parse_project(values)


def _sprawls(family: str) -> bool:
    """Whether it points away from the body and stands far out."""
    return not FAMILIES[family].sole_follows or FAMILIES[family].open


def _stands_at(mount_mm: list[float], away_deg: float, family: str, length_mm: float) -> list[float]:
    """Where its foot stands: far out on a sprawled leg, below its hip's end on two servos, else nearly so."""
    share = 0.55 if _sprawls(family) else 0.1 if family == "biped_2" else 0.18
    out, way = share * length_mm, radians(away_deg)
    return [round(mount_mm[0] + out * cos(way), 1), round(mount_mm[1] + out * sin(way), 1)]


def refitted(project: CheckedProject, limb: str, family: str, alike: bool) -> CheckedProject:
    """A leg of another family in the same place; with `alike`, all of its family. As a free chain it is the leg that it
    was, wherever it can be. Else links and joints that the new kind has too stay as they are, with their servos; the
    others share what went in length and in weight."""
    values = document(project)
    chosen = next((m for m in values["walker"]["limbs"] if m["name"] == limb), None)
    if chosen is None:
        raise refuse("limb", f"no limb is called {limb[:40]!r}")
    if family not in FAMILIES or family == "fixed" or not chosen["joints"]:
        raise refuse("family", f"{limb} cannot become {family[:40]!r}")
    old = chosen["family"]
    for leg in values["walker"]["limbs"]:
        if leg["name"] == limb or (alike and leg["family"] == old):
            _refit(values, leg, family)
    in_order(values)
    follow_places(values)
    return parse_project(values)


def _refit(values: Values, leg: Values, family: str) -> None:
    if FAMILIES[family].open:
        if leg["family"] in WITHOUT_RODS:
            _refit(values, leg, WITHOUT_RODS[leg["family"]])
        if opened(values, leg):
            return
    old, walker = leg["family"], values["walker"]
    length, types = sum(k["length_mm"] for k in leg["links"]), servo_types_of(values, leg)
    sprawled, spec = _sprawls(family), FAMILIES[family]
    parts = _parts(family, length, bool(leg["feet"]))
    # What goes by one name in both is one thing, but where the leg itself points elsewhere.
    closed = not spec.open and closed_again(leg, spec)
    alike = closed or (_sprawls(old) == sprawled and FAMILIES[old].open == spec.open)
    stay = {part["name"]: part for part in leg["joints"]} if alike else {}
    leg["joints"] = [stay.get(j["name"], j) for j in parts["joints"]]
    had = {link["name"] for link in leg["links"]}
    leg["links"] = _shared_out(parts["links"], leg["links"], alike)
    for link in leg["links"]:
        if closed and link["name"] not in had:
            # What is no part of the chain is the frame's, up to where the leg is mounted.
            link.update(length_mm=0.0, mass_g=0.0)
    leg.update(family=family, keep=None)
    if not alike or leg["branch"] not in spec.branches:
        leg["branch"] = spec.branches[0]
    if not (alike and spec.takes_hip_offset):
        leg["hip_offset_mm"] = [0.0, 0.0, 0.0]
    leg["mirrored"] = not sprawled and leg["mount"]["at_mm"][1] < 0
    if _sprawls(old) != sprawled and not closed:
        away = 90.0 if leg["mount"]["at_mm"][1] >= 0 else -90.0
        leg["mount"]["yaw_deg"] = away if sprawled else 0.0
        if leg["neutral_mm"]:
            leg["neutral_mm"] = _stands_at(leg["mount"]["at_mm"], away, family, length)
    if not closed:
        unmeasured(values, leg["name"])
    forget(values, {**leg, "joints": [j for j in leg["joints"] if j["name"] in stay]})
    driven = {j for drive in walker["drives"] for j in drive["joints"]}
    walker["drives"] += [
        drive for drive in direct_drives(values, leg, types) if not driven.intersection(drive["joints"])
    ]


def _shared_out(new: list[Values], old: list[Values], alike: bool) -> list[Values]:
    """Usual links as those that were there have it: of one name as they were, the rest in place of the rest."""
    stay = {k["name"]: k for k in old if alike and k["name"] in {link["name"] for link in new}}
    come = [k for k in new if k["name"] not in stay]
    gone = [k for k in old if k["name"] not in stay]
    # Where none goes, what comes is of usual size.
    for key in ("length_mm", "mass_g") if gone else ():
        usual, was = (sum(k[key] for k in links) for links in (come, gone))
        for link in come:
            link[key] = round(link[key] * was / usual, 1) if usual else 0.0
    return [stay.get(k["name"], k) for k in new]
