"""A dry run: a motion with its own start and stop, walked on the floor by a machine that gives, before there is one.

Nothing is put right on the way, as a controller that plays a table puts nothing right. Beside the machine as its sheets
say, the same with servos that give half and twice as much, with loose joints, on a floor half as grippy and on one that
gives: its whole weight on one point presses that in by 4 mm, as on a carpet. How well it tells what becomes of a walk
was tried on machines in a physics engine, see `bench/results/verdicts.txt`.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from bustle.core.document.checked import CheckedProject
from bustle.core.dry_run.let_go import ON_EDGES_S, STEP_S, LetGo, Machine, Went
from bustle.core.evaluate import evaluate
from bustle.core.falling.rocking import on_edges
from bustle.core.geometry.arrays import Array, Flags
from bustle.core.judge.measures.way_walked import crawls
from bustle.core.loads.foot_forces import rows_since
from bustle.core.loads.told import not_worked_out
from bustle.core.search.progress import Tell, silent
from bustle.core.walk.motions.own_ends import in_order
from bustle.core.walk.reading import Reading
from bustle.core.words.problems import refuse
from bustle.core.words.wording import degrees, number, percent

# It is walked for so long, in whole cycles; the first is not counted.
WALKS_S, CYCLES = 8.0, (4, 10)
# It goes well where it covers so much of its plan, and down to half of it where its feet slide in any case;
# where it leans no further beside its plan; and, where it may be stopped anywhere, no foot that should be in the air
# drags over more of the middle half of its swings.
COVERS, CRAWLS = (0.8, 1.2), (0.5, 1.2)
LEANS_DEG, DRAGS = 8.0, 0.5
# A trot that leans so far and falls behind by so much rocks itself to a stop, sooner or later: of 17 such 16 went less
# than 0.8 of their way in an engine, some none of it; of four that leaned as far and kept up, none.
ROCKS_TO_A_STOP_DEG, BEHIND = 5.7, 0.92
# On curved soles it rocks in any case, which its plan does not tell: in an engine most that lean further fall, sooner
# or later.
ROCKS_DEG = 15.0
# A cycle that goes less far, or turns less, has no way of its own to cover.
LEAST_MM, LEAST_DEG = 2.0, 1.0

NOMINAL, CARPET = "as its sheets say", "a floor that gives like a carpet"
VARIANTS: dict[str, Machine] = {
    NOMINAL: Machine(),
    "servos that give half as much": Machine(gives=0.5),
    "servos that give twice as much": Machine(gives=2.0),
    "a degree of play in every joint": Machine(play_deg=1.0),
    "a floor half as grippy": Machine(grip=0.5),
    CARPET: Machine(soft=13.0),
}


@dataclass(frozen=True)
class DryRun:
    """machine: which, in words. fell_s: after how long it fell, in which motion; None where it stays up. covers: of the
    way, or the turn, that is planned, over all cycles but the first; None where none is. goes_mm: how far it goes in a
    cycle where its plan tells no way, as on curved soles. veers_deg: how far it turns
    beyond its plan in a cycle. leans_deg: furthest beside its plan. drags: the limb that is on the floor over most of
    the middle half of its swings, and how much of it; None where none is at all. goes_badly: in words, or nothing."""

    machine: str
    fell_s: float | None
    fell_in: str
    covers: float | None
    goes_mm: float | None
    veers_deg: float
    leans_deg: float
    drags: tuple[str, float] | None
    goes_badly: str

    @property
    def sentence(self) -> str:
        """What becomes of it, in words."""
        if self.fell_s is not None:
            return self.goes_badly
        way = "stays up"
        if self.covers is not None:
            way = f"goes {percent(self.covers)} of its way"
        elif self.goes_mm is not None:
            way = f"stays up and goes {number(self.goes_mm)} mm a cycle"
        said = f"{way}, leans {degrees(self.leans_deg)} beside its plan"
        return said if not self.goes_badly or self.goes_badly.startswith("goes") else f"{said}; {self.goes_badly}"


def not_run(r: Reading) -> str | None:
    """Why no dry run can be told of a motion; None where one can."""
    if not r.project.walker.legs:
        return "it has no legs"
    return not_worked_out(r)


class Running:
    """A dry run of each machine side by side, which may be broken off and taken up again. Raises InputRefused where
    none can be told."""

    def __init__(
        self,
        project: CheckedProject,
        motion: str,
        machines: dict[str, Machine],
        step_s: float = STEP_S,
        until_one_falls: bool = False,
    ) -> None:
        order = in_order(project, motion)
        self._readings = {name: evaluate(project, name).reading for name in order}
        for name, r in self._readings.items():
            why = not_run(r)
            if why:
                raise refuse("motion", f"no dry run of {name} can be told: {why}")
        self._motion, self._machines, self._until_one_falls = motion, machines, until_one_falls
        self._walk, self._taken = self._readings[motion], _Taken(len(machines))
        step_s = min(step_s, ON_EDGES_S) if on_edges(self._walk) else step_s
        cycles = _cycles(self._walk)
        self._go, self._next = LetGo(list(machines.values()), step_s), 0
        self._steps = [name for name in order for _ in range(cycles if name == motion else 1)]

    @property
    def done(self) -> bool:
        return self._next >= len(self._steps)

    def leans_deg(self, without: str = "") -> float:
        """How far the one that leans most has leaned beside its plan so far; without: a machine that is left out."""
        return max((float(v) for v, words in zip(self._taken.leans, self._machines, strict=True) if words != without))

    def go_on(self, tell: Tell = silent) -> None:
        """Through the next of its motions, once."""
        n, name = self._next, self._steps[self._next]
        tell(n, len(self._steps), name)
        walk, r = self._walk, self._readings[name]
        before, frame = self._go.at, self._go.frame
        went = self._go.go_on(r)
        counts = name == self._motion and walk.score.periodic and (n == 0 or self._steps[n - 1] == self._motion)
        self._taken.add(name, went, r, self._go.at - before, frame, counts)
        self._next += 1
        if not (went.up.all() if self._until_one_falls else went.up.any()):
            self._next = len(self._steps)

    def told(self, tell: Tell = silent) -> tuple[DryRun, ...]:
        """One for each machine, in their order, once it is through."""
        while not self.done:
            self.go_on(tell)
        return tuple(self._taken.of(v, words, self._walk) for v, words in enumerate(self._machines))


def dry_run(
    project: CheckedProject,
    motion: str,
    tell: Tell = silent,
    machines: dict[str, Machine] | None = None,
    until_one_falls: bool = False,
) -> tuple[DryRun, ...]:
    """One for each machine, as its sheets say first. until_one_falls: what becomes of the others then is not of
    interest. Raises InputRefused where none can be told."""
    machines = VARIANTS if machines is None else machines
    return Running(project, motion, machines, until_one_falls=until_one_falls).told(tell)


def why_none(project: CheckedProject, motion: str) -> str | None:
    """Why no dry run of a motion with its own start and stop can be told; None where one can."""
    readings = (evaluate(project, name).reading for name in in_order(project, motion))
    return next(filter(None, map(not_run, readings)), None)


def as_its_sheets_say(project: CheckedProject, motion: str, tell: Tell = silent) -> DryRun:
    """Of that machine alone. Raises InputRefused where none can be told."""
    (run,) = dry_run(project, motion, tell, {NOMINAL: VARIANTS[NOMINAL]})
    return run


def _cycles(r: Reading) -> int:
    if not r.score.periodic:
        return 1
    least, most = CYCLES
    return int(np.clip(round(WALKS_S / r.score.duration_s), least, most))


class _Taken:
    """What is noted on the way, of V machines."""

    def __init__(self, many: int) -> None:
        self.since, self.leans, self.cycles = 0.0, np.zeros(many), 0
        self.fell, self.where = np.full(many, np.inf), [""] * many
        self.gone, self.frame = np.zeros((many, 3)), np.zeros(many)
        self.down: list[Flags] = []

    def add(self, name: str, went: Went, r: Reading, gone: Array, frame: Array, counts: bool) -> None:
        falls = np.isfinite(went.fell_s) & ~np.isfinite(self.fell)
        self.fell[falls] = self.since + went.fell_s[falls]
        for v in np.flatnonzero(falls):
            self.where[v] = name
        self.since += r.score.duration_s
        self.leans = np.maximum(self.leans, went.lean_deg.max(axis=1))
        if counts:
            if not self.cycles:
                self.frame = frame
            # As the plan lies by now, which turns as planned and does not veer.
            plan = self.frame + self.cycles * r.goes_on[2]
            c, s = np.cos(plan), np.sin(plan)
            x, y, turned = gone.T
            self.gone += np.stack([c * x + s * y, c * y - s * x, turned], axis=1)
            self.cycles += 1
            self.down.append(went.touched)

    def of(self, v: int, machine: str, r: Reading) -> DryRun:
        up = not np.isfinite(self.fell[v])
        covers, veers = self._covers(v, r) if up and self.cycles else (None, 0.0)
        drags = self._drags(v, r) if up and self.down else None
        leans = float(self.leans[v])
        return DryRun(
            machine,
            None if up else float(self.fell[v]),
            self.where[v],
            covers,
            self._goes_mm(v) if up and self.cycles and covers is None else None,
            veers,
            leans,
            drags,
            _badly(None if up else float(self.fell[v]), self.where[v], covers, leans, drags, r),
        )

    def _covers(self, v: int, r: Reading) -> tuple[float | None, float]:
        way, turn = np.array(r.goes_on[:2]), np.degrees(r.goes_on[2])
        turned = float(np.degrees(self.gone[v, 2]) / self.cycles)
        size = float(np.hypot(*way))
        if size > LEAST_MM:
            return float(1000 * self.gone[v, :2] @ way / size / size / self.cycles), turned - turn
        return (turned / turn if abs(turn) > LEAST_DEG else None), turned - turn

    def _goes_mm(self, v: int) -> float | None:
        way = float(1000 * np.hypot(*self.gone[v, :2]) / self.cycles)
        return way if way > LEAST_MM else None

    def _drags(self, v: int, r: Reading) -> tuple[str, float] | None:
        middle = mid_swings(r)
        down = np.mean([touched[v] for touched in self.down], axis=0)
        share = (down * middle.T).sum(axis=0) / np.maximum(middle.sum(axis=1), 1)
        most = int(share.argmax())
        return (r.project.walker.limbs[most].name, float(share[most])) if share[most] > 0 else None


def _badly(
    fell_s: float | None, fell_in: str, covers: float | None, leans: float, drags: tuple[str, float] | None, r: Reading
) -> str:
    if fell_s is not None:
        return f"falls after {number(fell_s)} s, in {fell_in}"
    low, high = wanted(r)
    if covers is not None and not low <= covers <= high:
        return f"goes {percent(covers)} of its way"
    if leans > (ROCKS_DEG if r.kit.rolls else LEANS_DEG) and not on_edges(r):
        return f"leans {degrees(leans)} beside its plan"
    trots = r.balance != "static" and len(r.project.walker.legs) >= 4
    if trots and covers is not None and covers < BEHIND and leans > ROCKS_TO_A_STOP_DEG:
        return "rocks and falls behind"
    if drags and drags[1] > DRAGS and r.balance == "static":
        return f"drags {drags[0]} over {percent(drags[1])} of the middle of its swings"
    return ""


def wanted(r: Reading) -> tuple[float, float]:
    """Between which shares of its way it goes well."""
    if r.of(crawls):
        return CRAWLS
    return COVERS


def mid_swings(r: Reading) -> Flags:
    """(L, N): when each stepping foot should be in the air, in the middle half of its swing."""
    steps = np.array([limb.steps for limb in r.kit.walker.limbs])
    down = r.course.contact[:, : r.samples]
    air = ~down & (steps & down.any(axis=1) & ~down.all(axis=1))[:, None]
    since, until = (rows_since(way, r.score.periodic) for way in (air, air[:, ::-1]))
    share = since / np.maximum(since + until[:, ::-1], 1e-9)
    found: Flags = air & (share > 0.25) & (share < 0.75)
    return found
