"""Searches are done elsewhere: the request waits for its answer in a thread that others do not need."""

from __future__ import annotations

from typing import Annotated

from flask import Response, current_app, request
from pydantic import BaseModel, Field

from bustle.jobs.client import Jobs
from bustle.jobs.job import Job
from bustle.web.answer import answer
from bustle.web.blueprint import blueprint
from bustle.web.said import shapes
from bustle.web.work import DEADLINES, USUAL_DEADLINE_S

api = blueprint("searching")

# A page names itself, its draft and which of its questions this is so.
WINDOW, NUMBER, TURN = "X-Bustle-Window", "X-Bustle-Draft", "X-Bustle-Turn"


def jobs() -> Jobs:
    found: Jobs = current_app.extensions["jobs"]
    return found


def searched(kind: str, asked: BaseModel) -> bytes:
    """What the work of that kind comes to. Raises JobFailed, or what the work raises."""
    job = Job(
        kind,
        asked,
        window=request.headers.get(WINDOW, "")[:64],
        number=_counted(NUMBER),
        deadline_s=DEADLINES.get(kind, USUAL_DEADLINE_S),
        turn=_counted(TURN),
    )
    return jobs().run(job)


def _counted(header: str) -> int:
    """The number in a header; 0 where there is none."""
    said = request.headers.get(header, "")
    return int(said) if said.isascii() and said.isdigit() and len(said) < 16 else 0


def told(kind: str, asked: BaseModel) -> Response:
    return Response(searched(kind, asked), mimetype="application/json")


class WindowPath(BaseModel):
    window: Annotated[str, Field(min_length=1, max_length=64, pattern=r"^[\w-]+$")]


@api.get("/windows/<string:window>/searches", responses={200: shapes.Searches})
def progress(path: WindowPath) -> Response:
    """How far the searches of a window are."""
    found = jobs().progress(path.window)
    return answer(shapes.Searches(searches=found))


@api.post("/windows/<string:window>/ended", responses={204: None})
def end(path: WindowPath, body: shapes.Ending) -> Response:
    """End the searches of a window: of drafts before a number, of a kind, or all, as it closes."""
    jobs().end(path.window, body.number, body.kind, body.closed)
    return Response(status=204)
