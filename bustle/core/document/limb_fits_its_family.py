"""What single fields of a limb cannot see: whether its joints, links, feet and family fit together."""

from __future__ import annotations

from collections.abc import Iterable

from bustle.core.kinds.legs import FAMILIES, Family
from bustle.core.project.walker import Limb, Walker

Found = Iterable[tuple[str, str]]


def limb_problems(path: str, limb: Limb, walker: Walker) -> Found:
    """(path, sentence) for everything that does not fit."""
    if limb.section not in {s.name for s in walker.sections}:
        yield f"{path}.section", f"leg {limb.name} sits on {limb.section!r}, which is no section of this frame"
    family = FAMILIES.get(limb.family)
    if family is None:
        yield f"{path}.family", f"must be one of {', '.join(FAMILIES)}, got {limb.family!r}"
        return
    if limb.branch not in family.branches:
        yield f"{path}.branch", f"must be one of {', '.join(family.branches)}, got {limb.branch!r}"
    keeps = [k.name for k in family.keeps]
    if limb.keep is not None and limb.keep not in keeps:
        choices = f"must be one of {', '.join(keeps)}" if keeps else f"a {family.label} leg has nothing to choose"
        yield f"{path}.keep", f"{choices}, got {limb.keep!r}"
    if any(limb.hip_offset_mm) and not family.takes_hip_offset:
        yield f"{path}.hip_offset_mm", f"a {family.label} leg has its hip axes in one place; leave it at 0"
    yield from _free_chain(path, limb) if family.open else _closed_form(path, limb, family)
    yield from _ranges(path, limb)
    yield from _feet(path, limb)


def _closed_form(path: str, limb: Limb, family: Family) -> Found:
    for kind, have, want in (
        ("joints", [j.name for j in limb.joints], [j.name for j in family.joints]),
        ("links", [k.name for k in limb.links], [k.name for k in family.links]),
    ):
        if have != want:
            wanted = f"{', '.join(want)} in this order" if want else f"no {kind}"
            yield f"{path}.{kind}", f"a {family.label} leg has {wanted}, got {', '.join(have) or 'none'}"
    for n, (link, spec) in enumerate(zip(limb.links, family.links, strict=False)):
        if link.length_mm == 0 and not spec.may_be_zero:
            yield f"{path}.links[{n}].length_mm", f"must be above 0, got 0 (leg {limb.name}, {link.name})"
        if link.offset_mm is not None:
            yield f"{path}.links[{n}].offset_mm", f"only a free chain has offsets (leg {limb.name}, {link.name})"
    for n, joint in enumerate(limb.joints):
        if joint.axis is not None:
            yield f"{path}.joints[{n}].axis", f"only a free chain names its axes (leg {limb.name}, {joint.name})"
        if joint.kind == "slide":
            yield f"{path}.joints[{n}].kind", f"a {family.label} leg has hinges only (leg {limb.name}, {joint.name})"


def _free_chain(path: str, limb: Limb) -> Found:
    if not limb.joints:
        yield f"{path}.joints", f"a free chain has at least one joint (leg {limb.name})"
    if len(limb.links) != len(limb.joints):
        yield (
            f"{path}.links",
            f"a free chain has one link per joint, got {len(limb.links)} links and {len(limb.joints)} joints",
        )
    for n, joint in enumerate(limb.joints):
        if joint.axis is None or sum(v * v for v in joint.axis) < 1e-12:
            yield f"{path}.joints[{n}].axis", f"needs a direction that is not 0, 0, 0 (leg {limb.name}, {joint.name})"
    for n, link in enumerate(limb.links):
        if link.offset_mm is None:
            yield f"{path}.links[{n}].offset_mm", f"is missing (leg {limb.name}, {link.name})"
    for kind, names in (("joints", [j.name for j in limb.joints]), ("links", [k.name for k in limb.links])):
        for n, name in enumerate(names):
            if name in names[:n]:
                yield f"{path}.{kind}[{n}].name", f"two {kind} of leg {limb.name} are called {name!r}"


def _ranges(path: str, limb: Limb) -> Found:
    for n, joint in enumerate(limb.joints):
        low, high, unit = (
            (joint.min_mm, joint.max_mm, "mm") if joint.kind == "slide" else (joint.min_deg, joint.max_deg, "deg")
        )
        if low >= high:
            yield (
                f"{path}.joints[{n}].max_{unit}",
                f"must be above min_{unit}, {low:g}, got {high:g} (leg {limb.name}, {joint.name})",
            )


def _feet(path: str, limb: Limb) -> Found:
    if not limb.joints and not limb.feet:
        yield f"{path}.feet", f"{limb.name} has neither joints nor a foot; give it one or remove it"
    sides = [f.side for f in limb.feet]
    if len(set(sides)) != len(sides):
        yield f"{path}.feet[1].side", f"leg {limb.name} has two feet on its {sides[0]} side; one must be the other"
    if limb.feet and limb.feet[0].side != "under":
        yield f"{path}.feet[0].side", f"the first foot of {limb.name} is the one it stands on, under"
    if limb.steps and limb.neutral_mm is None:
        yield f"{path}.neutral_mm", f"is missing: where the foot of leg {limb.name} stands"
    if not limb.steps and limb.neutral_mm is not None:
        yield f"{path}.neutral_mm", f"{limb.name} does not step; remove its neutral foot"
    contact = limb.feet[0].contact if limb.feet else None
    if contact and contact.kind == "rolls" and contact.steered:
        first = limb.joints[0] if limb.joints else None
        axis = (first.axis if first and first.kind == "hinge" else None) or (0.0, 0.0, 0.0)
        if not FAMILIES[limb.family].open or not (axis[0] == axis[1] == 0.0 < axis[2]):
            yield (
                f"{path}.feet[0].contact.steered",
                f"{limb.name} turns its wheel by its first joint: make it a free chain whose first joint is a hinge "
                "about 0, 0, 1",
            )
        elif contact.any_way:
            yield f"{path}.feet[0].contact.steered", f"the wheel of {limb.name} rolls every way; it needs no steering"
    for n, foot in enumerate(limb.feet):
        if n == 0 and limb.joints and any(foot.at_mm):
            yield f"{path}.feet[{n}].at_mm", f"the first foot of {limb.name} is at the end of its last link: 0, 0, 0"
