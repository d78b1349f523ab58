"""What would have a walk go well in a dry run that goes badly there: the fewest of a few changes, each tried."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from itertools import combinations
from typing import Any

from bustle.core.document.checked import CheckedProject
from bustle.core.dry_run.dry_run import DryRun, as_its_sheets_say
from bustle.core.edits.levers import motion_index
from bustle.core.edits.patches import patched, replace
from bustle.core.evaluate import evaluate
from bustle.core.project.motion import PhaseGait, Swings
from bustle.core.search.progress import Tell, silent
from bustle.core.walk.motions.own_ends import in_order
from bustle.core.words.problems import InputRefused
from bustle.core.words.wording import percent

# So many at most are told.
MOST = 2
# Times and lengths are tried in these shares.
LONGER, LOWER, SHORTER = 1.25, 0.7, 0.7

Edits = list[dict[str, Any]]


@dataclass(frozen=True)
class Mend:
    """patch: JSON Patch of the project; run: what becomes of it then."""

    title: str
    patch: Edits
    run: DryRun


def mends(project: CheckedProject, motion: str, tell: Tell = silent) -> tuple[Mend, ...]:
    """Those that stop nothing else, one change before two; none where none of them does."""
    tried = list(_tried(project, motion))
    before = evaluate(project, motion).stops
    found: list[Mend] = []
    for n, (title, edits) in enumerate(tried):
        tell(n, len(tried), title)
        try:
            changed = patched(project, edits)
            if evaluate(changed, motion).stops - before:
                continue
            run = as_its_sheets_say(changed, motion)
        except InputRefused:
            continue
        if not run.goes_badly:
            found.append(Mend(title, edits, run))
        if len(found) == MOST:
            break
    return tuple(found)


def _tried(project: CheckedProject, motion: str) -> Iterator[tuple[str, Edits]]:
    walk = project.motion(motion)
    single = [(title, edits) for title, make in CHANGES.items() if (edits := make(project, walk))]
    for many in (1, 2):
        for some in combinations(single, many):
            # Two that set one value are no two changes.
            places = [edit["path"] for _, edits in some for edit in edits]
            if len(set(places)) == len(places):
                title = ", ".join(words for words, _ in some)
                yield title[0].upper() + title[1:], [edit for _, edits in some for edit in edits]


def _held(how: str) -> Callable[[CheckedProject, Any], Edits]:
    def edits(project: CheckedProject, walk: Any) -> Edits:
        return [] if project.against_sag in (how, "full") else [replace("/against_sag", how)]

    return edits


def _steps(walk: Any) -> bool:
    return isinstance(walk, PhaseGait) and not walk.stands


def _slower(project: CheckedProject, walk: Any) -> Edits:
    """The same steps in a longer cycle, of whole rows."""
    if not (_steps(walk) or isinstance(walk, Swings)):
        return []
    row_s, at = project.controller.frame_period_ms / 1000, f"/motions/{motion_index(project, walk.name)}"
    cycle = round(round(LONGER * walk.cycle_s / row_s) * row_s, 6)
    if isinstance(walk, Swings):
        # Its start and its stop swing as it does.
        paces = {m.name: m.cycle_s for m in project.motions if isinstance(m, Swings)}
        alike = [name for name in in_order(project, walk.name) if paces.get(name) == walk.cycle_s]
        return [replace(f"/motions/{motion_index(project, name)}/cycle_s", cycle) for name in alike]
    twist = {name: round(v * walk.cycle_s / cycle, 2) for name, v in walk.twist.model_dump().items()}
    return [replace(f"{at}/cycle_s", cycle), replace(f"{at}/twist", twist)]


def _lower(project: CheckedProject, walk: Any) -> Edits:
    if not _steps(walk):
        return []
    return [replace(f"/motions/{motion_index(project, walk.name)}/lift_mm", round(LOWER * walk.lift_mm, 1))]


def _shorter(project: CheckedProject, walk: Any) -> Edits:
    if not _steps(walk):
        return []
    twist = {name: round(v * SHORTER, 2) for name, v in walk.twist.model_dump().items()}
    return [replace(f"/motions/{motion_index(project, walk.name)}/twist", twist)]


CHANGES: dict[str, Callable[[CheckedProject, Any], Edits]] = {
    "held against sag: static": _held("static"),
    "held against sag: full": _held("full"),
    f"a cycle {LONGER:g} times as long, the same steps": _slower,
    f"feet lifted {percent(LOWER)} as high": _lower,
    f"steps {percent(SHORTER)} as long": _shorter,
}
