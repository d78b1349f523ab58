"""A project as bytes: reading it strictly, writing it canonically, and its hash."""

from __future__ import annotations

import hashlib
import json
from collections import Counter
from typing import Any

import orjson
from pydantic import BaseModel

from bustle.core.document.checked import CheckedProject, parse_project
from bustle.core.project.project import Project, document
from bustle.core.words.problems import InputRefused, refuse

MAX_BYTES = 2_000_000


def _once(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    fields = dict(pairs)
    if len(fields) != len(pairs):
        counts = Counter(name for name, _ in pairs)
        twice = next(name for name, count in counts.items() if count > 1)
        raise refuse(twice, "this field appears twice in one group; keep one of them")
    return fields


def _plainly(data: bytes | str) -> tuple[Any, bool]:
    """The values, and whether written again they are the same bytes: then no field was there twice, and nothing in
    them was odd. So the screen writes them, many times a second; whatever else comes is looked at piece by piece."""
    try:
        given = data.encode() if isinstance(data, str) else data
        found = orjson.loads(given)
        return found, orjson.dumps(found) == given
    except (ValueError, TypeError):
        return None, False


def read_json(data: bytes | str) -> Any:
    """JSON text → plain values. NaN and Infinity pass, so that validation can name their field.

    Raises InputRefused with where the text breaks off or goes wrong.
    """
    if len(data) > MAX_BYTES:
        raise refuse("", f"The file is {len(data) / 1e6:.1f} MB; a project file has at most {MAX_BYTES / 1e6:g} MB.")
    found, plainly = _plainly(data)
    if plainly:
        return found
    try:
        text = data.decode("utf-8-sig") if isinstance(data, bytes) else data
        return json.loads(text, object_pairs_hook=_once)
    except UnicodeDecodeError as error:
        raise refuse("", "The file is not UTF-8 text, so it is no project file.") from error
    except json.JSONDecodeError as error:
        # Text that never closes runs to the end, wherever it began.
        if error.pos >= len(error.doc.rstrip()) or error.msg.startswith("Unterminated string"):
            last = error.doc.rstrip().count("\n") + 1
            raise refuse("", f"The file breaks off at line {last}; it seems cut short.") from error
        raise refuse("", f"The file is not JSON: {error.msg} at line {error.lineno}, column {error.colno}.") from error
    except RecursionError as error:
        raise refuse("", "The file nests deeper than any project does.") from error
    except ValueError as error:
        if isinstance(error, InputRefused):
            raise
        raise refuse("", "The file holds a number too long to read.") from error


def load_project(data: bytes | str) -> CheckedProject:
    """Project file → Project. Raises InputRefused."""
    return parse_project(read_json(data))


def _plain_zero(value: Any) -> Any:
    if isinstance(value, float):
        return value + 0.0
    if isinstance(value, list):
        return [_plain_zero(v) for v in value]
    if isinstance(value, dict):
        return {k: _plain_zero(v) for k, v in value.items()}
    return value


def save_project(project: Project) -> bytes:
    """The one canonical serialisation: loading and saving it again gives the same bytes."""
    text = json.dumps(_plain_zero(document(project)), ensure_ascii=False, allow_nan=False, indent=1)
    return (text + "\n").encode()


def _essence(value: Any) -> Any:
    """What a value says: no field at its default, but for the kind that tells it from others."""
    if isinstance(value, BaseModel):
        said = {}
        for name, field in type(value).model_fields.items():
            own = getattr(value, name)
            if name == "kind" or field.is_required() or own != field.get_default(call_default_factory=True):
                said[name] = _essence(own)
        return said
    if isinstance(value, float):
        return value + 0.0
    if isinstance(value, tuple):
        return [_essence(part) for part in value]
    if isinstance(value, dict):
        return {name: _essence(part) for name, part in value.items()}
    return value


def project_hash(project: Project) -> str:
    """SHA-256, in hexadecimal, of what the project says: the document with sorted keys and without fields at their
    default. Equal projects have one hash, and a field that a later version adds changes none."""
    text = json.dumps(_essence(project), ensure_ascii=False, allow_nan=False, sort_keys=True, separators=(",", ":"))
    return hashlib.sha256(text.encode()).hexdigest()


def bytes_hash(project: Project) -> str:
    """SHA-256 of the canonical bytes, in hexadecimal: what revisions were told apart by before."""
    return hashlib.sha256(save_project(project)).hexdigest()
