"""What is wrong with an input, as values: a field path and a sentence."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Any

from pydantic import ValidationError

# No more are told, so no more are collected.
MOST_PROBLEMS = 50


@dataclass(frozen=True)
class Problem:
    """One thing wrong: `path` is the field as a builder would find it, `sentence` says what to change."""

    path: str
    sentence: str

    def __str__(self) -> str:
        return f"{self.path}: {self.sentence}" if self.path else self.sentence


class InputRefused(ValueError):
    """An input was refused; `problems` names every field at fault. Nothing was changed or stored."""

    def __init__(self, problems: Iterable[Problem]):
        self.problems = tuple(problems)
        super().__init__("; ".join(str(p) for p in self.problems[:5]))

    def __reduce__(self) -> tuple[type[InputRefused], tuple[tuple[Problem, ...]]]:
        """So that it comes out of another process as it went in."""
        return InputRefused, (self.problems,)


def refuse(path: str, sentence: str) -> InputRefused:
    return InputRefused([Problem(path, sentence)])


def field_path(loc: Sequence[int | str]) -> str:
    """`("limbs", 2, "links", 0)` → `limbs[2].links[0]`."""
    path = ""
    for part in loc:
        if isinstance(part, int):
            path += f"[{part}]"
        else:
            path += f".{part}" if path else part
    return path


def _shown(value: Any) -> str:
    if isinstance(value, str):
        return repr(value if len(value) <= 40 else value[:40] + "…")
    if isinstance(value, float):
        return f"{value:g}"
    if isinstance(value, (list, tuple)):
        return f"a list of {len(value)}"
    if isinstance(value, dict):
        return "a group of fields"
    if value is None:
        return "nothing"
    return str(value)


_SENTENCES = {
    "greater_than": "must be above {gt:g}, got {input}",
    "greater_than_equal": "must be at least {ge:g}, got {input}",
    "less_than": "must be below {lt:g}, got {input}",
    "less_than_equal": "must be at most {le:g}, got {input}",
    "finite_number": "must be a finite number, got {input}",
    "missing": "is missing",
    "extra_forbidden": "is not a field that Bustle knows; remove it or check its spelling",
    "float_type": "must be a number, got {input}",
    "float_parsing": "must be a number, got {input}",
    "int_type": "must be a whole number, got {input}",
    "int_parsing": "must be a whole number, got {input}",
    "int_from_float": "must be a whole number, got {input}",
    "bool_type": "must be true or false, got {input}",
    "bool_parsing": "must be true or false, got {input}",
    "string_type": "must be text, got {input}",
    "string_too_short": "must not be empty",
    "string_too_long": "must be at most {max_length} characters long",
    "tuple_type": "must be a list, got {input}",
    "list_type": "must be a list, got {input}",
    "too_short": "must have at least {min_length} entries, got {actual_length}",
    "too_long": "must have at most {max_length} entries, got {actual_length}",
    "literal_error": "must be {expected}, got {input}",
    "model_type": "must be a group of fields, got {input}",
    "model_attributes_type": "must be a group of fields, got {input}",
    "dict_type": "must be a group of fields, got {input}",
    "union_tag_invalid": "must have a kind that Bustle knows ({expected_tags}), got {tag!r}",
    "union_tag_not_found": "must say its kind",
}


# Kinds are marked so in an error's location (`project.field_types`): they are no fields of the document.
_TAG = "="


def _place(loc: Sequence[int | str]) -> str:
    return field_path([part for part in loc if not (isinstance(part, str) and part.startswith(_TAG))])


def problems_of(error: ValidationError) -> list[Problem]:
    """Turn a validation error into problems, the first MOST_PROBLEMS of them."""
    found: list[Problem] = []
    for item in error.errors(include_url=False)[:MOST_PROBLEMS]:
        context = dict(item.get("ctx") or {})
        if "problems" in context:
            found += [Problem(path, sentence) for path, sentence in context["problems"]]
            continue
        template = _SENTENCES.get(item["type"])
        values = {**context, "input": _shown(item.get("input"))}
        values |= {k: str(v).replace(_TAG, "") for k, v in context.items() if k in ("tag", "expected_tags")}
        sentence = template.format(**values) if template else str(item["msg"]).removeprefix("Value error, ")
        found.append(Problem(_place(item["loc"]), sentence))
    return found
