"""Inverse kinematics of any serial chain: damped least squares within the joints' limits.

Each round takes the step Δq = Jᵀ(J·Jᵀ + λ²·I)⁻¹·e for the joints that are free to move, e being what is missing at the
foot; a joint pressed against its limit is left out and the rest solved again. λ shrinks while steps help and grows
where they do not (Levenberg–Marquardt), so that the end of the search is Newton's; a sample is done with once it gains
next to nothing by a step. All samples iterate together. Where that misses a target no further off than the chain is
long, they start again from several places of a fixed grid at once; samples that stand another way than most, or worse
than they need (the least miss changes by no more than the target does), are started again from their neighbours. A
chain with more joints than it needs starts a little bent, where it can go every way. Of a foot that is to lie level,
whatever its heading, J leaves out what turns it about the normal n* that it is to have, and of e counts the turn from
its normal n to n*, along n × n*. Source: damped least-squares inverse kinematics, any text on redundant arms; the grid
and the neighbour rule are ours.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.spatial.distance import cdist

from bustle.core.geometry.arrays import Array, Flags, Indices, cross
from bustle.core.geometry.serial_chain import Chain, forward, jacobian
from bustle.core.kinds.legs.family import REACHED_MM, Build, Solution, miss

ROUNDS = 90
GOOD_MM = 1e-10
# A step that gains next to nothing of what is missing is the last, and so is one that fails though it is this damped.
GAIN = 1e-11
MOST_DAMPING = 1e4
# After so many rounds along the Jacobian, what is still missing counts how the path bends.
STRAIGHT_ROUNDS = 8
SWEEPS = 4
# Where the first start fails: this many more, each the nearest of a grid of about this many over the joints' ranges.
STARTS = 3
GRID = 800
# A joint that moves more than this from one sample to the next, while the foot hardly moves, has jumped.
JUMP_RAD = 0.5
# A chain with a joint to spare starts with none further from its rest: from further off, places next to each other are
# come to in other ways.
NEAR_RAD = 0.3
MOST_KNOWN = 256
# How much a radian of tilt weighs against a millimetre of place.
TILT_MM = 60.0


@dataclass(frozen=True)
class Aim:
    """How a foot is to be turned: turns (S, 3, 3) in the mount's frame; level: as far as it tilts, whatever its
    heading."""

    turns: Array
    level: bool

    def __getitem__(self, rows: slice | Indices | Flags) -> Aim:
        return Aim(self.turns[rows], self.level)

    def missing(self, frames: Array) -> Array:
        """(S, 3): the turn, a vector along its axis, that takes feet (S, 3, 3) to where they are to be."""
        if not self.level:
            return _turn_vector(self.turns @ np.swapaxes(frames, -1, -2))
        normals = self.turns[..., 2]
        axis = cross(frames[..., 2], normals)
        sine = np.linalg.norm(axis, axis=-1)
        angle = np.arctan2(sine, (frames[..., 2] * normals).sum(axis=-1))
        # Upside down it may turn back about any axis that lies level.
        axis = np.where(sine[:, None] > 1e-9, axis, frames[..., 0])
        return np.asarray(axis * (angle / np.maximum(sine, 1e-9))[:, None])

    def columns(self, turning: Array) -> Array:
        """How it turns (S, 3, J) as joints do, of which that counts."""
        if not self.level:
            return turning
        normals = self.turns[..., 2]
        return turning - normals[..., None] * np.einsum("sr,srj->sj", normals, turning)[:, None]

    def angles(self, frames: Array) -> Array:
        """(S, G) rad: how far each foot (G, 3, 3) is from each that is wanted."""
        if self.level:
            cosine = self.turns[..., 2] @ frames[..., 2].T
        else:
            # tr(AᵀB) = 1 + 2·cos of the angle between them.
            cosine = (np.einsum("sab,gab->sg", self.turns, frames) - 1) / 2
        return np.asarray(np.arccos(np.clip(cosine, -1.0, 1.0)))

    def change(self, by: int) -> Array:
        """(S,) rad: from what was wanted so many samples before."""
        before = np.roll(self.turns, by, axis=0)
        if self.level:
            cosine = (self.turns[..., 2] * before[..., 2]).sum(axis=-1)
        else:
            cosine = (np.einsum("sab,sab->s", self.turns, before) - 1) / 2
        return np.asarray(np.arccos(np.clip(cosine, -1.0, 1.0)))


# Of what a free chain keeps: the foot's place; how it is turned too; or how far it tilts too.
PLACE, POSE, LEVEL = range(3)


def solve_damped(build: Build, points: Array, aims: Array | None) -> Solution:
    """points (L, S, 3) mm and, where the foot's turn counts too, aims (L, S, 3, 3), in the mount's frame."""
    parts = []
    for i, keep in enumerate(build.keep.tolist()):
        aim = None if aims is None or keep == PLACE else Aim(aims[i], keep == LEVEL)
        parts.append(_each_once(build.only([i]), points[i], aim))
    joints, residual = (np.stack([p[k] for p in parts]) for k in (0, 1))
    return Solution(joints, residual, miss(residual) <= REACHED_MM, miss(residual))


def _each_once(build: Build, target: Array, aim: Aim | None) -> tuple[Array, Array]:
    """A standing foot asks the same of every sample: it is solved for once. A moving one asks as it comes."""
    same = np.abs(target - target[0]).max(initial=0.0) < 1e-12
    if not same or (aim is not None and np.abs(aim.turns - aim.turns[0]).max(initial=0.0) > 1e-12):
        return _solve_one(build, target, aim)
    q, gap = _solve_one(build, target[:1], None if aim is None else aim[:1])
    return np.repeat(q, len(target), axis=0), np.repeat(gap, len(target), axis=0)


def _solve_one(build: Build, target: Array, aim: Aim | None) -> tuple[Array, Array]:
    c = build.chain
    chain = Chain(c.axes, c.offsets, np.zeros((1, 3)), np.eye(3)[None], c.slides, c.coupling)
    low, high = build.low[0], build.high[0]
    reach = float(np.linalg.norm(c.offsets[0], axis=-1).sum()) or 1.0
    spread = _spread(low, high)
    spare = len(low) > (3 if aim is None else 5 if aim.level else 6)
    starts = np.tile(_start(chain, low, high) if spare else _rest(low, high), (len(target), 1))
    # What is further off than the chain is long is missed from wherever it starts: it starts where it misses least.
    far = np.linalg.norm(target, axis=-1) > reach
    if far.any():
        starts[far] = _nearest(chain, spread, target[far], None if aim is None else aim[far], 1)
    best_q, best_gap = _descend(chain, low, high, starts, target, aim, reach)
    poor = np.flatnonzero(~far & (_size(best_gap) > REACHED_MM / 10))
    if len(poor):
        starts = _nearest(chain, spread, target[poor], None if aim is None else aim[poor], STARTS)
        if spare:
            starts = np.concatenate([np.tile(_rest(low, high), (len(poor), 1)), starts])
        rows = np.tile(poor, len(starts) // len(poor))
        _take(best_q, best_gap, rows, chain, low, high, starts, target, aim, reach)
    for _ in range(SWEEPS):
        if not _reseed(chain, low, high, best_q, best_gap, target, aim, reach):
            break
    if aim is None:
        best_gap[:, 3:] = 0.0
    elif aim.level:
        # Where it heads is told, and was not asked for.
        best_gap = _gap(chain, best_q, target, Aim(aim.turns, level=False))[0]
    return best_q, best_gap


def _rest(low: Array, high: Array) -> Array:
    """Zero pose where the limits allow, nudged off straight, where the Jacobian says nothing."""
    span = np.minimum(high - low, 2.0)
    return np.clip(0.1 * span * np.where(np.arange(len(low)) % 2, -1.0, 1.0), low, high)


def _start(chain: Chain, low: Array, high: Array) -> Array:
    """`_bent`, once for each leg there is: it is asked for at every change of where feet go."""
    parts = (chain.axes, chain.offsets, low, high, chain.slides, chain.coupling)
    key = b"|".join(np.asarray(part).tobytes() for part in parts if part is not None)
    found = _known.get(key)
    if found is None:
        if len(_known) >= MOST_KNOWN:
            _known.clear()
        found = _known[key] = _bent(chain, low, high)
    return found


_known: dict[bytes, Array] = {}


def _bent(chain: Chain, low: Array, high: Array) -> Array:
    """Where a chain with more joints than it needs starts from: of a grid about its rest, what can go every way best,
    the foot below all else. From a straight leg each place would be come to in a way of its own, and rows next to each
    other would leap from one to another; from here they do not."""
    rest = _rest(low, high)
    near = _spread(np.maximum(low, rest - NEAR_RAD), np.minimum(high, rest + NEAR_RAD))
    points, frames = forward(chain, near[None])
    columns = jacobian(chain, near[None], points, frames)[0, :, :3]
    can = np.sqrt(np.maximum(np.linalg.det(columns @ np.swapaxes(columns, 1, 2)), 0.0))
    height = points[0, :, :, 2]
    stands = height[:, -1] <= height[:, :-1].min(axis=1) - 1e-9
    can = np.where(stands, can, 0.0) if stands.any() else can
    # Of such as go alike well the one with its knees highest.
    best = np.flatnonzero(can >= can.max() * (1 - 1e-6))
    return np.asarray(near[best[np.argmax(height[best].sum(axis=1))]])


def _spread(low: Array, high: Array) -> Array:
    """(G, J): a grid over the joints' ranges, ends included; the same at every run."""
    joints = len(low)
    per_joint = min(40, max(2, int(GRID ** (1 / max(1, joints)) + 1e-9)))
    middle, half = (low + high) / 2, np.minimum((high - low) / 2, np.pi)
    share = np.stack(np.meshgrid(*[np.linspace(-1, 1, per_joint)] * joints, indexing="ij"), axis=-1)
    return np.asarray(middle + half * share.reshape(-1, joints))


def _nearest(chain: Chain, spread: Array, target: Array, aim: Aim | None, places: int) -> Array:
    """(places·S, J): of the spread, what brings the foot nearest to each target; then the nearest that stands another
    way, and so on."""
    points, frames = forward(chain, spread[None])
    miss_mm = cdist(target, points[0, :, -1])
    if aim is not None:
        miss_mm = np.hypot(miss_mm, TILT_MM * aim.angles(frames[0, :, -1]))
    found = [spread[miss_mm.argmin(axis=1)]]
    for _ in range(places - 1):
        # Nothing that stands as the last one found does.
        alike = np.abs(spread[None] - found[-1][:, None]) <= np.ptp(spread, axis=0) / 4 + 1e-9
        miss_mm[alike.all(axis=-1)] = np.inf
        found.append(spread[miss_mm.argmin(axis=1)])
    return np.concatenate(found)


def _size(gap: Array) -> Array:
    size: Array = np.hypot(np.linalg.norm(gap[:, :3], axis=-1), TILT_MM * np.linalg.norm(gap[:, 3:], axis=-1))
    return size


def _gap(chain: Chain, q: Array, target: Array, aim: Aim | None) -> tuple[Array, Array]:
    """What is missing (S, 6), and the Jacobian (S, 6, J)."""
    points, frames = forward(chain, q[None])
    gap = np.zeros((len(q), 6))
    gap[:, :3] = target - points[0, :, -1]
    columns = jacobian(chain, q[None], points, frames)[0]
    if aim is not None:
        gap[:, 3:] = aim.missing(frames[0, :, -1])
        columns[:, 3:] = aim.columns(columns[:, 3:])
    return gap, columns


def _turn_vector(turn: Array) -> Array:
    from scipy.spatial.transform import Rotation

    vector: Array = Rotation.from_matrix(turn).as_rotvec()
    return vector


def _descend(
    chain: Chain, low: Array, high: Array, q: Array, target: Array, aim: Aim | None, reach: float
) -> tuple[Array, Array]:
    """From starts q (S, J): a step is kept where it helps, and λ lowered; else λ is raised and it is tried shorter."""
    q = q.copy()
    gap, columns = _gap(chain, q, target, aim)
    damping = np.full(len(q), 0.01)
    active = np.arange(len(q))
    for count in range(ROUNDS):
        active = active[_size(gap[active]) > GOOD_MM]
        if not len(active):
            break
        stepping = _curved_step if aim is None and count >= STRAIGHT_ROUNDS else _step
        step = stepping(q[active], gap[active], columns[active], damping[active], low, high, reach, aim is not None)
        trial = np.clip(q[active] + step, low, high)
        new_gap, new_columns = _gap(chain, trial, target[active], None if aim is None else aim[active])
        was, now = _size(gap[active]), _size(new_gap)
        better = now < was
        taken = active[better]
        q[taken], gap[taken], columns[taken] = trial[better], new_gap[better], new_columns[better]
        damping[active] = np.where(better, np.maximum(damping[active] * 0.1, 1e-16), damping[active] * 8)
        done = np.where(better, was - now < GAIN * now, damping[active] > MOST_DAMPING)
        active = active[~done]
    return q, gap


def _step(
    q: Array, gap: Array, columns: Array, damping: Array, low: Array, high: Array, reach: float, posed: bool
) -> Array:
    """Δq (S, J) of the joints that are free to move."""
    rows = 6 if posed else 3
    weight = np.array([1.0, 1.0, 1.0, TILT_MM, TILT_MM, TILT_MM])
    e, j = (gap * weight)[:, :rows], (columns * weight[:, None])[:, :rows]
    free = np.ones(q.shape, dtype=bool)
    for _ in range(q.shape[1]):
        masked = j * free[:, None]
        square = masked @ np.swapaxes(masked, -1, -2) + (damping * reach**2)[:, None, None] * np.eye(rows)
        step: Array = np.einsum("srj,sr->sj", masked, np.linalg.solve(square, e[..., None])[..., 0])
        pressed = free & (((step < 0) & (q <= low)) | ((step > 0) & (q >= high)))
        if not pressed.any():
            break
        free &= ~pressed
    return step


def _curved_step(
    q: Array, gap: Array, columns: Array, damping: Array, low: Array, high: Array, reach: float, posed: bool
) -> Array:
    """Newton's step for a place that stays missed: then it counts how the foot's path bends, which J does not tell.

    The Hessian of |e|²/2 is H = JᵀJ − S, S_ij = e·(ω_i × J_j) for i ≤ j (0 for a slide i): the derivative of a hinge's
    column by an earlier hinge is ω_i × J_j. Directions in which H bends down are taken as if they bent up as much.
    """
    e, j, omega = gap[:, :3], columns[:, :3], columns[:, 3:]
    later = np.einsum("sri,srj->sij", np.cross(e[:, :, None], omega, axis=1), j)
    bend = np.triu(later)
    curved = np.swapaxes(j, -1, -2) @ j - (bend + np.swapaxes(np.triu(later, 1), -1, -2))
    slope = np.einsum("srj,sr->sj", j, e)
    free = ~(((slope < 0) & (q <= low)) | ((slope > 0) & (q >= high)))
    curved = np.where(free[:, :, None] & free[:, None], curved, 0.0)
    size, way = np.linalg.eigh(curved)
    along = np.einsum("sji,sj->si", way, slope * free)
    held = np.maximum(np.abs(size), 1e-9 * reach**2) + (damping * reach**2)[:, None]
    step: Array = np.einsum("sji,si->sj", way, along / held) * free
    return step


def _take(
    best_q: Array,
    best_gap: Array,
    rows: Indices,
    chain: Chain,
    low: Array,
    high: Array,
    start: Array,
    target: Array,
    aim: Aim | None,
    reach: float,
    prefer_near: bool = False,
) -> bool:
    """Try other starts for some rows; take what ends better (or as well, nearer to where it started)."""
    q, gap = _descend(chain, low, high, start.copy(), target[rows], None if aim is None else aim[rows], reach)
    new, old = _size(gap), _size(best_gap[rows])
    if len(set(rows.tolist())) < len(rows):
        # Several starts of one row: the best of them stands for all.
        order = np.argsort(new, kind="stable")
        _, first = np.unique(rows[order], return_index=True)
        pick = order[first]
        rows, q, start, new, old = rows[pick], q[pick], start[pick], new[pick], old[pick]
        gap = gap[pick]
    better = new < old * 0.999 - 1e-9
    if prefer_near:
        nearer = np.abs(q - start).max(axis=1) < np.abs(best_q[rows] - start).max(axis=1) - 1e-6
        better |= nearer & (new <= old + REACHED_MM / 10)
    best_q[rows[better]], best_gap[rows[better]] = q[better], gap[better]
    return bool(better.any())


def _apart(target: Array, aim: Aim | None, by: int) -> Array:
    """(S,) mm: how much each target differs from the one `by` samples before it."""
    place = np.linalg.norm(target - np.roll(target, by, axis=0), axis=-1)
    if aim is None:
        return place
    apart: Array = np.hypot(place, TILT_MM * aim.change(by))
    return apart


def _reseed(
    chain: Chain, low: Array, high: Array, q: Array, gap: Array, target: Array, aim: Aim | None, reach: float
) -> bool:
    """Start samples that jumped or fell behind again: what stands another way than most from the nearest that does not,
    then each from the sample before and from the one after."""
    if len(q) < 2:
        return False
    moved = False
    for by in (0, 1, -1):
        apart = _apart(target, aim, by or 1)
        close = apart < 0.25 * reach
        jumped = close & (np.abs(q - np.roll(q, by or 1, axis=0)).max(axis=1) > JUMP_RAD)
        if by:
            behind = close & (_size(gap) > np.roll(_size(gap), by) + apart + REACHED_MM)
            rows = np.flatnonzero(jumped | behind)
            start = np.roll(q, by, axis=0)[rows]
        else:
            rows, nearest = _another_way(jumped)
            start = q[nearest]
        if len(rows):
            moved |= _take(q, gap, rows, chain, low, high, start, target, aim, reach, prefer_near=by != -1)
    return moved


def _another_way(jumped: Flags) -> tuple[Indices, Indices]:
    """Of samples that go round, all but the longest run without a jump; and the end of that run which each is nearest
    to. jumped (S,): whether each stands another way than the one before."""
    breaks, count = np.flatnonzero(jumped), len(jumped)
    if len(breaks) < 2:
        return np.arange(0), np.arange(0)
    lengths = np.diff(np.append(breaks, breaks[0] + count))
    longest = int(np.argmax(lengths))
    first, last = breaks[longest], breaks[longest] + lengths[longest] - 1
    rows = np.arange(last + 1, first + count)
    nearest = np.where(rows - last <= first + count - rows, last, first)
    return rows % count, nearest % count
