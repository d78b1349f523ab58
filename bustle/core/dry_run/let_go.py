"""A machine let go to follow its table, step by step: what holds it is its servos and its feet on the floor.

In steps of Δt, beside the plan (see `beside_its_plan`) with v the rate of that,
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
from bustle.core.dry_run.touch import Ahead, Touch, ahead_of
from bustle.core.geometry.arrays import Array, Flags
from bustle.core.geometry.serial_chain import turned_by, turns
from bustle.core.judge.measures.way_walked import crawls
from bustle.core.loads.at_its_voltage import at_its_voltage
from bustle.core.loads.foot_gives import said_mm_per_n
from bustle.core.machine.masses import GRAVITY
from bustle.core.machine.soles import UP
from bustle.core.walk.reading import Reading

# The longest step, s, and where feet slide, by their legs or on a floor that holds less than so much.
STEP_S, SHORT_S, SLIPPERY = 0.005, 0.0025, 0.3
# Long steps take speed from what rocks. In steps of this length little of it is lost.
FINE_S = 0.002
# So far its whole weight on one point presses that into the floor, and so long it takes to come to rest there.
SINKS_MM, SETTLES_S = 0.3, 0.01
# Leaning so far beside its plan, it falls.
FALLS_DEG = 37.0
# How often which feet are down and which slide is looked at within a step.
LOOKS = 6
# So near, as a share, a sliding foot's push is to what the floor holds of what it carries.
NEAR = 0.05
# It grows by so much at most from look to look.
GROWS = 1.25
# So firmly a boom or a rail holds, in masses and inertias of the machine.
HELD = 1e6


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
    """Of V machines beside their plan: shift (V, 3) m of the centre of mass, turn (V, 3, 3), servos (V, S) rad, and the
    rate (V, D) of all three. held (V, 3P) m: where points are held; which are down, and what each carries (V, P), N;
    up (V,): which have not fallen; at (V, 2) m: how far each has come over the ground; frame (V,) rad: how the ground
    of its plan lies on it; local (V, Q, 3) m: where on each sole that rolls it touches."""

    shift: Array
    turn: Array
    servos: Array
    rate: Array
    held: Array
    down: Flags
    carries: Array
    up: Flags
    at: Array
    frame: Array
    local: Array | None = None


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
        turned = self.state.frame + self._ended[1] - self._began
        return np.concatenate([self.state.at, turned[:, None]], axis=1)

    @property
    def frame(self) -> Array:
        """(V,) rad: how the ground of its plan lies by now."""
        return np.zeros(len(self.machines)) if self.state is None else self.state.frame.copy()

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
            _laid(state, ended * level, float(heading[0]) - was, plan.centre[0] * level)
        found = _Following(r, plan, self.machines, self.step_s).through(state)
        if plan.repeats:
            _laid(state, plan.way, -plan.turn, np.zeros(3))
        last = 0 if plan.repeats else -1
        self._ended = plan.centre[last], float(heading[last])
        return found


def _headings(r: Reading) -> Array:
    """(N,) rad"""
    turn = r.course.body.turn[: r.samples]
    found: Array = np.arctan2(turn[:, 1, 0], turn[:, 0, 0])
    return found


def _at_rest(plan: BesidePlan, many: int) -> State:
    size = plan.mass.shape[1]
    return State(
        np.zeros((many, 3)),
        np.tile(np.eye(3), (many, 1, 1)),
        np.zeros((many, size - BODY)),
        np.zeros((many, size)),
        np.tile(plan.points[0].ravel(), (many, 1)),
        np.zeros((many, len(plan.limb)), dtype=bool),
        np.zeros((many, len(plan.limb))),
        np.ones(many, dtype=bool),
        np.zeros((many, 2)),
        np.zeros(many),
    )


def _laid(state: State, about: Array, angle: float, to: Array) -> None:
    """On in another ground frame: what lies about one place there lies about another here, turned by an angle."""
    on = turns(UP, np.array(angle))
    points = (state.held.reshape(len(state.held), -1, 3) - about) @ on.T + to
    state.held = points.reshape(state.held.shape)
    state.shift, state.turn = state.shift @ on.T, on @ state.turn @ on.T
    state.rate[:, :3], state.rate[:, 3:BODY] = state.rate[:, :3] @ on.T, state.rate[:, 3:BODY] @ on.T
    state.frame -= angle


def _goes_on_from_here(state: State, began: Array, centre: Array) -> None:
    """What it is beside its plan over the ground since a row began is added to where it is, and its plan laid where it
    is: nothing that follows knows where on the floor that is."""
    off, turn = state.shift * np.array([1.0, 1.0, 0.0]), state.turn
    step = centre + off - began
    c, s = np.cos(state.frame), np.sin(state.frame)
    state.at[:, 0] += c * step[:, 0] - s * step[:, 1]
    state.at[:, 1] += s * step[:, 0] + c * step[:, 1]
    yaw = np.arctan2(turn[:, 1, 0] - turn[:, 0, 1], turn[:, 0, 0] + turn[:, 1, 1])
    state.frame += yaw
    back = turns(UP, -yaw)
    points = state.held.reshape(len(yaw), -1, 3) - (centre + off)[:, None]
    state.held = (points @ back.swapaxes(1, 2) + centre).reshape(state.held.shape)
    state.turn = back @ turn
    for part in (slice(0, 3), slice(3, BODY)):
        state.rate[:, part] = (back @ state.rate[:, part, None])[..., 0]
    state.shift[:, :2] = 0.0


class _Following:
    """What stays the same through one motion. Points lie flat: x, y, z of the first, of the second, (3P,)."""

    def __init__(self, r: Reading, plan: BesidePlan, machines: Sequence[Machine], step_s: float) -> None:
        self.plan, sheet = plan, r.of(at_its_voltage)
        self.size = plan.mass.shape[-1]
        gives = np.array([m.gives for m in machines])[:, None]
        self.stall = sheet.stall_nm
        self.stiff = 1.0 / (gives * r.kit.full_torque_at / sheet.stall_nm + r.kit.horn_give)
        self.drag = sheet.stall_nm / sheet.speed_rad_s
        plays = np.array([s.sheet.play_deg or 0.0 for s in r.kit.servos])
        own = [plays if m.play_deg is None else np.full(len(plays), m.play_deg) for m in machines]
        self.slack = np.radians(own) / 2
        self.grip = r.project.floor.holds * np.array([m.grip for m in machines])[:, None]
        soft = np.array([said_mm_per_n(r, limb) for limb in plan.limb.tolist()])
        softer = np.array([m.soft for m in machines])[:, None]
        self.floor = 1e3 / (SINKS_MM * softer / (plan.kg * GRAVITY) + soft)
        # As well damped, whatever it is that gives.
        self.settles_s = SETTLES_S * np.sqrt(softer)
        slides = r.of(crawls) or r.project.floor.holds < SLIPPERY
        self.steps = max(1, int(np.ceil(plan.row_s / (min(SHORT_S, step_s) if slides else step_s) - 1e-9)))
        self.step_s = plan.row_s / self.steps
        self.damped = np.repeat(self.floor * (self.step_s + self.settles_s), 3, axis=1)
        mass = plan.mass
        if r.project.walker.held != "free":
            # Ahead, up and leaning fore and aft are left to it.
            firm = np.zeros(self.size)
            firm[[1, 3, 5]] = HELD * np.array([plan.kg, 1.0, 1.0])
            mass = mass + np.diag(firm)
        self.mass = mass / self.step_s
        self.all_ways = bool((plan.holds == np.eye(2)).all())
        self.of_limb = plan.limb[:, None] == np.arange(len(r.project.walker.limbs))

    def through(self, state: State) -> Went:
        plan, many = self.plan, len(self.slack)
        rows = len(plan.centre)
        lean, touched = np.zeros((many, rows)), np.zeros((many, rows, self.of_limb.shape[1]), dtype=bool)
        fell = np.full(many, np.inf)
        for row in range(rows if plan.repeats else rows - 1):
            ahead = ahead_of(plan, row)
            for k in range(self.steps):
                self._step(state, row, ahead, (k + 1) / self.steps)
                leans = np.degrees(np.arccos(np.clip(state.turn[:, 2, 2], -1.0, 1.0)))
                lean[:, row] = np.maximum(lean[:, row], leans)
                falls = state.up & ~(leans < FALLS_DEG)
                if falls.any():
                    fell[falls] = row * plan.row_s + k * self.step_s
                    state.up = state.up & ~falls
                    state.shift[falls], state.turn[falls], state.servos[falls] = 0.0, np.eye(3), 0.0
                    state.rate[falls] = 0.0
                    if not state.up.any():
                        return Went(lean, touched, state.up.copy(), fell)
            touched[:, row] = state.down @ self.of_limb
            _goes_on_from_here(state, plan.centre[row], plan.centre[row] + ahead.centre)
        return Went(lean, touched, state.up.copy(), fell)

    def _step(self, state: State, row: int, ahead: Ahead, share: float) -> None:
        plan, dt, rate, many = self.plan, self.step_s, state.rate, len(state.rate)
        touch = Touch(plan, row, ahead, share, state.shift, state.turn, state.servos)
        at, moves = touch.at, touch.moves
        acts = np.ascontiguousarray(moves.swapaxes(1, 2))
        holds = touch.held(plan.holds[row]) if not self.all_ways else moves

        left = np.repeat(self.mass[row][None], many, axis=0)
        right = rate @ self.mass[row] - plan.takes[row] - ahead.takes * share
        gap = plan.sent[row] - plan.servos[row] - ahead.servos * share - state.servos
        far = np.abs(gap)
        torque = self.stiff * np.sign(gap) * np.maximum(far - self.slack, 0.0)
        right[:, BODY:] += np.minimum(np.maximum(torque, -self.stall), self.stall)
        right[:, BODY:] -= self.drag / plan.row_s * ahead.servos
        springs = (far > self.slack) & (np.abs(torque) < self.stall)
        # Every servo's own place on the diagonal.
        own = left.reshape(many, -1)[:, (self.size + 1) * BODY :: self.size + 1]
        own += dt * self.stiff * springs + self.drag

        if state.local is not None:
            # What rolls is held where it has rolled to.
            for n, rolls in enumerate(plan.rolling):
                gone = touch.lies[:, n] @ (touch.local[:, n] - state.local[:, n])[..., None]
                state.held[:, 3 * rolls.point : 3 * rolls.point + 2] += gone[:, :2, 0]
        state.local = touch.local
        down = at[:, 2::3] + dt * (moves[:, 2::3] @ rate[..., None])[..., 0] < 0
        kept = (down & state.down).repeat(3, axis=1)
        state.held = held = np.where(kept, state.held, at)
        slips = at - held
        slips[:, 2::3] = at[:, 2::3]
        slips += self.settles_s * touch.planned
        if not self.all_ways:
            flat = slips.reshape(many, -1, 3)
            flat[..., :2] = (plan.holds[row] @ flat[..., :2, None])[..., 0]
        slides, pushed = np.zeros_like(down), np.zeros_like(at)
        firm = self.floor.repeat(3, axis=1)
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
            # As if it stuck, a foot carries more or less than it does once it slides: as before is nearer.
            most = np.where(slides | (state.carries <= 0), most, self.grip * state.carries)
            # What it carries changes with what slides: a push that slides follows, slowly, lest it wedges itself in.
            off = np.where(slides, np.abs(along - most) > NEAR * most, along > most * 1.001)
            over = down & off & (along > 1e-9)
            # What lifts off is known only once what slides does: held fast, it would tip the machine.
            lifts &= ~(over & ~slides).any(axis=1, keepdims=True)
            if not lifts.any() and not over.any():
                break
            down = down & ~lifts
            share_held = np.minimum(most / np.maximum(along, 1e-9), np.where(slides, GROWS, 1.0))
            pushed = np.where(over.repeat(3, axis=1), force * share_held.repeat(3, axis=1), pushed)
            pushed[:, 2::3] = 0.0
            slides = slides | over
        new[~state.up] = 0.0
        state.carries = np.where(down, np.maximum(up, 0.0), 0.0)
        state.rate, state.down = new, down
        state.shift = state.shift + dt * new[:, :3]
        state.turn = turned_by(dt * new[:, 3:BODY]) @ state.turn
        state.servos = state.servos + dt * new[:, BODY:]
        if slides.any():
            # What slides is held from where it has slid to.
            at = at + dt * (moves @ new[..., None])[..., 0]
            gone = (slides & down).repeat(3, axis=1)
            gone[:, 2::3] = False
            state.held = np.where(gone, at + pushed / firm, held)
