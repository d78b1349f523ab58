"""Problem responses (RFC 9457): what went wrong in a sentence, and which fields, never a stack trace."""

from __future__ import annotations

import logging
from collections.abc import Iterable
from http import HTTPStatus

import orjson
from flask import Flask, Response
from psycopg.errors import DiskFull
from pydantic import ValidationError
from sqlalchemy.exc import OperationalError
from werkzeug.exceptions import HTTPException, MethodNotAllowed

from bustle.core.judge.playing import CannotBePlayed
from bustle.core.words.problems import MOST_PROBLEMS, InputRefused, Problem, problems_of
from bustle.jobs.job import JobFailed, Stopped
from bustle.store import Missing, Unreadable

log = logging.getLogger(__name__)

_DETAILS = {
    404: "There is nothing at this address.",
    405: "This address does not take that method.",
    413: "That is larger than any project file; the limit is 2 MB.",
    415: "Send this as application/json.",
    500: "Something went wrong inside Bustle. Nothing was changed; the server's log says more.",
}


def problem(status: int, detail: str, problems: Iterable[Problem] = (), **extra: object) -> Response:
    """A problem response. `problems` lists the fields at fault."""
    body = {
        "type": "about:blank",
        "title": HTTPStatus(status).phrase,
        "status": status,
        "detail": detail,
        "problems": [{"path": p.path, "sentence": p.sentence} for p in problems],
        **extra,
    }
    return Response(orjson.dumps(body), status, mimetype="application/problem+json")


def refused(error: InputRefused) -> Response:
    return _listed(list(error.problems))


def invalid(error: ValidationError) -> Response:
    """A request body, query or path that does not fit its model."""
    return _listed([Problem(p.path.removeprefix("project."), p.sentence) for p in problems_of(error)])


def _listed(problems: list[Problem]) -> Response:
    first = str(problems[0])
    first += "" if first.endswith((".", "?")) else "."
    others = len(problems) - 1
    more = f" And {'at least ' if len(problems) >= MOST_PROBLEMS else ''}{others} more." if others else ""
    return problem(422, first + more, problems[:MOST_PROBLEMS])


def register(app: Flask) -> None:
    """Turn every error into a problem response."""

    @app.errorhandler(InputRefused)
    def _refused(error: InputRefused) -> Response:
        return refused(error)

    @app.errorhandler(Missing)
    def _missing(error: Missing) -> Response:
        return problem(404, str(error))

    @app.errorhandler(CannotBePlayed)
    def _unplayable(error: CannotBePlayed) -> Response:
        return problem(409, str(error))

    @app.errorhandler(Unreadable)
    def _unreadable(error: Unreadable) -> Response:
        return problem(422, str(error))

    @app.errorhandler(JobFailed)
    def _search(error: JobFailed) -> Response:
        if isinstance(error, Stopped):
            return problem(409, str(error))
        response = problem(503, str(error))
        response.headers["Retry-After"] = "1"
        return response

    @app.errorhandler(OperationalError)
    def _database(error: OperationalError) -> Response:
        log.error("database: %s", error.orig)
        if isinstance(error.orig, DiskFull):
            return problem(503, "The disk that the database is on is full. Nothing was changed; make room, try again.")
        return problem(503, "The database does not answer. Nothing was changed; try again in a moment.")

    @app.errorhandler(HTTPException)
    def _http(error: HTTPException) -> Response:
        if error.response is not None:
            return error.response  # type: ignore[return-value]
        status = error.code or 500
        response = problem(status, _DETAILS.get(status) or error.description or HTTPStatus(status).phrase)
        if isinstance(error, MethodNotAllowed):
            response.headers["Allow"] = ", ".join(sorted(error.valid_methods or ()))
        return response

    @app.errorhandler(Exception)
    def _unforeseen(error: Exception) -> Response:
        log.exception("unforeseen", exc_info=error)
        return problem(500, _DETAILS[500])
