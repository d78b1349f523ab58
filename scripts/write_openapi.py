"""Write ui/src/api/openapi.json, the server's own document, from which the interface's types are generated."""

import json
from pathlib import Path

from bustle.web.api_document import api_document
from bustle.web.application import create_app


def openapi_text() -> str:
    return json.dumps(api_document(create_app()), ensure_ascii=False, indent=1, sort_keys=True) + "\n"


if __name__ == "__main__":
    (Path(__file__).parents[1] / "ui" / "src" / "api" / "openapi.json").write_text(openapi_text())
