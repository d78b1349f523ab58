"""A client of the application that holds every answer against the document the server gives of itself."""

from __future__ import annotations

import json
import re
from fnmatch import fnmatch
from functools import cache
from typing import Any

from flask.testing import FlaskClient
from jsonschema import Draft202012Validator
from jsonschema.validators import validator_for
from werkzeug.test import TestResponse

from tests.projects import ROOT

OPENAPI = ROOT / "bustle" / "web" / "openapi.json"


@cache
def document() -> dict[str, Any]:
    found: dict[str, Any] = json.loads(OPENAPI.read_bytes())
    return found


@cache
def paths() -> dict[str, re.Pattern[str]]:
    """Each path of the document as what addresses look like; what is fixed comes before what is filled in."""
    found = {path: re.compile(re.sub(r"\\\{\w+\\\}", "[^/]+", re.escape(path)) + "$") for path in document()["paths"]}
    return dict(sorted(found.items(), key=lambda item: item[0].count("{")))


@cache
def validator(path: str, method: str, status: str, kind: str) -> Draft202012Validator:
    schema = document()["paths"][path][method]["responses"][status]["content"][kind]["schema"]
    whole = {**schema, "components": document()["components"]}
    found: Draft202012Validator = validator_for(whole, Draft202012Validator)(whole)
    return found


class NotAsDocumented(AssertionError):
    pass


class DocumentedClient(FlaskClient):
    """Raises NotAsDocumented for an answer of a status, a kind or a form that the document does not have."""

    def open(self, *args: Any, **settings: Any) -> TestResponse:
        answer = super().open(*args, **settings)
        address, method = answer.request.path, answer.request.method.lower()
        path = next((p for p, pattern in paths().items() if pattern.match(address)), None)
        if path is None or method not in document()["paths"][path]:
            # Pages, assets, the document itself and what there is not.
            if address.startswith("/api/") and address != "/api/openapi.json" and answer.status_code < 400:
                raise NotAsDocumented(f"{method} {address} answers {answer.status_code} and is in no document")
            return answer
        said = document()["paths"][path][method]["responses"]
        told = f"{method} {path} answers {answer.status_code}"
        if str(answer.status_code) not in said:
            raise NotAsDocumented(f"{told}, which its document does not have: {answer.text[:200]}")
        kinds = said[str(answer.status_code)].get("content", {})
        if not kinds:
            if answer.data:
                raise NotAsDocumented(f"{told} with a body, and its document has none")
            return answer
        kind = next((k for k in kinds if fnmatch(answer.mimetype, k)), None)
        if kind is None:
            raise NotAsDocumented(f"{told} as {answer.mimetype}, documented as {', '.join(kinds)}")
        # A file to keep is documented as bytes, whatever is in it.
        if answer.mimetype.endswith("json") and kinds[kind]["schema"].get("format") != "binary":
            for fault in validator(path, method, str(answer.status_code), answer.mimetype).iter_errors(answer.json):
                where = "/".join(map(str, fault.absolute_path))
                raise NotAsDocumented(f"{told}, at {where}: {fault.message[:300]}")
        return answer
