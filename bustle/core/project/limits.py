"""What the machine has to cope with: the floor, how much the builder keeps in hand, what it may weigh and cost."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field, Strict

from bustle.core.project.field_types import Flag, Grams, Hours, Line, Price, Real, Share, Value

# Of what a foot carries; where nobody has said, rubber on a smooth floor at the lower end of its range.
FRICTION_ASSUMED = 0.6


class Floor(Value):
    """What the feet meet: an uneven floor, carpet pile, an obstacle under a share of the step. None: not said.

    slope_deg: how steep it is; uphill_deg: where it rises to, against the way the machine faces as a motion begins, 0
    ahead and 90 to its left.
    friction: what a foot may push along the floor, as a share of what it carries; None: 0.6 is assumed.
    friction_across: sideways of the machine where that differs, as of ribbed soles; None: the same.
    friction_note: what it is of: the sole, tape, glue, and how it was had. gives_mm_per_n: how far the floor itself
    gives under a foot. bounces: whether a weight let down on it springs back. course_mm: a way to walk on it, from rest
    to rest, of which the time is told.
    """

    unevenness_mm: Annotated[Real, Field(ge=0, le=200)] | None = None
    pile_mm: Annotated[Real, Field(ge=0, le=100)] = 0.0
    slope_deg: Annotated[Real, Field(ge=0, le=45)] = 0.0
    uphill_deg: Annotated[Real, Field(ge=-180, le=180)] = 0.0
    friction: Annotated[Real, Field(gt=0, le=3)] | None = None
    friction_across: Annotated[Real, Field(gt=0, le=3)] | None = None
    friction_note: Line = ""
    gives_mm_per_n: Annotated[Real, Field(ge=0, le=50)] = 0.0
    bounces: Flag = False
    obstacle_mm: Annotated[Real, Field(gt=0, le=1000)] | None = None
    obstacle_at: Annotated[Real, Field(gt=0, lt=1)] = 0.5
    course_mm: Annotated[Real, Field(ge=10, le=100_000)] = 1000.0

    @property
    def holds(self) -> float:
        """How much of what it carries a foot may push along, ahead and back."""
        return self.friction or FRICTION_ASSUMED


class Limits(Value):
    """How much the builder keeps in hand. Below it a finding warns. Those that are None are not judged.

    knee_bend_deg: how far knees are bent at least in walks that are made; a machine with a stop in its knee may have
    it at 0.
    """

    margin_mm: Annotated[Real, Field(ge=0, le=500)] = 10.0
    end_stop_deg: Annotated[Real, Field(ge=0, le=45)] = 2.0
    speed_share: Share = 0.85
    held_share: Share = 0.34
    straight_knee_mm: Annotated[Real, Field(ge=0, le=100)] = 4.0
    knee_bend_deg: Annotated[Real, Field(ge=0, le=90)] = 25.0
    row_step_deg: Annotated[Real, Field(gt=0, le=90)] = 12.0
    slip_mm: Annotated[Real, Field(gt=0, le=500)] = 5.0
    clearance_mm: Annotated[Real, Field(ge=0, le=200)] = 3.0
    foot_play_mm: Annotated[Real, Field(gt=0, le=100)] = 6.0
    lead_slack_mm: Annotated[Real, Field(ge=0, le=500)] = 10.0
    jolt_share: Annotated[Real, Field(gt=0, le=20)] = 0.5
    lean_deg: Annotated[Real, Field(gt=0, le=45)] = 3.0
    drift_mm_m: Annotated[Real, Field(gt=0, le=1000)] = 50.0
    at_once: Annotated[int, Strict(), Field(ge=1, le=84)] = 6
    change_factor: Annotated[Real, Field(gt=1, le=100)] = 1.6
    step_height_mm: Annotated[Real, Field(gt=0, le=1000)] | None = None
    turning_radius_mm: Annotated[Real, Field(ge=0, le=20_000)] | None = None


class Budget(Value):
    """What the walker may weigh, cost and take to print. None: no budget."""

    mass_g: Grams | None = None
    price: Price | None = None
    print_h: Hours | None = None
