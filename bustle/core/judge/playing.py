"""Whether a table may be played, and what is told in front of it."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from bustle.core.judge.finding import Finding
from bustle.core.judge.registry import BENCH, JUDGEMENTS, STOPPING, findings
from bustle.core.walk.reading import Reading
from bustle.core.words.wording import seconds


class CannotBePlayed(ValueError):
    """A table with a row that no machine can take; the message is a sentence that names the first."""


@dataclass(frozen=True)
class Told:
    """stops: what stops the walk; bench: what stops the machine, whatever it walks. unjudged: code → why it is not told
    here, of what ought to be. refused: why the table cannot be played at all, None where it can."""

    stops: tuple[Finding, ...]
    bench: tuple[Finding, ...]
    unjudged: dict[str, str]
    refused: str | None


def told(r: Reading) -> Told:
    stops, bench = (tuple(f for f in findings(r, js) if f.severity == "stop") for js in (STOPPING, BENCH))
    reasons = {
        code: j.judged(r)
        for code, j in JUDGEMENTS.items()
        if j.matters and all(JUDGEMENTS[other].judged(r) for other in j.instead)
    }
    return Told(stops, bench, {code: why for code, why in reasons.items() if why}, refusal(r))


def refusal(r: Reading) -> str | None:
    """Why the table cannot be played: the first row at which a foot is not where it should be, or a joint or servo
    past its end."""
    first: tuple[int, str] | None = None
    for judgement in JUDGEMENTS.values():
        if judgement.unplayable is None:
            continue
        stop = next((f for f in judgement.found(r) if f.severity == "stop"), None)
        if stop is None:
            continue
        rows = np.flatnonzero(judgement.unplayable(r)[: r.samples])
        # Between two rows, where a foot lifts or lands: the row before it.
        row = int(rows[0]) if len(rows) else int((stop.time_s or 0.0) / r.row_s)
        if first is None or row < first[0]:
            first = row, f"{stop.code} {stop.message}"
    if first is None:
        return None
    row, why = first
    return f"Row {row + 1}, at {seconds(row * r.row_s)}, cannot be played. {why}"


def judged(r: Reading) -> dict[str, bool | str]:
    """Code → true, or why it is not judged of this motion and machine."""
    return {code: why if (why := judgement.judged(r)) else True for code, judgement in JUDGEMENTS.items()}
