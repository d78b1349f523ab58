"""Servos on the channels of boards: filled in order, swapped, and how many are short."""

from __future__ import annotations

from typing import Literal

from bustle.core.document.checked import CheckedProject, parse_project
from bustle.core.machine.kit import kit_of
from bustle.core.project.project import Project, document
from bustle.core.servo.fitted_servos import servos_at
from bustle.core.words.problems import refuse

Order = Literal["leg", "side"]


def with_board(project: CheckedProject, kind: str) -> CheckedProject:
    """One board more, with a name and an address of its own, its outputs off at start."""
    values = document(project)
    boards = values["electrics"]["boards"]
    names, addresses = {b["name"] for b in boards}, {b["address"] for b in boards}
    name = next(n for n in (f"Board {k}" for k in range(1, 40)) if n not in names)
    fresh = {"name": name, "kind": kind, "channels": 40 if kind == "bus" else 16, "enable_off_at_start": True}
    if kind == "pulse_board":
        fresh["address"] = next(a for a in range(64, 128) if a not in addresses)
    boards.append(fresh)
    return parse_project(values)


def wired_in_order(project: CheckedProject, by: Order) -> CheckedProject:
    """Every servo on the next free channel: leg by leg, or all of the left side before all of the right.

    What needs a bus goes on a bus, from address 1; inputs and lamps keep their pins. Servos for which no channel is
    left stay unwired. Raises InputRefused where there is no board.
    """
    values = document(project)
    boards = values["electrics"]["boards"]
    if not boards:
        raise refuse("electrics.boards", "there is no board to wire servos to; add one")
    limbs = {m.name: n for n, m in enumerate(project.walker.limbs)}
    left = {m.name: m.mount.at_mm[1] >= 0 for m in project.walker.limbs}
    servos = list(servos_at(project))
    if by == "side":
        servos.sort(key=lambda s: (not left[s.joint.partition("/")[0]], limbs[s.joint.partition("/")[0]]))
    else:
        servos.sort(key=lambda s: limbs[s.joint.partition("/")[0]])
    free = {"bus": [], "pulse": []}  # type: ignore[var-annotated]
    for board in boards:
        board["wires"] = []
        pins = {s["pin"] for s in values["electrics"]["signals"] if s["board"] == board["name"]}
        first = 1 if board["kind"] == "bus" else 0
        channels = [c for c in range(first, first + board["channels"]) if c not in pins and c <= 253]
        free["bus" if board["kind"] == "bus" else "pulse"] += [(board, c) for c in channels]
    for servo in servos:
        ways = free["bus" if servo.bus else "pulse"]
        if ways:
            board, channel = ways.pop(0)
            board["wires"].append({"channel": channel, "place": servo.place})
    return parse_project(values)


def wired(project: CheckedProject, place: str, board: str | None, channel: int) -> CheckedProject:
    """A servo on one channel; what was there takes the channel that it leaves. board None: unwired.

    Raises InputRefused for a board that is not there.
    """
    values = document(project)
    boards = {b["name"]: b for b in values["electrics"]["boards"]}
    if board is not None and board not in boards:
        raise refuse("board", f"no board is called {board[:60]!r}")
    before = next(((b, w) for b in boards.values() for w in b["wires"] if w["place"] == place), None)
    if before:
        before[0]["wires"].remove(before[1])
    if board is not None:
        wires = boards[board]["wires"]
        other = next((w for w in wires if w["channel"] == channel), None)
        if other:
            wires.remove(other)
            if before:
                before[0]["wires"].append({"channel": before[1]["channel"], "place": other["place"]})
        wires.append({"channel": channel, "place": place})
    for each in boards.values():
        each["wires"].sort(key=lambda w: w["channel"])
    return parse_project(values)


def limb_wired(project: CheckedProject, limb: str, board: str, channel: int) -> CheckedProject:
    """A limb's servos on one channel after another from there on, in their order; what was there changes places.

    Raises InputRefused for a limb without servos, and where the board ends before they do.
    """
    own = [s for s in servos_at(project) if s.joint.partition("/")[0] == limb]
    if not own:
        raise refuse("place", f"{limb[:60]!r} has no servo")
    for n, servo in enumerate(own):
        project = wired(project, servo.place, board, channel + n)
    return project


def unwired(project: Project) -> list[str]:
    """Places on no channel, in the kit's order."""
    on = {w.place for b in project.electrics.boards for w in b.wires}
    return [s.name for s in kit_of(project).servos if s.name not in on]


def first_free(project: Project, place: str) -> tuple[str, int] | None:
    """Board and channel that nothing is on, for what this place needs; None where there is none."""
    bus = next((s.bus for s in servos_at(project) if s.place == place), False)
    for board in project.electrics.boards:
        if (board.kind == "bus") == bus:
            taken = {w.channel for w in board.wires}
            taken |= {s.pin for s in project.electrics.signals if s.board == board.name}
            first = 1 if bus else 0
            free = next((c for c in range(first, first + board.channels) if c not in taken), None)
            if free is not None:
                return board.name, free
    return None
