"""A walk that lives by its timing, tried rung by rung: from swaying with both feet down to the whole step and the turn.

Each rung is a motion of its own with a start and a stop, what must be seen before the next, what becomes of it in a dry
run, and the first thing that would fell it: servos that give twice as much, a degree of play, a floor half as grippy.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from bustle.core.document.checked import CheckedProject
from bustle.core.dry_run.dry_run import NOMINAL, VARIANTS, DryRun, dry_run, not_run
from bustle.core.edits.patches import only_motions, patched, replace
from bustle.core.evaluate import evaluate
from bustle.core.falling.pushing_point import sideways
from bustle.core.judge.finding import Finding
from bustle.core.kinds.gaits import CUSTOM
from bustle.core.machine.kit import FULL_TORQUE_AT_DEG
from bustle.core.project.motion import PhaseGait, Swings, Twist
from bustle.core.search.longest_stride import steadied
from bustle.core.search.progress import Tell, silent

LIFT_SHARE = 0.5

# A rung, and what must be seen of it.
Asked = tuple[PhaseGait | Swings, str]


@dataclass(frozen=True)
class Rung:
    """motion: it; seen: what must be seen before the next; against: what speaks against it most; run: what becomes of
    it in a dry run, None where none can be told; felled_by: what would fell it first, by a dry run or by what then
    stops it, None where none of what was tried would."""

    motion: PhaseGait | Swings
    seen: str
    against: Finding | None
    run: DryRun | None
    felled_by: str | None


def ladder(project: CheckedProject, walk: PhaseGait | Swings, tell: Tell = silent) -> tuple[Rung, ...]:
    """Of a gait of two legs, of a dynamic one of more, or of joints that swing."""
    asked = _of_swings(project, walk) if isinstance(walk, Swings) else _of_gait(project, walk)
    found = []
    for n, (motion, seen) in enumerate(asked):
        tell(n, len(asked), motion.name)
        found.append(_rung(project, motion, seen))
    return tuple(found)


def _of_gait(project: CheckedProject, walk: PhaseGait) -> Sequence[Asked]:
    still = Twist()
    half = Twist(**{name: value / 2 for name, value in walk.twist.model_dump().items()})
    down = tuple(leg.model_copy(update={"duty": 1.0}) for leg in walk.legs)
    turn = next((m for m in project.motions if isinstance(m, PhaseGait) and m.name == "Turn left"), None)
    asked: list[Asked] = [
        (_as(walk, "Sway", legs=down, twist=still, gait=CUSTOM), "It sways evenly to both sides, and no foot creeps."),
        (_as(walk, "Lift", twist=still, lift_mm=round(walk.lift_mm * LIFT_SHARE, 1)),
         "Each foot clears the floor, and comes down flat where it was."),
        (_as(walk, "Half step", twist=half), "It goes straight, and stands when it is stopped."),
        (_as(walk, "Full step"), "Ten cycles without a hand near it, at the pace and way it is told."),
    ]  # fmt: skip
    if turn:
        asked.append((_as(turn, "Turning"), "It turns on its place and stands when it is stopped."))
    return asked


def _of_swings(project: CheckedProject, walk: Swings) -> Sequence[Asked]:
    """First what rolls it from side to side, then what takes it ahead besides."""
    groups = evaluate(project, walk.name).reading.assembled.parts
    limbs = project.walker.limbs
    rolling = {
        (limbs[member].name, joint.name)
        for group in groups
        for member in group.members.tolist()
        for n, joint in enumerate(limbs[member].joints)
        if sideways(group)[group.built.hinge_of_joint(n)]
    }

    def swung(name: str, rolls: float, goes: float) -> Swings:
        joints = tuple(
            one.model_copy(update={"swing": one.swing * (rolls if (one.limb, one.joint) in rolling else goes)})
            for one in walk.joints
        )
        return walk.model_copy(update={"name": name, "joints": joints, "goes": "on"})

    turn = next((m for m in project.motions if isinstance(m, Swings) and m.name == "Turn left"), None)
    asked: list[Asked] = [
        (swung("Rock low", 0.5, 0.0), "It rocks evenly to both sides, and stays on its place."),
        (swung("Rock", 1.0, 0.0), "Each foot comes off the floor in its turn, and it stays on its place."),
        (swung("Half step", 1.0, 0.5), "It goes ahead, and stands when it is stopped."),
        (swung("Full step", 1.0, 1.0), "Ten cycles without a hand near it, at the pace it is told."),
    ]
    if turn:
        asked.append((turn.model_copy(update={"name": "Turning"}), "It turns on its place."))
    return asked


def _as(walk: PhaseGait, name: str, **changed: object) -> PhaseGait:
    return walk.model_copy(update={"name": name, **changed})


def _rung(project: CheckedProject, asked: PhaseGait | Swings, seen: str) -> Rung:
    motion = asked if isinstance(asked, Swings) or asked.stands else steadied(project, asked)
    alone = only_motions(project, motion)
    plan = evaluate(alone, motion.name)
    worst = next((f for f in plan.findings if f.severity in ("stop", "warn")), None)
    run, *runs = _runs(alone, motion.name) or [None]
    before, felled = plan.stops, None
    for words, harder in HARDER.items():
        new = {code for code, *_ in evaluate(harder(alone), motion.name).stops - before}
        badly = next((one.goes_badly for one in runs if one and one.machine == words), "")
        if new or badly:
            felled = f"{words}: {', '.join([*([f'it {badly}'] if badly else []), *sorted(new)])}"
            break
    return Rung(motion, seen, worst, run, felled)


def _runs(project: CheckedProject, motion: str) -> list[DryRun | None]:
    if not_run(evaluate(project, motion).reading):
        return []
    return [*dry_run(project, motion, machines={words: VARIANTS[words] for words in (NOMINAL, *HARDER)})]


def _gives_twice(project: CheckedProject) -> CheckedProject:
    """What is sent makes up for the give that is assumed, and leaves as much again."""
    if project.against_sag != "off":
        return patched(project, [replace("/against_sag", "off")])
    soft = [2 * (s.full_torque_at_deg or FULL_TORQUE_AT_DEG) for s in project.servo_types]
    return patched(project, [replace(f"/servo_types/{n}/full_torque_at_deg", min(v, 90.0)) for n, v in enumerate(soft)])


def _loose(project: CheckedProject) -> CheckedProject:
    return patched(project, [replace(f"/servo_types/{n}/play_deg", 1.0) for n in range(len(project.servo_types))])


def _slippery(project: CheckedProject) -> CheckedProject:
    edits = [replace("/floor/friction", project.floor.holds / 2)]
    if project.floor.friction_across is not None:
        edits.append(replace("/floor/friction_across", project.floor.friction_across / 2))
    return patched(project, edits)


# By the words of the dry run's machines: the project that is judged for it.
HARDER: dict[str, Callable[[CheckedProject], CheckedProject]] = {
    "servos that give twice as much": _gives_twice,
    "a degree of play in every joint": _loose,
    "a floor half as grippy": _slippery,
}
