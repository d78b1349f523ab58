"""Adding, mirroring, repeating, copying, renaming and removing limbs, with everything that hangs on them.

Each takes a project and gives another; a limb's drives, timings, masses, leads and measurements go where it goes. New
limbs of motions that already time legs take the phase of the limb they were made from, half a cycle on.
"""

from __future__ import annotations

import re
from collections.abc import Callable
from copy import deepcopy
from math import atan2, cos, degrees, hypot, radians, sin
from typing import Any

from bustle.core.document.checked import CheckedProject, parse_project
from bustle.core.edits.mirroring import limb_lists, mirror_limb, mirror_what_hangs
from bustle.core.edits.parts_gone import forget, unmeasured
from bustle.core.edits.wiring import follow_places, in_order
from bustle.core.kinds.gaits import CUSTOM, spots_of
from bustle.core.kinds.legs import FAMILIES
from bustle.core.project.project import document
from bustle.core.words.problems import refuse

Values = dict[str, Any]

MOST_LIMBS = 24


def _limb(values: Values, name: str) -> Values:
    for limb in values["walker"]["limbs"]:
        if limb["name"] == name:
            found: Values = limb
            return found
    raise refuse("limb", f"no limb is called {name[:40]!r}")


def _fresh(values: Values, wanted: str) -> str:
    """A name that is free: the one wanted, or it with a number."""
    taken = {limb["name"].casefold() for limb in values["walker"]["limbs"]}
    if wanted.casefold() not in taken:
        return wanted
    stem = wanted.rstrip("0123456789") or wanted
    return next(f"{stem}{n}" for n in range(1, 100) if f"{stem}{n}".casefold() not in taken)


def _made_from(values: Values, source: str, name: str, change: Callable[[Values], None]) -> str:
    """A copy of a limb under a new name, changed, with copies of what hangs on the first."""
    if len(values["walker"]["limbs"]) >= MOST_LIMBS:
        raise refuse("limb", f"a walker has at most {MOST_LIMBS} limbs")
    name = _fresh(values, name)
    limb = deepcopy(_limb(values, source))
    limb["name"] = name
    for joint in limb["joints"]:
        # The robot's own file has a name for one of them alone.
        joint.pop("in_files", None)
    change(limb)
    values["walker"]["limbs"].append(limb)
    for drive in [d for d in values["walker"]["drives"] if all(j.startswith(f"{source}/") for j in d["joints"])]:
        twin = deepcopy(drive)
        twin["joints"] = [f"{name}/{j.partition('/')[2]}" for j in drive["joints"]]
        for servo in twin["servos"]:
            servo["name"] = servo["name"].replace(source, name, 1)
            if servo["sits_on"] and servo["sits_on"].startswith(f"{source}/"):
                servo["sits_on"] = f"{name}/{servo['sits_on'].partition('/')[2]}"
        values["walker"]["drives"].append(twin)
    for mass in [m for m in values["walker"]["masses"] if m["on"].startswith(f"{source}/")]:
        twin = {**deepcopy(mass), "name": f"{mass['name']} {name}"[:60], "on": f"{name}/{mass['on'].partition('/')[2]}"}
        values["walker"]["masses"].append(twin)
    for motion in values["motions"]:
        for timing in [t for t in motion.get("legs", ()) if t["limb"] == source]:
            motion["legs"].append({**timing, "limb": name, "phase": (timing["phase"] + 0.5) % 1.0})
            motion["gait"] = CUSTOM
        for entries in limb_lists(motion):
            entries += [{**deepcopy(entry), "limb": name} for entry in entries if entry["limb"] == source]
    if values["walker"]["folded"]:
        folded = values["walker"]["folded"]["joints"]
        folded += [{**deepcopy(a), "limb": name} for a in folded if a["limb"] == source]
    return name


def copied(project: CheckedProject, limb: str) -> CheckedProject:
    """A copy of a limb beside it: 40 mm further back."""
    values = document(project)

    def further_back(twin: Values) -> None:
        twin["mount"]["at_mm"][0] -= 40.0
        if twin["neutral_mm"]:
            twin["neutral_mm"][0] -= 40.0

    _made_from(values, limb, limb, further_back)
    return parse_project(values)


def at_the_other_end(project: CheckedProject, limb: str) -> CheckedProject:
    """A copy of a limb as far behind the middle as it is in front of it: a sprawled one turned to point away from
    there, an upright one as it is."""
    values = document(project)
    source = _limb(values, limb)
    if source["mount"]["at_mm"][0] == 0:
        raise refuse("limb", f"{limb} sits in the middle, so at the other end it is where it is")

    def across(twin: Values) -> None:
        twin["mount"]["at_mm"][0] = 0.0 - twin["mount"]["at_mm"][0]
        if not FAMILIES[twin["family"]].sole_follows:
            twin["mount"]["yaw_deg"] = _within(180.0 - twin["mount"]["yaw_deg"])
        if twin["neutral_mm"]:
            twin["neutral_mm"][0] = 0.0 - twin["neutral_mm"][0]

    _made_from(values, limb, limb, across)
    return parse_project(values)


def _other_side(name: str) -> str:
    """L1 → R1, FL → FR, left_arm → right_arm; otherwise the same with an R. A letter counts where no word goes on."""
    for one, other in (("left", "right"), ("Left", "Right"), ("L", "R"), ("l", "r")):
        for a, b in ((one, other), (other, one)):
            before = "" if len(a) > 1 else "(?<![a-z])" if a.isupper() else "(?<![A-Za-z])"
            found, count = re.subn(f"{before}{a}(?![a-z])", b, name, count=1)
            if count:
                return found
    return f"{name}_R"[:24]


def mirrored(project: CheckedProject, limb: str) -> CheckedProject:
    """The limb's mirror image on the other side, with all that hangs on it: made anew, or made alike where the other
    side has one of that name, of whatever kind, whose phases stay its own."""
    values = document(project)
    source = _limb(values, limb)
    if source["mount"]["at_mm"][1] == 0:
        raise refuse("limb", f"{limb} sits in the middle, so its mirror image is itself")
    other = _other_side(limb)
    limbs = values["walker"]["limbs"]
    known = next((m for m in limbs if m["name"] == other), None)
    if known is None:
        other = _made_from(values, limb, other, mirror_limb)
    else:
        place, timings = limbs.index(known), _timings(values, other)
        limbs.remove(known)
        _unhang(values, other)
        _made_from(values, limb, other, mirror_limb)
        limbs.insert(place, limbs.pop())
        if known["family"] != source["family"]:
            unmeasured(values, other)
        # It may have had other joints.
        forget(values, limbs[place])
        for motion, timed in zip(values["motions"], timings, strict=True):
            made = next((n for n, t in enumerate(motion.get("legs", ())) if t["limb"] == other), None)
            if timed and made is not None:
                motion["legs"].pop(made)
                motion["legs"].insert(timed[0], timed[1])
                motion["gait"] = timed[2]
    mirror_what_hangs(values, other)
    in_order(values)
    follow_places(values)
    return parse_project(values)


def _timings(values: Values, limb: str) -> list[tuple[int, Values, str] | None]:
    """Of each motion: where among its legs a limb is timed, how, and the gait it has; None where it is not."""
    found: list[tuple[int, Values, str] | None] = []
    for motion in values["motions"]:
        at = next((n for n, t in enumerate(motion.get("legs", ())) if t["limb"] == limb), None)
        found.append(None if at is None else (at, motion["legs"][at], motion["gait"]))
    return found


def repeated(project: CheckedProject, limb: str, count: int) -> CheckedProject:
    """The limb round a circle about the middle of the frame, `count` of them in all, evenly.

    A leg takes the place of all legs there are.
    """
    if not 2 <= count <= 12:
        raise refuse("count", f"must be from 2 to 12, got {count}")
    own = next((m for m in project.walker.limbs if m.name == limb), None)
    others = [m.name for m in project.walker.legs if m.name != limb] if own and own.steps else []
    # A walker has two legs at least: the last of those that make room goes when the ring is there.
    for name in others[1:]:
        project = removed(project, name)
    values = document(project)
    for k in range(1, count):
        turn = 2 * 180.0 * k / count

        def turned(twin: Values, turn: float = turn) -> None:
            twin["mount"]["at_mm"][:2] = _turned(twin["mount"]["at_mm"][:2], turn)
            twin["mount"]["yaw_deg"] = _within(twin["mount"]["yaw_deg"] + turn)
            if twin["neutral_mm"]:
                twin["neutral_mm"] = _turned(twin["neutral_mm"], turn)
            # Toes point out of the ring as the first leg's do.
            twin["toe_deg"] = _within(twin["toe_deg"] + turn)

        _made_from(values, limb, limb.rstrip("0123456789") + str(k + 1), turned)
    ring = parse_project(values)
    return removed(ring, others[0]) if others else ring


def _turned(point: list[float], turn_deg: float) -> list[float]:
    c, s = cos(radians(turn_deg)), sin(radians(turn_deg))
    return [round(c * point[0] - s * point[1], 3) + 0.0, round(s * point[0] + c * point[1], 3) + 0.0]


def _within(angle: float) -> float:
    return angle - 360 * round(angle / 360)


def removed(project: CheckedProject, limb: str) -> CheckedProject:
    """The walker without the limb and what hung on it."""
    values = document(project)
    own = _limb(values, limb)
    _unhang(values, limb)
    walker = values["walker"]
    walker["limbs"].remove(own)
    own["joints"], own["links"] = [], []
    forget(values, own)
    unmeasured(values, limb)
    values["electrics"]["rest_heights"] = [m for m in values["electrics"]["rest_heights"] if m["limb"] != limb]
    follow_places(values)
    return parse_project(values)


def _unhang(values: Values, limb: str) -> None:
    """Take away what a limb has to itself: its drives, its masses, and what motions say of it."""
    walker = values["walker"]
    walker["drives"] = [d for d in walker["drives"] if not all(j.startswith(f"{limb}/") for j in d["joints"])]
    walker["masses"] = [m for m in walker["masses"] if not m["on"].startswith(f"{limb}/")]
    if walker["folded"]:
        walker["folded"]["joints"] = [a for a in walker["folded"]["joints"] if a["limb"] != limb]
    for motion in values["motions"]:
        if any(t["limb"] == limb for t in motion.get("legs", ())):
            motion["legs"] = [t for t in motion["legs"] if t["limb"] != limb]
            motion["gait"] = CUSTOM
        for entries in limb_lists(motion):
            entries[:] = [entry for entry in entries if entry["limb"] != limb]


def renamed(project: CheckedProject, names: dict[str, str]) -> CheckedProject:
    """Limbs under other names, all at once; everything that names them follows."""
    values = document(project)

    def path(text: str) -> str:
        head, slash, tail = text.partition("/")
        return f"{names.get(head, head)}/{tail}" if slash else text

    walker = values["walker"]
    places: dict[str, str] = {}
    for limb in walker["limbs"]:
        limb["name"] = names.get(limb["name"], limb["name"])
    for drive in walker["drives"]:
        for n, servo in enumerate(drive["servos"]):
            old = drive["joints"][min(n, len(drive["joints"]) - 1)].partition("/")[0]
            if servo["name"].startswith(f"{old} "):
                places[servo["name"]] = f"{names.get(old, old)}{servo['name'][len(old) :]}"
                servo["name"] = places[servo["name"]]
            servo["sits_on"] = path(servo["sits_on"]) if servo["sits_on"] else None
        drive["joints"] = [path(j) for j in drive["joints"]]
    for section in walker["sections"]:
        if section["hinge"] and section["hinge"]["turned_by"]:
            section["hinge"]["turned_by"] = path(section["hinge"]["turned_by"])
    for mass in walker["masses"]:
        mass["on"] = path(mass["on"])
    for lead in walker["leads"]:
        for point in lead["path"]:
            point["on"] = path(point["on"])
    entries = [*walker["as_built"]["limbs"], *values["electrics"]["rest_heights"]]
    entries += (walker["folded"] or {}).get("joints", [])
    for motion in values["motions"]:
        entries += motion.get("legs", [])
        for listed in limb_lists(motion):
            entries += listed
    for control in values["controls"]:
        if control["does"] == "axis":
            control["target"] = path(control["target"])
    for entry in entries:
        entry["limb"] = names.get(entry["limb"], entry["limb"])
    follow_places(values, places)
    return parse_project(values)


SCHEMES = {
    "sides": "L1 L2 … R1 R2 …: side, then row from the front",
    "corners": "FL FR ML MR BL BR: front, middle, back, then side",
    "round": "A B C …: counter-clockwise from the front left",
}


def relabelled(project: CheckedProject, scheme: str) -> CheckedProject:
    """The legs named by where they are."""
    if scheme not in SCHEMES:
        raise refuse("scheme", f"must be one of {', '.join(SCHEMES)}, got {scheme[:40]!r}")
    legs = project.walker.legs
    spots = spots_of([leg.mount.at_mm[:2] for leg in legs])
    rows = max(row for _, row in spots) + 1
    if scheme == "corners" and rows > 3:
        raise refuse("scheme", "corners name at most three rows of legs")
    new = {}
    around = sorted(legs, key=lambda leg: (_angle(leg.mount.at_mm) - 1e-9) % 360)
    for leg, (side, row) in zip(legs, spots, strict=True):
        if scheme == "sides":
            new[leg.name] = f"{side}{row + 1}"
        elif scheme == "corners":
            new[leg.name] = ("F" if row == 0 else "B" if row == rows - 1 else "M") + side
        else:
            new[leg.name] = "ABCDEFGHIJKL"[around.index(leg)]
    taken = {limb.name for limb in project.walker.limbs} - set(new)
    if taken & set(new.values()):
        raise refuse("scheme", f"{', '.join(sorted(taken & set(new.values())))} is the name of another limb")
    return renamed(project, new)


def _angle(at: tuple[float, float, float]) -> float:
    """Counter-clockwise from straight ahead, degrees."""
    return degrees(atan2(at[1], at[0])) % 360 if hypot(at[0], at[1]) else 0.0
