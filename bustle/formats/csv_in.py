"""CSV as it comes in: how large it may be, what it is written in, and its lines with their numbers."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterator

from bustle.core.words.problems import refuse

Line = tuple[int, list[str]]


def csv_text(data: bytes, what: str, most_bytes: int) -> str:
    """what: what the file should be, in words. Raises InputRefused."""
    if len(data) > most_bytes:
        size = f"{most_bytes // 1_000_000} MB" if most_bytes >= 1_000_000 else f"{most_bytes // 1000} kB"
        raise refuse("", f"The file is larger than {size}; a {what} is not.")
    try:
        return data.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise refuse("", f"The file is not UTF-8 text, so it is no {what}.") from error


def csv_lines(text: str, between: str = ",") -> Iterator[Line]:
    """Those that hold something, the first with the names of the columns. Raises InputRefused."""
    rows = csv.reader(io.StringIO(text), delimiter=between)
    try:
        yield from ((rows.line_num, row) for row in rows if any(cell.strip() for cell in row))
    except csv.Error as error:
        raise refuse("", f"It cannot be read as CSV ({error}).") from error
