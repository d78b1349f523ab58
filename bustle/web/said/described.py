"""Bodies and answers that are not JSON, or not a model, for the server's own document."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from flask_openapi3 import APIBlueprint
from flask_openapi3.models.schema import Schema
from pydantic import BaseModel

from bustle.formats import TABLE_FORMATS
from bustle.web.blueprint import DESCRIBED

_REF = "#/components/schemas/"


def described(api: APIBlueprint, model: type[BaseModel], media_type: str) -> dict[str, Any]:
    """A response of that media type which begins with the model as JSON; the model joins the document's schemas."""
    if not DESCRIBED:
        return {}
    schema = model.model_json_schema(ref_template=_REF + "{model}", mode="serialization")
    parts = {**schema.pop("$defs", {}), model.__name__: schema}
    api.components_schemas.update({name: Schema(**part) for name, part in parts.items()})
    content = {media_type: {"schema": {"$ref": _REF + model.__name__}}}
    return {"description": (model.__doc__ or "").strip(), "content": content}


def _bytes_of(media_types: Iterable[str]) -> dict[str, Any]:
    return {kind: {"schema": {"type": "string", "format": "binary"}} for kind in media_types}


def file_of(words: str, *media_types: str) -> dict[str, Any]:
    """A response that is a file of one of these media types."""
    return {"description": words, "content": _bytes_of(media_types)}


def table_in_any_format() -> dict[str, Any]:
    kinds = sorted({kind.media_type for kind in TABLE_FORMATS.values()})
    return file_of("The table, in the format's media type", *kinds)


def taken(*media_types: str) -> dict[str, Any]:
    """What an address says of the file that it takes."""
    return {"requestBody": {"required": True, "content": _bytes_of(media_types)}}
