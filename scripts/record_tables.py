"""Write tests/recorded/tables.json: the SHA-256 of every table of the demo, the faults and the starting shapes.

Run it only where a table is meant to change, and say in the commit which and why.
"""

from __future__ import annotations

import json
import sys
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
sys.path.insert(0, str(ROOT))

from tests.tables import RECORD, hashes, shipped  # noqa: E402


def main() -> None:
    RECORD.parent.mkdir(exist_ok=True)
    RECORD.write_text(json.dumps(hashes(shipped()), indent=1, sort_keys=True) + "\n")


if __name__ == "__main__":
    main()
