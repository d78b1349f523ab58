"""Run the checks and the unittest suite, and end with the count of what really passed, failed and was skipped."""

from __future__ import annotations

import subprocess
import sys
import time
import unittest
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
BIN = Path(sys.executable).parent
UI = ROOT / "ui"

CHECKS = {
    "format": ([BIN / "ruff", "format", "--check", "--quiet", "bustle", "tests", "bench", "scripts"], ROOT),
    "lint": ([BIN / "ruff", "check", "--quiet", "bustle", "tests", "bench", "scripts"], ROOT),
    "types": ([BIN / "mypy", "--no-error-summary"], ROOT),
    "interface format and lint": (["npx", "--no-install", "biome", "ci", "--error-on-warnings", "src"], UI),
    "interface types": (["npx", "--no-install", "tsc", "--noEmit"], UI),
}


def run_checks() -> tuple[int, int]:
    """(passed, failed)."""
    failed = 0
    for name, (command, folder) in CHECKS.items():
        started = time.monotonic()
        done = subprocess.run([str(c) for c in command], cwd=folder, capture_output=True, text=True)
        verdict = "ok" if done.returncode == 0 else "FAILED"
        print(f"check {name}: {verdict} ({time.monotonic() - started:.1f} s)", flush=True)
        if done.returncode:
            failed += 1
            print(done.stdout[-6000:], done.stderr[-3000:], sep="\n", flush=True)
    return len(CHECKS) - failed, failed


def run_suite(names: list[str]) -> unittest.TestResult:
    loader = unittest.TestLoader()
    everything = str(ROOT / "tests")
    suite = loader.loadTestsFromNames(names) if names else loader.discover(everything, top_level_dir=str(ROOT))
    return unittest.TextTestRunner(verbosity=1, stream=sys.stdout).run(suite)


def main() -> int:
    names = sys.argv[1:]
    passed = failed = skipped = 0
    if not names or "checks" in names:
        passed, failed = run_checks()
    names = [n for n in names if n != "checks"]
    if names or len(sys.argv) == 1:
        sys.path.insert(0, str(ROOT))
        result = run_suite(names)
        bad = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
        skipped = len(result.skipped)
        failed += bad
        passed += max(0, result.testsRun - bad - skipped)
    print(f"{passed} passed, {failed} failed, {skipped} skipped")
    return 1 if failed or not passed else 0


if __name__ == "__main__":
    sys.exit(main())
