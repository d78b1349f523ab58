"""F28: a foot that drifts as it goes up and down."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import numpy as np

from bustle.core.at_rest.foot_drift import drift_left_mm, explanations
from bustle.core.judge.finding import Finding
from bustle.core.judge.judgement import Judgement
from bustle.core.judge.ways import Edit, Mending, Offer
from bustle.core.walk.reading import Reading
from bustle.core.words.wording import length, number

# Drift that a ruler cannot tell from none.
READ_MM = 1.0


def drifting_foot(r: Reading) -> Iterator[Finding]:
    """Measured drift over height that the known built leg does not account for, with what explains it best."""
    walker = r.project.walker
    limbs = {limb.name: limb for limb in walker.limbs}
    for truth in walker.as_built.limbs:
        limb = limbs[truth.limb]
        if len(truth.drift) < 2 or not limb.steps:
            continue
        left = drift_left_mm(walker, limb, truth.drift, truth)
        spread = float(np.linalg.norm(left[:, None] - left[None], axis=-1).max())
        if spread <= READ_MM:
            continue
        best = explanations(walker, limb, truth.drift, truth)[0]
        unit = "°" if best.kind == "zero" else " mm"
        amount = f"{number(abs(best.amount), 1)}{unit} {'more' if best.amount > 0 else 'less'}"
        what = f"a {best.part} zero" if best.kind == "zero" else f"a {best.part} length of"
        yield Finding(
            "F28", "warn", "Foot drifts with height",
            f"{limb.name}'s foot drifts {length(spread)} over its height; {what} {amount} than drawn explains it "
            f"best, with {length(best.left_mm)} left over.",
            ((limb.name, best.part),), None, spread, READ_MM, "mm",
        )  # fmt: skip


def _record(m: Mending) -> Iterator[Edit]:
    """Take an explanation into what is known of the built leg."""
    walker = m.project.walker
    name = m.finding.subjects[0][0]
    limb = next(one for one in walker.limbs if one.name == name)
    for n, truth in enumerate(walker.as_built.limbs):
        if truth.limb != name:
            continue
        for found in explanations(walker, limb, truth.drift, truth)[:3]:
            base = f"/walker/as_built/limbs/{n}"
            edit: dict[str, Any]
            if found.kind == "zero":
                value = round(truth.joint_zero_deg.get(found.part, 0.0) + found.amount, 2)
                edit = {"op": "add", "path": f"{base}/joint_zero_deg/{found.part}", "value": value}
                title = f"Record: {name} {found.part} zero is {number(value, 2)}° off"
            else:
                drawn = next(k.length_mm for k in limb.links if k.name == found.part)
                value = round(truth.link_length_mm.get(found.part, drawn) + found.amount, 2)
                edit = {"op": "add", "path": f"{base}/link_length_mm/{found.part}", "value": value}
                title = f"Record: {name} {found.part} is {number(value, 1)} mm long"
            yield Edit(title, (edit,))


JUDGEMENT = Judgement(
    "F28",
    "Feet go straight up and down",
    ("leg",),
    drifting_foot,
    stops=False,
    ways=(Offer(_record, any_motion=True),),
)
