"""Files in and out: project files, and tables with a record of what was written."""

from __future__ import annotations

import orjson
from flask import Response, request

from bustle.core.document.file import load_project, save_project
from bustle.core.evaluate import evaluate
from bustle.formats import table_format, write_table
from bustle.formats.c_table import identifier
from bustle.formats.json_table import schema
from bustle.store import Unreadable
from bustle.web.answer import answer
from bustle.web.blueprint import blueprint
from bustle.web.said import shapes
from bustle.web.said.described import file_of, table_in_any_format, taken
from bustle.web.store_of import store
from bustle.web.walkers import view

api = blueprint("files")


def download(data: bytes, name: str, media_type: str) -> Response:
    response = Response(data, mimetype=media_type)
    response.headers["Content-Disposition"] = f'attachment; filename="{name}"'
    return response


@api.post(
    "/files",
    responses={201: shapes.SavedWalker, 422: shapes.ProblemDetail},
    openapi_extensions=taken("application/json"),
)
def read_file() -> Response:
    """A project file, as it is, becomes a walker on the shelf."""
    return answer(view(store().create(load_project(request.get_data()))), 201)


@api.get("/walkers/<int:walker_id>/file", responses={200: file_of("A project file", "application/json")})
def write_file(path: shapes.WalkerPath) -> Response:
    """The newest revision as a project file."""
    try:
        project = store().get(path.walker_id).project
        name, data = project.name, save_project(project)
    except Unreadable:
        # What this version does not understand is handed out as it was stored.
        name, document = store().raw(path.walker_id)
        data = orjson.dumps(document, option=orjson.OPT_INDENT_2)
    return download(data, f"{identifier(name)}.bustle.json", "application/json")


@api.get("/table-schema", responses={200: file_of("What a table as JSON is", "application/schema+json")})
def table_schema() -> Response:
    """The JSON Schema of tables as JSON."""
    return Response(orjson.dumps(schema(), option=orjson.OPT_INDENT_2), mimetype="application/schema+json")


@api.get("/walkers/<int:walker_id>/exports", responses={200: shapes.Exports})
def exports(path: shapes.WalkerPath) -> Response:
    """What was written for this walker: which revision, which hash."""
    found = store().exports(path.walker_id)
    return answer(shapes.Exports(exports=[shapes.ExportLine(**vars(line)) for line in found]))


@api.post(
    "/walkers/<int:walker_id>/exports",
    responses={
        200: table_in_any_format(),
        409: shapes.ProblemDetail,
        422: shapes.ProblemDetail,
    },
)
def export(path: shapes.WalkerPath, body: shapes.ExportDraft) -> Response:
    """Write the table of a saved revision, and record that it was written; 409 where it cannot be played."""
    kind = table_format(body.format)
    saved = store().get(path.walker_id, body.revision)
    plan = evaluate(saved.project, body.motion)
    data = write_table(
        plan, body.format, body.decimals, body.anyway, body.facts, body.values, body.cut, revision=saved.number
    )
    sag = "" if saved.project.against_sag == "off" else f"_held_{saved.project.against_sag}"
    held = "" if body.values == "angles" else f"_{body.values}"
    name = f"{identifier(saved.project.name)}_{identifier(body.motion)}{sag}{held}_r{saved.number}{kind.suffix}"
    line = store().record_export(path.walker_id, saved.number, body.motion, kind.name, name, data)
    response = download(data, name, kind.media_type)
    response.headers["X-Content-SHA256"] = line.sha256
    return response
