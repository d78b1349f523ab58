"""What the Servos station asks and is told, as models."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, Field

from bustle.core.document.checked import CheckedProject
from bustle.core.project.field_types import Name, Real
from bustle.core.project.parts import ServoType
from bustle.core.servo.bench_cards import Card
from bustle.web.said.leg_shapes import LimbName
from bustle.web.said.shapes import Body, WalkerPath, Whole

Saw = Literal["as_told", "other_way", "another", "nothing"]
Stamp = Annotated[str, Field(max_length=60)]
TableHash = Annotated[str, Field(pattern="^[0-9a-f]{0,64}$")]
Sheet = Literal["evening", "wiring", "fitting", "protractor", "supply"]


class BenchDraft(Body):
    project: CheckedProject


class BenchEdit(Body):
    """number: an item for every place without one; wire: all on channels, by leg or side; put: one place on a channel
    of a board, without a board on none; put_limb: all of a limb from a channel on; board and bank: one more; teeth:
    every horn on its nearest tooth; calibrate and
    replace: an item; seen: what a place did; mend: what that showed; forget: what was seen of a place; trim: what the
    ruler showed; reading: of a place's horn, in degrees, as it was told so much; height: of a limb's foot over the
    bench, mm; step: a step of the evening done, or not."""

    project: CheckedProject
    action: Literal[
        "number",
        "wire",
        "put",
        "put_limb",
        "board",
        "bank",
        "teeth",
        "calibrate",
        "replace",
        "seen",
        "mend",
        "forget",
        "trim",
        "reading",
        "height",
        "step",
    ]
    by: Literal["leg", "side"] = "leg"
    place: Name | None = None
    limb: LimbName | None = None
    board: Name | None = None
    channel: Annotated[int, Field(ge=0, le=253)] = 0
    kind: Literal["pulse_board", "plain_pins", "bus"] = "pulse_board"
    item: Name | None = None
    saw: Saw = "as_told"
    instead: Name | None = None
    told: Annotated[Real, Field(ge=-1_000_000, le=1_000_000)] | None = None
    read: Annotated[Real, Field(ge=-3600, le=3600)] | None = None
    at: Stamp = ""
    table: TableHash = ""
    step: Stamp = ""


class BenchEdited(BaseModel):
    project: CheckedProject
    said: list[str]


class ServoView(BaseModel):
    """One place and what sits there; told: what it is sent in its middle; sees: what must be seen as it first turns.

    limb_mm: its limb with every servo centred, body frame; turned_mm: with its own horn turned on; view: where that is
    seen best.
    """

    place: str
    joint: str
    number: str
    item: str | None
    type: str
    unit: Literal["µs", "count"]
    board: str | None
    channel: int | None
    bank: str | None
    centre: float
    direction: int
    per_deg: float
    told: float
    low: float
    high: float
    sees: str
    assumed: list[str]
    saw: Saw | None
    mended: bool
    seen_on: str
    at_deg: float
    teeth: int | None
    tooth: int | None
    left_deg: float | None
    fitted_tooth: int
    tooth_left_deg: float
    trim_deg: float
    limb_mm: list[tuple[float, float, float]]
    turned_mm: list[tuple[float, float, float]]
    view: Literal["plan", "side", "front"]


class BoardView(BaseModel):
    """used: channels with a place; prescale and frequency: None but for a pulse board."""

    name: str
    kind: str
    channels: int
    address: int | None
    places: dict[int, str]
    prescale: int | None
    frequency_hz: float | None


class TrimView(BaseModel):
    limb: str
    off_mm: float
    place: str | None
    trim_deg: float
    told: float
    unit: str
    rod: str


class EveningStep(BaseModel):
    """One step of the first evening. done: ticked by hand, or told by what is known; left: what of it is open."""

    name: str
    label: str
    how: str
    sheet: Sheet | None
    done: bool
    left: str


class BenchView(BaseModel):
    servos: list[ServoView]
    boards: list[BoardView]
    trims: list[TrimView]
    limp_mm: float
    steps: list[EveningStep]
    rests_mm: dict[str, float]


class CardsDraft(Body):
    """A step of the evening, by its name."""

    project: CheckedProject
    step: Stamp


class Cards(BaseModel):
    cards: list[Card]


class CheckDraft(Body):
    """A joint check of a limb, or of all."""

    project: CheckedProject
    limb: LimbName | None = None
    format: str = "csv"
    values: Literal["pulses", "ticks"] = "pulses"


class ServoTypes(BaseModel):
    servo_types: list[ServoType]


class SheetPath(WalkerPath):
    name: Sheet


class SheetQuery(BaseModel):
    paper: Literal["a4", "letter"] = "a4"


__all__ = ["BenchDraft", "BenchEdit", "BenchEdited", "BenchView", "CheckDraft", "SheetPath", "SheetQuery", "Whole"]
