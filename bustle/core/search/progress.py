"""How far a search is, for whoever waits for it."""

from __future__ import annotations

from collections.abc import Callable

# tell(done, of, what): so many steps done of so many, and the one that comes. What it raises ends the search.
Tell = Callable[[int, int, str], None]


def silent(done: int, of: int, what: str) -> None:
    """Nobody waits."""
