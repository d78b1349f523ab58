"""How the machine is handled: switched on, steered, and as what it last walked."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, Strict

from bustle.core.project.field_types import Flag, Grams, Length, Name, Real, Value


class StartUp(Value):
    """The first move from power-on, from an unknown pose into one that is known: so many servos at a time, at a speed.

    pose: the motion whose first pose it is; None: the first standing pose. fail_safe: the motion to go into when the
    radio is lost; None: the same.
    """

    pose: Name | None = None
    fail_safe: Name | None = None
    at_once: Annotated[int, Strict(), Field(ge=1, le=84)] = 3
    speed_deg_s: Annotated[Real, Field(gt=0, le=2000)] = 60.0


class Control(Value):
    """What an input does in a mode of the hand-held: plays a motion, takes a pose, or moves a joint along an axis."""

    mode: Name
    input: Name
    shift: Flag = False
    does: Literal["motion", "axis"] = "motion"
    target: Name


class Walked(Value):
    """How a motion was when the machine last walked it; room_mm: the margin it had, or how far inside its soles it
    pushed. None of what was not kept."""

    motion: Name
    cycle_s: Annotated[Real, Field(gt=0, le=600)]
    stroke_mm: Length
    lift_mm: Length
    mass_g: Grams | None = None
    com_height_mm: Annotated[Real, Field(ge=0, le=5000)] | None = None
    room_mm: Annotated[Real, Field(ge=-5000, le=5000)] | None = None
