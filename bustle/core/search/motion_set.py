"""The set of motions a walker needs, each with strides as long as reach, speed, slip and margin allow.

For every direction the longest sound stride is kept (see `longest_stride`). A motion that fails at its first step is
left out with the reason.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from itertools import chain

from bustle.core.document.checked import CheckedProject
from bustle.core.edits.patches import patched
from bustle.core.kinds.gaits import CUSTOM, GAITS, Gait, Spot, spots_of
from bustle.core.kinds.gaits.in_turn import SWING_S
from bustle.core.project.motion import Balance, PhaseGait, Twist
from bustle.core.project.project import mounts_of
from bustle.core.search.leg_order import in_its_orders, sets_out_and_stops
from bustle.core.search.longest_stride import LeftOut, Made, in_place, longest, reach_mm
from bustle.core.search.progress import Tell, silent
from bustle.core.search.stride import DIRECTIONS, Direction
from bustle.core.words.problems import refuse

# A walk that servos are too slow for is tried in so much more time, until it strides this share of its longest leg.
TOO_FAST, SLOWER, SHORT = "F06", (1.15, 1.3, 1.6, 2.0, 2.6, 3.4), 0.06

# What a leg has no joint for it does not follow in any order.
IN_ANY_ORDER = ("F12", "F13", "F54")

# Ride heights tried where a gait's sway takes the feet out of reach, as shares of the one there is.
CROUCHES = (1.0, 0.97, 0.94, 0.91, 0.88, 0.85)

# What a mixture of one's own is called in the set.
MIXTURE = "Own arc"


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
    with those of another; else in the order that keeps the most margin that way, where the gait leaves it open, and
    slower where servos are too slow. Raises InputRefused where the gait does not fit the legs, or the mixture is
    nothing.
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
    paces = _paces(project, start)
    spot = in_place(project, paces[0])
    # What servos are too slow for on the spot they are too slow for on any way.
    while not one_order and len(paces) > 1 and spot.code == TOO_FAST:
        del paces[0]
        spot = in_place(project, paces[0])
    yield spot
    guess = 0
    for n, (name, direction) in enumerate(directions.items()):
        tell(n, len(directions), name)
        named = paces[0].model_copy(update={"name": name})
        orders = iter((named,)) if one_order else in_its_orders(project, named, direction)
        found = _longest_of(project, orders, stand, direction, guess)
        while not one_order and len(paces) > 1 and _hardly_strides(project, found):
            # The ways to come go as slowly.
            del paces[0]
            slower = in_its_orders(project, paces[0].model_copy(update={"name": name}), direction)
            found = _longer(found, _longest_of(project, slower, stand, direction, 0))
        yield found
        # The opposite direction, which comes next, is likely to end at the same stride.
        guess = round(found.stroke_mm / found.step_mm) if isinstance(found, Made) and not guess else 0


def _paces(project: CheckedProject, walk: PhaseGait) -> list[PhaseGait]:
    """The walk, and if it may be halted anywhere, slower ones."""
    row_s = project.controller.frame_period_ms / 1000
    shares = SLOWER if walk.balance == "static" else ()
    cycles = (round(round(walk.cycle_s * share / row_s) * row_s, 6) for share in shares)
    return [walk, *(walk.model_copy(update={"cycle_s": cycle}) for cycle in cycles)]


def _hardly_strides(project: CheckedProject, found: Made | LeftOut) -> bool:
    """For servos that are too slow."""
    stroke = found.stroke_mm if isinstance(found, Made) else 0.0
    return found.code == TOO_FAST and stroke < SHORT * reach_mm(project)


def _longer(one: Made | LeftOut, other: Made | LeftOut) -> Made | LeftOut:
    strokes = [found.stroke_mm if isinstance(found, Made) else 0.0 for found in (one, other)]
    return other if strokes[1] > strokes[0] else one


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
        if isinstance(in_place(project, lower), Made):
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
