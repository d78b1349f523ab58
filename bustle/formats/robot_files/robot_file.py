"""What the files that describe a robot have in common."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from xml.etree import ElementTree as ET


@dataclass(frozen=True)
class Written:
    """The file and, one sentence each, what it could not hold."""

    data: bytes
    lost: tuple[str, ...]


def number(value: float) -> str:
    """17 digits: read back, it is the same number."""
    return f"{float(value) + 0.0:.17g}"


def numbers(values: Iterable[float]) -> str:
    return " ".join(number(v) for v in values)


def written(root: ET.Element, lost: Iterable[str]) -> Written:
    ET.indent(root, " ")
    data = b'<?xml version="1.0" encoding="utf-8"?>\n' + ET.tostring(root, encoding="utf-8") + b"\n"
    return Written(data, tuple(lost))
