"""A scratch PostgreSQL cluster for the whole test run, and fresh databases in it."""

from __future__ import annotations

import atexit
import itertools
import os
import shutil
import tempfile
from pathlib import Path

import psycopg

from bustle.store import Store
from bustle.store.cluster import Cluster
from bustle.store.migrate import migrate

_cluster: Cluster | None = None
_numbers = itertools.count(1)


def scratch_home(prefix: str) -> Path:
    """A folder that the database server's own user can reach too."""
    home = Path(tempfile.mkdtemp(prefix=prefix))
    os.chmod(home, 0o755)
    return home


def _running() -> Cluster:
    global _cluster
    if _cluster is None:
        home = scratch_home("bustle-test-")
        _cluster = Cluster(home, durable=False)
        _cluster.start()
        atexit.register(_end, _cluster, home)
    return _cluster


def _end(cluster: Cluster, home: Path) -> None:
    cluster.stop()
    shutil.rmtree(home, ignore_errors=True)


def empty_database() -> str:
    """The address of a new, empty database."""
    cluster = _running()
    name = f"scratch_{next(_numbers)}"
    plain = cluster.url.replace("postgresql+psycopg://", "postgresql://")
    with psycopg.connect(plain, autocommit=True) as connection:
        connection.execute(f"create database {name}")
    return cluster.url.removesuffix("/bustle") + f"/{name}"


def fresh_database() -> str:
    """The address of a new database with the schema."""
    url = empty_database()
    store = Store(url)
    migrate(store.engine)
    store.close()
    return url
