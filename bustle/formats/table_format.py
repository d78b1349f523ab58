"""What an export format of the joint angle table has to say about itself."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from bustle.core.walk.joint_table import Table


@dataclass(frozen=True)
class TableFormat:
    """write(table) → the file's bytes. decimals: how many the format keeps, None where the builder chooses."""

    name: str
    label: str
    suffix: str
    media_type: str
    about: str
    decimals: int | None
    write: Callable[[Table], bytes]
