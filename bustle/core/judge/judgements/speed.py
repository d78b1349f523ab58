"""F06: a joint is asked to turn faster than its servo can without load."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from bustle.core.judge.judgements.finding import Finding, Severity, by_joint, offenders
from bustle.core.walk.reading import Evidence
from bustle.core.words.wording import also, number, seconds


def joint_rate(e: Evidence) -> Iterator[Finding]:
    """Stop above the servo's speed, warn above the share of it that the project allows."""
    if not e.servos:
        return
    rates = np.abs(e.servo_rates)
    sheet = np.radians([s.sheet.no_load_speed_deg_s for s in e.servos])
    first = [e.joints[s.first] for s in e.servos]
    reported: set[str] = set()
    checks: tuple[tuple[Severity, float], ...] = (("stop", 1.0), ("warn", e.project.limits.speed_share))
    for severity, share in checks:
        found = offenders(rates - share * sheet)
        for joint, columns in by_joint([j.name for j in first], found[0] if found else []).items():
            if joint in reported:
                continue
            reported.add(joint)
            worst = columns[0]
            row = int(np.argmax(rates[:, worst]))
            rate, limit = float(np.degrees(rates[row, worst])), float(np.degrees(sheet[worst]))
            time = float(row * e.row_s)
            if severity == "stop":
                limits = f"its servo turns {number(limit, 0)}°/s without load"
            else:
                limits = f"that is {number(100 * rate / limit, 0)} % of what its servo does without load"
            yield Finding(
                "F06", severity, "Too fast" if severity == "stop" else "Near full speed",
                f"{first[worst]} needs {number(rate, 0)}°/s at {seconds(time)}; {limits}."
                + also([first[c].limb.name for c in columns[1:]]),
                tuple((first[c].limb.name, joint) for c in columns), time, rate, limit, "°/s",
            )  # fmt: skip
