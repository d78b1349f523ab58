"""What answers cost beside the code that the aims were set by, both on this machine, in turn, in one run.

The aims are ratios to the floor, told when one evaluation came to 0.85 of it. The floor is a few long calls, an answer
thousands of short ones, and the two do not grow alike from one machine to the next: so each answer is told as a share
of what that code takes for one evaluation here, and what aim that makes. Needs the repository with its history.
"""

from __future__ import annotations

import io
import json
import subprocess
import sys
import tarfile
import tempfile
from pathlib import Path

REVISION = "36fb137"
THEN = 0.85
THEN_BAND = 25.0
ROUNDS = 3

OLD = """
import json, time
from bustle.core.document import parse_project
from bustle.core.levers import LEVERS
from bustle.core.motion_set import motion_set
from bustle.core.plan import evaluate
from bustle.core.project import document
from bustle.core.shapes import start
from bustle.core.sound import sound_band

six, lever = start("six_sprawled", "Bench", 200.0), LEVERS["ride_height"]
values = document(six)
period, walk = values["controller"]["frame_period_ms"] / 1000, values["motions"][0]
share = walk["cycle_s"] / (240 * period)
walk["cycle_s"] = 240 * period
walk["twist"] = {k: v * share for k, v in walk["twist"].items()}
slow = parse_project(values)
"""

NEW = """
import json, sys, time
sys.path.insert(0, "bench")
from functools import partial
from evaluation import ROWS, LEVERS, answer_next, dragged, motion_set, sound_band, start, with_rows

six, lever = start("six_sprawled", "Bench", 200.0), LEVERS["ride_height"]
slow = with_rows(six, ROWS)
"""

LEAST = """
def least(run, rounds):
    run()
    times = []
    for _ in range(rounds):
        begun = time.process_time()
        run()
        times.append(time.process_time() - begun)
    return min(times)

band = least(lambda: sound_band(slow, "Forward", lever, lever.low, lever.high), 3)
made = least(lambda: motion_set(start("six_sprawled", "Bench", 200.0), "tripod"), 2)
"""

OLD_TOLD = LEAST + 'print(json.dumps({"one": least(lambda: evaluate(slow, "Forward"), 40), "band": band, "set": made}))'
NEW_TOLD = LEAST + (
    'answers = {s or "everything": least(partial(answer_next, dragged(slow, s)), 40)'
    ' for s in ("stride", "balance", "frame", "table", "load", None)}\n'
    'print(json.dumps(answers | {"band": band, "set": made}))'
)


def measured(code: str, root: Path) -> dict[str, float]:
    told = subprocess.run(
        [sys.executable, "-c", code], cwd=root, check=True, capture_output=True, text=True,
        env={"PYTHONPATH": str(root), "OMP_NUM_THREADS": "1", "PATH": ""},
    )  # fmt: skip
    found: dict[str, float] = json.loads(told.stdout.splitlines()[-1])
    return found


def least_of(rounds: list[dict[str, float]]) -> dict[str, float]:
    return {what: min(r[what] for r in rounds) for what in rounds[0]}


def main() -> None:
    here = Path(__file__).parents[1]
    packed = subprocess.run(["git", "archive", REVISION, "bustle"], cwd=here, check=True, capture_output=True).stdout
    with tempfile.TemporaryDirectory() as folder:
        with tarfile.open(fileobj=io.BytesIO(packed)) as archive:
            archive.extractall(folder, filter="data")
        both = [(measured(OLD + OLD_TOLD, Path(folder)), measured(NEW + NEW_TOLD, here)) for _ in range(ROUNDS)]
    then, now = (least_of(list(rounds)) for rounds in zip(*both, strict=True))
    print(f"one evaluation by {REVISION}: {then['one'] * 1e3:.1f} ms, which was {THEN} of the floor when aims were set")
    for what, seconds in now.items():
        if what not in then:
            aim = 0.6 if what == "everything" else 0.4
            told = f"{seconds / then['one'] * THEN:.2f} beside {THEN} (aim: {aim})"
            print(f"a drag at {what}: {seconds * 1e3:.1f} ms, {told}".replace("a drag at everything", "everything"))
    band = now["band"] / then["band"]
    print(f"a sound band: {now['band'] * 1e3:.0f} ms beside {then['band'] * 1e3:.0f}, "
          f"{band * THEN_BAND:.1f} beside {THEN_BAND:g} (aim: 8)")  # fmt: skip
    print(f"a set for six legs: {now['set']:.2f} s beside {then['set']:.2f}, {now['set'] / then['set']:.2f} (aim: 0.5)")


if __name__ == "__main__":
    main()
