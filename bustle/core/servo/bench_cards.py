"""The steps of a first evening one thing at a time, as they are read from a step away: a sentence, a number, what to
watch for."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Literal

from bustle.core.project.motion import JointPose, PhaseGait
from bustle.core.project.project import Project
from bustle.core.servo.fitted_servos import ServoAt
from bustle.core.servo.joint_check import in_order
from bustle.core.servo.power_on_order import starting_pose
from bustle.core.words.wording import number, seconds

# The second angle that is told and read, beside the middle.
READ_AT_DEG = 40.0


@dataclass(frozen=True)
class Card:
    """One thing to do: the sentence, what stands below it, and the number that is read from a step away.

    place: the servo it is of; limb: the leg; motion: the pose or walk it is about; part: the part of the supply.
    asks: what is read there and typed: a horn's angle in degrees after it was told so much, or a foot's height in mm;
    told: what it was told, µs or counts; usual: the value that is likely read.
    """

    sentence: str
    about: str
    number: str
    place: str | None = None
    limb: str | None = None
    motion: str | None = None
    part: Literal["pack", "regulator", "ground", "fuse", "switch"] | None = None
    asks: Literal["horn_deg", "height_mm"] | None = None
    told: float | None = None
    usual: float | None = None


def _servos(project: Project) -> list[ServoAt]:
    return in_order(project, None) if project.walker.drives else []


def _amount(servo: ServoAt, told: float) -> str:
    return f"{number(told, 0)} {'counts' if servo.bus else 'µs'}"


def _map(project: Project) -> Iterator[Card]:
    boards = [b.name for b in project.electrics.boards]
    plugs = {s.place: (boards.index(s.board.name) if s.board else -1, s.channel or 0) for s in _servos(project)}
    for servo in sorted(_servos(project), key=lambda s: plugs[s.place]):
        whose = f"servo no. {servo.number}"
        if servo.board is None:
            yield Card(f"{servo.place} is on no channel", f"{whose} · put it on a board", "none", servo.place)
            continue
        yield Card(
            f"{servo.place} on {servo.board.name}", f"{whose} · power off, plug the right way round",
            f"{'address' if servo.bus else 'channel'} {servo.channel}", servo.place,
        )  # fmt: skip


def _meter(project: Project) -> Iterator[Card]:
    switch = project.electrics.stop_switch
    unplugged = "no servo plugged in"
    for bank in project.electrics.banks:
        volts = bank.regulated_v or bank.full_v
        lithium = "; a lithium pack on a fireproof surface, never alone" if bank.chemistry == "lithium" else ""
        yield Card(f"Measure {bank.name}, full", f"{unplugged}{lithium}", f"{number(bank.full_v)} V", part="pack")
        if bank.regulated_v:
            yield Card(f"{bank.name}: set the regulator", unplugged, f"{number(volts)} V", part="regulator")
        yield Card(f"{bank.name}: red to plus", f"measure at the servos' plug, {unplugged}", f"+{number(volts)} V",
                   part="regulator" if bank.regulated_v else "pack")  # fmt: skip
        yield Card(f"{bank.name}: grounds joined", "power off; servo ground to logic ground, beeper on", "0 Ω",
                   part="ground")  # fmt: skip
        fuse = f"{number(bank.fuse_a)} A" if bank.fuse_a else "none said"
        yield Card(f"{bank.name}: the fuse is in", "between pack and servos, near the pack", fuse, part="fuse")
    if switch:
        yield Card(
            f"Hit the stop switch{f', {switch.where}' if switch.where else ''}",
            f"it cuts the {switch.cuts.replace('_', ' ')}; let out again, nothing may move until it is armed",
            "0 V", part="switch",
        )  # fmt: skip
    else:
        yield Card("No stop switch is declared", "do not power up without one", "none", part="switch")


def _each(project: Project) -> Iterator[Card]:
    for servo in _servos(project):
        alone = "alone on the bus" if servo.bus else "alone, no horn"
        yield Card(
            f"Write {servo.number} on its case", f"for {servo.place} · sweep it {alone}; rough or hot: sort it out",
            f"no. {servo.number}" if not servo.bus else f"address {servo.channel}", servo.place,
        )  # fmt: skip


def _centre(project: Project) -> Iterator[Card]:
    for servo in _servos(project):
        yield Card(f"{servo.place}: tell it its middle", f"{servo.goes_to} · no horn on; it must not buzz",
                   _amount(servo, servo.centre), servo.place)  # fmt: skip


def _angles(project: Project) -> Iterator[Card]:
    for servo in _servos(project):
        for angle in (-READ_AT_DEG, READ_AT_DEG):
            told = round(servo.centre + servo.direction * servo.per_deg * angle)
            yield Card(
                f"{servo.place}: read the horn", f"{servo.goes_to} · on the protractor, slowly there",
                _amount(servo, told), servo.place, asks="horn_deg", told=float(told), usual=angle,
            )  # fmt: skip


def _heights(project: Project) -> Iterator[Card]:
    measured = {h.limb: h.height_mm for h in project.electrics.rest_heights}
    usual = next(iter(measured.values()), 60.0)
    for limb in project.walker.legs:
        at = measured.get(limb.name)
        yield Card(
            f"{limb.name}: bench to foot", "on the stand, every servo at its middle; by ruler, straight up",
            "? mm" if at is None else f"{number(at)} mm", limb=limb.name, asks="height_mm",
            usual=usual if at is None else at,
        )  # fmt: skip


def _poses(project: Project) -> Iterator[Card]:
    poses = [m.name for m in project.motions if isinstance(m, JointPose) or (isinstance(m, PhaseGait) and m.stands)]
    safe = project.electrics.fail_safe
    start = starting_pose(project) if project.motions else None
    yield Card("Every servo at its middle", "on the stand, feet in the air; nothing buzzes", "middle")
    if project.walker.folded:
        box = " × ".join(number(v, 0) for v in project.walker.folded.box_mm)
        yield Card("Fold it, joint by joint", "fingers out of the joints; it fits its box", f"{box} mm")
    for name in poses:
        what = " · it starts into this one" if name == start else ""
        yield Card(f"Take {name}, slowly", f"on the stand, feet in the air{what}", name, motion=name)
    if safe is None:
        yield Card(
            "Radio lost: nothing is decided", "say after how long, and what then, at Supply, stop, inputs", "? ms"
        )
        return
    then = {"goes_limp": "goes limp", "holds": "holds", "pose": f"goes into {project.start_up.fail_safe or start}"}
    first = "finishes its step, then " if safe.finish_step else ""
    yield Card(
        f"Switch the transmitter off: it {first}{then[safe.effect]}", "on the stand, hand at the stop switch",
        f"{number(safe.after_ms, 0)} ms",
    )  # fmt: skip


def _walks(how: str, about: str) -> Callable[[Project], Iterator[Card]]:
    def cards(project: Project) -> Iterator[Card]:
        walks = [m for m in project.motions if isinstance(m, PhaseGait) and not m.stands]
        for motion in walks or project.motions:
            takes = seconds(motion.cycle_s) if isinstance(motion, PhaseGait) else "once"
            yield Card(f"{motion.name}, {how}", about, takes, motion=motion.name)

    return cards


CARDS: dict[str, Callable[[Project], Iterator[Card]]] = {
    "map": _map,
    "meter": _meter,
    "each": _each,
    "centre": _centre,
    "angles": _angles,
    "heights": _heights,
    "poses": _poses,
    "air": _walks("feet in the air", "on the stand, a cycle or two; buzzes or grows hot: stop"),
    "floor": _walks("on the floor", "slowly at first, a hand near the stop switch, nobody and no pet in its way"),
}


def bench_cards(project: Project, step: str) -> tuple[Card, ...]:
    """The cards of a step of the evening; none for a step that is done elsewhere (horns, the joint check)."""
    return tuple(CARDS[step](project)) if step in CARDS else ()
