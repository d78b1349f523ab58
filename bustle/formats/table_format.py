"""What an export format of the joint angle table has to say about itself."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from bustle.core.servo.joint_table import Table


@dataclass(frozen=True)
class TableFormat:
    """write(table, notes) → the file's bytes; notes: sentences to be told in front, where the format has room.

    decimals: how many the format keeps, None where the builder chooses. beside: whether a file about it is written
    beside it, as it says nothing of itself.
    """

    name: str
    label: str
    suffix: str
    media_type: str
    about: str
    decimals: int | None
    write: Callable[[Table, tuple[str, ...]], bytes]
    beside: bool = False
