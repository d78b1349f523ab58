"""Blueprints that describe themselves only where the server's own document is being written.

Working the document out takes most of the time that loading the application does, and it changes with the code alone:
it is written once (`scripts/write_openapi.py`) and served as a file.
"""

from __future__ import annotations

import os

from flask_openapi3 import APIBlueprint

DESCRIBED = bool(os.environ.get("BUSTLE_DESCRIBED"))


def blueprint(name: str, url_prefix: str = "/api") -> APIBlueprint:
    return APIBlueprint(name, __name__, url_prefix=url_prefix, doc_ui=DESCRIBED)
