"""What single fields of the electrics cannot see: two servos on one channel, in one place, under one address."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable

from bustle.core.project.electrics import PRESCALES, Board, Electrics, prescale
from bustle.core.project.project import Project

Found = Iterable[tuple[str, str]]


def electrics_problems(project: Project) -> Found:
    """Everything that single fields cannot see, as (path, sentence)."""
    electrics = project.electrics
    counted = Counter(s.name for d in project.walker.drives for s in d.servos)
    places = set(counted)
    if electrics != Electrics():
        for i, drive in enumerate(project.walker.drives):
            for n, servo in enumerate(drive.servos):
                if counted[servo.name] > 1:
                    path = f"walker.drives[{i}].servos[{n}].name"
                    yield path, f"two servos are called {servo.name!r}; each needs its own name to be wired"
    yield from _item_problems(project, places)
    for group in ("fitted", "seen"):
        yield from _once_each(f"electrics.{group}", [e.place for e in getattr(electrics, group)], places)
    for n, seen in enumerate(electrics.seen):
        if seen.instead is not None and (seen.instead not in places or seen.instead == seen.place):
            yield f"electrics.seen[{n}].instead", f"{seen.instead!r} is no other servo of this walker"
    yield from _names(electrics)
    wired: dict[str, str] = {}
    for i, board in enumerate(electrics.boards):
        yield from _board_problems(f"electrics.boards[{i}]", board, places, wired)
        if board.kind == "pulse_board" and not PRESCALES[0] <= prescale(board, project.controller) <= PRESCALES[1]:
            words = f"come to a prescaler of {prescale(board, project.controller)}; a pulse board takes 3 to 255"
            yield f"electrics.boards[{i}].oscillator_hz", f"{board.oscillator_hz:g} Hz at this rate {words}"
    hung: dict[str, str] = {}
    for i, bank in enumerate(electrics.banks):
        path = f"electrics.banks[{i}]"
        if bank.empty_v >= bank.full_v:
            yield f"{path}.empty_v", f"must be below full_v, {bank.full_v:g}, got {bank.empty_v:g}"
        for n, place in enumerate(bank.places):
            if place not in places:
                yield f"{path}.places[{n}]", f"{place!r} is no servo of this walker"
            elif place in hung:
                yield f"{path}.places[{n}]", f"{place} hangs on {hung[place]} already"
            hung.setdefault(place, bank.name)
    # The first that names none has all that hang on no other.
    rest = [i for i, bank in enumerate(electrics.banks) if not bank.places]
    for i in rest[1:] if places - set(hung) else rest:
        yield f"electrics.banks[{i}].places", "every servo hangs on another supply; name those that hang on this one"
    boards = {b.name: b for b in electrics.boards}
    for n, signal in enumerate(electrics.signals):
        if signal.board is not None and signal.board not in boards:
            yield f"electrics.signals[{n}].board", f"{signal.board!r} is no board of this machine"
    yield from _type_problems(project)


def _item_problems(project: Project, places: set[str]) -> Found:
    types = {s.name: s for s in project.servo_types}
    sat: dict[str, str] = {}
    for i, item in enumerate(project.electrics.items):
        path = f"electrics.items[{i}]"
        if item.type not in types:
            yield f"{path}.type", f"{item.type!r} is not among servo_types"
        if item.place is None:
            continue
        if item.place not in places:
            yield f"{path}.place", f"{item.place!r} is no servo of this walker"
        elif item.place in sat:
            yield f"{path}.place", f"servo {sat[item.place]} sits in {item.place} already"
        sat[item.place] = item.name
        angles = [r.horn_deg for r in item.readings]
        for n, reading in enumerate(item.readings):
            if angles.index(reading.horn_deg) != n:
                words = f"the angle {reading.horn_deg:g}° was read before; readings need angles of their own"
                yield f"{path}.readings[{n}].horn_deg", words


def _once_each(path: str, named: list[str], places: set[str]) -> Found:
    for n, place in enumerate(named):
        if place not in places:
            yield f"{path}[{n}].place", f"{place!r} is no servo of this walker"
        elif named.index(place) != n:
            yield f"{path}[{n}].place", f"{place} is listed before"


def _names(electrics: Electrics) -> Found:
    for group, what in (("items", "servos"), ("boards", "boards"), ("banks", "banks"), ("signals", "inputs or lamps")):
        names = [entry.name.casefold() for entry in getattr(electrics, group)]
        for n, name in enumerate(names):
            if names.index(name) != n:
                own = getattr(electrics, group)[n].name
                yield f"electrics.{group}[{n}].name", f"two {what} are called {own!r}; each needs its own name"
    addresses: dict[int, str] = {}
    for i, board in enumerate(electrics.boards):
        if board.address is not None and board.address in addresses:
            words = f"{addresses[board.address]} has address {board.address} already"
            yield f"electrics.boards[{i}].address", words
        elif board.address is not None:
            addresses[board.address] = board.name


def _board_problems(path: str, board: Board, places: set[str], wired: dict[str, str]) -> Found:
    taken: dict[int, str] = {}
    called = "address" if board.kind == "bus" else "channel"
    for n, wire in enumerate(board.wires):
        here = f"{path}.wires[{n}]"
        if board.kind != "bus" and wire.channel >= board.channels:
            last = board.channels - 1
            yield f"{here}.channel", f"{board.name} has channels 0 to {last}, got {wire.channel}"
        elif wire.channel in taken:
            yield f"{here}.channel", f"{called} {wire.channel} of {board.name} is {taken[wire.channel]}'s already"
        taken.setdefault(wire.channel, wire.place)
        if wire.place not in places:
            yield f"{here}.place", f"{wire.place!r} is no servo of this walker"
        elif wire.place in wired:
            yield f"{here}.place", f"{wire.place} is wired to {wired[wire.place]} already"
        wired.setdefault(wire.place, f"{board.name}, {called} {wire.channel}")


def _type_problems(project: Project) -> Found:
    for i, sheet in enumerate(project.servo_types):
        low, high = sheet.pulse_low_us, sheet.pulse_high_us
        if low is not None and low >= sheet.middle_us:
            words = f"must be below middle_us, {sheet.middle_us:g}, got {low:g}"
            yield f"servo_types[{i}].pulse_low_us", words
        if high is not None and high <= sheet.middle_us:
            words = f"must be above middle_us, {sheet.middle_us:g}, got {high:g}"
            yield f"servo_types[{i}].pulse_high_us", words
        if sheet.least_v is not None and sheet.most_v is not None and sheet.least_v >= sheet.most_v:
            yield f"servo_types[{i}].most_v", f"must be above least_v, {sheet.least_v:g}, got {sheet.most_v:g}"
