"""F49: an arm, a head or a load moved at the wrong moment kicks the walk."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from bustle.core.edits.patches import replace
from bustle.core.judge.balance.arm_push import ArmPush, arm_pushes
from bustle.core.judge.figure import FigureSpec, Lines, Told
from bustle.core.judge.finding import Finding, Severity
from bustle.core.judge.judgement import Judgement
from bustle.core.judge.judgements.balance import falls_over
from bustle.core.judge.ways import Edit, Mending, Offer
from bustle.core.walk.reading import Reading
from bustle.core.words.wording import length, number, seconds, told_apart


def moved_at_the_wrong_moment(r: Reading) -> Iterator[Finding]:
    """The margin less the push of a limb that is moved, at the instant where least is left."""
    worst, limit = r.of(_worst), r.project.limits.margin_mm
    if worst is None or worst.left_mm >= limit:
        return
    time = float(worst.sample * r.row_s)
    severity: Severity = "stop" if worst.left_mm <= 0 else "warn"
    left, keep = told_apart(length, worst.left_mm, limit)
    yield Finding(
        "F49", severity, "Moved at the wrong moment",
        f"Moving {worst.limb} at {seconds(time)} pushes the balance {length(worst.push_mm)} where the margin is "
        f"{length(worst.margin_mm)}; {left} is left, keep {keep}.",
        ((worst.limb, ""),), time, worst.left_mm, limit, "mm",
    )  # fmt: skip


def _worst(r: Reading) -> ArmPush | None:
    """The push that leaves least, where there is a margin to leave."""
    return next((p for p in r.of(arm_pushes)[:1] if np.isfinite(p.margin_mm)), None)


def _while_all_stand(m: Mending) -> Iterator[Edit]:
    """The limb moves elsewhere in the cycle: there and back keep their distance in it."""
    name = m.finding.subjects[0][0]
    moves = [(n, move) for n, move in enumerate(m.gait.moves_of_arms) if move.limb == name]
    for shift in np.arange(0.05, 1.0, 0.05) if moves else ():
        edits = []
        for n, move in moves:
            at, back = (round(float((v + shift) % 1.0), 3) % 1.0 for v in (move.at, move.back_at))
            base = f"{m.path}/moves_of_arms/{n}"
            edits += [replace(f"{base}/at", at), replace(f"{base}/back_at", back)]
        percent = number(100 * float((moves[0][1].at + shift) % 1.0), 0)
        yield Edit(f"Move {name} at {percent} % of the cycle", tuple(edits))


def _slower(m: Mending) -> Iterator[Edit]:
    """The limb takes longer over it: some shares of the cycle, the least first."""
    name = m.finding.subjects[0][0]
    moves = [(n, move) for n, move in enumerate(m.gait.moves_of_arms) if move.limb == name]
    for takes in (0.1, 0.15, 0.2, 0.25, 0.3, 0.4, 0.5):
        slower = [n for n, move in moves if move.takes < takes]
        if slower:
            edits = tuple(replace(f"{m.path}/moves_of_arms/{n}/takes", takes) for n in slower)
            yield Edit(f"Move {name} over {number(100 * takes, 0)} % of the cycle", edits)


def _read(r: Reading) -> Told | None:
    worst = r.of(_worst)
    return (worst.left_mm, float(worst.sample * r.row_s)) if worst else None


def _working(r: Reading) -> Lines:
    worst = r.of(_worst)
    assert worst
    return (
        f"moving {worst.limb} at {seconds(worst.sample * r.row_s)}: its height × its mass × its acceleration / weight",
        f"margin without it {length(worst.margin_mm)} − push {length(worst.push_mm)} = {length(worst.left_mm)}",
    )


LEFT_OF_A_PUSH = FigureSpec(
    "push_left_mm", "Margin as arms move", "mm", 1, _read, _working, ("motions",), better=1, compared=True
)

JUDGEMENT = Judgement(
    "F49",
    "Arms move when the margin allows it",
    ("motions",),
    moved_at_the_wrong_moment,
    falls_over.not_judged,
    figures=(LEFT_OF_A_PUSH,),
    ways=(Offer(_while_all_stand, keep="push_left_mm"), Offer(_slower, keep="first")),
)
