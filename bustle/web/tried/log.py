"""The log of trials: what a machine itself did on the floor, against what its revision told."""

from __future__ import annotations

from flask import Response, request

from bustle.core.evaluate import evaluate
from bustle.core.trials.on_the_floor import planned
from bustle.core.trials.seen import seen
from bustle.formats.c_table import identifier
from bustle.formats.trials_csv import read_trials, trials_csv
from bustle.store.log import Kept, Log
from bustle.web.answer import answer
from bustle.web.blueprint import blueprint
from bustle.web.files import download
from bustle.web.said import shapes
from bustle.web.said.described import file_of, taken
from bustle.web.said.shapes import ProblemDetail
from bustle.web.store_of import store
from bustle.web.tried import shapes as tried

api = blueprint("log", "/api/walkers")


def _log() -> Log:
    return Log(store())


def _line(kept: Kept) -> tried.TrialLine:
    told = kept.logged
    return tried.TrialLine(
        number=told.number,
        revision=told.revision,
        at=kept.created_at,
        trial=told.trial,
        planned=told.planned,
        covered=told.covered,
        drift_mm_m=told.drift_mm_m,
        changed=list(told.changed),
        changes=told.changes,
        withdrawn=kept.withdrawn,
        traced=kept.traced,
    )


@api.get("/<int:walker_id>/trials", responses={200: tried.LogView})
def trials(path: shapes.WalkerPath, query: tried.LogQuery) -> Response:
    """The log of a walker, and what it tells of a revision, by default the newest."""
    return answer(_view(path.walker_id, query.revision))


def _view(walker_id: int, revision: int | None) -> tried.LogView:
    found = _log().trials(walker_id)
    counts = [kept.logged for kept in found if not kept.withdrawn]
    saved = store().get(walker_id, revision)
    told = seen(counts, saved.project)
    floors: dict[str, str] = {}
    for each in counts:
        floors.setdefault(each.trial.floor.casefold(), each.trial.floor)
    return tried.LogView(
        revision=saved.number,
        trials=[_line(kept) for kept in found],
        seen=tried.seen_views(told),
        floors=list(floors.values()),
    )


@api.post("/<int:walker_id>/trials", responses={201: tried.TrialLine, 422: shapes.ProblemDetail})
def log_trial(path: shapes.WalkerPath, body: tried.LogTrial) -> Response:
    """A trial of a saved revision goes into the log, with what that revision tells of it."""
    return answer(_line(_log().write(path.walker_id, body.revision, body.trial)), 201)


@api.post("/<int:walker_id>/planned-trial", responses={200: tried.PlannedView, 422: shapes.ProblemDetail})
def told(path: shapes.WalkerPath, body: tried.TrialTold) -> Response:
    """What a motion of a revision is told to do in so many seconds."""
    project = store().get(path.walker_id, body.revision).project
    return answer(tried.PlannedView(planned=planned(evaluate(project, body.motion).reading, body.time_s)))


@api.put("/<int:walker_id>/trials/<int:number>/withdrawn", responses={204: None})
def withdraw(path: tried.TrialPath) -> Response:
    """A trial counts no more."""
    _log().withdraw(path.walker_id, path.number, True)
    return Response(status=204)


@api.delete("/<int:walker_id>/trials/<int:number>/withdrawn", responses={204: None})
def count_again(path: tried.TrialPath) -> Response:
    """A trial counts again."""
    _log().withdraw(path.walker_id, path.number, False)
    return Response(status=204)


@api.post(
    "/<int:walker_id>/trials.csv",
    responses={201: tried.LogView, 422: ProblemDetail},
    openapi_extensions=taken("text/csv"),
)
def from_csv(path: shapes.WalkerPath, query: tried.LogQuery) -> Response:
    """The trials of such a file go into the log as trials of a revision, by default the newest: all or none."""
    saved = store().get(path.walker_id, query.revision)
    _log().write_all(path.walker_id, saved.number, read_trials(request.get_data()))
    return answer(_view(path.walker_id, query.revision), 201)


@api.get("/<int:walker_id>/trials.csv", responses={200: file_of("The log, the oldest first", "text/csv")})
def as_csv(path: shapes.WalkerPath) -> Response:
    """The trials that count as a file."""
    found = [(kept.logged, kept.created_at) for kept in reversed(_log().trials(path.walker_id)) if not kept.withdrawn]
    name = f"{identifier(store().get(path.walker_id).project.name)}_trials.csv"
    return download(trials_csv(found), name, "text/csv")
