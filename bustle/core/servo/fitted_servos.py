"""The servos as they are fitted: which item sits in each place, on which channel of which board, on which supply."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from bustle.core.machine.kit import Kit, kit_of
from bustle.core.project.electrics import Bank, Board, Fitted, Seen, ServoItem, bank_of
from bustle.core.project.parts import ServoType
from bustle.core.project.project import Project

# What is taken where neither sheet nor reading says it.
US_PER_DEG = 10.0


# On the tooth it was planned for, without a trim.
UNFITTED = Fitted(place="nowhere")


@dataclass(frozen=True)
class ServoAt:
    """One place and what sits there. joint: "L1/femur", the first of its drive that it is named for.

    item, board, wire, bank: None where nobody has said.
    """

    place: str
    joint: str
    sheet: ServoType
    item: ServoItem | None
    fitted: Fitted
    seen: Seen | None
    board: Board | None
    channel: int | None
    bank: Bank | None

    @property
    def number(self) -> str:
        """What stands on its case; its place where nothing does."""
        return self.item.name if self.item else self.place

    @property
    def goes_to(self) -> str:
        """Its number, board and channel, in words."""
        if self.board is None:
            return f"servo {self.number}, wired to nothing yet"
        return f"servo {self.number}, {self.board.name} {'address' if self.bus else 'channel'} {self.channel}"

    @property
    def bus(self) -> bool:
        return self.sheet.signal == "bus"

    @property
    def unit(self) -> str:
        return "count" if self.bus else "us"

    @property
    def per_deg(self) -> float:
        """µs or counts to a degree of the horn, direction aside."""
        if self.bus:
            return self.sheet.counts_per_turn / 360.0
        return (self.item and self.item.us_per_deg) or _by_its_sheet(self.sheet) or US_PER_DEG

    @property
    def centre(self) -> float:
        """The pulse or count in the middle of its travel."""
        if self.item and self.item.centre is not None:
            return self.item.centre
        return float(self.sheet.middle_count) if self.bus else self.sheet.middle_us

    @property
    def direction(self) -> int:
        return self.item.direction if self.item else 1

    @property
    def offset_deg(self) -> float:
        """What the tooth has left and the trim add to the horn's angle."""
        return self.fitted.tooth_left_deg + self.fitted.trim_deg

    @property
    def ends(self) -> tuple[float, float]:
        """The least and greatest it takes, µs or counts."""
        half = self.sheet.travel_deg / 2
        if self.bus:
            return self.centre - half * self.per_deg, self.centre + half * self.per_deg
        per = _by_its_sheet(self.sheet) or US_PER_DEG
        low, high = self.sheet.pulse_low_us, self.sheet.pulse_high_us
        middle = self.sheet.middle_us
        return (low if low is not None else middle - half * per, high if high is not None else middle + half * per)

    def told(self, servo_deg: float) -> float:
        """µs or count for a horn angle from the middle: centre + direction·k·(θ + tooth left + trim)."""
        return self.centre + self.direction * self.per_deg * (servo_deg + self.offset_deg)

    def assumed(self) -> Iterator[str]:
        """What nobody has measured or said."""
        if not (self.item and self.item.centre is not None):
            yield "its middle"
        if not self.bus and not (self.item and self.item.us_per_deg):
            yield "its µs per degree, by its sheet" if _by_its_sheet(self.sheet) else f"{US_PER_DEG:g} µs per degree"
        if self.seen is None:
            yield "which way it turns"


def _by_its_sheet(sheet: ServoType) -> float | None:
    """µs per degree as the sheet says, or its pulses from end to end over its travel; None: it says neither."""
    if sheet.us_per_deg:
        return sheet.us_per_deg
    if sheet.pulse_low_us is not None and sheet.pulse_high_us is not None:
        return (sheet.pulse_high_us - sheet.pulse_low_us) / sheet.travel_deg
    return None


def servos_at(project: Project, kit: Kit | None = None) -> tuple[ServoAt, ...]:
    """In the order of the kit's servos. kit: the project's, for whoever has it."""
    electrics = project.electrics
    sheets = {s.name: s for s in project.servo_types}
    items = {i.place: i for i in electrics.items if i.place}
    fitted = {f.place: f for f in electrics.fitted}
    seen = {s.place: s for s in electrics.seen}
    wires = {w.place: (b, w.channel) for b in electrics.boards for w in b.wires}
    banks = bank_of(electrics)
    kit = kit or kit_of(project)
    found = []
    for servo in kit.servos:
        item = items.get(servo.name)
        board, channel = wires.get(servo.name, (None, None))
        sheet = sheets[item.type] if item else servo.sheet
        found.append(
            ServoAt(
                servo.name,
                kit.joints[servo.first].path,
                sheet,
                item,
                fitted.get(servo.name, UNFITTED),
                seen.get(servo.name),
                board,
                channel,
                banks(servo.name),
            )
        )
    return tuple(found)
