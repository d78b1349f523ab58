"""The tables that ship or start with Bustle stay as they were recorded, byte for byte."""

from __future__ import annotations

import json

from tests.long import is_long, share
from tests.seeded import SeededTest
from tests.tables import RECORD, hashes, shipped


class RecordedTables(SeededTest):
    @is_long
    def test_every_table_is_as_recorded(self) -> None:
        """A table that is meant to change is recorded anew with scripts/record_tables.py."""
        recorded = json.loads(RECORD.read_text())
        self.assertEqual({table.split("/")[0] for table in recorded}, set(shipped()))
        tried = share(self.random, list(shipped()), 40)
        now = hashes(tried)
        self.assertEqual(sorted(now), sorted(table for table in recorded if table.split("/")[0] in tried))
        changed = [table for table in now if recorded[table] != now[table]]
        self.assertEqual(changed, [])
