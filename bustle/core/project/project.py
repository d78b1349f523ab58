"""A project: a walker, its motions, the parts they use and the builder's own limits. One file, one revision."""

from __future__ import annotations

from typing import Annotated, Any, Final, Literal

from pydantic import BeforeValidator, Field, Strict, model_validator
from pydantic_core import PydanticCustomError

from bustle.core.project.field_types import (
    Flag,
    Grams,
    Hours,
    Length,
    Name,
    Price,
    Real,
    Share,
    Text,
    Value,
    whole_number,
)
from bustle.core.project.motion import Motion, PhaseGait
from bustle.core.project.walker import Walker
from bustle.core.words.problems import refuse

FORMAT: Final = "bustle"
VERSION: Final = 2
MAX_ROWS = 12_000


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


class Floor(Value):
    """What the feet meet: an uneven floor, carpet pile, an obstacle under a share of the step. None: not said.

    course_mm: a way to walk on it, from rest to rest, of which the time is told.
    """

    unevenness_mm: Annotated[Real, Field(ge=0, le=200)] | None = None
    pile_mm: Annotated[Real, Field(ge=0, le=100)] = 0.0
    obstacle_mm: Annotated[Real, Field(gt=0, le=1000)] | None = None
    obstacle_at: Annotated[Real, Field(gt=0, lt=1)] = 0.5
    course_mm: Annotated[Real, Field(ge=10, le=100_000)] = 1000.0


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
    """How a motion was when the machine last walked it."""

    motion: Name
    cycle_s: Annotated[Real, Field(gt=0, le=600)]
    stroke_mm: Length
    lift_mm: Length


class Limits(Value):
    """How much the builder keeps in hand. Below it a finding warns. Those that are None are not judged."""

    margin_mm: Annotated[Real, Field(ge=0, le=500)] = 10.0
    end_stop_deg: Annotated[Real, Field(ge=0, le=45)] = 2.0
    speed_share: Share = 0.85
    straight_knee_mm: Annotated[Real, Field(ge=0, le=100)] = 4.0
    row_step_deg: Annotated[Real, Field(gt=0, le=90)] = 12.0
    slip_mm: Annotated[Real, Field(gt=0, le=500)] = 5.0
    clearance_mm: Annotated[Real, Field(ge=0, le=200)] = 3.0
    foot_play_mm: Annotated[Real, Field(gt=0, le=100)] = 6.0
    lead_slack_mm: Annotated[Real, Field(ge=0, le=500)] = 10.0
    jolt_share: Annotated[Real, Field(gt=0, le=20)] = 0.5
    lean_deg: Annotated[Real, Field(gt=0, le=45)] = 3.0
    at_once: Annotated[int, Strict(), Field(ge=1, le=84)] = 6
    change_factor: Annotated[Real, Field(gt=1, le=100)] = 1.6
    step_height_mm: Annotated[Real, Field(gt=0, le=1000)] | None = None
    turning_radius_mm: Annotated[Real, Field(ge=0, le=20_000)] | None = None


class Budget(Value):
    """What the walker may weigh, cost and take to print. None: no budget."""

    mass_g: Grams | None = None
    price: Price | None = None
    print_h: Hours | None = None


class Project(Value):
    """A walker, its motions and the parts they use: one file, one revision."""

    format: Literal["bustle"] = FORMAT
    version: Annotated[Literal[2], BeforeValidator(whole_number)] = VERSION
    name: Name
    note: Text = ""
    walker: Walker
    motions: Annotated[tuple[Motion, ...], Field(max_length=64)] = ()
    servo_types: Annotated[tuple[ServoType, ...], Field(max_length=40)] = ()
    controller: Controller = Controller()
    floor: Floor = Floor()
    start_up: StartUp = StartUp()
    walked: Annotated[tuple[Walked, ...], Field(max_length=64)] = ()
    controls: Annotated[tuple[Control, ...], Field(max_length=200)] = ()
    limits: Limits = Limits()
    budget: Budget = Budget()

    @model_validator(mode="before")
    @classmethod
    def _brought_up(cls, values: Any) -> Any:
        """Version 1 had fewer fields and no others, so that it reads as this version."""
        if isinstance(values, dict) and type(values.get("version")) is int and values["version"] == 1:
            return {**values, "version": VERSION}
        return values

    @model_validator(mode="after")
    def _consistent(self) -> Project:
        from bustle.core.document.walker_fits_together import inconsistencies

        problems = list(inconsistencies(self))
        if problems:
            raise PydanticCustomError("inconsistent", "the parts do not fit", {"problems": problems})
        return self

    def motion(self, name: str) -> Motion:
        """The motion of that name; KeyError names those there are."""
        for motion in self.motions:
            if motion.name == name:
                return motion
        known = ", ".join(m.name for m in self.motions) or "none"
        raise KeyError(f"no motion is called {name!r}; this project has: {known}")


def gait_of(project: Project, name: str) -> PhaseGait:
    """The gait of that name. Raises InputRefused where the motion is of another kind."""
    motion = project.motion(name)
    if not isinstance(motion, PhaseGait):
        raise refuse("motion", f"{name} is no gait; it has no strides, phases or duties of its own to turn")
    return motion


def fresh_name(project: Project, name: str) -> str:
    taken = {m.name.casefold() for m in project.motions}
    tries = [name, *(f"{name} {n}" for n in range(2, 100))]
    return next(t[:60] for t in tries if t[:60].casefold() not in taken)


def document(project: Project) -> dict[str, Any]:
    """The project as plain JSON values, in the order of the file."""
    return project.model_dump(mode="json")
