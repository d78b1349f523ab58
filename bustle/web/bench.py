"""What the bench asks while a builder works: evaluate a draft, find remedies, sweep a slider. Stores nothing."""

from __future__ import annotations

from collections.abc import Iterator

from flask import Response, current_app, stream_with_context

from bustle.core.edits.at_rest import AT_REST, folded, standing
from bustle.core.edits.levers import LEVERS
from bustle.core.evaluate import evaluate
from bustle.core.judge.registry import FIGURES
from bustle.core.kinds.gaits import GAITS, spots_of
from bustle.core.project.project import gait_of
from bustle.core.words.problems import refuse
from bustle.web.answer import answer
from bustle.web.blueprint import blueprint
from bustle.web.drawn.picture import drawn_first, picture
from bustle.web.drawn.recent_plans import plan_of
from bustle.web.said import shapes
from bustle.web.said.described import described
from bustle.web.said.picture_head import DrawnHead, PictureHead
from bustle.web.searching import told
from bustle.web.store_of import store

api = blueprint("bench")

MEDIA_TYPE = "application/octet-stream"
described(api, DrawnHead, MEDIA_TYPE)
PICTURE = described(api, PictureHead, MEDIA_TYPE)


@api.post("/evaluate", responses={200: PICTURE, 422: shapes.ProblemDetail})
def evaluate_draft(body: shapes.Glimpse) -> Response:
    """A plan as one buffer: a JSON head and 32-bit floats. With a station named, only what it needs in a drag. Drawn
    first: as two buffers one after the other, each with its length before it."""
    rest = None
    if body.rest:
        still = folded(body.project) if body.rest == "folded" else standing(body.project, body.motion)
        rest = evaluate(still, AT_REST, 2)
    plan = plan_of(body.project, body.motion)
    if body.drawn_first:
        parts = _each_with_its_length(drawn_first(plan, body.station, rest))
        return Response(stream_with_context(parts), mimetype=MEDIA_TYPE)
    return Response(picture(plan, body.station, rest), mimetype=MEDIA_TYPE)


def _each_with_its_length(parts: Iterator[bytes]) -> Iterator[bytes]:
    """The first is on its way before the next is begun; what goes wrong then is told as a problem in its stead."""
    try:
        for part in parts:
            yield len(part).to_bytes(4, "little") + part
    except Exception as error:
        told = current_app.make_response(current_app.handle_user_exception(error)).get_data()
        yield len(told).to_bytes(4, "little") + told


@api.post("/working", responses={200: shapes.Working, 422: shapes.ProblemDetail})
def working(body: shapes.FigureDraft) -> Response:
    """How a figure of the draft came about, line by line; none where it does not apply."""
    if body.figure not in FIGURES:
        raise refuse("figure", f"no figure is called {body.figure!r}")
    found = plan_of(body.project, body.motion).figures_among((body.figure,))
    return answer(shapes.Working(lines=[line for figure in found for line in figure.working]))


@api.get("/walkers/<int:walker_id>/plan", responses={200: PICTURE, 422: shapes.ProblemDetail})
def evaluate_saved(path: shapes.WalkerPath, query: shapes.MotionQuery) -> Response:
    """The plan of the newest revision, by default of its first motion."""
    project = store().get(path.walker_id).project
    if not project.motions:
        raise refuse("motion", "this walker has no motion yet")
    return Response(picture(evaluate(project, query.motion or project.motions[0].name)), mimetype=MEDIA_TYPE)


@api.post("/remedies", responses={200: shapes.Remedies, 422: shapes.ProblemDetail})
def mend(body: shapes.RemedyDraft) -> Response:
    """What clears one finding of the draft. An empty list: no single change in reach does."""
    return told("remedies", body)


@api.post("/sound-band", responses={200: shapes.Band, 422: shapes.ProblemDetail})
def band(body: shapes.BandDraft) -> Response:
    """The values of one lever, between low and high, at which no stop finding fires."""
    lever = LEVERS.get(body.lever)
    if lever is None:
        raise refuse("lever", f"must be one of {', '.join(LEVERS)}, got {body.lever[:40]!r}")
    if not body.low < body.high:
        raise refuse("high", f"must be above low, {body.low:g}, got {body.high:g}")
    gait_of(body.project, body.motion)
    return told("sound_band", body)


@api.post("/phases", responses={200: shapes.Phases, 422: shapes.ProblemDetail})
def phases(body: shapes.PhasesDraft) -> Response:
    """The phases a named gait gives the legs that take part, in the walker's order."""
    gait = GAITS.get(body.gait)
    limbs = [leg for leg in body.project.walker.legs if body.legs is None or leg.name in body.legs]
    if gait is None or gait.legs != len(limbs):
        raise refuse("gait", f"no gait for {len(limbs)} legs is called {body.gait[:40]!r}")
    spots = spots_of([limb.mount.at_mm[:2] for limb in limbs])
    if not gait.fits(spots):
        raise refuse("gait", f"{gait.label} does not fit the places of these legs; it wants them in other rows")
    return answer(shapes.Phases(gait=gait.name, duty=gait.duty, balance=gait.balance, phases=gait.phases(spots)))
