"""The checks. A new check is one function here and one line in this registry."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from bustle.core.judge.judgements.clearance import collision, grounding
from bustle.core.judge.judgements.finding import Finding
from bustle.core.judge.judgements.landing import kicked, missed_ground, obstacle, stamping
from bustle.core.judge.judgements.machine import envelope, short_leads, turning_circle
from bustle.core.judge.judgements.measured import drifting, foot_play
from bustle.core.judge.judgements.reach import end_stop, out_of_reach, straight_knee
from bustle.core.judge.judgements.rows import row_period
from bustle.core.judge.judgements.slip import dragged_turn, scuffing
from bustle.core.judge.judgements.speed import joint_rate
from bustle.core.judge.judgements.standing import margin
from bustle.core.judge.judgements.starting import jumps, leaps, wrong_side
from bustle.core.walk.reading import Evidence

CHECKS: dict[str, Callable[[Evidence], Iterator[Finding]]] = {
    "F17": out_of_reach,
    "F18": margin,
    "F15": end_stop,
    "F06": joint_rate,
    "F47": straight_knee,
    "F38": row_period,
    "F12": scuffing,
    "F13": dragged_turn,
    "F16": collision,
    "F46": grounding,
    "F40": turning_circle,
    "F45": short_leads,
    "F36": envelope,
    "F24": obstacle,
    "F25": stamping,
    "F48": missed_ground,
    "F49": kicked,
    "F43": jumps,
    "F23": wrong_side,
    "F39": leaps,
    "F28": drifting,
    "F29": foot_play,
}

_RANK = {"stop": 0, "warn": 1, "note": 2}


def findings(e: Evidence) -> list[Finding]:
    """Every finding of the evidence, stops first."""
    found = [finding for check in CHECKS.values() for finding in check(e)]
    return sorted(found, key=lambda f: _RANK[f.severity])


__all__ = ["CHECKS", "Finding", "findings"]
