"""evaluate() for 18 joints × 240 samples, and how its cost grows with samples and legs."""

from __future__ import annotations

import statistics
import time

from bustle.core.document.checked import parse_project
from bustle.core.evaluate import evaluate
from bustle.core.project.project import Project, document
from bustle.core.starting.starting_walkers import start
from bustle.web.picture import picture

ROUNDS = 41


def median_ms(run) -> float:
    run()
    times = []
    for _ in range(ROUNDS):
        begun = time.perf_counter()
        run()
        times.append(time.perf_counter() - begun)
    return statistics.median(times) * 1e3


def hundred_steps(project: Project) -> Project:
    """Fifty cycles of a tripod, two steps each: ahead, round, ahead again."""
    parts = [("Forward", 20.0), ("Turn left", 10.0), ("Forward", 20.0)]
    values = document(project)
    named = [{"motion": name, "amount": cycles} for name, cycles in parts]
    values["motions"].append({"kind": "programme", "name": "Hundred", "parts": named})
    return parse_project(values)


def main() -> None:
    six: Project = start("six_sprawled", "Bench", 200.0)
    four: Project = start("four_sprawled", "Bench", 200.0)
    print(f"18 joints x 240 samples: {median_ms(lambda: evaluate(six, 'Forward', 240)):.1f} ms (aim: 15)")
    base = median_ms(lambda: evaluate(six, "Forward", 500))
    for samples in (500, 1000, 2000, 4000):
        took = median_ms(lambda: evaluate(six, "Forward", samples))  # noqa: B023
        print(f"18 joints x {samples} samples: {took:.1f} ms, {took / base:.2f} times the 500")
    print(f"12 joints x 240 samples: {median_ms(lambda: evaluate(four, 'Forward', 240)):.1f} ms")
    course = hundred_steps(six)
    rows = evaluate(course, "Hundred").reading.samples
    print(f"programme of 100 steps, {rows} rows: {median_ms(lambda: evaluate(course, 'Hundred')):.0f} ms (aim: 300)")
    plan, values = evaluate(six, "Forward"), document(six)
    print(
        f"buffer for the screen, 60 rows: {median_ms(lambda: picture(plan)):.1f} ms, {len(picture(plan)) / 1e3:.0f} kB"
    )
    print(f"reading the draft: {median_ms(lambda: Project.model_validate(values)):.1f} ms")


if __name__ == "__main__":
    main()
