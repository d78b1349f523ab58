"""The head of a plan as the screen gets it; the interface's types are made from this."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel
from typing_extensions import TypedDict

from bustle.core.judge.finding import FindingPlace


class FigureView(TypedDict):
    """A figure; its working is asked for when it is opened."""

    name: str
    label: str
    value: float
    unit: str
    digits: int
    time_s: float | None


class FindingView(TypedDict):
    code: str
    severity: Literal["stop", "warn", "note"]
    title: str
    message: str
    subject: str
    where: FindingPlace


class LegLayout(TypedDict):
    """Where a limb's points and joints are in the arrays: from, and past the last. round_mm: the radius of the ball it
    stands on, 0 of none."""

    name: str
    points: tuple[int, int]
    joints: tuple[int, int]
    joint_names: list[str]
    role: Literal["leg", "support", "arm"]
    stroke_mm: float
    round_mm: float


class SectionLayout(TypedDict):
    """Where a section's outline is in the frame's points: from, and past the last. The lower rim first, then the
    upper."""

    name: str
    points: tuple[int, int]


class LeadLayout(TypedDict):
    """Where a lead's waypoints are in `rest_leads`: from, and past the last."""

    name: str
    points: tuple[int, int]


class PieceView(TypedDict):
    """A part of a motion that is made of several, and when it begins."""

    name: str
    start_s: float


class ClearanceView(TypedDict):
    """What is taken off under a foot at the top of its swing. sag_mm: null while that waits for the hand to rest."""

    leg: str
    height_mm: float
    sag_mm: float | None
    droop_mm: float
    uneven_mm: float
    assumed: bool


class LoadServo(TypedDict):
    """What a servo holds: place and the joint it is named for, its limb, the most of its stall torque and when, what
    warms it all along, and how far it lags at most."""

    place: str
    limb: str
    joint: str
    peak: float
    peak_s: float
    held: float
    lag_deg: float


class LoadSupply(TypedDict):
    """name: None where no supply is told of the servos. gives_a: its regulator, where it has one."""

    name: str | None
    gives_a: float | None


class LoadView(TypedDict):
    """What `load_feet` (samples, feet, 3), N in the travel frame, `load_share` and `load_lag` (samples, servos) and
    `load_amperes` (samples, supplies) are of.

    load_zmp is the pushing point on the floor; load_sag (samples, 7) how far the body sinks, mm, and s, θ of where the
    frame goes as it gives, s + θ × p in the travel frame, mm and rad. not_told: why there are none."""

    feet: list[str]
    servos: list[LoadServo]
    supplies: list[LoadSupply]
    assumed: list[str]
    weight_n: float
    not_told: str | None


class WorstMargin(TypedDict):
    margin_mm: float
    time_s: float


class ArrayPlace(TypedDict):
    """Where an array begins in the floats that follow the head."""

    name: str
    shape: list[int]
    offset: int


class DrawnHead(BaseModel):
    """Where everything is in what is drawn.

    repeats: whether it starts again where it ends. footprints: where feet were put down, in order: limb, x, y on the
    floor. soles: how many points each outline in the array of that name has. servos, leads: what `rest_servos` and
    `rest_leads` are of, where the machine at rest was asked for.
    """

    motion: str
    kind: str
    repeats: bool
    balance: Literal["static", "dynamic"]
    pieces: list[PieceView]
    footprints: list[tuple[float, float, float]]
    cycle_s: float
    samples: int
    legs: list[LegLayout]
    sections: list[SectionLayout]
    soles: list[int]
    joint_limits_deg: list[tuple[float, float]]
    joint_speed_deg_s: list[float | None]
    arrays: list[ArrayPlace]
    servos: list[str]
    leads: list[LeadLayout]


class PictureHead(DrawnHead):
    """A plan as one buffer: 4 bytes with the length of this head (little-endian), the head as JSON padded with spaces
    to a multiple of four bytes, then 32-bit floats.

    Where it is asked for drawn first it comes as two such buffers, each with its own length before it (4 bytes, little-
    endian): what is drawn, with a `DrawnHead`, and this with the arrays that are left. Instead of the second comes a
    problem, as JSON with its length before it, where that went wrong.

    judged: the codes that were asked, each with why it cannot be judged here, or nothing where it is; findings and
    figures are of those asked alone. at_speed: walks that no motion sets going from standing, or brings to a stand,
    with what is to be done.
    """

    clearances: list[ClearanceView]
    worst: WorstMargin | None
    whole: bool
    judged: dict[str, str | None]
    figures: list[FigureView]
    findings: list[FindingView]
    at_speed: dict[str, str]
    load: LoadView | None
