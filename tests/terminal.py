"""The command line as a builder calls it, in this process."""

from __future__ import annotations

import io
import os
from contextlib import chdir, redirect_stderr, redirect_stdout
from dataclasses import dataclass

from bustle.cli import main
from tests.projects import ROOT


@dataclass(frozen=True)
class Done:
    returncode: int
    data: bytes
    stderr: str

    @property
    def stdout(self) -> str:
        return self.data.decode()


def bustle(*words: object, expect: int | None = 0) -> Done:
    """`bustle WORDS …`, from the project's folder. expect: the exit code it must end with; None for any."""
    out, said = io.TextIOWrapper(io.BytesIO(), encoding="utf-8", write_through=True), io.StringIO()
    with chdir(os.fspath(ROOT)), redirect_stdout(out), redirect_stderr(said):
        try:
            code = main([str(word) for word in words])
        except SystemExit as left:
            code = int(left.code or 0)
    done = Done(code, out.buffer.getvalue(), said.getvalue())  # type: ignore[attr-defined]
    if expect is not None and code != expect:
        raise AssertionError(f"exit {code}: {done.stderr[-2000:]}")
    return done
