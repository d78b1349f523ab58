"""Machines of every family with numbers of their own, some of them spoiled, to hold verdicts against an engine on.

Nothing here was chosen by what the engine made of it: generator, seed and `outcomes` were there before the first run. A
generator before this one drew one machine after another, so that whoever was stopped otherwise changed all that came
after; of the first two seeds of this one some machines were looked at while dry runs were made. What was made of all of
them is in `bench/results/verdicts.txt`.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass

import numpy as np

from bustle.core.document.checked import CheckedProject, parse_project
from bustle.core.evaluate import evaluate
from bustle.core.project.project import document
from bustle.core.starting.starting_walkers import LEG_LENGTH_MM, SHAPES
from bustle.core.words.problems import InputRefused
from tests.projects import start

SEED, MACHINES = 20261129, 70
# A machine is drawn so often before the next is.
TRIES = 12

# What an engine that plays a table can bear out or not; other stops speak of end stops, collisions, tables, wires.
ENGINE_CODES = frozenset(
    ["F02", "F03", "F06", "F07", "F08", "F09", "F12", "F18", "F19", "F35", "F53", "F54", "F56", "F57"]
)  # fmt: skip

BESIDE_FORWARD = {
    "four_sprawled": "Trot", "four_upright": "Trot", "four_upright_2": "Trot", "six_sprawled": "Slowly",
    "six_two": "Slowly",
}  # fmt: skip


@dataclass(frozen=True)
class Walker:
    """spoiled: what was done to it. codes: the stops of its walk, its start and its stop, that an engine can judge."""

    number: int
    shape: str
    walk: str
    length_mm: float
    spoiled: tuple[str, ...]
    project: CheckedProject
    codes: tuple[str, ...]

    @property
    def in_order(self) -> tuple[tuple[str, int], ...]:
        return in_order(self.project, self.walk)


def in_order(project: CheckedProject, walk: str, cycles: int = 10) -> tuple[tuple[str, int], ...]:
    """Its own start, the walk, its own stop, as far as it has them."""
    own = {m.name for m in project.motions}
    of = "" if walk == "Forward" else f" {walk.lower()}"
    around = [(name, 1) for name in (f"Start{of}", f"Stop{of}") if name in own]
    return (*around[:1], (walk, cycles), *around[1:])


def random_walkers(seed: int = SEED, numbers: Iterable[int] = range(1, MACHINES + 1)) -> Iterator[Walker]:
    """Every shape comes before any comes again. What does not fit together, or is stopped for a reason that no engine
    shows, is drawn anew, each machine from numbers of its own: what becomes of one changes no other."""
    order = [
        (shape, walk) for shape in SHAPES for walk in dict.fromkeys(("Forward", BESIDE_FORWARD.get(shape, "Forward")))
    ]
    for number in numbers:
        row, place = divmod(number - 1, len(order))
        shape, walk = order[np.random.default_rng([seed, 0, row]).permutation(len(order))[place]]
        for again in range(TRIES):
            random = np.random.default_rng([seed, number, again])
            spoilers = random.permutation(sorted(SPOILERS))[: random.choice(4, p=[0.25, 0.15, 0.25, 0.35])]
            found = _drawn(random, number, shape, walk, spoilers)
            if found:
                yield found
                break


def _drawn(random: np.random.Generator, number: int, shape: str, walk: str, spoilers: Iterable[str]) -> Walker | None:
    low, high = LEG_LENGTH_MM
    length = round(float(np.clip(SHAPES[shape].usual_mm * random.uniform(0.6, 1.6), low, high)))
    values = document(start(shape, "Drawn", length))
    _own_numbers(random, values)
    motion = next(m for m in values["motions"] if m["name"] == walk)
    spoiled = tuple(str(name) for name in spoilers if SPOILERS[name](random, values, motion))
    try:
        project = parse_project(values)
        names_played = [name for name, _ in in_order(project, walk)]
        stops = {code for name in names_played for code, *_ in evaluate(project, name).stops}
    except InputRefused:
        return None
    if stops - ENGINE_CODES:
        return None
    return Walker(number, shape, walk, length, spoiled, project, tuple(sorted(stops)))


def _own_numbers(random: np.random.Generator, values: dict) -> None:
    """No two builders' machines are alike: servos, a load, a floor."""
    give, strong = random.uniform(2.0, 9.0), random.uniform(0.8, 1.6)
    for servo in values["servo_types"]:
        servo["full_torque_at_deg"] = round(give, 1)
        servo["stall_torque_nm"] = round(servo["stall_torque_nm"] * strong, 4)
        servo["play_deg"] = round(random.uniform(0.0, 1.0), 2)
    values["floor"].update(friction=round(random.uniform(0.5, 1.0), 2), unevenness_mm=0.0)
    _load(random, values, random.uniform(0.02, 0.1), 0.1)


def _load(random: np.random.Generator, values: dict, share: float, aside: float) -> None:
    """A mass of a share of the frame's, up to so much of the body's size from its middle."""
    body = values["walker"]["sections"][0]
    frame = sum(m["mass_g"] for m in values["walker"]["masses"])
    at = [round(float(s * random.uniform(-aside, aside)), 1) for s in body["size_mm"]]
    values["walker"]["masses"].append(
        {
            "name": f"Load {len(values['walker']['masses'])}",
            "mass_g": round(frame * share, 1),
            "at_mm": at,
            "on": body["name"],
        }
    )


def _weak(random: np.random.Generator, values: dict, motion: dict) -> bool:
    by = random.uniform(0.02, 0.2)
    for servo in values["servo_types"]:
        servo["stall_torque_nm"] = round(servo["stall_torque_nm"] * by, 4)
    return True


def _soft(random: np.random.Generator, values: dict, motion: dict) -> bool:
    values["against_sag"] = "off"
    for servo in values["servo_types"]:
        servo["full_torque_at_deg"] = round(servo["full_torque_at_deg"] * random.uniform(2.0, 3.0), 1)
    return True


def _loaded(random: np.random.Generator, values: dict, motion: dict) -> bool:
    _load(random, values, random.uniform(0.5, 1.5), 0.9)
    return True


def _hurried(random: np.random.Generator, values: dict, motion: dict) -> bool:
    return _timed(values, motion, random.uniform(0.35, 0.6))


def _slowed(random: np.random.Generator, values: dict, motion: dict) -> bool:
    return _timed(values, motion, random.uniform(1.8, 3.0))


def _timed(values: dict, motion: dict, by: float) -> bool:
    """The same steps in another time."""
    row = values["controller"]["frame_period_ms"] / 1000
    cycle = round(max(12, round(motion["cycle_s"] * by / row)) * row, 3)
    for name in motion.get("twist", {}):
        motion["twist"][name] = round(motion["twist"][name] * motion["cycle_s"] / cycle, 1)
    motion["cycle_s"] = cycle
    for other in values["motions"]:
        if other["kind"] == "swings":
            other["cycle_s"] = cycle
    return True


def _low(random: np.random.Generator, values: dict, motion: dict) -> bool:
    if "lift_mm" not in motion:
        return False
    motion["lift_mm"] = round(motion["lift_mm"] * random.uniform(0.02, 0.15), 1)
    return True


def _icy(random: np.random.Generator, values: dict, motion: dict) -> bool:
    values["floor"]["friction"] = round(random.uniform(0.05, 0.15), 3)
    return True


def _unswayed(random: np.random.Generator, values: dict, motion: dict) -> bool:
    terms, share = motion.get("pose", {}).get("sway", []), random.uniform(0.0, 0.5)
    for term in terms:
        term.update({name: round(v * share, 2) for name, v in term.items() if name != "harmonic"})
    return bool(terms)


def _far(random: np.random.Generator, values: dict, motion: dict) -> bool:
    by = random.uniform(1.5, 2.5)
    for name in motion.get("twist", {}):
        motion["twist"][name] = round(motion["twist"][name] * by, 1)
    return "twist" in motion


def _narrow(random: np.random.Generator, values: dict, motion: dict) -> bool:
    by, done = random.uniform(0.35, 0.6), False
    for limb in values["walker"]["limbs"]:
        for foot in limb["feet"]:
            if foot["sole"]["kind"] == "rectangle":
                foot["sole"]["width_mm"] = round(foot["sole"]["width_mm"] * by, 1)
                done = True
    return done


SPOILERS: dict[str, Callable[[np.random.Generator, dict, dict], bool]] = {
    "weak servos": _weak, "soft servos": _soft, "a load": _loaded, "hurried": _hurried, "slowed": _slowed,
    "low feet": _low, "icy floor": _icy, "less sway": _unswayed, "long strides": _far, "narrow soles": _narrow,
}  # fmt: skip
