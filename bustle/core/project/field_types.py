"""What the fields of a project are made of: strict numbers with ranges, plain text, names.

Units as at every border: millimetres, degrees, grams, seconds, newton metres, volts. Numbers are strict: text is not
read as a number, and nothing is clamped.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Annotated, Any, Self, cast

from pydantic import (
    AfterValidator,
    BaseModel,
    ConfigDict,
    Discriminator,
    Field,
    GetCoreSchemaHandler,
    Strict,
    StringConstraints,
    Tag,
)
from pydantic_core import PydanticKnownError
from pydantic_core.core_schema import CoreSchema, no_info_before_validator_function

# What begins like a tag and ends like one, a comment, an entity; "a<b" is none of them.
_TAG = re.compile(r"<\s*/?\s*[A-Za-z][^<>]*>|<[!?]|&#?[A-Za-z0-9]+;")
# Control characters, and those that are not seen: two names must not differ by them alone. Joiners are letters' own
# business in scripts that have them.
_CONTROL = re.compile(
    r"[\x00-\x08\x0b\x0c\x0e-\x1f\x7f\xad\u200b\u200e\u200f\u2028-\u202e\u2060-\u206f\ufeff]"
    r"|(?<![^\x00-\x7f])[\u200c\u200d]"
)


def _plain_text(text: str) -> str:
    if _CONTROL.search(text):
        raise ValueError("must not hold control characters or such as are not seen")
    if _TAG.search(text):
        raise ValueError("must be plain text without markup")
    return text


def _plain_line(text: str) -> str:
    _plain_text(text)
    if "\n" in text or "\r" in text or "\t" in text:
        raise ValueError("must be one line")
    if text != text.strip():
        raise ValueError("must not begin or end with a space")
    return text


def _file_name(text: str) -> str:
    if not re.fullmatch(r"[A-Za-z_][A-Za-z0-9_./-]*", text):
        raise ValueError(f"must begin with a letter or _ and hold only letters, digits and _ . / -, got {text!r}")
    return text


def _part_name(text: str) -> str:
    if not re.fullmatch(r"[A-Za-z][A-Za-z0-9_]*", text):
        raise ValueError(f"must begin with a letter and hold only letters, digits and _, got {text!r}")
    return text


def whole_number(value: Any) -> Any:
    # True equals 1 and would pass for it, and 1.0 would be written back as another spelling.
    if type(value) is not int:
        raise ValueError(f"must be a whole number, got {value!r:.40}")
    return value


Real = Annotated[float, Strict(), Field(allow_inf_nan=False)]
Flag = Annotated[bool, Strict()]
Name = Annotated[str, StringConstraints(min_length=1, max_length=60), AfterValidator(_plain_line)]
PartName = Annotated[str, StringConstraints(min_length=1, max_length=24), AfterValidator(_part_name)]
FileName = Annotated[str, StringConstraints(min_length=1, max_length=60), AfterValidator(_file_name)]
PartPath = Annotated[str, StringConstraints(min_length=1, max_length=60)]
Text = Annotated[str, StringConstraints(max_length=4000), AfterValidator(_plain_text)]
Line = Annotated[str, StringConstraints(max_length=60), AfterValidator(_plain_line)]
Length = Annotated[Real, Field(ge=0, le=2000)]
# Of what curves: nothing curves by none.
Radius = Annotated[Real, Field(ge=0.1, le=2000)]
Coordinate = Annotated[Real, Field(ge=-3000, le=3000)]
Angle = Annotated[Real, Field(ge=-360, le=360)]
Tilt = Annotated[Real, Field(ge=-60, le=60)]
Grams = Annotated[Real, Field(ge=0, le=100_000)]
Price = Annotated[Real, Field(ge=0, le=1_000_000)]
Hours = Annotated[Real, Field(ge=0, le=10_000)]
Share = Annotated[Real, Field(gt=0, le=1)]
Point = tuple[Coordinate, Coordinate, Coordinate]
PlanePoint = tuple[Coordinate, Coordinate]
Size = tuple[Length, Length, Length]


# A tag of a kind stands in the location of an error, but is no field of the document. This tells it apart.
TAG = "="


def tagged(kind: str) -> Tag:
    """The mark of one kind among several that a field may hold."""
    return Tag(TAG + kind)


def told_by_kind(default: str = "") -> Discriminator:
    """Which kind a value is, by its field `kind`; files of earlier versions may leave out the one there was first."""

    def kind(value: Any) -> str | None:
        found = value.get("kind", default) if isinstance(value, dict) else getattr(value, "kind", "")
        return TAG + found if isinstance(found, str) and found else None

    return Discriminator(kind)


@dataclass(frozen=True)
class UpTo:
    """Marks a list, or a group of free names, that has at most so many entries: its length is looked at before any of
    them, so that what is far too long costs nothing to refuse."""

    most: int
    least: int = 0

    def __get_pydantic_core_schema__(self, source: Any, handler: GetCoreSchemaHandler) -> CoreSchema:
        inner: dict[str, Any] = {**handler(source), "min_length": self.least, "max_length": self.most}
        if not self.least:
            del inner["min_length"]
        return no_info_before_validator_function(self._bearable, cast(CoreSchema, inner))

    def _bearable(self, value: Any) -> Any:
        if isinstance(value, (list, tuple, dict)) and len(value) > self.most:
            known = {"field_type": "List", "max_length": self.most, "actual_length": len(value)}
            raise PydanticKnownError("too_long", known)
        return value


class Value(BaseModel):
    """Base of everything in a project: frozen, no unknown fields, finite numbers."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)

    def model_copy(self, *, update: Mapping[str, Any] | None = None, deep: bool = False) -> Self:
        """What was worked out of the fields is not that of a copy in which some differ."""
        copied = super().model_copy(update=update, deep=deep)
        for name in copied.__dict__.keys() - type(self).model_fields.keys():
            del copied.__dict__[name]
        return copied
