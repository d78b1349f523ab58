"""F18: a static gait lifts a leg while the centre of mass is outside the remaining polygon."""

from __future__ import annotations

from collections.abc import Iterator

from bustle.core.judge.judgements.finding import Finding, Severity
from bustle.core.walk.reading import Evidence
from bustle.core.words.wording import length, seconds


def margin(e: Evidence) -> Iterator[Finding]:
    """Stop when it would fall, warn below the limit. Dynamic motions are not judged by margin."""
    if e.balance != "static":
        return
    supported = e.support.supported
    if not supported.all():
        at = int(supported.argmin())
        time = e.time_at(at)
        yield Finding(
            "F18", "stop", "Falls over",
            f"No foot is down at {seconds(time)}; a static motion needs three.", (), time, 0.0, 3.0, "feet",
        )  # fmt: skip
        return
    worst = e.worst_margin
    limit = e.project.limits.margin_mm
    if worst is None or worst[0] >= limit:
        return
    value, at = worst
    time = e.time_at(at)
    limbs = zip(e.project.walker.limbs, e.course.contact[:, at], strict=True)
    up = [m.name for m, down in limbs if m.steps and not down]
    air = f", with {' and '.join(up[:3])} in the air" if up else ""
    severity: Severity = "stop" if value <= 0 else "warn"
    if severity == "stop":
        message = f"The centre of mass is {length(-value)} outside the feet that are down at {seconds(time)}{air}."
    else:
        message = f"The margin is {length(value)} at {seconds(time)}{air}; keep {length(limit)}."
    yield Finding(
        "F18",
        severity,
        "Falls over" if value <= 0 else "Little margin",
        message,
        (),
        time,
        value,
        limit,
        "mm",
    )
