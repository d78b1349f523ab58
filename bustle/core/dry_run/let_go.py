"""A machine let go to follow its table, step by step: what holds it is its servos and its feet on the floor.

In steps of Δt, with z beside the plan (see `beside_its_plan`) and v its rate,
    M·(v' − v)/Δt = Σ Jᵀ·f − takes + (0, 0, T − B·(q̇ + v'_s)),
    T = K·(told − q − s) less its play, never beyond the stall torque; B = stall/ω₀,
each force taken where z' = z + Δt·v' brings it (implicit Euler). A row is held until the next, as controllers play it.
A point of a foot that dips by e into the floor is pushed up by k·e + c·ė, never down; along the floor it is held where
it came down by the same, until that passes µ times what it carries: then it slides on. Small angles. Source: penalty
contacts with Coulomb friction and implicit steps, in texts on the simulation of mechanical systems.

Several machines alike but for their give, their play and their floor are followed side by side.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from bustle.core.dry_run.beside_its_plan import BODY, BesidePlan, beside_plan
from bustle.core.geometry.arrays import Array, Flags
from bustle.core.loads.at_its_voltage import at_its_voltage
from bustle.core.loads.foot_gives import said_mm_per_n
from bustle.core.machine.masses import GRAVITY
from bustle.core.walk.reading import Reading

# The longest step, s.
STEP_S = 0.005
# So far its whole weight on one point presses that into the floor, and so long it takes to come to rest there.
SINKS_MM, SETTLES_S = 0.3, 0.01
# Leaning so far beside its plan, it falls.
FALLS_DEG = 37.0
# How often which feet are down and which slide is looked at within a step.
LOOKS = 4
# So firmly a boom or a rail holds, in masses and inertias of the machine.
HELD = 1e6


@dataclass(frozen=True)
class Machine:
    """One of those side by side. gives: how many times what its sheet says; play_deg: of every servo, None as its sheet
    says; grip: how many times as much as the floor holds."""

    gives: float = 1.0
    play_deg: float | None = None
    grip: float = 1.0


@dataclass
class State:
    """Of V machines: beside (V, D) and rate (V, D); where points were held (V, 3P), m; which are down (V, P); up (V,):
    which have not fallen."""

    beside: Array
    rate: Array
    held: Array
    down: Flags
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
    """A walker's motions one after another, from rest where the first is planned to begin. at (V, 3): how far each has
    come over the ground since, m and m, ahead and to the left as it stood, and how far it has turned, rad."""

    def __init__(self, machines: Sequence[Machine]) -> None:
        self.machines = tuple(machines)
        self.at = np.zeros((len(self.machines), 3))
        self.state: State | None = None
        self._ended: tuple[Array, float] | None = None

    def go_on(self, r: Reading) -> Went:
        """Through all of a motion's rows once."""
        plan, heading = r.of(beside_plan), _headings(r)
        state = self.state
        if state is None or self._ended is None:
            state = self.state = _at_rest(plan, len(self.machines))
        else:
            _carried_over(state, *self._ended, plan.centre[0], float(heading[0]))
        found = _Following(r, plan, self.machines).through(state)
        planned = plan.way if plan.repeats else plan.centre[-1] - plan.centre[0]
        turn = plan.turn if plan.repeats else float(heading[-1] - heading[0])
        end = plan.centre[0] + planned
        if plan.repeats:
            end = _level(plan.turn) @ plan.centre[0] + plan.way
        self._gone_on(state, plan.centre[0], end, float(heading[0]), turn)
        if plan.repeats:
            state.held = _placed(state.held, plan.way, _level(-plan.turn), np.zeros(3))
            _turn(state, _level(-plan.turn))
        last = 0 if plan.repeats else -1
        self._ended = plan.centre[last], float(heading[last])
        return found

    def _gone_on(self, state: State, began: Array, end: Array, heading: float, turn: float) -> None:
        """What it is beside its plan over the ground is told in `at`, and it goes on as if its plan were here: nothing
        that follows knows where on the floor it is, and turns stay small."""
        for v, beside in enumerate(state.beside):
            off, yaw = beside[:3] * np.array([1.0, 1.0, 0.0]), float(beside[5])
            self.at[v, :2] += (_level(self.at[v, 2] - heading) @ (end + off - began))[:2]
            self.at[v, 2] += turn + yaw
            back = _level(-yaw)
            state.held[v] = ((state.held[v].reshape(-1, 3) - end - off) @ back.T + end).ravel()
            for values in (beside, state.rate[v]):
                values[:3], values[3:BODY] = back @ values[:3], back @ values[3:BODY]
            beside[[0, 1, 5]] = 0.0


def _headings(r: Reading) -> Array:
    """(N,) rad"""
    turn = r.course.body.turn[: r.samples]
    found: Array = np.arctan2(turn[:, 1, 0], turn[:, 0, 0])
    return found


def _at_rest(plan: BesidePlan, many: int) -> State:
    size = plan.mass.shape[1]
    return State(
        np.zeros((many, size)),
        np.zeros((many, size)),
        np.tile(plan.points[0].ravel(), (many, 1)),
        np.zeros((many, len(plan.limb)), dtype=bool),
        np.ones(many, dtype=bool),
    )


def _carried_over(state: State, ended: Array, heading: float, begins: Array, begins_heading: float) -> None:
    """From the ground frame of one motion to that of the next, which begins where the one before is planned to end."""
    turn = _level(begins_heading - heading)
    level = np.array([1.0, 1.0, 0.0])
    state.held = _placed(state.held, ended * level, turn, begins * level)
    _turn(state, turn)


def _level(angle: float) -> Array:
    """(3, 3): turned about the upright."""
    c, s = np.cos(angle), np.sin(angle)
    return np.array([[c, -s, 0.0], [s, c, 0.0], [0.0, 0.0, 1.0]])


def _placed(points: Array, about: Array, turn: Array, to: Array) -> Array:
    """Points (V, 3P) turned about one place and brought to another."""
    found: Array = ((points.reshape(len(points), -1, 3) - about) @ turn.T + to).reshape(points.shape)
    return found


def _turn(state: State, turn: Array) -> None:
    for values in (state.beside, state.rate):
        values[:, :3], values[:, 3:BODY] = values[:, :3] @ turn.T, values[:, 3:BODY] @ turn.T


class _Following:
    """What stays the same through one motion. Points lie flat: x, y, z of the first, of the second, (3P,)."""

    def __init__(self, r: Reading, plan: BesidePlan, machines: Sequence[Machine]) -> None:
        self.plan, sheet = plan, r.of(at_its_voltage)
        rows, self.size = len(plan.moves), plan.moves.shape[-1]
        gives = np.array([m.gives for m in machines])[:, None]
        self.stall = sheet.stall_nm
        self.stiff = 1.0 / (gives * r.kit.full_torque_at / sheet.stall_nm + r.kit.horn_give)
        self.drag = sheet.stall_nm / sheet.speed_rad_s
        plays = np.array([s.sheet.play_deg or 0.0 for s in r.kit.servos])
        own = [plays if m.play_deg is None else np.full(len(plays), m.play_deg) for m in machines]
        self.slack = np.radians(own) / 2
        self.grip = r.project.floor.holds * np.array([m.grip for m in machines])[:, None]
        soft = np.array([said_mm_per_n(r, limb) for limb in plan.limb.tolist()])
        self.floor = 1e3 / (SINKS_MM / (plan.kg * GRAVITY) + soft)
        self.steps = max(1, int(np.ceil(plan.row_s / STEP_S - 1e-9)))
        self.step_s = plan.row_s / self.steps
        self.damped = np.repeat(self.floor * (self.step_s + SETTLES_S), 3)
        mass = plan.mass
        if r.project.walker.held != "free":
            # Ahead, up and leaning fore and aft are left to it.
            firm = np.zeros(self.size)
            firm[[1, 3, 5]] = HELD * np.array([plan.kg, 1.0, 1.0])
            mass = mass + np.diag(firm)
        self.mass = mass / self.step_s
        self.points, self.moves = plan.points.reshape(rows, -1), plan.moves.reshape(rows, -1, self.size)
        held = plan.moves.copy()
        held[:, :, :2] = plan.holds @ plan.moves[:, :, :2]
        self.held_moves = held.reshape(rows, -1, self.size)
        self.all_ways = bool((plan.holds == np.eye(2)).all())
        self.of_limb = plan.limb[:, None] == np.arange(len(r.project.walker.limbs))

    def through(self, state: State) -> Went:
        plan, many = self.plan, len(self.slack)
        rows = len(plan.centre)
        lean, touched = np.zeros((many, rows)), np.zeros((many, rows, self.of_limb.shape[1]), dtype=bool)
        fell = np.full(many, np.inf)
        for row in range(rows if plan.repeats else rows - 1):
            ahead = self._ahead(row)
            for k in range(self.steps):
                self._step(state, row, ahead, (k + 1) / self.steps)
                leans = np.degrees(np.hypot(state.beside[:, 3], state.beside[:, 4]))
                lean[:, row] = np.maximum(lean[:, row], leans)
                falls = state.up & ~(leans < FALLS_DEG)
                if falls.any():
                    fell[falls] = row * plan.row_s + k * self.step_s
                    state.up = state.up & ~falls
                    state.beside[falls], state.rate[falls] = 0.0, 0.0
                    if not state.up.any():
                        return Went(lean, touched, state.up.copy(), fell)
            touched[:, row] = state.down @ self.of_limb
        return Went(lean, touched, state.up.copy(), fell)

    def _ahead(self, row: int) -> _Ahead:
        plan = self.plan
        if row + 1 < len(plan.centre):
            nxt, angle, way = row + 1, 0.0, np.zeros(3)
        else:
            nxt, angle, way = 0, plan.turn, plan.way
        takes, points = plan.takes[nxt], self.points[nxt]
        moves, held, centre = self.moves[nxt], self.held_moves[nxt], plan.centre[nxt]
        if nxt == 0:
            on = _level(angle)
            points, centre = (points.reshape(-1, 3) @ on.T + way).ravel(), on @ centre + way
            takes = np.concatenate([on @ takes[:3], on @ takes[3:BODY], takes[BODY:]])
            if angle:
                moves, held = self.moves[row], self.held_moves[row]
        turned = plan.servos[nxt] - plan.servos[row]
        return _Ahead(
            takes - plan.takes[row],
            (turned + np.pi) % (2 * np.pi) - np.pi,
            points - self.points[row],
            moves - self.moves[row],
            held - self.held_moves[row],
        )

    def _step(self, state: State, row: int, ahead: _Ahead, share: float) -> None:
        plan, dt, beside, rate = self.plan, self.step_s, state.beside, state.rate
        points, moves = self.points[row] + ahead.points * share, self.moves[row] + ahead.moves * share
        holds = self.held_moves[row] + ahead.held_moves * share
        off = beside @ moves.T
        at = points + off

        left = np.repeat(self.mass[row][None], len(beside), axis=0)
        right = rate @ self.mass[row] - plan.takes[row] - ahead.takes * share
        gap = plan.sent[row] - plan.servos[row] - ahead.servos * share - beside[:, BODY:]
        far = np.abs(gap)
        torque = self.stiff * np.sign(gap) * np.maximum(far - self.slack, 0.0)
        right[:, BODY:] += np.minimum(np.maximum(torque, -self.stall), self.stall)
        right[:, BODY:] -= self.drag / plan.row_s * ahead.servos
        springs = (far > self.slack) & (np.abs(torque) < self.stall)
        # Every servo's own place on the diagonal.
        own = left.reshape(len(beside), -1)[:, (self.size + 1) * BODY :: self.size + 1]
        own += dt * self.stiff * springs + self.drag

        down = at[:, 2::3] + dt * (rate @ moves[2::3].T) < 0
        kept = (down & state.down).repeat(3, axis=1)
        state.held = held = np.where(kept, state.held, at)
        slips = at - held
        slips[:, 2::3] = at[:, 2::3]
        if not self.all_ways:
            flat = slips.reshape(len(beside), -1, 3)
            flat[..., :2] = (plan.holds[row] @ flat[..., :2, None])[..., 0]
        acts = self._acts(moves, off, beside)
        slides, pushed = np.zeros_like(down), np.zeros_like(at)
        firm = self.floor.repeat(3)
        for _ in range(LOOKS):
            weighs = down.repeat(3, axis=1)
            sticks = weighs.copy()
            sticks[:, 0::3], sticks[:, 1::3] = down & ~slides, down & ~slides
            resists = np.where(sticks, self.damped, 0.0)[..., None] * holds
            force = np.where(sticks, -firm * slips, pushed * weighs)
            new = np.linalg.solve(left + acts @ resists, (right + (acts @ force[..., None])[..., 0])[..., None])[..., 0]
            force = force - (resists @ new[..., None])[..., 0]
            up = force[:, 2::3]
            lifts = down & (up < 0)
            along = np.hypot(force[:, 0::3], force[:, 1::3])
            most = self.grip * np.maximum(up, 0.0)
            over = down & ~slides & ~lifts & (along > most * 1.001 + 1e-9)
            if not lifts.any() and not over.any():
                break
            down = down & ~lifts
            share_held = most / np.maximum(along, 1e-9)
            pushed = np.where(over.repeat(3, axis=1), force * share_held.repeat(3, axis=1), pushed)
            pushed[:, 2::3] = 0.0
            slides = slides | over
        new[~state.up] = 0.0
        state.rate, state.beside, state.down = new, beside + dt * new, down
        if slides.any():
            # What slides is held from where it has slid to.
            at = points + state.beside @ moves.T
            gone = (slides & down).repeat(3, axis=1)
            gone[:, 2::3] = False
            state.held = np.where(gone, at + pushed / firm, held)

    def _acts(self, moves: Array, off: Array, beside: Array) -> Array:
        """(V, D, 3P): what forces on the feet do, about where the centre is and acting where the feet are."""
        found = np.repeat(moves[None], len(beside), axis=0)
        x, y, z = (off[:, k::3] - beside[:, k, None] for k in range(3))
        found[:, 0::3, 4] += z
        found[:, 0::3, 5] -= y
        found[:, 1::3, 3] -= z
        found[:, 1::3, 5] += x
        found[:, 2::3, 3] += y
        found[:, 2::3, 4] -= x
        turned: Array = found.swapaxes(1, 2)
        return turned


@dataclass(frozen=True)
class _Ahead:
    """What changes from a row to the next."""

    takes: Array
    servos: Array
    points: Array
    moves: Array
    held_moves: Array
