"""Measurements against the plan, what a mass would do, a sway over soles, a walk rung by rung. Stores nothing."""

from __future__ import annotations

from flask import Response

from bustle.core.edits.levers import motion_index
from bustle.core.edits.patches import patched, replace
from bustle.core.evaluate import evaluate
from bustle.core.falling.pushing_point import not_pushing
from bustle.core.project.motion import Swings
from bustle.core.project.project import gait_of
from bustle.core.search.pendulum_sway import pendulum_sway
from bustle.core.starting.own_start_and_stop import with_own_ends
from bustle.core.trials.ten_minutes import taken
from bustle.core.trials.what_if import what_if
from bustle.core.words.problems import refuse
from bustle.web.answer import answer
from bustle.web.blueprint import blueprint
from bustle.web.said import shapes
from bustle.web.searching import told
from bustle.web.tried import shapes as tried

api = blueprint("tried")


@api.post("/measured", responses={200: tried.Measured, 422: shapes.ProblemDetail})
def measured(body: tried.MeasuredDraft) -> Response:
    """A measurement against the plan of the draft: what it changes, and which verdicts turn when it is taken over."""
    found = taken(body.project, body.measurement, body.motion, body.values)
    return answer(
        tried.Measured(
            against=[tried.AgainstView(**{k: v for k, v in vars(a).items() if k != "patch"}) for a in found.against],
            turned=[tried.TurnedView(**vars(t)) for t in found.turned],
            project=found.project,
        )
    )


@api.post("/planned-sway", responses={200: tried.PlannedSway, 422: shapes.ProblemDetail})
def planned_sway(body: shapes.Draft) -> Response:
    """The gait with the sway by which it pushes in the middle of its soles, and how far it is still off that."""
    gait = gait_of(body.project, body.motion)
    why = not_pushing(evaluate(body.project, body.motion).reading)
    if len(body.project.walker.legs) != 2:
        why = "it is planned for two legs on flat soles"
    if why:
        raise refuse("motion", f"no sway can be planned here: {why}")
    found = pendulum_sway(body.project, gait)
    index = motion_index(body.project, body.motion)
    edits = [
        replace(f"/motions/{index}/pose/sway", [t.model_dump() for t in found.terms]),
        replace(f"/motions/{index}/pose/shift_mm", list(found.shift_mm)),
    ]
    planned = patched(body.project, edits)
    return answer(tried.PlannedSway(project=planned, residual_mm=found.residual_mm, near_mm=found.near_mm))


@api.post("/what-if", responses={200: tried.WhatIfView, 422: shapes.ProblemDetail})
def added(body: tried.WhatIfDraft) -> Response:
    """What a mass would do that is not there yet: to every motion, to the whole mass and its height."""
    found = what_if(body.project, body.motion, body.mass)
    return answer(
        tried.WhatIfView(
            mass_g=found.mass_g,
            com_height_mm=found.com_height_mm,
            motions=[tried.RoomView(**vars(m)) for m in found.motions],
            parts=[tried.PartView(**vars(p)) for p in found.parts],
            project=found.project,
        )
    )


@api.post("/own-ends", responses={200: tried.OwnEndsView, 422: shapes.ProblemDetail})
def own_ends(body: shapes.Draft) -> Response:
    """The draft with what is missing of a start from standing and a stop into it, for a walk that has to be entered or
    left at speed."""
    made = with_own_ends(body.project, body.motion)
    return answer(tried.OwnEndsView(project=made.project, added=list(made.added), stops=list(made.stops)))


@api.post("/dry-run", responses={200: tried.DryRunView, 422: shapes.ProblemDetail})
def run_dry(body: shapes.Draft) -> Response:
    """A motion with its own start and stop on the floor, by a machine that gives."""
    return told("dry_run", body)


@api.post("/dry-run/alone", responses={200: tried.DryRunAlone, 422: shapes.ProblemDetail})
def run_alone(body: shapes.Draft) -> Response:
    """The same of the machine as its sheets say alone: what is told of every walk while the hand rests."""
    return told("dry_run_alone", body)


@api.post("/ladder", responses={200: tried.Ladder, 422: shapes.ProblemDetail})
def rungs(body: shapes.Draft) -> Response:
    """A walk that lives by its timing, rung by rung."""
    if not isinstance(body.project.motion(body.motion), Swings):
        gait = gait_of(body.project, body.motion)
        if gait.stands or gait.balance == "static":
            raise refuse("motion", f"{gait.name} may be stopped anywhere, and needs no ladder")
    return told("ladder", body)
