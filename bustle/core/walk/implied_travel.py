"""What the legs walk: the travel that the solved stance feet imply, whatever was asked.

Feet that stand do not move over the floor; where the solved ones would, it is the body that goes otherwise. Between two
rows let u_i be how fast the foot i that stands in both creeps over the floor by the asked twist, r_i where it is, seen
from the travel frame, and z_i the share of the weight that it carries. Where feet cannot but slide, dry friction holds
each against its way by µ·z_i, whatever its speed, and the body goes where these balance: by the twist δ beside the
asked one at which least is rubbed away,

    min Σ z_i·(|v_i| − p·v_i),   v_i = u_i + δ_v + δ_ω·ẑ × r_i,   p = (slope downhill)/µ

(`geometry.least_rubbing`), on a level one the same whatever the floor holds. Where none need slide that is the linear
least squares of the same.
One foot alone tells no turn: δ_ω is 0 there, unless it stands on a flat sole whose leg turns: then the body turns as
that keeps its toes.
"""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from bustle.core.geometry.arrays import Array, Flags, Indices
from bustle.core.geometry.least_rubbing import least_rubbing
from bustle.core.geometry.planar_twist import bring_back, carry, displacement, twist_of
from bustle.core.machine.kit import Kit
from bustle.core.machine.slope import downhill_of
from bustle.core.machine.tracks import BodyTrack
from bustle.core.project.limits import Floor
from bustle.core.walk.course import Course, Implied, stands_still
from bustle.core.walk.score import Score

# Feet that creep less from one row to the next stand still.
KEPT_MM = 1e-6
# Every foot that is down carries something.
LEAST_SHARE = 0.02


def laid_by_its_legs(kit: Kit, score: Score, course: Course, rows: int, floor: Floor) -> Course:
    """The course as it is, or laid on the floor by what the legs walk where the score is led by them."""
    count = rows if score.periodic else rows - 1
    at = np.linspace(0.0, score.duration_s, count + 1)
    led = score.led_by_legs((at[1:] + at[:-1]) / 2)
    if not led.any():
        return course
    planted = stands_still(kit, score, course, rows)
    toes = toes_of(kit, course, rows) if score.joints(at[:1]) is not None else None
    unasked = score.on_floor(course.time_s[:rows])
    implied = implied_travel(
        course, planted, rows, score.duration_s / count, score.periodic, led, toes, unasked, drawn_on(floor)
    )
    return as_it_goes(course, implied, at, score.travel(at), score.periodic)


def drawn_on(floor: Floor) -> Array | None:
    """(2,) in the ground frame: what draws feet that slide along it, as a share of what it holds; None: nothing."""
    return downhill_of(floor) / floor.holds if floor.slope_deg else None


def toes_of(kit: Kit, course: Course, rows: int) -> Array:
    """(L, rows) rad: which way each flat sole points over the ground; NaN of others."""
    found = np.full((len(kit.walker.limbs), rows), np.nan)
    for i, limb in enumerate(kit.walker.limbs):
        if limb.steps and limb.feet[0].sole.kind in ("rectangle", "edge"):
            turn = course.body.turn[:rows] @ course.solved.end_turns(i)[:rows]
            found[i] = np.unwrap(np.arctan2(turn[:, 1, 0], turn[:, 0, 0]))
    return found


def implied_travel(
    course: Course, planted: Flags, rows: int, row_s: float, periodic: bool, led: Flags | None = None,
    toes: Array | None = None, unasked: Flags | None = None, drawn: Array | None = None,
) -> Implied:  # fmt: skip
    """planted: (L, rows), which feet are to stand still. led: (N,), from which rows to the next the legs lead; None:
    from all. unasked: (L, rows), which feet are asked for no place, so that those asked for next are no step.
    drawn: (2,) as `drawn_on`."""
    theta = course.body.travel[2][:rows]
    c, s = np.cos(theta), np.sin(theta)

    def seen(ground: Array) -> Array:
        return np.stack([c * ground[..., 0] + s * ground[..., 1], c * ground[..., 1] - s * ground[..., 0]], axis=-1)

    standing = planted & np.roll(planted, -1, axis=1)
    if not periodic:
        standing[:, -1] = False
    count = rows if periodic else rows - 1
    off = (course.print_ground_mm - course.target_ground_mm)[:, :rows, :2]
    if toes is None and np.abs(off * planted[..., None]).max(initial=0.0) < KEPT_MM / 2:
        # All stand where they were put: nothing creeps.
        return Implied(np.zeros((count, 3)), np.zeros((len(off), count, 2)), standing[:, :count])
    origin = np.stack([v[:rows] for v in course.body.travel[:2]], axis=-1)
    where = seen(course.print_ground_mm[:, :rows, :2] - origin)
    # How far a foot is off its print, turned with the print's own frame so that one stance is like the next.
    turned = seen(off)
    following = np.roll(turned, -1, axis=1)
    dtheta = np.diff(theta, append=theta[-1:] + (theta[1] - theta[0] if rows > 1 else 0.0))
    cd, sd = np.cos(dtheta), np.sin(dtheta)
    ahead = np.stack(
        [cd * following[..., 0] - sd * following[..., 1], sd * following[..., 0] + cd * following[..., 1]], -1
    )
    if unasked is not None:
        asked = course.target_ground_mm[:, :rows, :2]
        ahead = ahead + seen(np.where(unasked[..., None], np.roll(asked, -1, axis=1) - asked, 0.0))
    creep = np.where(standing[..., None], ahead - turned, 0.0)
    spun = np.zeros(standing.shape)
    if toes is not None:
        own = (np.roll(toes, -1, axis=1) - toes + np.pi) % (2 * np.pi) - np.pi
        spun = np.where(standing & np.isfinite(own), own - dtheta, 0.0)
    step = _least(creep, where, standing, spun)
    left = _left(creep, where, standing, step)
    slide = np.flatnonzero((np.abs(left) > KEPT_MM).any(axis=(0, 2)))
    if len(slide):
        load = standing[:, slide] * _carried(course, slide)
        pull = None if drawn is None else seen(np.tile(drawn, (rows, 1)))[slide]
        step[slide] += least_rubbing(left[:, slide], where[:, slide], load, pull)
    if led is not None:
        step[:count][~led] = 0.0
    left = _left(creep, where, standing, step)
    return Implied(step[:count] / row_s, left[:, :count], standing[:, :count])


def _left(creep: Array, where: Array, standing: Flags, step: Array) -> Array:
    """(L, N, 2): how far each standing foot still creeps with a step (N, 3) more."""
    moved = step[:, :2] + np.stack([-step[:, 2] * where[..., 1], step[:, 2] * where[..., 0]], axis=-1)
    return np.where(standing[..., None], creep + moved, 0.0)


def _carried(course: Course, rows: Indices) -> Array:
    """(L, K) at some of the rows: the share of the weight on each foot that is down, as levers have it; of more feet
    than three alike shares of what they may."""
    down = course.contact[:, rows].astype(float)
    at = (course.feet_ground_mm[:, rows, :2] - course.com_ground_mm[rows, :2]) / 1000
    sides = np.stack([np.ones(down.shape), at[..., 0], at[..., 1]], axis=-1) * down[..., None]
    square = np.einsum("lni,lnj->nij", sides, sides)
    share = np.einsum("lni,ni->ln", sides, np.linalg.pinv(square, rcond=1e-9, hermitian=True)[..., 0])
    return np.clip(share, LEAST_SHARE, None) * down


def _least(creep: Array, where: Array, standing: Flags, spun: Array) -> Array:
    """(N, 3): the step beside the asked one that leaves least creep; spun (L, N): by how much a standing sole turns."""
    w = standing.astype(float)
    x, y = where[..., 0], where[..., 1]
    n, sx, sy, rr = (v.sum(axis=0) for v in (w, w * x, w * y, w * (x * x + y * y)))
    bx, by = (w * creep[..., 0]).sum(axis=0), (w * creep[..., 1]).sum(axis=0)
    bt = (w * (x * creep[..., 1] - y * creep[..., 0])).sum(axis=0)
    some = np.maximum(n, 1.0)
    # About the middle of the feet, translation and turn part.
    mx, my = sx / some, sy / some
    spread = rr - n * (mx * mx + my * my)
    turn = np.where((n > 1) & (spread > 1.0), -(bt - mx * by + my * bx) / np.where(spread > 1.0, spread, 1.0), 0.0)
    turn = np.where(n == 1, -spun.sum(axis=0), turn)
    vx, vy = -bx / some + turn * my, -by / some - turn * mx
    return np.stack([vx, vy, turn], axis=-1)


def as_it_goes(
    course: Course, implied: Implied, at: Array, asked: tuple[Array, Array, Array], periodic: bool
) -> Course:
    """The course over the floor by the implied travel: the same joints, laid otherwise on the ground.

    at (N + 1,): the times of the rows, and of the end; asked: x, y, θ of the travel frame then. Footprints are where
    the feet then stand.
    """
    row_s, count = at[1] - at[0], len(at) - 1
    steps = bring_back(tuple(v[:-1] for v in asked), asked[0][1:], asked[1][1:])  # type: ignore[arg-type]
    twist = implied.twist + np.stack(twist_of(*steps, np.diff(asked[2])), axis=-1) / row_s
    dx, dy, dtheta = displacement(twist[:, 0], twist[:, 1], twist[:, 2], row_s)
    heading = np.full(count + 1, asked[2][0])
    heading[1:] += np.cumsum(dtheta)
    ways = np.stack(carry((np.zeros(count), np.zeros(count), heading[:-1]), dx, dy), axis=-1)
    start = np.array([[asked[0][0], asked[1][0]]])
    place = np.concatenate([start, start + np.cumsum(ways, axis=0)])
    travel = (*(np.interp(course.time_s, at, place[:, k]) for k in (0, 1)), np.interp(course.time_s, at, heading))
    old_x, old_y, old_theta = course.body.travel
    turn = travel[2] - old_theta
    c, s = np.cos(turn), np.sin(turn)

    def laid(points: Array) -> Array:
        px, py = points[..., 0] - old_x, points[..., 1] - old_y
        moved = points.copy()
        moved[..., 0], moved[..., 1] = travel[0] + c * px - s * py, travel[1] + s * px + c * py
        return moved

    about_z = np.zeros((len(turn), 3, 3))
    about_z[:, 0, 0], about_z[:, 0, 1], about_z[:, 1, 0], about_z[:, 1, 1], about_z[:, 2, 2] = c, -s, s, c, 1.0
    feet, put = laid(course.feet_ground_mm), laid(course.print_ground_mm)
    prints = put.copy()
    prints[..., :2] -= _crept(implied, heading, course.time_s, at, periodic)
    prints[..., 2] = course.target_ground_mm[..., 2]
    stands: Flags = np.asarray(implied.standing.any(axis=1), dtype=bool)
    return replace(
        course,
        body=BodyTrack(laid(course.body.at), about_z @ course.body.turn, travel),
        target_ground_mm=np.where(stands[:, None, None], prints, laid(course.target_ground_mm)),
        headings=course.headings + turn,
        feet_ground_mm=feet,
        print_ground_mm=put,
        com_ground_mm=laid(course.com_ground_mm),
        stand_mm=laid(course.stand_mm),
        implied=implied,
        ends=(float(place[-1, 0]), float(place[-1, 1]), float(heading[-1])),
    )


def _crept(implied: Implied, heading: Array, time_s: Array, at: Array, periodic: bool) -> Array:
    """(L, S, 2) mm over the ground: how far each foot has crept since it came down.

    Where the walk repeats, a stance may run over the end of the cycle: what it crept before is then seen from the cycle
    that begins.
    """
    found = np.zeros((len(implied.creep), len(time_s), 2))
    rows = np.arange(implied.creep.shape[1])
    for foot, (creep, standing) in enumerate(zip(implied.creep, implied.standing, strict=True)):
        before: Flags = np.roll(standing, 1)
        before[0] &= periodic
        lands: Flags = np.asarray(standing & ~before, dtype=bool)
        landed = np.flatnonzero(lands)
        # A cycle is looked at from its last landing on.
        first = int(landed[-1]) if periodic and len(landed) else 0
        late: Flags = np.asarray((rows >= first) & (first > 0), dtype=bool)
        way = np.roll(_turned(creep, heading[:-1] - late * (heading[-1] - heading[0])), -first, axis=0)
        gone = np.concatenate([np.zeros((1, 2)), np.cumsum(way, axis=0)])
        down = np.maximum.accumulate(np.where(np.roll(lands, -first), rows, 0))
        since = np.roll(gone[:-1] - gone[down], first, axis=0)
        after = since[:1] if periodic else gone[-1:] - gone[down[-1:]]
        since = _turned(since, late * (heading[-1] - heading[0]))
        row = np.concatenate([since, _turned(after, periodic * (heading[-1:] - heading[:1]))])
        for k in (0, 1):
            found[foot, :, k] = np.interp(time_s, at, row[:, k])
    return found


def _turned(ways: Array, angle: Array) -> Array:
    """(N, 2) turned by angles (N,)."""
    c, s = np.cos(angle), np.sin(angle)
    return np.stack([c * ways[:, 0] - s * ways[:, 1], s * ways[:, 0] + c * ways[:, 1]], axis=-1)
