"""Ways of mending a motion that are tried whole: leg orders, sways and heaves, cycles and row periods."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from bustle.core.edits.levers import LEVERS, Patch, motion_index, replace
from bustle.core.kinds.gaits import GAITS, places
from bustle.core.kinds.legs import FAMILIES
from bustle.core.project.project import gait_of
from bustle.core.search.attempt import Case, Remedy
from bustle.core.search.least_slip_heave import heaved
from bustle.core.search.smallest_sway import swayed
from bustle.core.words.wording import number


def order(case: Case) -> Iterator[Remedy]:
    """Another named static gait with its own phases, at the duty that stands."""
    index = motion_index(case.project, case.motion)
    motion = gait_of(case.project, case.motion)
    limbs = {limb.name: limb for limb in case.project.walker.limbs}
    spots = places([limbs[leg.limb].mount.at_mm[:2] for leg in motion.legs])
    best: tuple[float, Remedy] | None = None
    for gait in GAITS.values():
        if not gait.fits(spots) or gait.balance != "static" or gait.name == motion.gait:
            continue
        patch: Patch = [{"op": "test", "path": f"/motions/{index}/name", "value": motion.name}]
        patch.append(replace(f"/motions/{index}/gait", gait.name))
        for n, phase in enumerate(gait.phases(spots)):
            patch.append(replace(f"/motions/{index}/legs/{n}/phase", phase))
            if motion.legs[n].duty < gait.duty:
                patch.append(replace(f"/motions/{index}/legs/{n}/duty", gait.duty))
        after = case.cleared_by(patch)
        margin = after.figure("worst_margin_mm") if after else None
        if after and margin is not None and (best is None or margin > best[0]):
            best = margin, case.remedy(f"Leg order {gait.label}", patch, after)
    if best:
        yield best[1]


def sway(case: Case) -> Iterator[Remedy]:
    """The smallest sway that keeps the centre of mass over the feet."""
    index = motion_index(case.project, case.motion)
    for harmonics in (1, 2):
        terms = swayed(case.project, case.motion, case.project.limits.margin_mm, harmonics)
        if not terms:
            continue
        patch: Patch = [{"op": "test", "path": f"/motions/{index}/name", "value": case.motion}]
        patch.append(replace(f"/motions/{index}/pose/sway", [t.model_dump() for t in terms]))
        after = case.cleared_by(patch)
        if after:
            side = max(((t.y_cos_mm**2 + t.y_sin_mm**2) ** 0.5 for t in terms), default=0.0)
            fore = max(((t.x_cos_mm**2 + t.x_sin_mm**2) ** 0.5 for t in terms), default=0.0)
            title = f"Sway {number(side, 0)} mm sideways, {number(fore, 0)} mm fore and aft"
            yield case.remedy(title, patch, after)
            return


def whole_rows(case: Case) -> Iterator[Remedy]:
    """Cycle to whole rows; the stride stays, so the twist follows."""
    if case.finding.subject != "cycle":
        return
    row = case.project.controller.frame_period_ms / 1000
    cycle = gait_of(case.project, case.motion).cycle_s
    for rows in sorted({max(2, int(cycle / row)), max(2, int(cycle / row) + 1)}, key=lambda n: abs(n * row - cycle)):
        patch = LEVERS["cycle"].patch(case.project, case.motion, rows * row)
        after = case.cleared_by(patch)
        if after:
            yield case.remedy(f"Cycle time {number(cycle, 4)} → {number(rows * row, 4)} s", patch, after)


def servo_period(case: Case) -> Iterator[Remedy]:
    """Rows as far apart as the slowest servo asks."""
    if case.finding.subject != "period":
        return
    index = motion_index(case.project, case.motion)
    slowest = case.finding.limit
    patch: Patch = [{"op": "test", "path": f"/motions/{index}/name", "value": case.motion}]
    patch.append(replace("/controller/frame_period_ms", slowest))
    after = case.cleared_by(patch)
    if after:
        yield case.remedy(f"Row period {number(case.finding.value, 2)} → {number(slowest, 2)} ms", patch, after)


def heave(case: Case) -> Iterator[Remedy]:
    """The body goes up and down so that the feet slip least."""
    terms = heaved(case.project, case.motion)
    if terms is None:
        return
    index = motion_index(case.project, case.motion)
    most = sum(float(np.hypot(t.z_cos_mm, t.z_sin_mm)) for t in terms)
    path = f"/motions/{index}/pose/sway"
    yield from case.offer(
        f"Heave the body {number(most)} mm up and down", replace(path, [t.model_dump() for t in terms])
    )


def other_keep(case: Case) -> Iterator[Remedy]:
    """Legs with too few joints follow other coordinates."""
    limbs = case.project.walker.limbs
    for family in dict.fromkeys(limb.family for limb in limbs if FAMILIES[limb.family].keeps):
        for keep in FAMILIES[family].keeps:
            own = [n for n, limb in enumerate(limbs) if limb.family == family]
            if FAMILIES[family].open or all(limbs[n].keep == keep.name for n in own):
                continue
            edits = [replace(f"/walker/limbs/{n}/keep", keep.name) for n in own]
            yield from case.offer(f"Feet follow: {keep.label[0].lower()}{keep.label[1:]}", *edits)
