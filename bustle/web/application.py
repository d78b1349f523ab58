"""The application factory."""

from __future__ import annotations

import os
from pathlib import Path

from flask import Response, send_from_directory
from flask_openapi3 import Info, OpenAPI
from werkzeug.exceptions import NotFound

from bustle.jobs.client import AtTheOffice, InThisProcess
from bustle.store import Store
from bustle.web import bench, catalogue, files, guard, leg, machine, motions, problem, searching, walkers
from bustle.web.servos import library
from bustle.web.servos import routes as servos
from bustle.web.tried import log, traces
from bustle.web.tried import routes as tried
from bustle.web.work import WORKS

DOCUMENT = Path(__file__).with_name("openapi.json")
UI = Path(__file__).resolve().parents[2] / "ui" / "dist"


def create_app(database_url: str | None = None, ui: Path = UI) -> OpenAPI:
    """The web application on a database, by default the one in DATABASE_URL."""
    app = OpenAPI(
        "bustle",
        info=Info(title="Bustle", version="1"),
        doc_ui=False,
        validation_error_callback=problem.invalid,
        static_folder=None,
    )
    url = database_url or os.environ.get("DATABASE_URL")
    if url:
        app.extensions["store"] = Store(url)
    office = os.environ.get("BUSTLE_JOBS")
    key = bytes.fromhex(os.environ.get("BUSTLE_JOBS_KEY", ""))
    app.extensions["jobs"] = AtTheOffice(office, key) if office else InThisProcess(WORKS)
    problem.register(app)
    guard.register(app)
    for part in (
        catalogue,
        walkers,
        files,
        bench,
        leg,
        machine,
        motions,
        searching,
        servos,
        library,
        tried,
        log,
        traces,
    ):
        app.register_api(part.api)

    @app.route("/api/openapi.json")
    def document() -> Response:
        return Response(DOCUMENT.read_bytes(), mimetype="application/json")

    app.add_url_rule("/", "home", lambda: _file(ui, "index.html"))
    app.add_url_rule("/<path:address>", "interface", lambda address: _file(ui, address))
    return app


def _file(ui: Path, path: str) -> Response:
    """A file of the interface; every other address outside /api is the interface's to read."""
    if path.startswith("api/"):
        raise NotFound
    if path.startswith("assets/"):
        response = send_from_directory(ui, path, max_age=31_536_000)
        response.headers["Cache-Control"] = "public, max-age=31536000, immutable"
        return response
    known = (ui / path).is_file() and path != ".stamp"
    if not known and not (ui / "index.html").is_file():
        raise NotFound("The interface has not been built; run ./start.")
    response = send_from_directory(ui, path if known else "index.html")
    response.headers["Cache-Control"] = "no-cache"
    return response
