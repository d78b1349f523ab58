"""Run the checks and the unittest suite, and end with the count of what really passed, failed and was skipped.

The suite runs in two lanes side by side, what starts servers and browsers and what does not; the one that is done first
goes on with what the other has left. The checks run at once before it. Arguments name what to run instead, in one lane:
"checks", or unittest names. "long" runs what is too long for every run, all of it; every run does a twentieth of the
tests that are done in turns, by a seed that is printed.
"""

from __future__ import annotations

import argparse
import json
import os
import random
import subprocess
import sys
import tempfile
import time
import unittest
from collections.abc import Iterator
from itertools import groupby
from pathlib import Path
from typing import Any

ROOT = Path(__file__).resolve().parents[1]
BIN = Path(sys.executable).parent
UI = ROOT / "ui"

CHECKS = {
    "format": ([BIN / "ruff", "format", "--check", "--quiet", "bustle", "tests", "bench", "scripts"], ROOT),
    "lint": ([BIN / "ruff", "check", "--quiet", "bustle", "tests", "bench", "scripts"], ROOT),
    "types": ([BIN / "mypy", "--no-error-summary", "--num-workers=2"], ROOT),
    "served document": ([BIN / "python", "scripts/write_openapi.py", "--check"], ROOT),
    "interface format and lint": (["npx", "--no-install", "biome", "ci", "--error-on-warnings", "src"], UI),
    "interface types": (["npx", "--no-install", "tsc", "--noEmit"], UI),
}

# Tests that wait for servers and browsers more than they compute.
SERVED = ("tests.browser", "tests.jobs", "tests.store", "tests.web.test_searching")

# Of the tests done in turns every run does one in so many.
TURNS = 20

# So many of each lane's slowest tests are told.
SLOWEST = 12

Counts = tuple[int, int, int]


def run_checks() -> Counts:
    """(passed, failed, skipped), all side by side."""
    started = time.monotonic()
    running = {
        name: subprocess.Popen(
            [str(c) for c in command], cwd=folder, stdout=subprocess.PIPE, stderr=subprocess.STDOUT, text=True
        )
        for name, (command, folder) in CHECKS.items()
    }
    failed = 0
    for name, process in running.items():
        said, _ = process.communicate()
        verdict = "ok" if process.returncode == 0 else "FAILED"
        print(f"check {name}: {verdict} ({time.monotonic() - started:.1f} s)", flush=True)
        if process.returncode:
            failed += 1
            print(said[-6000:], flush=True)
    return len(CHECKS) - failed, failed, 0


def tests_in(suite: unittest.TestSuite) -> Iterator[unittest.TestCase]:
    for test in suite:
        if isinstance(test, unittest.TestSuite):
            yield from tests_in(test)
        else:
            yield test


def marked(test: unittest.TestCase, mark: str) -> bool:
    return getattr(getattr(test, test._testMethodName, None), mark, False)


def without_those_not_in_turn(tests: list[unittest.TestCase]) -> list[unittest.TestCase]:
    """By a seed that both lanes have."""
    taking_turns = [t for t in tests if marked(t, "in_turns")]
    seed = int(os.environ["BUSTLE_TURNS"])
    now = random.Random(seed).sample(taking_turns, -(-len(taking_turns) // TURNS))
    print(f"{len(now)} of {len(taking_turns)} tests that are done in turns, by BUSTLE_TURNS={seed}", flush=True)
    return [t for t in tests if t in now or t not in taking_turns]


class Timed(unittest.TextTestResult):
    """Knows how long each test took, and says it of the slowest."""

    def __init__(self, *args: Any, **also: Any) -> None:
        super().__init__(*args, **also)
        self.took: dict[str, float] = {}

    def startTest(self, test: unittest.TestCase) -> None:  # noqa: N802
        self.began = time.monotonic()
        super().startTest(test)

    def stopTest(self, test: unittest.TestCase) -> None:  # noqa: N802
        self.took[test.id()] = time.monotonic() - self.began
        super().stopTest(test)

    def say_slowest(self) -> None:
        for test in sorted(self.took, key=lambda t: -self.took[t])[:SLOWEST]:
            print(f"{self.took[test]:6.1f} s {test}")


class Lane(unittest.TestSuite):
    """Classes of tests, its own first and then the other lane's from their end, each taken by whichever comes first."""

    # Tests are not kept here, to be let go of once they are done.
    _cleanup = False

    def __init__(self, tests: list[unittest.TestCase], lane: str, claims: Path) -> None:
        super().__init__()
        classes = [list(found) for _, found in groupby(tests, key=type)]
        served = [found for found in classes if found[0].id().startswith(SERVED)]
        core = [found for found in classes if not found[0].id().startswith(SERVED)]
        self.queue = [*served, *reversed(core)] if lane == "served" else [*core, *reversed(served)]
        self.claims = claims

    def __iter__(self) -> Iterator[unittest.TestCase]:
        for found in self.queue:
            if self.claimed(found[0]):
                yield from found

    def claimed(self, first: unittest.TestCase) -> bool:
        try:
            (self.claims / f"{type(first).__module__}.{type(first).__qualname__}").touch(exist_ok=False)
        except FileExistsError:
            return False
        return True


def named(name: str, loader: unittest.TestLoader) -> unittest.TestSuite:
    """What a name means: a folder of tests whole, or what unittest takes it for."""
    folder = ROOT / name.replace(".", "/")
    if folder.is_dir():
        return loader.discover(str(folder), top_level_dir=str(ROOT))
    return loader.loadTestsFromName(name)


def run_suite(names: list[str], claims: Path | None = None) -> Counts:
    """In this process. Names are unittest's, or "long"; with claims, one lane of two."""
    sys.path.insert(0, str(ROOT))
    loader = unittest.TestLoader()
    suite: unittest.TestSuite
    if claims or names == ["long"]:
        found = list(tests_in(loader.discover(str(ROOT / "tests"), top_level_dir=str(ROOT))))
        if claims:
            suite = Lane(without_those_not_in_turn(found), names[0], claims)
        else:
            suite = unittest.TestSuite(t for t in found if marked(t, "long") or marked(t, "in_turns"))
    else:
        suite = unittest.TestSuite(named(name, loader) for name in names)
    verbosity = 2 if names == ["long"] else 1
    runner = unittest.TextTestRunner(verbosity=verbosity, stream=sys.stdout, resultclass=Timed)
    result = runner.run(suite)
    if claims:
        result.say_slowest()
    bad = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
    skipped = len(result.skipped)
    return max(0, result.testsRun - bad - skipped), bad, skipped


def run_lanes() -> Counts:
    """Both lanes at once, each in a process of its own; what each said, one after the other."""
    # The arrays here are small: threads inside a product of matrices only get into each other's way.
    environment = {"BUSTLE_TURNS": str(time.time_ns() % 2**32), "OPENBLAS_NUM_THREADS": "1", **os.environ}
    with tempfile.TemporaryDirectory() as folder:
        claims = Path(folder) / "claims"
        claims.mkdir()
        lanes = []
        for lane in ("core", "served"):
            said, counted = Path(folder) / f"{lane}.txt", Path(folder) / f"{lane}.json"
            with said.open("w") as out:
                command = [sys.executable, __file__, f"--lane={lane}", f"--claims={claims}", f"--counts={counted}"]
                process = subprocess.Popen(command, cwd=ROOT, env=environment, stdout=out, stderr=out)
            lanes.append((process, said, counted, lane))
        total = [0, 0, 0]
        for process, said, counted, lane in lanes:
            process.wait()
            print(f"--- {lane}", said.read_text().strip(), sep="\n", flush=True)
            # A lane that ended without its counts has failed.
            counts = json.loads(counted.read_text()) if counted.exists() else [0, 1, 0]
            total = [a + b for a, b in zip(total, counts, strict=True)]
    return total[0], total[1], total[2]


def main() -> int:
    parser = argparse.ArgumentParser(description="Run every check and every test.")
    parser.add_argument("names", nargs="*", help='"checks", "long", or unittest names; none: everything')
    for part in ("--lane", "--claims", "--counts"):
        parser.add_argument(part, help=argparse.SUPPRESS)
    asked = parser.parse_args()
    if asked.lane:
        Path(asked.counts).write_text(json.dumps(run_suite([asked.lane], Path(asked.claims))))
        return 0
    names = list(asked.names)
    if "long" in names:
        names, os.environ["BUSTLE_LONG"] = ["long"], "1"
    parts = []
    if not names or "checks" in names:
        parts.append(run_checks())
    tests = [n for n in names if n != "checks"]
    if not names:
        parts.append(run_lanes())
    elif tests:
        parts.append(run_suite(tests))
    passed, failed, skipped = (sum(counts) for counts in zip(*parts, strict=True))
    print(f"{passed} passed, {failed} failed, {skipped} skipped")
    return 1 if failed or not passed else 0


if __name__ == "__main__":
    sys.exit(main())
