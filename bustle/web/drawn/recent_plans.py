"""Plans asked for a moment ago. What is asked for when a hand rests, and the working of a figure, are read off the same
draft as the last glimpse of the drag: what that has worked out is not worked out again."""

from __future__ import annotations

from collections import deque

from bustle.core.document.checked import CheckedProject
from bustle.core.evaluate import Plan, evaluate

# Two drafts of one builder, or one of two. Longer ones would hold more memory than they save time.
KEPT, MOST_ROWS = 2, 2400

_recent: deque[tuple[CheckedProject, str, Plan]] = deque(maxlen=KEPT)


def plan_of(project: CheckedProject, motion: str) -> Plan:
    """The plan of a motion. Raises InputRefused as `evaluate` does."""
    for known, name, plan in tuple(_recent):
        # Parts of a draft that did not change are the same objects, and cost nothing to compare.
        if name == motion and known == project:
            return plan
    plan = evaluate(project, motion)
    if plan.reading.samples <= MOST_ROWS:
        _recent.append((project, motion, plan))
    return plan
