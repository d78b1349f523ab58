"""Ways of mending the machine itself: leads, the fold, and what was measured of a leg."""

from __future__ import annotations

from collections.abc import Iterator
from math import ceil

from bustle.core.edits.levers import replace
from bustle.core.machine.folded import better_fold
from bustle.core.machine.foot_drift import explanations
from bustle.core.search.attempt import Case, Remedy
from bustle.core.words.wording import number


def longer_lead(case: Case) -> Iterator[Remedy]:
    """Every short lead as long as it needs to be, to the next 5 mm."""
    slack = case.project.limits.lead_slack_mm
    edits, said = [], ""
    for n, need in enumerate(case.plan.evidence.leads):
        if need.needed_mm + slack > need.lead.length_mm:
            length = float(ceil((need.needed_mm + slack) / 5) * 5)
            edits.append(replace(f"/walker/leads/{n}/length_mm", length))
            said = f"{need.lead.name}: {number(need.lead.length_mm, 0)} → {number(length, 0)} mm"
    title = said if len(edits) == 1 else f"{len(edits)} leads longer, the last {said}"
    yield from case.offer(title, *edits)


def other_fold(case: Case) -> Iterator[Remedy]:
    """The fold nearest to this one that fits the box."""
    pose = case.project.walker.folded
    found = better_fold(case.project.walker, pose) if pose else None
    if found:
        first = case.project.walker.limbs[0]
        angles = ", ".join(f"{a.joint} {number(a.value, 0)}°" for a in found if a.limb == first.name)
        edit = replace("/walker/folded/joints", [a.model_dump() for a in found])
        yield from case.offer(f"Fold otherwise: {first.name} {angles}", edit)


def record_drift(case: Case) -> Iterator[Remedy]:
    """Take an explanation into what is known of the built leg."""
    walker = case.project.walker
    name = case.finding.subjects[0][0]
    limb = next(m for m in walker.limbs if m.name == name)
    for n, truth in enumerate(walker.as_built.limbs):
        if truth.limb != name:
            continue
        for found in explanations(walker, limb, truth.drift, truth)[:3]:
            base = f"/walker/as_built/limbs/{n}"
            if found.kind == "zero":
                value = round(truth.joint_zero_deg.get(found.part, 0.0) + found.amount, 2)
                edit = {"op": "add", "path": f"{base}/joint_zero_deg/{found.part}", "value": value}
                title = f"Record: {name} {found.part} zero is {number(value, 2)}° off"
            else:
                drawn = next(k.length_mm for k in limb.links if k.name == found.part)
                value = round(truth.link_length_mm.get(found.part, drawn) + found.amount, 2)
                edit = {"op": "add", "path": f"{base}/link_length_mm/{found.part}", "value": value}
                title = f"Record: {name} {found.part} is {number(value, 1)} mm long"
            yield from case.offer(title, edit)


def fewer_at_once(case: Case) -> Iterator[Remedy]:
    """As many servos at a time as the limit allows."""
    here, limit = case.project.start_up.at_once, case.project.limits.at_once
    yield from case.offer(f"Start {limit} servos at a time, not {here}", replace("/start_up/at_once", limit))


def upper_feet(case: Case) -> Iterator[Remedy]:
    """Every leg without one gets a foot like its own on its upper side."""
    edits = []
    for n, limb in enumerate(case.project.walker.limbs):
        if limb.steps and all(foot.side != "upper" for foot in limb.feet):
            twin = {**limb.feet[0].model_dump(mode="json"), "name": "upper_foot", "side": "upper"}
            edits.append({"op": "add", "path": f"/walker/limbs/{n}/feet/-", "value": twin})
    legs = "leg" if len(edits) == 1 else "legs"
    yield from case.offer(f"Give {len(edits)} {legs} a foot on the upper side", *edits)
