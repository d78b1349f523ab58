"""Where feet touch the floor at an instant within a row, and how what touches there moves.

A machine beside its plan is shifted by d and turned by R about its centre of mass, and its servos are off by s, which
turns the hinges of its limbs by δ = (∂h/∂s)·s. From the body out, n_h and o_h a hinge's axis and place in the plan,
    Q_h = Q_{h−1}·rot(n_h, δ_h),   o'_{h+1} = o'_h + Q_h·(o_{h+1} − o_h),
a point p behind them is at  p' = c + d + R·(o'_H + Q_H·(p − o_H) − c),  c the plan's centre, and goes by
R·(Q_{h−1}·n_h × (p' − o'_h)) a radian of hinge h. A curved sole touches where its curve is lowest, which wanders over
it as it rolls.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from bustle.core.dry_run.beside_its_plan import BODY, BesidePlan, Hinges
from bustle.core.geometry.arrays import Array, cross, skew
from bustle.core.geometry.serial_chain import turned_by, turns
from bustle.core.machine.soles import UP, touching

STRAIGHT = np.eye(3)


@dataclass(frozen=True)
class Ahead:
    """What changes from a row to the next."""

    centre: Array
    takes: Array
    servos: Array
    points: Array
    origins: Array
    axes: Array
    by_servo: Array
    lies: tuple[Array, ...]


def ahead_of(plan: BesidePlan, row: int) -> Ahead:
    """To the next row, or to the first of the next time round."""
    if row + 1 < len(plan.centre):
        nxt, angle, way = row + 1, 0.0, np.zeros(3)
    else:
        nxt, angle, way = 0, plan.turn, plan.way
    on, hinges = turns(UP, np.array(angle)), plan.hinges

    def gone(values: Array) -> Array:
        """(…, 3) that turns with the ground."""
        return (values[nxt] @ on.T if nxt == 0 else values[nxt]) - values[row]

    takes, turned = plan.takes[nxt], plan.servos[nxt] - plan.servos[row]
    if nxt == 0:
        takes = np.concatenate([on @ takes[:3], on @ takes[3:BODY], takes[BODY:]])
    return Ahead(
        gone(plan.centre) + way,
        takes - plan.takes[row],
        (turned + np.pi) % (2 * np.pi) - np.pi,
        gone(plan.points) + way,
        gone(hinges.origins) + way,
        gone(hinges.axes),
        hinges.by_servo[nxt] - hinges.by_servo[row],
        tuple((on @ rolls.turn[0] if nxt == 0 else rolls.turn[nxt]) - rolls.turn[row] for rolls in plan.rolling),
    )


class Touch:
    """Where V machines may touch the floor within a row: at (V, 3P) m; moves (V, 3P, D), how what touches there moves,
    and planned (V, 3P) m/s, how fast by plan where it rolls. Of Q soles that roll: local (V, Q, 3) m, where on the sole
    it touches, and lies (V, Q, 3, 3), how that lies."""

    def __init__(
        self, plan: BesidePlan, row: int, ahead: Ahead, share: float, shift: Array, turn: Array, servos: Array
    ) -> None:
        many, count = len(shift), len(plan.limb)
        points, centre = plan.points[row] + ahead.points * share, plan.centre[row] + ahead.centre * share
        by_servo, of = plan.hinges.by_servo[row] + ahead.by_servo * share, plan.hinges.of
        ends, ways, turning, spun = self._out(plan.hinges, row, ahead, share, points, by_servo, servos)
        arms = (ends - centre) @ turn.swapaxes(1, 2)
        moves = np.empty((many, count, 3, BODY + servos.shape[1]))
        moves[..., :3] = STRAIGHT
        moves[..., BODY:] = turn[:, None] @ (ways @ by_servo[of])
        planned = np.zeros_like(arms)
        self.local, self.lies = np.zeros((many, len(plan.rolling), 3)), np.zeros((many, len(plan.rolling), 3, 3))
        for n, (rolls, on) in enumerate(zip(plan.rolling, ahead.lies, strict=True)):
            limb = of[rolls.point]
            turned, beyond = turn @ turning[:, limb] @ by_servo[limb], turn @ spun[:, limb]
            self.lies[:, n] = beyond @ (rolls.turn[row] + on * share)
            curve = touching(rolls.foot, np.zeros((many, 3)), self.lies[:, n]) / 1000
            self.local[:, n] = (curve[:, None] @ self.lies[:, n])[:, 0]
            moves[:, rolls.point, :, BODY:] -= skew(curve) @ turned
            goes = ahead.centre + turn @ (ahead.points[rolls.point] - ahead.centre)
            planned[:, rolls.point] = goes + (beyond @ on @ self.local[:, n, :, None])[..., 0]
            arms[:, rolls.point] += curve
        moves[..., 3:BODY] = -skew(arms)
        self.at = (centre + shift[:, None] + arms).reshape(many, -1)
        self.moves = moves.reshape(many, 3 * count, -1)
        self.planned = planned.reshape(many, -1) / plan.row_s

    def _out(
        self, hinges: Hinges, row: int, ahead: Ahead, share: float, points: Array, by_servo: Array, servos: Array
    ) -> tuple[Array, Array, Array, Array]:
        """From the body out: where points come to (V, P, 3), and how they go with each hinge (V, P, 3, H); how what is
        behind each hinge turns with it (V, L, 3, H), and how what is behind the last is turned (V, L, 3, 3)."""
        origins, axes = hinges.origins[row] + ahead.origins * share, hinges.axes[row] + ahead.axes * share
        many, (limbs, most) = len(servos), origins.shape[:2]
        off = (servos @ by_servo.reshape(limbs * most, -1).T).reshape(many, limbs, most, 1)
        slides, of = hinges.slides[..., None], hinges.of
        turned, by = turned_by(np.where(slides, 0.0, axes * off)), np.empty((many, limbs, most, 3, 2))
        # To each hinge from the one before, and its axis.
        by[..., 0], by[..., 1] = np.where(slides, axes * off, 0.0) + origins, axes
        by[:, :, 1:, :, 0] -= origins[:, :-1]
        spun, was = np.broadcast_to(STRAIGHT, (many, limbs, 3, 3)), origins[:, -1] if most else np.zeros((limbs, 3))
        at, places, along = np.zeros((many, limbs, 3)), *np.empty((2, many, limbs, most, 3))
        for h in range(most):
            here = spun @ by[:, :, h]
            at = at + here[..., 0]
            places[:, :, h], along[:, :, h] = at, here[..., 1]
            spun = spun @ turned[:, :, h]
        ends = at[:, of] + (spun[:, of] @ (points - was[of])[..., None])[..., 0]
        turning = np.where(slides, 0.0, along)
        ways = cross(turning[:, of], ends[:, :, None] - places[:, of]) + np.where(slides, along, 0.0)[:, of]
        return ends, ways.swapaxes(2, 3), turning.swapaxes(2, 3), spun

    def held(self, holds: Array) -> Array:
        """(V, 3P, D): of `moves`, what the floor holds where it holds only some ways along it, (P, 2, 2)."""
        found = self.moves.reshape(len(self.moves), len(holds), 3, -1).copy()
        found[:, :, :2] = holds @ found[:, :, :2]
        return found.reshape(self.moves.shape)
