"""A machine let go to follow its table, step by step: what holds it is its servos and its feet on the floor.

In steps of Δt, beside the plan (see `beside_its_plan`) with v the rate of that,
    M·(v' − v)/Δt = Σ Jᵀ·f − takes + (0, 0, T − B·(q̇ + v'_s)),
    T = K·(told − q − s) less its play, never beyond the stall torque; B = stall/ω₀,
each force taken where z' = z + Δt·v' brings it (implicit Euler). A row is held until the next, as controllers play it.
A point of a foot that dips by e into the floor is pushed up by k·e + c·ė, never down; along the floor it is held where
it came down by the same, until that passes µ times what it carries: then it slides on. Small angles. Source: penalty
contacts with Coulomb friction and implicit steps, in texts on the simulation of mechanical systems.

Several machines alike but for their give, their play and their floor are followed, each by itself.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from bustle.core.dry_run.beside_its_plan import BODY, BesidePlan, beside_plan
from bustle.core.dry_run.rows import Held, Lies, rows
from bustle.core.falling.pushing_point import broad_feet
from bustle.core.geometry.arrays import Array, Flags
from bustle.core.geometry.serial_chain import turns
from bustle.core.judge.measures.way_walked import crawls
from bustle.core.loads.at_its_voltage import at_its_voltage
from bustle.core.loads.foot_gives import said_mm_per_n
from bustle.core.machine.masses import GRAVITY
from bustle.core.machine.soles import UP
from bustle.core.walk.reading import Reading

# The longest step, s, and where feet slide, by their legs or on a floor that holds less than so much.
STEP_S, SHORT_S, SLIPPERY = 0.005, 0.0025, 0.35
# Each step takes speed from what rocks from edge to edge of its soles: in steps of 2.5 ms such machines went 0.15 of
# their way less than in an engine, on average of 26, and some fell as they started; in those of this length 0.05. Nor
# do soles skate in these where a floor holds little: bipeds of two servos each leg went 1.4 to 2.2 of their way then.
ON_EDGES_S = 0.000625
# Long steps take speed from what rocks. In steps of this length little of it is lost.
FINE_S = 0.002
# So far its whole weight on one point presses that into the floor, and so long it takes to come to rest there.
SINKS_MM, SETTLES_S = 0.3, 0.01
# Leaning so far beside its plan, it falls.
FALLS_DEG = 37.0
FALLEN = float(np.cos(np.radians(FALLS_DEG)))


@dataclass(frozen=True)
class Machine:
    """One of those side by side. gives: how many times what its sheet says; play_deg: of every servo, None as its sheet
    says; grip: how many times as much as the floor holds; soft: how many times as far it gives under a foot."""

    gives: float = 1.0
    play_deg: float | None = None
    grip: float = 1.0
    soft: float = 1.0


@dataclass
class State:
    """Of V machines beside their plan how each lies, (V, …), changed as they go; up (V,): which have not fallen."""

    lies: Lies
    up: Flags


@dataclass(frozen=True)
class Went:
    """One cycle, or one motion that does not repeat, of V machines. lean_deg (V, N): most beside its plan since the row
    before; touched (V, N, L): which limbs were on the floor at a row's end; up (V,): which had not fallen at its end,
    else fell_s (V,): when they did."""

    lean_deg: Array
    touched: Flags
    up: Flags
    fell_s: Array


class LetGo:
    """A walker's motions one after another, from rest where the first is planned to begin. step_s: the longest step."""

    def __init__(self, machines: Sequence[Machine], step_s: float = STEP_S) -> None:
        self.machines, self.step_s = tuple(machines), step_s
        self.state: State | None = None
        self._ended: tuple[Array, float] | None = None
        self._began = 0.0

    @property
    def at(self) -> Array:
        """(V, 3): how far each has come over the ground since, m and m, and has turned, rad."""
        if self.state is None or self._ended is None:
            return np.zeros((len(self.machines), 3))
        lies = self.state.lies
        return np.concatenate([lies.at, lies.frame + self._ended[1] - self._began], axis=1)

    @property
    def frame(self) -> Array:
        """(V,) rad: how the ground of its plan lies by now."""
        return np.zeros(len(self.machines)) if self.state is None else self.state.lies.frame[:, 0].copy()

    def go_on(self, r: Reading) -> Went:
        """Through all of a motion's rows once."""
        plan, heading = r.of(beside_plan), _headings(r)
        state = self.state
        if state is None or self._ended is None:
            state, self._began = _at_rest(plan, len(self.machines)), float(heading[0])
            self.state = state
        else:
            ended, was = self._ended
            level = np.array([1.0, 1.0, 0.0])
            _laid(state.lies, ended * level, float(heading[0]) - was, plan.centre[0] * level)
        found = _through(state, r, plan, self.machines, self.step_s)
        if plan.repeats:
            _laid(state.lies, plan.way, -plan.turn, np.zeros(3))
        last = 0 if plan.repeats else -1
        self._ended = plan.centre[last], float(heading[last])
        return found


def _headings(r: Reading) -> Array:
    """(N,) rad"""
    turn = r.course.body.turn[: r.samples]
    found: Array = np.arctan2(turn[:, 1, 0], turn[:, 0, 0])
    return found


def _at_rest(plan: BesidePlan, many: int) -> State:
    size, points = plan.mass.shape[1], len(plan.limb)
    lies = Lies(
        np.zeros((many, 3)),
        np.tile(np.eye(3), (many, 1, 1)),
        np.zeros((many, size - BODY)),
        np.zeros((many, size)),
        np.tile(plan.points[0], (many, 1, 1)),
        np.zeros((many, points), dtype=bool),
        np.zeros((many, points)),
        np.zeros((many, 2)),
        np.zeros((many, 1)),
        np.full((many, len(plan.rolling), 3), np.nan),
    )
    return State(lies, np.ones(many, dtype=bool))


def _laid(lies: Lies, about: Array, angle: float, to: Array) -> None:
    """On in another ground frame: what lies about one place there lies about another here, turned by an angle."""
    on = turns(UP, np.array(angle))
    lies.held[:] = (lies.held - about) @ on.T + to
    lies.shift[:], lies.turn[:] = lies.shift @ on.T, on @ lies.turn @ on.T
    lies.rate[:, :3], lies.rate[:, 3:BODY] = lies.rate[:, :3] @ on.T, lies.rate[:, 3:BODY] @ on.T
    lies.frame[:] -= angle


def _through(state: State, r: Reading, plan: BesidePlan, machines: Sequence[Machine], step_s: float) -> Went:
    """All of a motion's rows once, each machine that has not fallen by itself."""
    # What compiles takes half a second to load: none waits for it who lets nothing go.
    from bustle.core.dry_run.steps import walk

    count = len(plan.centre)
    upright, down = np.ones((len(machines), count)), np.zeros((len(machines), count, len(plan.limb)), dtype=bool)
    fell = np.full(len(machines), np.inf)
    for v in np.flatnonzero(state.up).tolist():
        held, lies = _held(r, plan, machines[v]), Lies._make(values[v] for values in state.lies)
        steps = max(1, int(np.ceil(plan.row_s / _longest_s(r, held.grip, step_s) - 1e-9)))
        through = count if plan.repeats else count - 1
        fell[v] = walk(r.of(rows), through, steps, held, lies, FALLEN, upright[v], down[v])
    state.up &= ~np.isfinite(fell)
    of_limb = plan.limb[:, None] == np.arange(len(r.project.walker.limbs))
    return Went(np.degrees(np.arccos(np.clip(upright, -1.0, 1.0))), down @ of_limb, state.up.copy(), fell)


def _longest_s(r: Reading, grip: float, step_s: float) -> float:
    """The longest step on a floor that holds so much."""
    if grip < SLIPPERY and broad_feet(r):
        return min(ON_EDGES_S, step_s)
    return min(SHORT_S, step_s) if grip < SLIPPERY or r.of(crawls) else step_s


def _held(r: Reading, plan: BesidePlan, machine: Machine) -> Held:
    sheet = r.of(at_its_voltage)
    plays = np.array([s.sheet.play_deg or 0.0 for s in r.kit.servos])
    own = plays if machine.play_deg is None else np.full(len(plays), machine.play_deg)
    soft = np.array([said_mm_per_n(r, limb) for limb in plan.limb.tolist()])
    return Held(
        1.0 / (machine.gives * r.kit.full_torque_at / sheet.stall_nm + r.kit.horn_give),
        sheet.stall_nm,
        sheet.stall_nm / sheet.speed_rad_s,
        np.radians(own) / 2,
        1e3 / (SINKS_MM * machine.soft / (plan.kg * GRAVITY) + soft),
        # As well damped, whatever it is that gives.
        SETTLES_S * float(np.sqrt(machine.soft)),
        r.project.floor.holds * machine.grip,
    )
