"""PostgreSQL through SQLAlchemy: walkers, their revisions, what was exported."""

from bustle.store.repository import Conflict, Missing, Store, Unreadable

__all__ = ["Conflict", "Missing", "Store", "Unreadable"]
