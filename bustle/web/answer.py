"""Values → JSON responses."""

from __future__ import annotations

import orjson
from flask import Response
from pydantic import BaseModel


def answer(value: BaseModel, status: int = 200) -> Response:
    return Response(orjson.dumps(value.model_dump(mode="json")), status, mimetype="application/json")
