"""Between a joint angle and the bench: servos in the hand, how they are fitted, boards, supplies, the stop switch.

A *place* is one servo of a drive, by its name; an item is the servo that sits there. Calibration belongs to the item,
what the horn's teeth leave and the trim to the place. Files that say nothing of it have, at every place, an item of its
name that nobody has calibrated.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated, Literal

from pydantic import Field, Strict, StringConstraints

from bustle.core.project.field_types import Flag, Line, Name, PartName, Real, Tilt, UpTo, Value
from bustle.core.project.parts import Controller

Volts = Annotated[Real, Field(gt=0, le=100)]
Amperes = Annotated[Real, Field(gt=0, le=1000)]


class ServoReading(Value):
    """What a servo was told, in µs or counts, and the angle of its horn then; counts from a servo that reads back are
    measured, never the command echoed."""

    told: Annotated[Real, Field(ge=-1_000_000, le=1_000_000)]
    horn_deg: Annotated[Real, Field(ge=-3600, le=3600)]


class ServoItem(Value):
    """One servo in the hand, by the number on its case. place: where it sits; None: a spare.

    centre: the pulse in µs, or count, at which it is to stand in the middle of its travel. None: nobody has measured
    it. read_on: when its readings were taken.
    """

    name: Name
    type: Name
    place: Name | None = None
    centre: Annotated[Real, Field(ge=-1_000_000, le=1_000_000)] | None = None
    direction: Literal[1, -1] = 1
    us_per_deg: Annotated[Real, Field(gt=0, le=200)] | None = None
    readings: Annotated[tuple[ServoReading, ...], UpTo(24)] = ()
    read_on: Line = ""


class Fitted(Value):
    """How the horn sits at a place: on which tooth, how far off that leaves it, and what is trimmed."""

    place: Name
    tooth: Annotated[int, Strict(), Field(ge=-200, le=200)] = 0
    tooth_left_deg: Tilt = 0.0
    trim_deg: Tilt = 0.0


class Seen(Value):
    """What a place did when the joint check told it to move. instead: the place that moved in its stead.

    mended: what it showed has been set right since, and is to be seen once more. seen_on: when; table: the hash of the
    table that was played.
    """

    place: Name
    saw: Literal["as_told", "other_way", "another", "nothing"]
    instead: Name | None = None
    mended: Flag = False
    seen_on: Line = ""
    table: Annotated[str, StringConstraints(pattern="^[0-9a-f]{0,64}$")] = ""


class RestHeight(Value):
    """How high a foot was found over the bench, by ruler, with every servo centred and the machine on its stand."""

    limb: PartName
    height_mm: Annotated[Real, Field(ge=-1000, le=3000)]


class Wire(Value):
    """A place on a channel of a board, or under an address of a bus."""

    channel: Annotated[int, Strict(), Field(ge=0, le=253)]
    place: Name


class Board(Value):
    """What gives the servos their pulses or counts.

    A pulse board has so many channels, 12 bits and a whole prescaler over an oscillator that is off by a share; plain
    pins give the pulse asked for; a bus speaks to servos by their addresses. enable_off_at_start: its outputs, or the
    torque, are off until they are switched on. Of a bus: reads_back_first: its servos are asked where they stand before
    their torque is switched on; limits_written: each has its joint's end stops written into it; overload_limp: its
    servos shut off when they are overloaded, and go limp. frequency_hz: None: that of the table's rows. link_bytes_s:
    what its link carries; None: no limit known.
    """

    name: Name
    kind: Literal["pulse_board", "plain_pins", "bus"] = "pulse_board"
    channels: Annotated[int, Strict(), Field(ge=1, le=254)] = 16
    address: Annotated[int, Strict(), Field(ge=0, le=127)] | None = None
    oscillator_hz: Annotated[Real, Field(ge=1_000_000, le=100_000_000)] = 25_000_000.0
    oscillator_off_pct: Annotated[Real, Field(ge=-20, le=20)] = 0.0
    frequency_hz: Annotated[Real, Field(ge=10, le=1000)] | None = None
    enable_off_at_start: Flag = False
    reads_back_first: Flag = False
    limits_written: Flag = False
    overload_limp: Flag = False
    link_bytes_s: Annotated[Real, Field(gt=0, le=100_000_000)] | None = None
    wires: Annotated[tuple[Wire, ...], UpTo(254)] = ()


# What the prescaler of a pulse board may be, and the steps of a frame: 12 bits.
PRESCALES = (3, 255)
STEPS = 4096


def frequency_hz(board: Board, controller: Controller) -> float:
    """The frames a second that a board is asked for."""
    return board.frequency_hz or 1000.0 / controller.frame_period_ms


def prescale(board: Board, controller: Controller) -> int:
    """round(f_osc/(4096·f)) − 1: the whole prescaler for a frequency f."""
    return round(board.oscillator_hz / (STEPS * frequency_hz(board, controller))) - 1


def real_frequency_hz(board: Board, controller: Controller) -> float:
    """f_osc·(1 + err)/(4096·(prescale + 1))"""
    off = 1 + board.oscillator_off_pct / 100
    return board.oscillator_hz * off / (STEPS * (prescale(board, controller) + 1))


class Bank(Value):
    """A supply and the servos that hang on it. places: those; empty: all that no other bank has.

    full_v, empty_v, cut_off_v: of the pack as a whole. regulated_v: None: the servos get the pack's own voltage.
    resistance_mohm: of the pack with its plugs and leads; None: nobody has measured it. capacity_mah: None: unknown.
    """

    name: Name
    chemistry: Literal["lithium", "nickel", "mains"] = "lithium"
    cells: Annotated[int, Strict(), Field(ge=1, le=40)] = 2
    full_v: Volts
    empty_v: Volts
    cut_off_v: Volts | None = None
    regulated_v: Volts | None = None
    regulator_a: Amperes | None = None
    fuse_a: Amperes | None = None
    resistance_mohm: Annotated[Real, Field(gt=0, le=10_000)] | None = None
    capacity_mah: Annotated[Real, Field(gt=0, le=1_000_000)] | None = None
    feeds_logic: Flag = False
    ground_joined: Flag = True
    places: Annotated[tuple[Name, ...], UpTo(84)] = ()


def bank_of(electrics: Electrics) -> Callable[[str], Bank | None]:
    """The supply that the servo of a place hangs on; None where nobody has said."""
    named = {place: bank for bank in electrics.banks for place in bank.places}
    rest = next((b for b in electrics.banks if not b.places), None)
    return lambda place: named.get(place, rest)


class Signal(Value):
    """An input or a lamp on a pin. at_start: what it is before anything drives it."""

    name: Name
    does: Literal["input", "lamp", "pack_voltage", "alarm_plug"] = "input"
    board: Name | None = None
    pin: Annotated[int, Strict(), Field(ge=0, le=253)]
    at_start: Literal["off", "pulled", "floats"] = "floats"


class StopSwitch(Value):
    """Where it is hit from, what it cuts, and what the machine does then. Let out again, nothing moves until inputs are
    at rest and it is armed."""

    where: Line = ""
    cuts: Literal["servo_supply", "outputs", "logic"] = "servo_supply"
    effect: Literal["goes_limp", "holds"] = "goes_limp"
    drop_mm: Annotated[Real, Field(ge=0, le=3000)] | None = None


class FailSafe(Value):
    """What happens when the radio is silent for so long: after the step is finished, go limp, hold, or take a pose."""

    after_ms: Annotated[Real, Field(ge=10, le=60_000)]
    finish_step: Flag = True
    effect: Literal["goes_limp", "holds", "pose"] = "pose"
    supply_switched: Flag = False


class Electrics(Value):
    """Everything between the joint angles and the bench."""

    items: Annotated[tuple[ServoItem, ...], UpTo(120)] = ()
    fitted: Annotated[tuple[Fitted, ...], UpTo(84)] = ()
    seen: Annotated[tuple[Seen, ...], UpTo(84)] = ()
    boards: Annotated[tuple[Board, ...], UpTo(12)] = ()
    banks: Annotated[tuple[Bank, ...], UpTo(12)] = ()
    signals: Annotated[tuple[Signal, ...], UpTo(40)] = ()
    stop_switch: StopSwitch | None = None
    fail_safe: FailSafe | None = None
    rest_heights: Annotated[tuple[RestHeight, ...], UpTo(12)] = ()
    trim_range_deg: Annotated[Real, Field(gt=0, le=45)] = 5.0
    done: Annotated[tuple[Line, ...], UpTo(20)] = ()
