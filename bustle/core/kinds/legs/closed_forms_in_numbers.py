"""The closed forms written out with numbers, for one leg and target: the steps of `hip_and_knee_solution`,
`one_link_solution` and `upright_stack_solution`.
"""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial
from typing import TYPE_CHECKING

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.geometry.serial_chain import forward
from bustle.core.kinds.legs.working import Corner, Sheet, Step, Triangle, acos, asin, atan2, corner, cos, sin

if TYPE_CHECKING:
    from bustle.core.kinds.legs.family import Build
    from bustle.core.kinds.legs.hip_and_knee_solution import HipAndKnee
    from bustle.core.kinds.legs.one_link_solution import OneLink
    from bustle.core.kinds.legs.upright_stack_solution import Leg, Stack

Working = tuple[list[Step], list[Triangle]]

# How the three coordinates of the leg's plane are called: along X, Y, W of `hip_and_knee_solution`, and what they are.
SPRAWLED = (("x", "foot out along the mount"), ("y", "foot to the left of it"), ("z", "foot above the mount"))
UPRIGHT = (("h", "foot below the hip"), ("y", "foot to the left"), ("x", "foot ahead"))


def _sqrt(value: float) -> float:
    return float(np.sqrt(max(value, 0.0)))


def hip_and_knee_working(leg: HipAndKnee, target: Array, joints: Array, names: Sequence[str], upright: bool) -> Working:
    """target (3,) mm in the mount's frame; joints (3,) rad as solved, which tell whether the foot is across the
    axis.
    """
    sheet = Sheet()
    _give_place(sheet, target, upright)
    return sheet.steps, _hip_and_knee(sheet, leg, joints, names, upright)


def _give_place(sheet: Sheet, target: Array, upright: bool) -> None:
    values = (-target[2], target[1], target[0]) if upright else tuple(target)
    for (symbol, about), value in zip(UPRIGHT if upright else SPRAWLED, values, strict=True):
        sheet.given(symbol, float(value), "mm", about)


def _hip_and_knee(sheet: Sheet, leg: HipAndKnee, joints: Array, names: Sequence[str], upright: bool) -> list[Triangle]:
    """Steps from the place on the sheet to the three joints; the knee's triangle and the hip's."""
    big_x, big_y, big_w = (s for s, _ in (UPRIGHT if upright else SPRAWLED))
    turn, pitch, knee = names
    behind = leg.out + leg.thigh * np.cos(joints[1]) + leg.shank * np.cos(joints[1] + joints[2]) < 0
    minus = "−" if behind else ""
    if leg.side:
        sheet.given("d", leg.side, "mm", "the leg's plane left of the hip axis")
        sheet.step(
            "r", f"{minus}√({big_x}² + {big_y}² − d²)",
            lambda: (-1 if behind else 1) * _sqrt(sheet[big_x] ** 2 + sheet[big_y] ** 2 - sheet["d"] ** 2), "mm",
            "in the leg's plane, away from the axis",
        )  # fmt: skip
        sheet.step(
            turn, f"atan2({big_y}, {big_x}) − atan2(d, r)",
            lambda: _half_turn(atan2(sheet[big_y], sheet[big_x]) - atan2(sheet["d"], sheet["r"])), "°",
        )  # fmt: skip
    else:
        sheet.step(
            "r", f"{minus}√({big_x}² + {big_y}²)",
            lambda: (-1 if behind else 1) * np.hypot(sheet[big_x], sheet[big_y]), "mm", "away from the axis",
        )  # fmt: skip
        back = f"atan2(−{big_y}, −{big_x})" if behind else f"atan2({big_y}, {big_x})"
        flip = -1 if behind else 1
        sheet.step(turn, back, lambda: atan2(flip * sheet[big_y], flip * sheet[big_x]), "°")
    _shifted(sheet, "u", "r", leg.out, "coxa" if not upright else "c", "outwards from the hip joint")
    _shifted(sheet, "v", big_w, leg.along, "e", "across it")
    _two_links(sheet, leg.thigh, leg.shank, leg.sign, (pitch, knee))
    return _plane_triangles(leg, joints, sheet, upright)


def _half_turn(angle: float) -> float:
    return angle - 360 * round(angle / 360)


def _shifted(sheet: Sheet, symbol: str, source: str, by: float, name: str, about: str) -> None:
    if abs(by) > 1e-9:
        sheet.given(name, by, "mm", "from the mount to the hip joint")
        sheet.step(symbol, f"{source} − {name}", lambda: sheet[source] - sheet[name], "mm", about)
    else:
        sheet.step(symbol, source, lambda: sheet[source], "mm", about)


def _two_links(sheet: Sheet, thigh: float, shank: float, sign: float, names: Sequence[str]) -> None:
    """Knee and hip pitch from u, v on the sheet, by the law of cosines."""
    pitch, knee = names
    sheet.given("a", thigh, "mm", "upper link")
    sheet.given("b", shank, "mm", "lower link")
    sheet.step("L", "√(u² + v²)", lambda: float(np.hypot(sheet["u"], sheet["v"])), "mm", "hip joint to foot")
    sheet.step(
        "κ", "acos((a² + b² − L²) / (2·a·b))",
        lambda: acos((sheet["a"] ** 2 + sheet["b"] ** 2 - sheet["L"] ** 2) / (2 * sheet["a"] * sheet["b"])), "°",
        "inside the knee",
    )  # fmt: skip
    sheet.step(
        "ε", "acos((a² + L² − b²) / (2·a·L))",
        lambda: acos(
            (sheet["a"] ** 2 + sheet["L"] ** 2 - sheet["b"] ** 2) / (2 * sheet["a"] * sheet["L"]) if sheet["L"] else 1.0
        ), "°",
        "at the hip, between upper link and foot",
    )  # fmt: skip
    if sign > 0:
        sheet.step(knee, "180 − κ", lambda: 180 - sheet["κ"], "°")
        sheet.step(pitch, "atan2(v, u) − ε", lambda: _half_turn(atan2(sheet["v"], sheet["u"]) - sheet["ε"]), "°")
    else:
        sheet.step(knee, "κ − 180", lambda: sheet["κ"] - 180, "°")
        sheet.step(pitch, "atan2(v, u) + ε", lambda: _half_turn(atan2(sheet["v"], sheet["u"]) + sheet["ε"]), "°")


def _plane_triangles(leg: HipAndKnee, joints: Array, sheet: Sheet, upright: bool) -> list[Triangle]:
    turn, pitch, bend = joints

    def place(u: float, v: float) -> Corner:
        r, w = leg.out + u, leg.along + v
        x, y = r * np.cos(turn) - leg.side * np.sin(turn), r * np.sin(turn) + leg.side * np.cos(turn)
        return corner((w, y, -x) if upright else (x, y, w))

    hip = place(0.0, 0.0)
    knee = place(leg.thigh * np.cos(pitch), leg.thigh * np.sin(pitch))
    foot = place(
        leg.thigh * np.cos(pitch) + leg.shank * np.cos(pitch + bend),
        leg.thigh * np.sin(pitch) + leg.shank * np.sin(pitch + bend),
    )
    sides = (sheet.label("a"), sheet.label("b"), sheet.label("L"))
    return [Triangle((hip, knee, foot), sides, (sheet.label("ε"), sheet.label("κ"), ""))]


def stick_working(leg: OneLink, target: Array, names: Sequence[str], upright: bool) -> Working:
    sheet = Sheet()
    _give_place(sheet, target, upright)
    big_x, big_y, big_w = (s for s, _ in (UPRIGHT if upright else SPRAWLED))
    turn, lift = names
    sheet.given("b", leg.length, "mm", "the stiff link")
    _shifted(sheet, "v", big_w, leg.along, "e", "along the hip axis")
    if leg.side:
        sheet.given("d", leg.side, "mm", "the leg's plane left of the hip axis")
    if leg.keep is None:
        _nearest_stick(sheet, leg, names, (big_x, big_y))
        return sheet.steps, []
    sheet.step(lift, "asin(v / b)", lambda: asin(sheet["v"] / sheet["b"]), "°")
    sheet.given("c", leg.out, "mm", "from the hip axis to the lift joint")
    sheet.step("r", f"c + b·cos({lift})", lambda: sheet["c"] + sheet["b"] * cos(sheet[lift]), "mm")
    sheet.given("ν", float(np.degrees(leg.keep)), "°", "the direction that is kept")
    sheet.step(
        "t", f"{big_x}·cos(ν) + {big_y}·sin(ν)",
        lambda: sheet[big_x] * cos(sheet["ν"]) + sheet[big_y] * sin(sheet["ν"]), "mm", "wanted along it",
    )  # fmt: skip
    positive = _across(sheet, big_x, big_y) >= 0
    sign, flip = ("+", 1) if positive else ("−", -1)
    if leg.side:
        sheet.step("ρ", "√(r² + d²)", lambda: float(np.hypot(sheet["r"], sheet["d"])), "mm")
        sheet.step(
            turn, f"ν − atan2(d, r) {sign} acos(t / ρ)",
            lambda: _half_turn(
                sheet["ν"] - atan2(sheet["d"], sheet["r"]) + flip * acos(sheet["t"] / sheet["ρ"])
            ), "°",
        )  # fmt: skip
    else:
        sheet.step(
            turn, f"ν {sign} acos(t / r)",
            lambda: _half_turn(sheet["ν"] + flip * acos(sheet["t"] / sheet["r"])), "°",
        )  # fmt: skip
    return sheet.steps, []


def _across(sheet: Sheet, big_x: str, big_y: str) -> float:
    return sheet[big_y] * cos(sheet["ν"]) - sheet[big_x] * sin(sheet["ν"])


def _nearest_stick(sheet: Sheet, leg: OneLink, names: Sequence[str], level: tuple[str, str]) -> None:
    big_x, big_y = level
    turn, lift = names
    sheet.given("c", leg.out, "mm", "from the hip axis to the lift joint")
    sheet.step("r", f"√({big_x}² + {big_y}²)", lambda: float(np.hypot(sheet[big_x], sheet[big_y])), "mm")
    if leg.side:
        sheet.given("d", leg.side, "mm", "the leg's plane left of the hip axis")
        sheet.step("r", "√(r² − d²)", lambda: _sqrt(sheet["r"] ** 2 - sheet["d"] ** 2), "mm", "in the leg's plane")
        sheet.step(
            turn, f"atan2({big_y}, {big_x}) − atan2(d, r)",
            lambda: _half_turn(atan2(sheet[big_y], sheet[big_x]) - atan2(sheet["d"], sheet["r"])), "°", "nearly",
        )  # fmt: skip
    else:
        sheet.step(turn, f"atan2({big_y}, {big_x})", lambda: atan2(sheet[big_y], sheet[big_x]), "°")
    sheet.step(lift, "atan2(v, r − c)", lambda: atan2(sheet["v"], sheet["r"] - sheet["c"]), "°")


def stack_working(parts: Stack, build: Build, target: Array, turn: Array, names: Sequence[str]) -> Working:
    """The steps of a stacked leg, for a sole at `target` turned by `turn`, both in the mount's frame."""
    from bustle.core.kinds.legs.upright_stack_solution import leg_of, unmounted

    leg = leg_of(build, 0)
    joints = parts.solve(build, target[None, None], turn[None, None]).joints[0, 0]
    sheet = Sheet()
    _give_place(sheet, target, upright=True)
    if parts.ankle == "both" and parts.yaw:
        _full(sheet, leg, turn)
    elif parts.ankle == "both":
        _without_yaw(sheet, leg, turn, joints)
    else:
        _in_its_plane(sheet, parts, leg, turn, joints)
    triangles = []
    if all(s in sheet for s in ("a", "L", "κ")):
        points = forward(unmounted(build.chain, 1), joints[None, None])[0][0, 0]
        at = max(1, parts.pitch_at)
        corners = (corner(points[at]), corner(points[at + 1]), corner(points[at + 2]))
        sides = (sheet.label("a"), sheet.label("b"), sheet.label("L"))
        triangles.append(Triangle(corners, sides, (sheet.label("ε"), sheet.label("κ"), "")))
    return sheet.steps, triangles


def _give_turn(sheet: Sheet, turn: Array, vectors: str) -> None:
    words = {"f": "the sole's forward direction", "l": "its leftward direction", "n": "its upward direction"}
    for name, column in (("f", 0), ("l", 1), ("n", 2)):
        if name in vectors:
            for k, way in enumerate(("ahead", "left", "up")):
                sheet.given(f"{name}{'₁₂₃'[k]}", float(turn[k, column]), "", f"{words[name]}, {way}")


def _raised(sheet: Sheet, foot: float) -> None:
    """The ankle's place from the sole's: up the sole's own upward direction by the foot's height."""
    sheet.given("foot", foot, "mm", "ankle above the sole")
    sheet.step("x′", "x + foot·n₁", lambda: sheet["x"] + sheet["foot"] * sheet["n₁"], "mm", "ankle ahead")
    sheet.step("y′", "y + foot·n₂", lambda: sheet["y"] + sheet["foot"] * sheet["n₂"], "mm", "ankle left")
    sheet.step("h′", "h − foot·n₃", lambda: sheet["h"] - sheet["foot"] * sheet["n₃"], "mm", "ankle below the hip")


def _full(sheet: Sheet, leg: Leg, turn: Array) -> None:
    s = sheet
    _give_turn(s, turn, "fln")
    _raised(s, leg.foot)
    for name, v, about in (
        ("i", "f", "hip ahead of the ankle, as the sole sees it"),
        ("j", "l", "hip left of it"),
        ("k", "n", "hip above it"),
    ):
        s.step(name, f"h′·{v}₃ − x′·{v}₁ − y′·{v}₂", partial(_seen, s, v), "mm", about)
    s.given("d", leg.aside, "mm", "hip offset to the left")
    s.step(
        "ankle_roll", "atan2(j, k) + asin(d / √(j² + k²))",
        lambda: _half_turn(atan2(s["j"], s["k"]) + asin(s["d"] / float(np.hypot(s["j"], s["k"])))), "°",
    )  # fmt: skip
    s.step("u", "√(j² + k² − d²)", lambda: _sqrt(s["j"] ** 2 + s["k"] ** 2 - s["d"] ** 2), "mm", "down the leg")
    s.step("v", "−i", lambda: -s["i"], "mm", "forward across it")
    _two_links(s, leg.thigh, leg.shank, leg.sign, ("α", "knee"))
    s.step("ankle", "−(α + knee)", lambda: _half_turn(-(s["α"] + s["knee"])), "°")
    for k in "₁₂₃":
        s.step(f"e{k}", f"l{k}·cos(ankle_roll) − n{k}·sin(ankle_roll)", partial(_levelled, s, k), "")
    s.step("roll", "asin(e₃)", lambda: asin(s["e₃"]), "°")
    s.step("yaw", "atan2(−e₁, e₂)", lambda: atan2(-s["e₁"], s["e₂"]), "°")
    s.step(
        "g", "l₃·sin(ankle_roll) + n₃·cos(ankle_roll)",
        lambda: s["l₃"] * sin(s["ankle_roll"]) + s["n₃"] * cos(s["ankle_roll"]), "",
    )  # fmt: skip
    s.step("pitch", "α + atan2(f₃, g)", lambda: _half_turn(s["α"] + atan2(s["f₃"], s["g"])), "°")


def _seen(s: Sheet, v: str) -> float:
    """From the ankle to the hip, along one of the sole's own directions."""
    return s["h′"] * s[f"{v}₃"] - s["x′"] * s[f"{v}₁"] - s["y′"] * s[f"{v}₂"]


def _levelled(s: Sheet, k: str) -> float:
    return s[f"l{k}"] * cos(s["ankle_roll"]) - s[f"n{k}"] * sin(s["ankle_roll"])


def _without_yaw(sheet: Sheet, leg: Leg, turn: Array, joints: Array) -> None:
    from bustle.core.kinds.legs.hip_and_knee_solution import HipAndKnee

    s = sheet
    _give_turn(s, turn, "n")
    _raised(s, leg.foot)
    for plain, primed in (("x", "x′"), ("y", "y′"), ("h", "h′")):
        s.step(plain, primed, partial(s.__getitem__, primed), "mm")
    hip = HipAndKnee(-leg.above, leg.aside, leg.ahead, leg.thigh, leg.shank, leg.sign)
    _hip_and_knee(s, hip, joints[:3], ("roll", "pitch", "knee"), upright=True)
    s.step("θ", "pitch + knee", lambda: s["pitch"] + s["knee"], "°", "the shank")
    s.step("q", "n₂·cos(roll) + n₃·sin(roll)", lambda: s["n₂"] * cos(s["roll"]) + s["n₃"] * sin(s["roll"]), "")
    s.step("g", "n₃·cos(roll) − n₂·sin(roll)", lambda: s["n₃"] * cos(s["roll"]) - s["n₂"] * sin(s["roll"]), "")
    s.step("ankle_roll", "−asin(q)", lambda: -asin(s["q"]), "°")
    s.step("i", "n₁·cos(θ) + g·sin(θ)", lambda: s["n₁"] * cos(s["θ"]) + s["g"] * sin(s["θ"]), "")
    s.step("k", "g·cos(θ) − n₁·sin(θ)", lambda: s["g"] * cos(s["θ"]) - s["n₁"] * sin(s["θ"]), "")
    s.step("ankle", "atan2(−i, k)", lambda: atan2(-s["i"], s["k"]), "°")


def _in_its_plane(sheet: Sheet, parts: Stack, leg: Leg, turn: Array, joints: Array) -> None:
    from bustle.core.kinds.legs.hip_and_knee_solution import HipAndKnee

    s = sheet
    _give_turn(s, turn, ("f" if parts.ankle == "pitch" else "") + ("l" if parts.yaw else ""))
    if parts.yaw:
        s.step("yaw", "atan2(−l₁, l₂)", lambda: atan2(-s["l₁"], s["l₂"]), "°")
        s.step("x′", "x·cos(yaw) + y·sin(yaw)", lambda: s["x"] * cos(s["yaw"]) + s["y"] * sin(s["yaw"]), "mm")
        s.step("y", "y·cos(yaw) − x·sin(yaw)", lambda: s["y"] * cos(s["yaw"]) - s["x"] * sin(s["yaw"]), "mm")
        s.step("x", "x′", lambda: s["x′"], "mm")
    if parts.roll and parts.ankle == "none":
        hip = HipAndKnee(-leg.above, leg.aside, leg.ahead, leg.thigh, leg.shank, leg.sign)
        _hip_and_knee(s, hip, joints[parts.yaw :], ("roll", "pitch", "knee"), upright=True)
        return
    if parts.roll:
        s.given("d", leg.aside, "mm", "hip offset to the left")
        s.step("r", "√(h² + y² − d²)", lambda: _sqrt(s["h"] ** 2 + s["y"] ** 2 - s["d"] ** 2), "mm", "down the leg")
        s.step(
            "roll", "atan2(y, h) − atan2(d, r)", lambda: _half_turn(atan2(s["y"], s["h"]) - atan2(s["d"], s["r"])), "°"
        )
    else:
        s.step("r", "h", lambda: s["h"], "mm", "down the leg")
    toes = _toes(s, parts) if parts.ankle == "pitch" else None
    _drop_and_ahead(s, leg, toes)
    if parts.ankle == "rods":
        _two_links(s, leg.thigh, leg.shank, leg.sign, ("thigh", "knee"))
        s.step("shank", "thigh + knee", lambda: _half_turn(s["thigh"] + s["knee"]), "°")
        return
    _two_links(s, leg.thigh, leg.shank, leg.sign, ("pitch", "knee"))
    if toes:
        s.step("ankle", "τ − pitch − knee", lambda: _half_turn(s["τ"] - s["pitch"] - s["knee"]), "°")


def _toes(s: Sheet, parts: Stack) -> str:
    """The sole's pitch in the leg's plane, τ."""
    ahead, aside = "f₁", "f₂"
    if parts.yaw:
        s.step("i", "f₁·cos(yaw) + f₂·sin(yaw)", lambda: s["f₁"] * cos(s["yaw"]) + s["f₂"] * sin(s["yaw"]), "")
        s.step("j", "f₂·cos(yaw) − f₁·sin(yaw)", lambda: s["f₂"] * cos(s["yaw"]) - s["f₁"] * sin(s["yaw"]), "")
        ahead, aside = "i", "j"
    up = f"f₃·cos(roll) − {aside}·sin(roll)" if parts.roll else "f₃"

    def compute() -> float:
        upward = s["f₃"] * cos(s["roll"]) - s[aside] * sin(s["roll"]) if parts.roll else s["f₃"]
        return atan2(upward, s[ahead])

    s.step("τ", f"atan2({up}, {ahead})", compute, "°", "toes up")
    return "τ"


def _drop_and_ahead(s: Sheet, leg: Leg, toes: str | None) -> None:
    s.given("foot", leg.foot, "mm", "ankle above the sole")
    s.given("c", leg.above, "mm", "hip joint above the mount")
    s.given("e", leg.ahead, "mm", "hip joint ahead of the mount")
    above, ahead = (" + c" if leg.above else ""), (" − e" if leg.ahead else "")
    lift = f" − foot·cos({toes})" if toes else " − foot"
    lean = f" − foot·sin({toes})" if toes else ""
    tip = s[toes] if toes else 0.0

    def drop() -> float:
        return s["r"] + s["c"] - s["foot"] * cos(tip)

    def forward_part() -> float:
        return s["x"] - s["e"] - (s["foot"] * sin(tip) if toes else 0.0)

    s.step("u", f"r{above}{lift}", drop, "mm", "down from hip joint to ankle")
    s.step("v", f"x{ahead}{lean}", forward_part, "mm", "ahead")
