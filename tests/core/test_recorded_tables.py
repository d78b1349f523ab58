"""The tables that ship or start with Bustle stay as they were recorded, byte for byte."""

from __future__ import annotations

import json
import unittest

from tests.tables import RECORD, hashes


class RecordedTables(unittest.TestCase):
    def test_every_table_is_as_recorded(self) -> None:
        """A table that is meant to change is recorded anew with scripts/record_tables.py."""
        recorded, now = json.loads(RECORD.read_text()), hashes()
        self.assertEqual(sorted(recorded), sorted(now))
        changed = [name for name in recorded if recorded[name] != now[name]]
        self.assertEqual(changed, [])
