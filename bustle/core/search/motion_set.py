"""The set of motions a walker needs, each with strides as long as reach, speed, slip and margin allow.

For every direction the stride is lengthened step by step (in fact by halving) until something would give: the longest
sound stride is kept, and what fires one step beyond it is the reason named. A motion that fails at its first step is
left out with that reason.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from itertools import chain

import numpy as np

from bustle.core.document.checked import CheckedProject
from bustle.core.edits.patches import only_motions, patched
from bustle.core.evaluate import Plan, evaluate
from bustle.core.falling.pushing_point import not_pushing
from bustle.core.judge.finding import Finding
from bustle.core.judge.measures.feet.foot_slip import slip_mm
from bustle.core.judge.registry import JUDGEMENTS
from bustle.core.kinds.gaits import CUSTOM, GAITS, Gait, Spot, spots_of
from bustle.core.kinds.gaits.in_turn import SWING_S
from bustle.core.kinds.legs import FAMILIES
from bustle.core.project.motion import Balance, PhaseGait, Twist
from bustle.core.project.project import mounts_of
from bustle.core.search.leg_order import in_its_orders, sets_out_and_stops
from bustle.core.search.pendulum_sway import pendulum_sway
from bustle.core.search.progress import Tell, silent
from bustle.core.search.smallest_sway import sets_out, swayed
from bustle.core.search.stride import DIRECTIONS, Direction, strided
from bustle.core.words.problems import refuse
from bustle.core.words.wording import number

# Strides are tried in steps of this share of the longest leg, up to twice its length.
STEP_SHARE = 0.01
MOST = 200

# A foot that slips more of its stroke than this is dragged.
DRAG_SHARE = 0.35

# What a leg has no joint for it does not follow in any order.
IN_ANY_ORDER = ("F12", "F13", "F54")

# Feet that no joint lifts rise with their stride: where the least has them drag, so many steps may not.
NOT_LIFTED, LIFTED_AT = "F02", (4, 12, 24, 30, 36)

# Instants that a sway is looked for at.
SAMPLES = 60

# Ride heights tried where a gait's sway takes the feet out of reach, as shares of the one there is.
CROUCHES = (1.0, 0.97, 0.94, 0.91, 0.88, 0.85)

# What a mixture of one's own is called in the set.
MIXTURE = "Own arc"


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


@dataclass(frozen=True)
class MotionSet:
    gait: str
    made: tuple[Made, ...]
    left_out: tuple[LeftOut, ...]

    def kept_in(self, project: CheckedProject) -> CheckedProject:
        """The project with these motions, in place of those of the same names."""
        motions = [m.model_dump(mode="json") for m in project.motions]
        for made in self.made:
            values = made.motion.model_dump(mode="json")
            same = next((n for n, m in enumerate(motions) if m["name"] == made.motion.name), None)
            if same is None:
                motions.append(values)
            else:
                motions[same] = values
        return patched(project, [{"op": "replace", "path": "/motions", "value": motions}])


def fitting(project: CheckedProject) -> list[Gait]:
    """The named gaits that this walker's legs can be timed by."""
    spots = _spots(project)
    return [gait for gait in GAITS.values() if gait.fits(spots)]


def usual(project: CheckedProject) -> str:
    """The gait of the walker's first walk, else the one that builders start such a machine with."""
    fits = {gait.name for gait in fitting(project)}
    walks = [m.gait for m in project.motions if isinstance(m, PhaseGait) and m.moves and m.gait in fits]
    if walks:
        return walks[0]
    first = next((name for name in ("tripod", "creep", "radial_creep", "weight_shift") if name in fits), None)
    return first or next(iter(sorted(fits)), CUSTOM)


def motion_set(
    project: CheckedProject,
    gait: str,
    mixture: Direction | None = None,
    tell: Tell = silent,
    one_order: bool = False,
) -> MotionSet:
    """Every motion of the set for a named gait, and one by a mixture of one's own (forward : left : turn left, the turn
    as in the set's arcs). one_order: legs step in one order whatever the way, so that rows of one motion may be mixed
    with those of another; else in the order that keeps the most margin that way, where the gait leaves it open. Raises
    InputRefused where the gait does not fit the legs, or the mixture is nothing.
    """
    if mixture and not any(mixture):
        raise refuse("mixture", "must say some way to go: forward, left or turning left")
    named = next((g for g in fitting(project) if g.name == gait), None)
    if named is None:
        known = ", ".join(g.name for g in fitting(project)) or "none"
        raise refuse("gait", f"{gait[:40]!r} does not fit this walker's legs; those that do: {known}")
    return set_of(project, template(project, named), mixture, tell, one_order)


def set_of(
    project: CheckedProject,
    start: PhaseGait,
    mixture: Direction | None = None,
    tell: Tell = silent,
    one_order: bool = False,
) -> MotionSet:
    """The set in the timing, pose and path of a walk; see `motion_set`."""
    start = _crouched(project, start)
    stand = start.model_copy(
        update={
            "name": "Stand",
            "gait": CUSTOM,
            "legs": tuple(leg.model_copy(update={"duty": 1.0, "phase": 0.0}) for leg in start.legs),
            "twist": Twist(),
            "moves_of_arms": (),
            "pose": start.pose.model_copy(update={"sway": ()}),
            "balance": _standing_balance(project),
        }
    )
    made, left_out = [Made(stand, 0.0, 0.0, None, None)], []
    directions = {**DIRECTIONS, MIXTURE: mixture} if mixture else DIRECTIONS
    if project.walker.held != "free":
        # What holds it sideways lets it go ahead and back alone.
        directions = {name: way for name, way in directions.items() if not (way[1] or way[2])}
    for found in _each(project, start, stand, directions, tell, one_order):
        if isinstance(found, Made):
            made.append(found)
        else:
            left_out.append(found)
    return MotionSet(start.gait, tuple(made), tuple(left_out))


def _standing_balance(project: CheckedProject) -> Balance:
    """As the walker's own standing pose has it: some stand only by moving."""
    return next((m.balance for m in project.motions if isinstance(m, PhaseGait) and m.stands), "static")


def _each(
    project: CheckedProject,
    start: PhaseGait,
    stand: PhaseGait,
    directions: dict[str, Direction],
    tell: Tell,
    one_order: bool,
) -> Iterator[Made | LeftOut]:
    yield _in_place(project, start)
    guess = 0
    for n, (name, direction) in enumerate(directions.items()):
        tell(n, len(directions), name)
        named = start.model_copy(update={"name": name})
        orders = iter((named,)) if one_order else in_its_orders(project, named, direction)
        found = _longest_of(project, orders, stand, direction, guess)
        yield found
        # The opposite direction, which comes next, is likely to end at the same stride.
        guess = round(found.stroke_mm / found.step_mm) if isinstance(found, Made) and not guess else 0


def _longest_of(
    project: CheckedProject, orders: Iterator[PhaseGait], stand: PhaseGait, direction: Direction, guess: int
) -> Made | LeftOut:
    """In the first order in which it sets out from standing and comes to rest without falling; else in the first in
    which there is any; else what speaks against the first."""
    first = longest(project, next(orders), direction, guess)
    if isinstance(first, LeftOut) and first.code in IN_ANY_ORDER:
        return first
    best: Made | LeftOut = first
    for found in chain((first,), (longest(project, order, direction, guess) for order in orders)):
        if isinstance(found, Made):
            if sets_out_and_stops(project, found.motion, stand):
                return found
            best = best if isinstance(best, Made) else found
    return best


def _crouched(project: CheckedProject, start: PhaseGait) -> PhaseGait:
    """The walk at the first of some ever lower ride heights at which its legs reach in place; else as it was."""
    for share in CROUCHES:
        height = round(start.pose.ride_height_mm * share, 1)
        pose = start.pose.model_copy(update={"ride_height_mm": height})
        lower = start.model_copy(update={"pose": pose})
        if isinstance(_in_place(project, lower), Made):
            return lower
    return start


def template(project: CheckedProject, gait: Gait) -> PhaseGait:
    """A walk of that gait in the pose, pace and path of the walker's own: of a walk of the same gait if there is one,
    else of its first."""
    gaits = [m for m in project.motions if isinstance(m, PhaseGait)]
    if not gaits:
        raise refuse("motions", "needs one gait or standing pose, from which it takes ride height, lift and pace")
    same = next((m for m in gaits if m.gait == gait.name and m.moves), None)
    first = same or next((m for m in gaits if m.moves), gaits[0])
    duty = _duty(gait)
    legs = [
        leg.model_copy(update={"phase": phase, "duty": leg.duty if same else duty})
        for leg, phase in zip(first.legs, gait.phases(spots_of(mounts_of(project, first))), strict=True)
    ]
    # On casters or wheels besides, what lives by its timing may be stopped anywhere.
    carried = any(limb.passive for limb in project.walker.limbs)
    balance = "static" if carried else gait.balance
    cycle = first.cycle_s if first.moves else _cycle_s(len(legs), max(leg.duty for leg in legs))
    return first.model_copy(
        update={"gait": gait.name, "legs": tuple(legs), "balance": balance, "cycle_s": cycle, "pauses": ()}
    )


def _duty(gait: Gait) -> float:
    """A static gait keeps a little more on the ground than it must, so that feet change over with all of them down."""
    if gait.balance == "dynamic":
        return gait.duty
    return round(gait.duty + (1 - gait.duty) * (0.4 if gait.legs <= 4 else 0.1), 3)


def _cycle_s(legs: int, duty: float) -> float:
    """No leg swings in less time than one of a creep does; on three, nor in more, as two do not hold it up."""
    usual = 1.2 if legs >= 6 else 3.0 if legs > 3 else 0.0
    return max(usual, round(SWING_S / (1.0 - duty), 2))


def _spots(project: CheckedProject) -> list[Spot]:
    return spots_of([limb.mount.at_mm[:2] for limb in project.walker.legs])


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


def _in_place(project: CheckedProject, start: PhaseGait) -> Made | LeftOut:
    motion, plan = _steadied(project, start.model_copy(update={"name": "In place", "twist": Twist()}))
    against = _obstacle(plan)
    return LeftOut("In place", against.code, against.message) if against else Made(motion, 0.0, 0.0, None, None)


def longest(project: CheckedProject, start: PhaseGait, direction: Direction, guess: int = 0) -> Made | LeftOut:
    """The motion with the longest stride that is sound, in whole steps; `guess` steps are tried before others."""
    legs = [limb for limb in project.walker.legs if limb.neutral_mm is not None]
    reach = max(sum(k.length_mm for k in limb.links) for limb in legs)
    step = max(0.5, round(2 * reach * STEP_SHARE) / 2)
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
