"""Ways of mending how feet clear and meet the ground, and when arms move."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from bustle.core.edits.levers import motion_index, replace
from bustle.core.kinds.foot_paths import FOOT_PATHS
from bustle.core.project.project import gait_of
from bustle.core.search.attempt import Case, Remedy
from bustle.core.words.wording import number


def squarer_path(case: Case) -> Iterator[Remedy]:
    """A path that is high over more of its way."""
    path = f"/motions/{motion_index(case.project, case.motion)}"
    gait = gait_of(case.project, case.motion)
    if gait.foot_path != "rectangle":
        label = FOOT_PATHS["rectangle"].label
        edits = [replace(f"{path}/foot_path", "rectangle"), replace(f"{path}/swing/points", [])]
        yield from case.offer(f"Path: {label.lower()}", *edits)


def softly(case: Case) -> Iterator[Remedy]:
    """Feet that land without speed: the path matched to the ground, or a smooth one; or their chosen speed undone."""
    path = f"/motions/{motion_index(case.project, case.motion)}"
    gait = gait_of(case.project, case.motion)
    if gait.swing.landing_mm_s:
        here = number(gait.swing.landing_mm_s, 0)
        yield from case.offer(f"Land without speed instead of {here} mm/s", replace(f"{path}/swing/landing_mm_s", 0.0))
        return
    yield from case.offer("Match the path to the ground as it lands", replace(f"{path}/swing/matched", True))
    edits = [replace(f"{path}/foot_path", "minimum_jerk"), replace(f"{path}/swing/points", [])]
    yield from case.offer("Path: minimum jerk, which lands softly", *edits)


def while_all_stand(case: Case) -> Iterator[Remedy]:
    """The limb moves where the margin is greatest: there and back keep their distance in the cycle."""
    path = f"/motions/{motion_index(case.project, case.motion)}"
    gait = gait_of(case.project, case.motion)
    name = case.finding.subjects[0][0]
    moves = [(n, m) for n, m in enumerate(gait.moves_of_arms) if m.limb == name]
    if not moves:
        return
    best: tuple[float, Remedy] | None = None
    for shift in np.arange(0.05, 1.0, 0.05):
        edits = []
        for n, move in moves:
            at, back = (round(float((v + shift) % 1.0), 3) % 1.0 for v in (move.at, move.back_at))
            base = f"{path}/moves_of_arms/{n}"
            edits += [replace(f"{base}/at", at), replace(f"{base}/back_at", back)]
        patch = case.guarded(*edits)
        after = case.cleared_by(patch)
        if after and after.evidence.kicks:
            left = after.evidence.kicks[0].left_mm
            if best is None or left > best[0]:
                percent = number(100 * float((moves[0][1].at + shift) % 1.0), 0)
                best = left, case.remedy(f"Move {name} at {percent} % of the cycle", patch, after)
    if best:
        yield best[1]


def arms_slower(case: Case) -> Iterator[Remedy]:
    """The limb takes longer over it: the least of some shares of the cycle."""
    path = f"/motions/{motion_index(case.project, case.motion)}"
    gait = gait_of(case.project, case.motion)
    name = case.finding.subjects[0][0]
    moves = [(n, m) for n, m in enumerate(gait.moves_of_arms) if m.limb == name]
    for takes in (0.1, 0.15, 0.2, 0.25, 0.3, 0.4, 0.5):
        slower = [(n, m) for n, m in moves if m.takes < takes]
        if not slower:
            continue
        patch = case.guarded(*(replace(f"{path}/moves_of_arms/{n}/takes", takes) for n, _ in slower))
        after = case.cleared_by(patch)
        if after:
            yield case.remedy(f"Move {name} over {number(100 * takes, 0)} % of the cycle", patch, after)
            return


def right_way_up(case: Case) -> Iterator[Remedy]:
    """The motion for the machine standing on its under side."""
    path = f"/motions/{motion_index(case.project, case.motion)}"
    yield from case.offer("Walk it the right way up", replace(f"{path}/inverted", False))


def in_steps(case: Case) -> Iterator[Remedy]:
    """Only as far as the factor allows at once, from how it last walked."""
    index = motion_index(case.project, case.motion)
    path = f"/motions/{index}"
    gait, what = gait_of(case.project, case.motion), case.finding.subject
    # To three figures, downwards, so that the factor is kept.
    share = int(case.finding.limit / case.finding.value * 1000) / 1000
    if what == "lift":
        lift = round(gait.lift_mm * share, 1)
        yield from case.offer(f"In steps: lift {number(lift)} mm first", replace(f"{path}/lift_mm", lift))
    elif what == "stroke":
        twist = gait.twist.model_dump()
        edits = [replace(f"{path}/twist/{k}", round(v * share, 3)) for k, v in twist.items() if v]
        yield from case.offer(f"In steps: strides of {number(100 * share, 0)} % of these first", *edits)
    else:
        row = case.project.controller.frame_period_ms / 1000
        cycle = float(round(np.ceil(round(gait.cycle_s / share / row, 6)) * row, 6))
        twist = gait.twist.model_dump()
        edits = [replace(f"{path}/twist/{k}", round(v * gait.cycle_s / cycle, 4)) for k, v in twist.items() if v]
        yield from case.offer(
            f"In steps: a cycle of {number(cycle, 3)} s first", replace(f"{path}/cycle_s", cycle), *edits
        )
