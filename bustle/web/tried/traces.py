"""Traces of trials: what a machine's own sensors told, brought in and laid over its plan."""

from __future__ import annotations

from flask import Response, request

from bustle.core.document.checked import CheckedProject
from bustle.core.evaluate import evaluate
from bustle.core.trials.traces import Earlier, Heard, earlier_of, heard, trace_tells
from bustle.core.trials.traces.stand_in import stand_in
from bustle.core.words.problems import InputRefused
from bustle.formats.c_table import identifier
from bustle.formats.trace_csv import read_trace, write_trace
from bustle.store import Missing
from bustle.store.log import Kept, Log
from bustle.web.answer import answer
from bustle.web.blueprint import blueprint
from bustle.web.files import download
from bustle.web.said.described import file_of, taken
from bustle.web.said.shapes import ProblemDetail
from bustle.web.store_of import store
from bustle.web.tried import trace_shapes as shapes
from bustle.web.tried.shapes import TrialPath, seen_views

api = blueprint("traces", "/api/walkers/<int:walker_id>/trials/<int:number>")

MORE = {"more": True, "less": False}


def _trial(log: Log, walker_id: int, number: int) -> tuple[Kept, list[Kept]]:
    """A trial, and those before it that count and have a trace, the newest first."""
    every = log.trials(walker_id)
    own = next((kept for kept in every if kept.logged.number == number), None)
    if own is None:
        raise Missing(f"Walker {walker_id} has no trial {number} in its log.")
    return own, [k for k in every if k.logged.number < number and k.traced and not k.withdrawn]


def _heard(
    project: CheckedProject, kept: Kept, content: bytes, query: shapes.TraceQuery
) -> tuple[Heard, shapes.TraceView]:
    limbs = [limb.name for limb in project.walker.limbs if limb.feet]
    trace, passed_over = read_trace(content, limbs)
    reading = evaluate(project, kept.logged.trial.motion).reading
    found = heard(trace, reading, query.full_scale, MORE.get(query.loaded))
    view = shapes.TraceView(
        number=kept.logged.number,
        motion=kept.logged.trial.motion,
        revision=kept.logged.revision,
        lasts_s=float(trace.time_s[-1] - trace.time_s[0]),
        lines=len(trace.time_s),
        period_s=found.laid.period_s,
        told_s=found.told_s,
        placed=found.laid.placed,
        more=found.laid.more,
        leans=[
            shapes.LeanView(
                way=lean.way, told=lean.told.tolist(), seen=lean.seen.tolist(), spread=lean.spread.tolist(),
                told_deg=lean.told_deg, seen_deg=lean.seen_deg, again=lean.again,
            )
            for lean in found.leans
        ],
        feet=[
            shapes.FootView(
                limb=foot.limb, seen=foot.seen.tolist(), down=foot.down.tolist(), threshold=foot.threshold,
                off_by=foot.off_by, misread=foot.misread, lands_ms=foot.lands_ms,
            )
            for foot in found.feet
        ],
        seen=[],
        passed_over=list(passed_over),
    )  # fmt: skip
    return found, view


def _earlier(log: Log, walker_id: int, before: list[Kept], query: shapes.TraceQuery) -> Earlier | None:
    """What the trace before told of thresholds; None where none can be read any more."""
    for kept in before:
        try:
            project = store().get(walker_id, kept.logged.revision).project
            found, _ = _heard(project, kept, log.trace(walker_id, kept.logged.number), query)
        except InputRefused:
            continue
        return earlier_of(found, kept.logged.number)
    return None


def _told(log: Log, path: TrialPath, query: shapes.TraceQuery, content: bytes) -> shapes.TraceView:
    own, before = _trial(log, path.walker_id, path.number)
    project = store().get(path.walker_id, own.logged.revision).project
    found, view = _heard(project, own, content, query)
    seen = trace_tells(found, view.motion, path.number, _earlier(log, path.walker_id, before, query))
    view.seen = seen_views(seen)
    return view


@api.put(
    "/trace",
    responses={200: shapes.TraceView, 422: ProblemDetail},
    openapi_extensions=taken("text/csv"),
)
def bring_in(path: TrialPath, query: shapes.TraceQuery) -> Response:
    """A trace as CSV goes with a trial, once it can be laid over its plan; the one it had counts no more."""
    log, content = Log(store()), request.get_data()
    view = _told(log, path, query, content)
    log.keep_trace(path.walker_id, path.number, content)
    return answer(view)


@api.get("/trace", responses={200: shapes.TraceView, 422: ProblemDetail})
def trace(path: TrialPath, query: shapes.TraceQuery) -> Response:
    """A trial's trace beside what its revision planned."""
    log = Log(store())
    return answer(_told(log, path, query, log.trace(path.walker_id, path.number)))


@api.get("/trace.csv", responses={200: file_of("The trace as it was brought in", "text/csv")})
def trace_file(path: TrialPath) -> Response:
    """The file again."""
    content = Log(store()).trace(path.walker_id, path.number)
    name = identifier(store().get(path.walker_id).project.name)
    return download(content, f"{name}_trial_{path.number}_trace.csv", "text/csv")


@api.get(
    "/stand-in-trace.csv",
    responses={200: file_of("A trace as sensors might tell it", "text/csv"), 422: ProblemDetail},
)
def stand_in_file(path: TrialPath) -> Response:
    """What sensors might tell of a trial, for whoever has none on the machine yet."""
    own, _ = _trial(Log(store()), path.walker_id, path.number)
    project = store().get(path.walker_id, own.logged.revision).project
    made = stand_in(evaluate(project, own.logged.trial.motion).reading, path.number)
    return download(write_trace(made), f"{identifier(project.name)}_stand_in_trace.csv", "text/csv")
