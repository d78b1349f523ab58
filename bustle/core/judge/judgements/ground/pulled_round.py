"""F52: what drags on one side pulls it round."""

from __future__ import annotations

from collections.abc import Iterator

from bustle.core.edits.patches import replace
from bustle.core.judge.figure import FigureSpec, Lines, Told
from bustle.core.judge.finding import Finding
from bustle.core.judge.judgement import Judgement
from bustle.core.judge.judgements.ground.drifts import steered
from bustle.core.judge.measures.way_walked import Drift, drift, drift_of_legs, mostly_dragged, not_pulled
from bustle.core.judge.ways import Edit, Mending, Offer
from bustle.core.walk.reading import Reading
from bustle.core.words.wording import degrees, joined, length, newtons, number, told_apart


def not_judged(r: Reading) -> str | None:
    if not r.project.walker.drags:
        return None
    why = not_pulled(r)
    if why:
        return why
    return None if r.of(drift) else "only a walk with a way of its own is pulled off it"


def by_drags(r: Reading) -> Drift | None:
    """What drags add; None where nothing does, or that is not told."""
    if not r.project.walker.drags or not_judged(r):
        return None
    whole, legs = r.of(drift), r.of(drift_of_legs)
    if whole is None or legs is None:
        return None
    return Drift(whole.aside_mm - legs.aside_mm, whole.turned_deg - legs.turned_deg)


def pulled_round(r: Reading) -> Iterator[Finding]:
    """Where drags have the larger part in a drift that is more than the project allows."""
    found, whole, limit = r.of(by_drags), r.of(drift), r.project.limits.drift_mm_m
    if found is None or whole is None or not r.of(mostly_dragged) or abs(whole.aside_mm) <= limit:
        return
    drags = r.project.walker.drags
    names = joined([drag.name for drag in drags])
    side = "right" if whole.aside_mm < 0 else "left"
    aside, keep = told_apart(length, abs(whole.aside_mm), limit)
    yield Finding(
        "F52", "warn", "Pulled round by what drags",
        f"{names} {'pulls' if len(drags) == 1 else 'pull'} it round as its legs give: {aside} to "
        f"the {side} of its way after a metre, {degrees(abs(whole.turned_deg))} round; keep {keep}.",
        (), None, abs(whole.aside_mm), limit, "mm",
    )  # fmt: skip


def _to_the_middle(m: Mending) -> Iterator[Edit]:
    """Each where it pulls along the middle line."""
    drags = m.project.walker.drags
    for n, drag in enumerate(drags):
        x, y, z = drag.at_mm
        if y:
            yield Edit(f"Hang {drag.name} on the middle line", (replace(f"/walker/drags/{n}/at_mm", [x, 0.0, z]),))
    if sum(bool(drag.at_mm[1]) for drag in drags) > 1:
        patch = tuple(replace(f"/walker/drags/{n}/at_mm", [d.at_mm[0], 0.0, d.at_mm[2]]) for n, d in enumerate(drags))
        yield Edit("Hang all that drags on the middle line", patch)


def _read(r: Reading) -> Told | None:
    found = r.of(by_drags)
    return (abs(found.aside_mm), None) if found else None


def _working(r: Reading) -> Lines:
    found = r.of(by_drags)
    assert found
    moment = sum(drag.pull_n * drag.at_mm[1] for drag in r.project.walker.drags) / 1000
    return (
        "a foot that is lifted lets go of what its leg held, and comes down where the leg then has it",
        f"{newtons(sum(d.pull_n for d in r.project.walker.drags))} against the way it goes, "
        f"{number(abs(moment), 2)} N·m about its middle, legs as stiff as their servos",
        f"after a metre: {number(abs(found.aside_mm), 0)} mm to one side, {number(abs(found.turned_deg), 1)}° round",
    )


JUDGEMENT = Judgement(
    "F52",
    "What drags leaves it on its way",
    ("stride",),
    pulled_round,
    not_judged,
    stops=False,
    figures=(
        FigureSpec(
            "dragged_mm_m",
            "Pulled aside",
            "mm/m",
            0,
            _read,
            _working,
            ("stride/drift", "frame/drags"),
            better=-1,
            compared=True,
        ),
    ),
    ways=(Offer(_to_the_middle), Offer(steered)),
)
