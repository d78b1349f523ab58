"""The server's own document, complete: every status and media type that it answers with."""

from __future__ import annotations

import copy
from typing import Any

from flask_openapi3 import OpenAPI

PROBLEM = {"application/problem+json": {"schema": {"$ref": "#/components/schemas/ProblemDetail"}}}
CONFLICT = {"application/problem+json": {"schema": {"$ref": "#/components/schemas/ConflictDetail"}}}

# What guards and handlers answer on any address, and what only on some.
ANYWHERE = {
    "403": "It comes from another site.",
    "405": "The address does not take that method.",
    "421": "It is asked under another name than this machine's own.",
    "500": "Something went wrong inside. Nothing was changed.",
    "503": "The database or the worker does not answer. Nothing was changed; try again.",
}
WITH_A_BODY = {
    "400": "The body does not come as HTTP says it would.",
    "413": "It is larger than any project file.",
    "415": "It is not the media type that this address takes.",
    "422": "A field is wrong; each is named.",
}


def api_document(app: OpenAPI) -> dict[str, Any]:
    """An OpenAPI document, as JSON values."""
    document: dict[str, Any] = copy.deepcopy(app.api_doc)
    components = document["components"]
    if components.get("securitySchemes") is None:
        components.pop("securitySchemes", None)
    components["schemas"].pop("ValidationErrorModel", None)
    for path, methods in document["paths"].items():
        for method, operation in methods.items():
            _complete(path, method, operation)
    return document


def _complete(path: str, method: str, operation: dict[str, Any]) -> None:
    responses = operation["responses"]
    takes = operation.get("parameters") or "requestBody" in operation
    also = {**ANYWHERE, **(WITH_A_BODY if method in ("post", "put") else {})}
    if takes:
        also["422"] = WITH_A_BODY["422"]
    if "{" in path:
        also["404"] = "It is not there."
    for status, words in also.items():
        responses[status] = {"description": words, "content": PROBLEM}
    if "409" in responses:
        responses["409"]["content"] = CONFLICT if path.endswith("/revisions") else PROBLEM
    if not takes and method == "get":
        responses.pop("422", None)
