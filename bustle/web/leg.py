"""One leg on the clamp, and machines side by side. Stores nothing."""

from __future__ import annotations

from typing import Any

import numpy as np
from flask import Response
from numpy.typing import NDArray

from bustle.core.at_rest.foot_drift import drift_left_mm, explanations
from bustle.core.clamp.leg_on_the_clamp import clamp, find
from bustle.core.clamp.straight_line_test import LINES, line_test
from bustle.core.geometry.arrays import Array
from bustle.core.kinds.legs.working import Step, shown
from bustle.core.machine.sections import turned
from bustle.core.project.walker import MeasuredLimb
from bustle.core.starting.starting_walkers import SHAPES, start
from bustle.core.words.problems import refuse
from bustle.web.answer import answer
from bustle.web.blueprint import blueprint
from bustle.web.said import leg_shapes, shapes
from bustle.web.searching import told
from bustle.web.store_of import store

api = blueprint("leg")


def _plain(values: NDArray[Any], digits: int = 4) -> Any:
    return (np.round(values, digits) + 0.0).tolist()


def _turn(sole: leg_shapes.SoleTurn) -> Array:
    return turned(sole.toe_deg, sole.pitch_deg, sole.roll_deg)


@api.post("/clamp", responses={200: leg_shapes.LegView, 422: shapes.ProblemDetail})
def clamped(body: leg_shapes.LegDraft) -> Response:
    """The joints of a leg for a place of its foot, its reach through that place, and the working."""
    state = clamp(body.project, body.limb, np.array(body.foot_mm), body.views, _turn(body.sole))
    return answer(
        leg_shapes.LegView(
            limb=state.limb.name,
            label=state.label,
            target=_plain(state.target),
            foot=_plain(state.foot),
            points=_plain(state.points),
            sole=_plain(state.sole),
            missing=_plain(state.missing),
            short_mm=state.short_mm,
            tilt_deg=state.tilt_deg,
            straight_mm=state.straight_mm,
            knee_deg_per_mm=state.knee_deg_per_mm,
            give_mm_per_n=state.give_mm_per_n,
            joints=state.joints,
            slices=[
                leg_shapes.SliceView(plane=s.plane, rings=[_plain(r, 2) for r in s.rings], edge_mm=s.edge_mm)
                for s in state.slices
            ],
            steps=[_step(s) for s in state.steps],
            triangles=state.triangles,
        )
    )


def _step(step: Step) -> leg_shapes.StepView:
    return leg_shapes.StepView(
        symbol=step.symbol,
        formula=step.formula,
        numbers=step.numbers,
        value=shown(step.value, step.unit),
        unit=step.unit,
        about=step.about,
    )


@api.post("/straight", responses={200: leg_shapes.LineView, 422: shapes.ProblemDetail})
def straight(body: leg_shapes.LineDraft) -> Response:
    """Whether a foot sent along a line goes straight, and what stops it."""
    group, row = find(body.project, body.limb)
    limb = body.project.walker.limbs[int(group.members[row])]
    known = {"link_length_mm": [k.name for k in limb.links]}
    known["joint_zero_deg"] = known["joint_play_deg"] = [j.name for j in limb.joints]
    for field, names in known.items():
        for name in getattr(body, field):
            if name not in names:
                raise refuse(f"{field}.{name[:40]}", f"leg {limb.name} has {', '.join(names)}")
    error = MeasuredLimb(
        limb=body.limb,
        link_length_mm=body.link_length_mm,
        joint_zero_deg=body.joint_zero_deg,
        joint_play_deg=body.joint_play_deg,
    )
    middle = np.array(body.foot_mm)
    found = line_test(body.project, body.limb, middle, body.line, body.length_mm, error, _turn(body.sole))
    values = {**vars(found), "along_mm": _plain(found.along_mm), "off_mm": _plain(found.off_mm)}
    del values["line"]
    return answer(leg_shapes.LineView(**{**values, "path": _plain(found.path)}, label=LINES[body.line][0]))


@api.post("/drift", responses={200: leg_shapes.Explanations, 422: shapes.ProblemDetail})
def drift(body: leg_shapes.DriftDraft) -> Response:
    """What explains the drift that was read of a leg's foot, the best first."""
    group, row = find(body.project, body.limb)
    walker = body.project.walker
    limb = walker.limbs[int(group.members[row])]
    truth = next((m for m in walker.as_built.limbs if m.limb == limb.name), None)
    if truth is None or len(truth.drift) < 2:
        raise refuse("drift", f"leg {limb.name} needs readings at two heights at least")
    left = drift_left_mm(walker, limb, truth.drift, truth)
    spread = float(np.linalg.norm(left[:, None] - left[None], axis=-1).max())
    found = explanations(walker, limb, truth.drift, truth)
    return answer(leg_shapes.Explanations(spread_mm=spread, explanations=found))


@api.post("/rivals", responses={200: leg_shapes.Rivals, 422: shapes.ProblemDetail})
def rivals(body: leg_shapes.RivalsDraft) -> Response:
    """This walker and up to three others by the same figures."""
    machines = [leg_shapes.Machine(name=body.project.name, project=body.project)]
    for n, choice in enumerate(body.rivals):
        if choice.walker_id is not None:
            saved = store().get(choice.walker_id).project
            machines.append(leg_shapes.Machine(name=saved.name, project=saved))
        elif choice.shape and choice.leg_length_mm is not None:
            project = start(choice.shape, "Rival", choice.leg_length_mm)
            name = f"{SHAPES[choice.shape].label}, {choice.leg_length_mm:g} mm"
            machines.append(leg_shapes.Machine(name=name, project=project))
        else:
            raise refuse(f"rivals[{n}]", "names a walker, or a starting shape with its leg length")
    return told("side_by_side", leg_shapes.Machines(machines=machines))
