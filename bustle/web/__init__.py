"""The web application: JSON and binary over HTTP on loopback, and the interface's files."""

from bustle.web.application import create_app

__all__ = ["create_app"]
