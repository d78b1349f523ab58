"""What the Load station draws: forces at the feet, shares at the servos, the pushing point, the sag."""

from __future__ import annotations

import numpy as np

from bustle.core.falling.pushing_point import not_on_soles, rocks_sideways, room_ahead, room_on_soles
from bustle.core.falling.tipping import leans
from bustle.core.geometry.arrays import Array, cross
from bustle.core.geometry.extremes import greatest_of_each
from bustle.core.geometry.planar_twist import bring_back
from bustle.core.judge.judgements.balance.falls_over import may_be_halted
from bustle.core.judge.judgements.balance.leans_in_mid_swing import JUDGEMENT as LEANS
from bustle.core.judge.measures.margins.halted import halted_margin, rests_mm
from bustle.core.loads.foot_forces import foot_forces
from bustle.core.loads.giving.sag import sag
from bustle.core.loads.inertial_wrenches import wrenches
from bustle.core.loads.joint_torques import servo_loads
from bustle.core.loads.supply_current import assumed_of_supplies, drawn
from bustle.core.loads.told import assumed_of_loads, not_told
from bustle.core.loads.zero_moment_point import zero_moment_point
from bustle.core.machine.masses import GRAVITY
from bustle.core.walk.reading import Reading
from bustle.web.said import picture_head as head

# So far outside is drawn at most.
FARTHEST_MM = 500.0


def load_arrays(r: Reading) -> dict[str, Array]:
    """Nothing where loads are not told."""
    if not_told(r):
        return {}
    feet, n = r.of(foot_forces), r.samples
    x, y, theta = (v[:n] for v in r.course.body.travel)
    own = [i for i, limb in enumerate(r.project.walker.limbs) if limb.feet]
    pushes = np.stack([feet.of_limb(i) for i in own], axis=1)
    none = np.zeros_like(x)[:, None]
    pushes[..., 0], pushes[..., 1] = bring_back((none, none, theta[:, None]), pushes[..., 0], pushes[..., 1])
    zmp = np.stack(bring_back((x, y, theta), *(r.of(zero_moment_point) * 1000).T), axis=1)
    return {
        "load_feet": pushes,
        "load_share": r.of(servo_loads).share,
        "load_lag": r.of(servo_loads).lag_deg,
        "load_amperes": np.stack([own.amperes for own in r.of(drawn)], axis=1),
        "load_zmp": zmp,
        "load_sag": _gives(r),
    }


def _gives(r: Reading) -> Array:
    """(N, 7): how far the middle of the body sinks, mm; and where a point p of the frame goes as it gives, s + θ × p,
    mm and rad, seen from the travel frame."""
    gives, n = r.of(sag), r.samples
    x, y, theta = (v[:n] for v in r.course.body.travel)
    none = np.zeros(n)

    def seen(vectors: Array, at: tuple[Array, Array]) -> Array:
        ahead, aside = bring_back((*at, theta), vectors[:, 0], vectors[:, 1])
        return np.stack([ahead, aside, vectors[:, 2]], axis=1)

    turn, middle = seen(gives.turn, (none, none)), seen(r.course.body.at[:n], (x, y))
    shift = seen(gives.shift_mm, (none, none)) - cross(turn, middle)
    return np.concatenate([gives.down_mm[:, None], shift, turn], axis=1)


def pushing_arrays(r: Reading) -> dict[str, Array]:
    """Where it pushes, seen from the travel frame, and how far inside its soles, or from their ends where it rocks
    sideways by design; nothing where that tells nothing."""
    if r.balance == "static" or not_on_soles(r):
        return {}
    x, y, theta = (v[: r.samples] for v in r.course.body.travel)
    push = np.stack(bring_back((x, y, theta), *(r.of(zero_moment_point) * 1000).T), axis=1)
    return {
        "push": push,
        "push_room_mm": np.clip(r.of(room_ahead if rocks_sideways(r) else room_on_soles), -FARTHEST_MM, FARTHEST_MM),
    }


def halted_arrays(r: Reading) -> dict[str, Array]:
    """Where the mass would come to rest, halted at each row, seen from the travel frame, and how far inside its feet;
    nothing where that tells nothing."""
    if r.balance != "static" or not may_be_halted(r):
        return {}
    x, y, theta = (v[: r.samples] for v in r.course.body.travel)
    rests = np.stack(bring_back((x, y, theta), *r.of(rests_mm)[: r.samples].T), axis=1)
    return {"halted": rests, "halted_mm": np.maximum(r.of(halted_margin)[: r.samples], -FARTHEST_MM)}


def lean_arrays(r: Reading) -> dict[str, Array]:
    """(S, 5): how far it leans at each row, rad, about a line over the floor: a point of it, mm, and its way, seen from
    the travel frame; nothing where it never stands on two feet."""
    if LEANS.judged(r) is not None:
        return {}
    x, y, theta = (v[: r.samples] for v in r.course.body.travel)
    found = np.zeros((r.samples, 5))
    for lean in r.of(leans):
        at, turned = lean.rows, theta[lean.rows]
        px, py = bring_back((x[at], y[at], turned), *(1000 * lean.one).T)
        c, s = np.cos(turned), np.sin(turned)
        along, aside = lean.way.T
        found[at] = np.stack([lean.lean, px, py, c * along + s * aside, c * aside - s * along], axis=1)
    return {"lean": found}


def load_view(r: Reading) -> head.LoadView:
    why = not_told(r)
    if why:
        return head.LoadView(feet=[], servos=[], supplies=[], assumed=[], weight_n=0.0, not_told=why)
    loads = r.of(servo_loads)
    share, lag = np.abs(loads.share), np.abs(loads.lag_deg).max(axis=0, initial=0.0).tolist()
    held, servos = loads.held_rms.tolist(), []
    for n, (servo, row) in enumerate(zip(r.kit.servos, greatest_of_each(share).tolist(), strict=True)):
        joint = r.kit.joints[servo.first]
        servos.append(
            head.LoadServo(
                place=servo.name,
                limb=joint.limb.name,
                joint=joint.name,
                peak=float(share[row, n]),
                peak_s=float(row * r.row_s),
                held=held[n],
                lag_deg=lag[n],
            )
        )
    return head.LoadView(
        feet=[m.name for m in r.project.walker.limbs if m.feet],
        servos=servos,
        supplies=[
            head.LoadSupply(name=own.bank.name, gives_a=own.bank.regulator_a)
            if own.bank
            else head.LoadSupply(name=None, gives_a=None)
            for own in r.of(drawn)
        ],
        assumed=[*assumed_of_loads(r), *assumed_of_supplies(r)],
        weight_n=r.of(wrenches).kg * GRAVITY,
        not_told=None,
    )
