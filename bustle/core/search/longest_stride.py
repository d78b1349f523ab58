"""The longest sound stride of a motion, with the least sway that keeps it up.

A stride is lengthened step by step (in fact by halving) until something would give: the longest sound one is kept, and
what fires one step beyond it is the reason named.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from bustle.core.document.checked import CheckedProject
from bustle.core.edits.patches import only_motions
from bustle.core.evaluate import Plan, evaluate
from bustle.core.falling.pushing_point import not_pushing
from bustle.core.judge.finding import Finding
from bustle.core.judge.measures.feet.foot_slip import slip_mm
from bustle.core.judge.registry import JUDGEMENTS
from bustle.core.kinds.legs import FAMILIES
from bustle.core.project.motion import PhaseGait, Twist
from bustle.core.search.pendulum_sway import pendulum_sway
from bustle.core.search.smallest_sway import sets_out, swayed
from bustle.core.search.stride import Direction, strided
from bustle.core.words.wording import number

# Strides are tried in steps of this share of the longest leg, up to twice its length.
STEP_SHARE = 0.01
MOST = 200

# A foot that slips more of its stroke than this is dragged.
DRAG_SHARE = 0.35

# Feet that no joint lifts rise with their stride: where the least has them drag, so many steps may not.
NOT_LIFTED, LIFTED_AT = "F02", (4, 12, 24, 30, 36)

# Instants that a sway is looked for at.
SAMPLES = 60


@dataclass(frozen=True)
class Made:
    """A motion of the set. stroke_mm: its longest foot's; step_mm: how much longer was tried; limited_by: what then
    fires, in its own words, None where nothing did within twice the leg."""

    motion: PhaseGait
    stroke_mm: float
    step_mm: float
    code: str | None
    limited_by: str | None


@dataclass(frozen=True)
class LeftOut:
    name: str
    code: str
    reason: str


def steadied(project: CheckedProject, motion: PhaseGait) -> PhaseGait:
    """The motion with the least sway that gives it the margin the project asks for, where a sway does; of one that
    lives by its timing on soles, the sway by which it pushes in their middle."""
    return _steadied(project, motion)[0]


def _steadied(project: CheckedProject, motion: PhaseGait) -> tuple[PhaseGait, Plan]:
    """And how it goes."""
    if motion.balance == "dynamic" and not motion.stands and _pushes(project, motion):
        found = pendulum_sway(project, motion)
        pose = motion.pose.model_copy(update={"sway": found.terms, "shift_mm": found.shift_mm})
        return _with_plan(project, motion.model_copy(update={"pose": pose}))
    if motion.balance != "static" or motion.stands:
        return _with_plan(project, motion)
    limit = project.limits.margin_mm
    bare, plan = _with_plan(project, motion.model_copy(update={"pose": motion.pose.model_copy(update={"sway": ()})}))
    # The sway it has may do; finding another takes ten times as long as trying it.
    if _keeps(project, bare, plan, limit):
        return bare, plan
    swaying = _with_plan(project, motion) if motion.pose.sway else (bare, plan)
    if motion.pose.sway and _keeps(project, *swaying, limit):
        return swaying
    if all(FAMILIES[limb.family].keeps and not FAMILIES[limb.family].open for limb in project.walker.legs):
        # Legs that cannot follow a sway would slip by all of it.
        return bare, plan
    terms = swayed(only_motions(project, bare), bare.name, limit, SAMPLES)
    if terms:
        pose = bare.pose.model_copy(update={"sway": terms})
        return _with_plan(project, bare.model_copy(update={"pose": pose}))
    return swaying


def _with_plan(project: CheckedProject, motion: PhaseGait) -> tuple[PhaseGait, Plan]:
    return motion, evaluate(only_motions(project, motion), motion.name)


def _keeps(project: CheckedProject, motion: PhaseGait, plan: Plan, margin_mm: float) -> bool:
    """On its way and, as it sets out from there, on the spot."""
    margin = plan.figure("worst_margin_mm")
    if margin is None or margin < margin_mm:
        return False
    return not motion.moves or sets_out(only_motions(project, motion), motion.name, margin_mm, SAMPLES)


def _pushes(project: CheckedProject, motion: PhaseGait) -> bool:
    alone = only_motions(project, motion)
    return len(project.walker.legs) == 2 and not not_pushing(evaluate(alone, motion.name, 2).reading)


def _obstacle(plan: Plan) -> Finding | None:
    """The first finding that speaks against a motion as part of a set; None where it is sound."""
    found = [f for f in plan.findings_among(_asked()) if _counts(plan, f)]
    return found[0] if found else _drags(plan)


def _stopped_by(plan: Plan, likely: str) -> str | None:
    """The code of what speaks against a motion, whichever is found first: what is likely is asked first."""
    asked = _asked()
    for code in sorted(asked, key=lambda code: code != likely):
        if any(_counts(plan, f) for f in plan.findings_among((code,))):
            return code
    drags = _drags(plan)
    return drags.code if drags else None


def _asked() -> list[str]:
    return [code for code, j in JUDGEMENTS.items() if not j.bench and (j.stops or j.limits_stride)]


def _counts(plan: Plan, finding: Finding) -> bool:
    """What a thrown mass's own joint is warned of has nothing to do with how far it strides."""
    motion = plan.reading.gait
    thrown = {move.limb for move in motion.moves_of_arms} if motion else set()
    judgement = JUDGEMENTS[finding.code]
    limits = judgement.limits_stride and finding.subject not in judgement.no_limit
    return finding.severity == "stop" or (limits and finding.where["leg"] not in thrown)


def _drags(plan: Plan) -> Finding | None:
    """A foot that slips most of its stroke does not walk, however little the stroke is."""
    r = plan.reading
    share = r.of(slip_mm) / np.maximum(r.score.stroke_mm, 1e-9) * (r.score.stroke_mm > 0)
    worst = int(np.argmax(share))
    if share[worst] <= DRAG_SHARE:
        return None
    leg = r.project.walker.limbs[worst].name
    return Finding(
        "F12", "warn", "Drags instead of stepping",
        f"{leg} slips {number(100 * share[worst], 0)} % of its stroke over the floor: it has no joint for this way.",
        ((leg, ""),), None, float(share[worst]), DRAG_SHARE, "",
    )  # fmt: skip


def in_place(project: CheckedProject, start: PhaseGait) -> Made | LeftOut:
    motion, plan = _steadied(project, start.model_copy(update={"name": "In place", "twist": Twist()}))
    against = _obstacle(plan)
    return LeftOut("In place", against.code, against.message) if against else Made(motion, 0.0, 0.0, None, None)


def reach_mm(project: CheckedProject) -> float:
    """Of the longest leg that steps."""
    legs = [limb for limb in project.walker.legs if limb.neutral_mm is not None]
    return max(sum(k.length_mm for k in limb.links) for limb in legs)


def longest(project: CheckedProject, start: PhaseGait, direction: Direction, guess: int = 0) -> Made | LeftOut:
    """The motion with the longest stride that is sound, in whole steps; `guess` steps are tried before others."""
    step = max(0.5, round(2 * reach_mm(project) * STEP_SHARE) / 2)
    sway, likely = start.pose.sway, ""
    good, best = 0, start
    bad, beyond = MOST + 1, None

    def tried(steps: int) -> bool:
        """Whether so many steps are sound."""
        nonlocal sway, likely, good, best, bad, beyond
        wanted = strided(project, start, direction, steps * step)
        wanted = wanted.model_copy(update={"pose": wanted.pose.model_copy(update={"sway": sway})})
        motion, plan = _steadied(project, wanted)
        sway = motion.pose.sway or sway
        code = _stopped_by(plan, likely)
        if code:
            likely, bad, beyond = code, steps, plan
        else:
            good, best = steps, motion
        return not code

    if not tried(1) and likely == NOT_LIFTED:
        least = bad, beyond
        for steps in LIFTED_AT:
            bad, beyond = MOST + 1, None
            if tried(steps):
                break
        else:
            # What stops the least stride says why it does not walk.
            bad, beyond = least
    if good:
        # As far as the opposite way went, then twice as far each time, then halfway between the two.
        _ = guess > 1 and tried(guess) and tried(guess + 1)
        while beyond is None and good < MOST:
            tried(min(MOST, good * 2))
        while bad - good > 1 and beyond:
            tried((good + bad) // 2)
    reason = _obstacle(beyond) if beyond else None
    if not good:
        assert reason
        return LeftOut(start.name, reason.code, reason.message)
    return Made(best, good * step, step, reason.code if reason else None, reason.message if reason else None)


def longer(project: CheckedProject, made: Made, direction: Direction) -> Finding | None:
    """What fires when a motion of the set takes one step more."""
    return _obstacle(_steadied(project, strided(project, made.motion, direction, made.stroke_mm + made.step_mm))[1])
