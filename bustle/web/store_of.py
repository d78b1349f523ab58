"""The store of the application that answers this request."""

from flask import current_app

from bustle.store import Store


def store() -> Store:
    found: Store = current_app.extensions["store"]
    return found
