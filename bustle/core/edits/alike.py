"""A change made to one leg, made to those like it: as it is on its own side, mirrored on the other.

Where a leg stands and which way it points is its own; only its mirror image follows it there. What else a leg has, its
links, joints, feet and drives, goes to every leg of its family.
"""

from __future__ import annotations

from copy import deepcopy
from typing import Any

from bustle.core.document.checked import CheckedProject, parse_project
from bustle.core.edits.mirroring import mirror_drive, mirror_limb
from bustle.core.project.project import document
from bustle.core.words.problems import refuse

Values = dict[str, Any]

PLACES = ("mount", "neutral_mm", "toe_deg", "lean_deg", "section")
NAMES = ("name", "mirrored")
# How far a leg may be from where the mirror image of another is and still be it, mm.
NEAR_MM = 1.0


def followed(before: CheckedProject, after: CheckedProject, limb: str) -> CheckedProject:
    """`after`, with what changed of one limb since `before` changed on the others too. Raises InputRefused where there
    is no such limb in both."""
    was, now = document(before), document(after)
    old, new = (next((m for m in v["walker"]["limbs"] if m["name"] == limb), None) for v in (was, now))
    if old is None or new is None:
        raise refuse("limb", f"no limb is called {limb[:40]!r}")
    for other in now["walker"]["limbs"]:
        if other["name"] == limb or other["family"] != new["family"] or bool(other["feet"]) != bool(new["feet"]):
            continue
        across = other["mount"]["at_mm"][1] * old["mount"]["at_mm"][1] < 0
        image = across and _faces(old, other)
        one, two = _without_names(old), _without_names(new)
        if across:
            mirror_limb(one)
            mirror_limb(two)
        _carry(other, one, two, NAMES if image else (*NAMES, *PLACES))
        _drives(was, now, limb, other["name"], (old, new) if across else None)
    return parse_project(now)


def _without_names(limb: Values) -> Values:
    """A copy without what files call its joints: no two have one name."""
    twin = deepcopy(limb)
    for joint in twin["joints"]:
        del joint["in_files"]
    return twin


def _faces(limb: Values, other: Values) -> bool:
    (x, y, _), (u, v, _) = limb["mount"]["at_mm"], other["mount"]["at_mm"]
    return abs(x - u) < NEAR_MM and abs(y + v) < NEAR_MM


def _carry(target: Any, one: Any, two: Any, leave: tuple[str, ...] = ()) -> Any:
    """`target` with what differs between `one` and `two`; dictionaries and lists in place."""
    if isinstance(two, dict) and isinstance(one, dict) and isinstance(target, dict) and one.get("kind") == two.get(
        "kind"
    ) == target.get("kind"):  # fmt: skip
        for key, value in two.items():
            if key not in leave and (key not in one or one[key] != value):
                had = target.get(key)
                # A joint that counts the other way does so about its new axis too.
                over = key == "axis" and had and one.get(key) and had == [-v for v in one[key]]
                target[key] = [-v + 0.0 for v in value] if over and value else _carry(had, one.get(key), value)
        for key in one.keys() - two.keys() - set(leave):
            target.pop(key, None)
        return target
    if all(isinstance(v, list) for v in (target, one, two)) and len(target) == len(one) == len(two):
        target[:] = [t if a == b else _carry(t, a, b) for t, a, b in zip(target, one, two, strict=True)]
        return target
    return deepcopy(two)


def _own(values: Values, limb: str) -> dict[tuple[str, ...], Values]:
    """What turns the joints of one limb alone, by their names."""
    drives = [d for d in values["walker"]["drives"] if all(j.startswith(f"{limb}/") for j in d["joints"])]
    return {tuple(j.partition("/")[2] for j in d["joints"]): d for d in drives}


def _tied(was: Values, now: Values, limb: str, other: str) -> None:
    """Joints that one limb has tied by a drive or let go of, tied or let go of on another with the servos it has."""
    old, new, others = _own(was, limb), _own(now, limb), _own(now, other)
    gone = [joints for joints in old if joints not in new]
    if not gone or any(joints not in others or others[joints]["kind"] != old[joints]["kind"] for joints in gone):
        return
    its = {
        mine["name"]: theirs
        for joints in gone
        for mine, theirs in zip(old[joints]["servos"], others[joints]["servos"], strict=True)
    }
    made = [deepcopy(drive) for joints, drive in new.items() if joints not in old]
    # What is tied to another limb's joint is that limb's affair too.
    if sorted(sum(gone, ())) != sorted(sum((j for j in new if j not in old), ())):
        return
    if any(servo["name"] not in its for drive in made for servo in drive["servos"]):
        return
    for drive in made:
        drive["joints"] = [f"{other}/{j.partition('/')[2]}" for j in drive["joints"]]
        drive["servos"] = [deepcopy(its[servo["name"]]) for servo in drive["servos"]]
    leaves = [others[joints] for joints in gone]
    now["walker"]["drives"] = [d for d in now["walker"]["drives"] if d not in leaves] + made


def _drives(was: Values, now: Values, limb: str, other: str, mirrored: tuple[Values, Values] | None) -> None:
    """The same for what turns the joints of both."""
    _tied(was, now, limb, other)
    old, new, others = _own(was, limb), _own(now, limb), _own(now, other)
    for joints in old.keys() & new.keys() & others.keys():
        one, two = deepcopy(old[joints]), deepcopy(new[joints])
        if mirrored:
            mirror_drive(one, mirrored[0])
            mirror_drive(two, mirrored[1])
        for drive in (one, two):
            del drive["joints"]
            for servo in drive["servos"]:
                servo["sits_on"] = servo["sits_on"] and servo["sits_on"].replace(f"{limb}/", f"{other}/", 1)
        if len(one["servos"]) != len(two["servos"]) or len(two["servos"]) != len(others[joints]["servos"]):
            continue
        for a, b, target in zip(one.pop("servos"), two.pop("servos"), others[joints]["servos"], strict=True):
            _carry(target, a, b, ("name",))
        kind = others[joints].get("kind")
        _carry(others[joints], {**one, "kind": kind}, {**two, "kind": kind})
        if one["kind"] != two["kind"]:
            others[joints]["kind"] = two["kind"]
