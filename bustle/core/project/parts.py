"""The parts a project uses, as copies of their sheets."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, Strict

from bustle.core.project.field_types import Flag, Grams, Name, Price, Real, UpTo, Value

# No servo works at less; currents are told by power over it.
LEAST_V = 0.1


class AtVoltage(Value):
    """What a servo does at another voltage."""

    volts: Annotated[Real, Field(ge=LEAST_V, le=100)]
    stall_torque_nm: Annotated[Real, Field(gt=0, le=1000)]
    no_load_speed_deg_s: Annotated[Real, Field(gt=0, le=10_000)]


class Rotor(Value):
    """The motor's rotor inside a servo, as one taken apart shows it: mass, radius, and how often it turns for a turn of
    the horn."""

    mass_g: Annotated[Real, Field(gt=0, le=5000)]
    radius_mm: Annotated[Real, Field(gt=0, le=200)]
    ratio: Annotated[Real, Field(ge=1, le=5000)]

    @property
    def felt_kg_m2(self) -> float:
        """A cylinder's inertia as the horn feels it: ½·m·r²·i²."""
        return 0.5 * self.mass_g / 1000 * (self.radius_mm / 1000) ** 2 * self.ratio**2


class ServoType(Value):
    """A servo's sheet, copied into the project. Speed is without load at the rated voltage.

    signal: pulses, or counts over a bus with so many to a turn. us_per_deg: None: its pulses
    over its travel, else 10. pulse_low_us, pulse_high_us: None: what its travel comes to about its middle.
    full_torque_at_deg: how far off its place it gives its stall torque, None: 5 is assumed. rotor: None: it comes up to
    its speed in 30 ms, assumed. unpulsed: what it does when pulses stop. most_v: what it may be given.
    """

    name: Name
    mass_g: Grams
    stall_torque_nm: Annotated[Real, Field(gt=0, le=1000)]
    no_load_speed_deg_s: Annotated[Real, Field(gt=0, le=10_000)]
    rated_v: Annotated[Real, Field(ge=LEAST_V, le=100)]
    travel_deg: Annotated[Real, Field(gt=0, le=3600)]
    frame_period_ms: Annotated[Real, Field(ge=1, le=100)] = 20.0
    play_deg: Annotated[Real, Field(ge=0, le=20)] = 0.0
    price: Price = 0.0
    stall_current_a: Annotated[Real, Field(gt=0, le=200)] | None = None
    running_current_a: Annotated[Real, Field(gt=0, le=200)] | None = None
    idle_current_a: Annotated[Real, Field(gt=0, le=200)] | None = None
    least_v: Annotated[Real, Field(gt=0, le=100)] | None = None
    most_v: Annotated[Real, Field(gt=0, le=100)] | None = None
    at: Annotated[tuple[AtVoltage, ...], UpTo(6)] = ()
    signal: Literal["pulse", "bus"] = "pulse"
    middle_us: Annotated[Real, Field(ge=100, le=5000)] = 1500.0
    pulse_low_us: Annotated[Real, Field(ge=100, le=5000)] | None = None
    pulse_high_us: Annotated[Real, Field(ge=100, le=5000)] | None = None
    us_per_deg: Annotated[Real, Field(gt=0, le=200)] | None = None
    dead_band_us: Annotated[Real, Field(ge=0, le=100)] = 0.0
    counts_per_turn: Annotated[int, Strict(), Field(ge=36, le=1_000_000)] = 4096
    middle_count: Annotated[int, Strict(), Field(ge=0, le=1_000_000)] = 2048
    reads_back: Flag = False
    spline_teeth: Annotated[int, Strict(), Field(ge=3, le=200)] | None = None
    full_torque_at_deg: Annotated[Real, Field(gt=0, le=90)] | None = None
    unpulsed: Literal["holds", "goes_limp"] | None = None
    rotor: Rotor | None = None


class Controller(Value):
    """What plays the table: one row per frame period. memory_kb: what it has left for tables; None: nobody has said."""

    frame_period_ms: Annotated[Real, Field(ge=2, le=100)] = 20.0
    memory_kb: Annotated[Real, Field(gt=0, le=1_000_000)] | None = None
