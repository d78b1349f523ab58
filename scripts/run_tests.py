"""Run the checks and the unittest suite, and end with the count of what really passed, failed and was skipped.

The suite runs in two lanes side by side, what starts servers and browsers and what does not; the checks run at once
before it. Arguments name what to run instead, in one lane: "checks", or unittest names. "long" runs what is too long
for every run, all of it; every run does a fifth of the tests that are done in turns, by a seed that is printed.
"""

from __future__ import annotations

import json
import os
import random
import subprocess
import sys
import tempfile
import time
import unittest
from collections.abc import Iterator
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
BIN = Path(sys.executable).parent
UI = ROOT / "ui"

CHECKS = {
    "format": ([BIN / "ruff", "format", "--check", "--quiet", "bustle", "tests", "bench", "scripts"], ROOT),
    "lint": ([BIN / "ruff", "check", "--quiet", "bustle", "tests", "bench", "scripts"], ROOT),
    "types": ([BIN / "mypy", "--no-error-summary"], ROOT),
    "served document": ([BIN / "python", "scripts/write_openapi.py", "--check"], ROOT),
    "interface format and lint": (["npx", "--no-install", "biome", "ci", "--error-on-warnings", "src"], UI),
    "interface types": (["npx", "--no-install", "tsc", "--noEmit"], UI),
}

# Tests that wait for servers and browsers more than they compute.
SERVED = ("tests.browser", "tests.jobs", "tests.store", "tests.web.test_searching")

# Of the tests done in turns every run does one in so many.
TURNS = 5

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
    taking_turns = [t for t in tests if marked(t, "in_turns")]
    seed = int(os.environ.get("BUSTLE_SEED", time.time_ns() % 2**32))
    now = random.Random(seed).sample(taking_turns, -(-len(taking_turns) // TURNS))
    print(f"{len(now)} of {len(taking_turns)} tests that are done in turns, by BUSTLE_SEED={seed}", flush=True)
    return [t for t in tests if t in now or t not in taking_turns]


def run_suite(names: list[str]) -> Counts:
    """In this process. Names are unittest's; "lane:served" and "lane:core" the two halves of it all; "long"."""
    sys.path.insert(0, str(ROOT))
    loader = unittest.TestLoader()
    lane = next((n.partition(":")[2] for n in names if n.startswith("lane:")), None)
    if lane or names == ["long"]:
        found = list(tests_in(loader.discover(str(ROOT / "tests"), top_level_dir=str(ROOT))))
        if lane:
            found = without_those_not_in_turn([t for t in found if t.id().startswith(SERVED) == (lane == "served")])
        else:
            found = [t for t in found if marked(t, "long") or marked(t, "in_turns")]
        suite = unittest.TestSuite(found)
    else:
        suite = loader.loadTestsFromNames(names)
    verbosity = 2 if names == ["long"] else 1
    result = unittest.TextTestRunner(verbosity=verbosity, stream=sys.stdout).run(suite)
    bad = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
    skipped = len(result.skipped)
    return max(0, result.testsRun - bad - skipped), bad, skipped


def run_lanes() -> Counts:
    """Both halves at once, each in a process of its own; what each said, one after the other."""
    with tempfile.TemporaryDirectory() as folder:
        lanes = []
        for lane in ("core", "served"):
            said, counted = Path(folder) / f"{lane}.txt", Path(folder) / f"{lane}.json"
            with said.open("w") as out:
                command = [sys.executable, __file__, f"lane:{lane}", f"--counts={counted}"]
                lanes.append((subprocess.Popen(command, cwd=ROOT, stdout=out, stderr=out), said, counted, lane))
        total = [0, 0, 0]
        for process, said, counted, lane in lanes:
            process.wait()
            print(f"--- {lane}", said.read_text().strip(), sep="\n", flush=True)
            # A lane that ended without its counts has failed.
            counts = json.loads(counted.read_text()) if counted.exists() else [0, 1, 0]
            total = [a + b for a, b in zip(total, counts, strict=True)]
    return total[0], total[1], total[2]


def main() -> int:
    names = [n for n in sys.argv[1:] if not n.startswith("--counts=")]
    counted = next((n.partition("=")[2] for n in sys.argv[1:] if n.startswith("--counts=")), None)
    if "long" in names:
        names, os.environ["BUSTLE_LONG"] = ["long"], "1"
    parts = []
    if not names or "checks" in names:
        parts.append(run_checks())
    names = [n for n in names if n != "checks"]
    if len(sys.argv) == 1:
        parts.append(run_lanes())
    elif names:
        parts.append(run_suite(names))
    passed, failed, skipped = (sum(counts) for counts in zip(*parts, strict=True))
    if counted:
        Path(counted).write_text(json.dumps([passed, failed, skipped]))
        return 0
    print(f"{passed} passed, {failed} failed, {skipped} skipped")
    return 1 if failed or not passed else 0


if __name__ == "__main__":
    sys.exit(main())
