"""F16: neighbouring legs, or a leg and the chassis, collide."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import numpy as np

from bustle.core.at_rest.joint_axes import joint_axes
from bustle.core.edits.patches import replace
from bustle.core.judge.figure import FigureSpec, Lines, Told
from bustle.core.judge.finding import Finding, Severity
from bustle.core.judge.judgement import Judgement
from bustle.core.judge.measures.feet.sole_gaps import sole_gaps, soles_that_overlap
from bustle.core.judge.measures.gaps import Gap, begin_inside, carried_gaps, gaps, near_enough_to_give
from bustle.core.judge.ways import Edit, Mending, Offer, Turn
from bustle.core.project.motion import Swings
from bustle.core.walk.reading import Reading
from bustle.core.words.wording import length, number, percent, seconds, told_apart

OPENING = "opening"
# So much of a sole's width is left where it is made narrower; swings are tried at these shares; an axis stands upright
# to such a cosine.
LEAST_SOLE, SMALLER, UPRIGHT = 0.5, (0.8, 0.65, 0.5, 0.35, 0.25, 0.15), 0.9
# What is told as 0 mm touches.
TOUCHES_MM = 0.05
# So far apart soles are brought that overlap, mm.
SPARE_MM = 1.0


def collision(r: Reading) -> Iterator[Finding]:
    """Stop where two parts overlap, as planned or as the servos give; warn where they come nearer than the limit, and
    where what begins within the frame needs an opening."""
    limit, planned, carried = r.project.limits.clearance_mm, r.of(_planned), r.of(carried_gaps)
    if carried and carried[0].distance_mm < min(planned[0].distance_mm, limit):
        yield from _told(r, carried, " once the servos give under the load")
    else:
        yield from _told(r, planned)
    yield from _opening(r)


def as_planned(r: Reading) -> tuple[Finding, ...] | None:
    """The same of what is planned alone; None where that keeps clear, and what the servos give may not."""
    found = tuple(_told(r, r.of(_planned)))
    return (*found, *_opening(r)) if found or not near_enough_to_give(r) else None


def _planned(r: Reading) -> list[Gap]:
    """Of parts, and of soles where they overlap, the least first."""
    return sorted([*r.of(gaps), *r.of(soles_that_overlap)], key=lambda gap: round(gap.distance_mm, 6))


def _told(r: Reading, found: list[Gap], once: str = "") -> Iterator[Finding]:
    limit = r.project.limits.clearance_mm
    close = [gap for gap in found if gap.distance_mm < limit]
    if not close:
        return
    worst = close[0]
    time = float(worst.sample * r.row_s)
    severity: Severity = "stop" if worst.distance_mm < 0 else "warn"
    if abs(worst.distance_mm) < TOUCHES_MM:
        message = f"{worst.first} and {worst.second} touch at {seconds(time)}{once}; keep {length(limit)}."
    elif severity == "stop":
        message = f"{worst.first} and {worst.second} overlap by {length(-worst.distance_mm)} at {seconds(time)}{once}."
    else:
        near, keep = told_apart(length, worst.distance_mm, limit)
        message = f"{worst.first} comes within {near} of {worst.second} at {seconds(time)}{once}; keep {keep}."
    more = len({(g.first, g.second) for g in close}) - 1
    if more:
        message += f" {more} more {'pair is' if more == 1 else 'pairs are'} as near."
    names = dict.fromkeys(name for gap in close for name in gap.limbs)
    yield Finding(
        "F16", severity, "Parts collide" if severity == "stop" else "Parts come near", message,
        tuple((name, "") for name in names), time, worst.distance_mm, limit, "mm",
    )  # fmt: skip


def _opening(r: Reading) -> Iterator[Finding]:
    found = r.of(begin_inside)
    if not found:
        return
    deepest, parts = found[0], list(dict.fromkeys((gap.first, gap.second) for gap in found))
    more = f", as {len(parts) - 1} more {'does' if len(parts) == 2 else 'do'}" if len(parts) > 1 else ""
    yield Finding(
        "F16", "warn", "Begins within the frame",
        f"{deepest.first} begins {length(-deepest.distance_mm)} within {deepest.second}{more}: nothing says how wide "
        "the opening is that it comes out of; leave it room to swing, or see whether mount and frame are as measured.",
        (("", OPENING), *dict.fromkeys((gap.limbs[0], "") for gap in found)),
        float(deepest.sample * r.row_s), deepest.distance_mm, 0.0, "mm",
    )  # fmt: skip


def _narrower_soles(m: Mending) -> Iterator[Edit]:
    """As narrow as keeps the deepest overlap clear, where most of a sole is left."""
    found = m.reading.of(soles_that_overlap)
    widths = [limb.feet[0].sole.width_mm for limb in m.project.walker.legs if limb.feet[0].sole.kind == "rectangle"]
    if not found or not widths:
        return
    width = float(np.floor(min(widths) + found[0].distance_mm - SPARE_MM))
    if width >= LEAST_SOLE * min(widths):
        edits = [
            replace(f"/walker/limbs/{n}/feet/0/sole/width_mm", width)
            for n, limb in enumerate(m.project.walker.limbs)
            if limb.steps and limb.feet[0].sole.kind == "rectangle"
        ]
        yield Edit(f"Soles {length(width)} wide", tuple(edits))


def soles_brought_apart(r: Reading, spare_mm: float = SPARE_MM) -> tuple[dict[str, Any], ...]:
    """Feet so much further to their sides that their soles are that far from each other; nothing where they are."""
    found = r.of(sole_gaps)
    if not found or found[0].distance_mm >= spare_mm:
        return ()
    by = round((spare_mm - found[0].distance_mm) / 2 + 0.05, 1)
    return tuple(
        replace(f"/walker/limbs/{n}/neutral_mm", [limb.neutral_mm[0], round(limb.neutral_mm[1] + side * by, 3)])
        for n, limb in enumerate(r.project.walker.limbs)
        if limb.neutral_mm is not None and (side := float(np.sign(limb.mount.at_mm[1])))
    )


def _feet_apart(m: Mending) -> Iterator[Edit]:
    if m.reading.of(soles_that_overlap):
        yield Edit("Feet further apart", soles_brought_apart(m.reading))


def _smaller_swings(m: Mending) -> Iterator[Edit]:
    """Of joints given outright, those that turn a sole."""
    motion = m.project.motion(m.motion)
    if not isinstance(motion, Swings) or not m.reading.of(soles_that_overlap):
        return
    for share in SMALLER:
        edits = [
            replace(f"{m.path}/joints/{n}/swing", round(one.swing * share, 1))
            for n, one in enumerate(motion.joints)
            if one.swing and _turns_its_sole(m, one.limb, one.joint)
        ]
        if edits:
            yield Edit(f"Toes swing {percent(1 - share)} less", tuple(edits))


def _turns_its_sole(m: Mending, limb: str, joint: str) -> bool:
    """Whether the joint's axis stands upright as the machine begins."""
    r = m.reading
    axes = joint_axes(r.assembled.parts, r.course.solved)[:, 1]
    at = next(n for n, one in enumerate(r.kit.joints) if (one.limb.name, one.name) == (limb, joint))
    return bool(abs(float((r.course.body.turn[0] @ axes[at])[2])) > UPRIGHT)


def _read(r: Reading) -> Told | None:
    found = r.of(_planned)
    return (found[0].distance_mm, float(found[0].sample * r.row_s)) if found else None


def _working(r: Reading) -> Lines:
    gap = r.of(_planned)[0]
    return (
        f"{gap.first} and {gap.second} at {seconds(gap.sample * r.row_s)}, surface to surface,",
        "below 0 where they overlap",
        f"= {number(gap.distance_mm)} mm",
    )


NEAREST_PARTS = FigureSpec(
    "clearance_mm", "Nearest parts", "mm", 1, _read, _working, ("frame",), better=1, compared=True
)

JUDGEMENT = Judgement(
    "F16",
    "Parts keep clear of each other",
    ("frame",),
    collision,
    tier="drag",
    at_once=as_planned,
    limits_stride=True,
    figures=(NEAREST_PARTS,),
    ways=(
        Turn("stride", up=False, subject=""),
        Turn("feet_out", subject=""),
        Turn("ride_height", subject=""),
        Turn("lift", up=False, subject=""),
        Turn("mounts_out", down=False),
        Offer(_feet_apart, any_motion=True),
        Offer(_narrower_soles, any_motion=True),
        Offer(_smaller_swings, keep="first", any_motion=True),
    ),
)
