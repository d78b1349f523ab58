"""What the server refuses before looking further, and the headers on everything it answers."""

from __future__ import annotations

from typing import Any, NoReturn
from urllib.parse import urlsplit

from flask import Flask, Request, Response, abort, request
from flask.json.provider import DefaultJSONProvider

from bustle.core.document.file import MAX_BYTES, read_json
from bustle.core.words.problems import refuse
from bustle.web.problem import problem

LOOPBACK = frozenset({"127.0.0.1", "localhost", "::1"})
# Larger bodies are read and thrown away, so that the sender gets the answer and not a broken connection.
DISCARD_BYTES = 200_000_000
BODY_BYTES = 3 * MAX_BYTES  # an evaluation or a merge carries up to three documents

_WITHOUT_JSON = (
    None,
    "files.read_file",
    "machine.urdf_in",
    "servos.read_types",
    "walkers.duplicate",
    "walkers.archive",
    "log.from_csv",
    "log.withdraw",
    "traces.bring_in",
)

POLICY = "; ".join(
    (
        "default-src 'none'",
        "script-src 'self'",
        "style-src 'self'",
        "font-src 'self'",
        "img-src 'self' data:",
        "connect-src 'self'",
        "base-uri 'none'",
        "form-action 'none'",
        "frame-ancestors 'none'",
    )
)


class StrictRequest(Request):
    """Reads JSON as project files are read: no field twice, and a sentence when it cannot be read."""

    def on_json_loading_failed(self, e: ValueError | None) -> NoReturn:
        if e is None:
            abort(415)
        raise e


class StrictJSON(DefaultJSONProvider):
    def loads(self, s: str | bytes, **kwargs: Any) -> Any:
        return read_json(s)


def _discard() -> None:
    left = DISCARD_BYTES
    while left > 0:
        chunk = request.environ["wsgi.input"].read(min(left, 1 << 20))
        if not chunk:
            return
        left -= len(chunk)


def _host_of(text: str) -> str | None:
    try:
        return urlsplit(f"//{text}").hostname
    except ValueError:
        return None


def _check() -> Response | None:
    host = request.headers.get("Host", "")
    if _host_of(host) not in LOOPBACK:
        return problem(421, "Bustle answers on 127.0.0.1 and localhost only.")
    origin = request.headers.get("Origin")
    if origin is not None and origin != f"http://{host}":
        return problem(403, "This page comes from somewhere else; Bustle answers its own pages only.")
    if request.headers.get("Sec-Fetch-Site") == "cross-site" and request.path.startswith("/api"):
        return problem(403, "This request comes from somewhere else; Bustle answers its own pages only.")
    if (request.content_length or 0) > BODY_BYTES:
        _discard()
        return problem(
            413, f"That is {(request.content_length or 0) / 1e6:.0f} MB; the limit is {MAX_BYTES / 1e6:g} MB."
        )
    try:
        request.get_data()
    except OSError:
        # The server below us could not make out where the body's pieces begin and end.
        return problem(400, "The request's body does not come as HTTP says it would.")
    carries = request.method in ("POST", "PUT", "PATCH") and request.endpoint not in _WITHOUT_JSON
    # Reading it here also fills the request's cache, so that validation later sees what was read.
    if carries and not isinstance(request.get_json(), dict):
        raise refuse("", "The request must be a group of fields in braces.")
    return None


def register(app: Flask) -> None:
    app.request_class = StrictRequest
    app.json = StrictJSON(app)
    app.config["MAX_CONTENT_LENGTH"] = BODY_BYTES
    app.before_request(_check)

    @app.after_request
    def _headers(response: Response) -> Response:
        response.headers["Content-Security-Policy"] = POLICY
        response.headers["X-Content-Type-Options"] = "nosniff"
        response.headers["Referrer-Policy"] = "no-referrer"
        response.headers["Cross-Origin-Opener-Policy"] = "same-origin"
        response.headers["Cross-Origin-Resource-Policy"] = "same-origin"
        if request.path.startswith("/api"):
            response.headers["Cache-Control"] = "no-store"
        return response
