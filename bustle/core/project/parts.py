"""The parts a project uses, as copies of their sheets."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from bustle.core.project.field_types import Grams, Name, Price, Real, Value


class ServoType(Value):
    """A servo's sheet, copied into the project. Speed is without load at the rated voltage."""

    name: Name
    mass_g: Grams
    stall_torque_nm: Annotated[Real, Field(gt=0, le=1000)]
    no_load_speed_deg_s: Annotated[Real, Field(gt=0, le=10_000)]
    rated_v: Annotated[Real, Field(gt=0, le=100)]
    travel_deg: Annotated[Real, Field(gt=0, le=3600)]
    frame_period_ms: Annotated[Real, Field(ge=1, le=100)] = 20.0
    play_deg: Annotated[Real, Field(ge=0, le=20)] = 0.0
    price: Price = 0.0
    stall_current_a: Annotated[Real, Field(gt=0, le=200)] | None = None


class Controller(Value):
    """What plays the table: one row per frame period."""

    frame_period_ms: Annotated[Real, Field(ge=2, le=100)] = 20.0
