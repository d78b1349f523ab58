"""Write bustle/web/openapi.json, the server's own document, which it serves and the interface's types are made from.

.venv/bin/python scripts/write_openapi.py [--check]
"""

import json
import os
import sys
from pathlib import Path

os.environ["BUSTLE_DESCRIBED"] = "1"

from bustle.web.api_document import api_document
from bustle.web.application import DOCUMENT, create_app


def main() -> int:
    written = json.dumps(api_document(create_app()), ensure_ascii=False, indent=1, sort_keys=True) + "\n"
    if "--check" in sys.argv:
        return int(Path(DOCUMENT).read_text() != written)
    Path(DOCUMENT).write_text(written)
    return 0


if __name__ == "__main__":
    sys.exit(main())
