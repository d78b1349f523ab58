"""How far the machine gives and its servos lag: figures without a finding of their own."""

from __future__ import annotations

import numpy as np

from bustle.core.falling.fall import fall, fall_told
from bustle.core.geometry.extremes import greatest
from bustle.core.judge.figure import FigureSpec, Lines, Told
from bustle.core.loads.falls_behind import foot_lag_mm
from bustle.core.loads.giving.carried_margin import carried_margin
from bustle.core.loads.giving.sag import sag
from bustle.core.loads.joint_torques import servo_loads
from bustle.core.loads.told import not_balanced, not_standing
from bustle.core.walk.reading import Reading
from bustle.core.words.wording import number, seconds


def _sag_read(r: Reading) -> Told | None:
    if not_balanced(r):
        return None
    down = r.of(sag).down_mm
    row = greatest(down)
    return float(down[row]), float(row * r.row_s)


def _sag_working(r: Reading) -> Lines:
    down = r.of(sag).down_mm
    row = greatest(down)
    soft = float(np.degrees(r.kit.full_torque_at.max()))
    return (
        f"frozen at {seconds(float(row * r.row_s))}, feet held where they stand, servos as springs that give their",
        f"stall torque {number(soft)}° off their place: the body sinks {number(float(down[row]), 2)} mm",
    )


def _lag_read(r: Reading) -> Told | None:
    if not_balanced(r) or not len(r.kit.servos):
        return None
    lag = np.abs(r.of(servo_loads).lag_deg)
    row, _ = np.unravel_index(greatest(lag), lag.shape)
    return float(lag.max()), float(row * r.row_s)


def _lag_working(r: Reading) -> Lines:
    lag = np.abs(r.of(servo_loads).lag_deg)
    row, column = np.unravel_index(greatest(lag), lag.shape)
    servo, share = r.kit.servos[int(column)], float(r.of(servo_loads).share[row, column])
    soft = float(np.degrees(r.kit.full_torque_at[column]))
    return (
        f"{r.kit.joints[servo.first]} at {seconds(float(row * r.row_s))}: {number(soft)}° at full torque ×",
        f"(its speed as a share of that without load + {number(share, 2)} of its stall torque)",
        f"= {number(float(lag[row, column]), 1)}°",
    )


def _behind_read(r: Reading) -> Told | None:
    if not_balanced(r) or not len(r.kit.servos):
        return None
    behind = r.of(foot_lag_mm)
    row = greatest(behind.max(axis=0))
    return float(behind[:, row].max()), float(row * r.row_s)


def _behind_working(r: Reading) -> Lines:
    behind = r.of(foot_lag_mm)
    leg, row = np.unravel_index(greatest(behind), behind.shape)
    name = r.project.walker.limbs[int(leg)].name
    return (
        f"{name} at {seconds(float(row * r.row_s))}: the lag of each of its servos × how far that moves its foot,",
        f"added up = {number(float(behind[leg, row]))} mm",
    )


def _left_read(r: Reading) -> Told | None:
    if not_standing(r) or r.balance != "static":
        return None
    left = r.of(carried_margin)
    if np.isnan(left).all():
        return None
    at = int(np.nanargmin(np.round(left, 9)))
    return float(left[at]), r.time_at(at)


def _left_working(r: Reading) -> Lines:
    left = r.of(carried_margin)
    at = int(np.nanargmin(np.round(left, 9)))
    gives, row = r.of(sag), r.row_beside[at]
    shift = float(np.hypot(*gives.shift_mm[row, :2]))
    tilt = float(np.degrees(np.hypot(*gives.turn[row, :2])))
    return (
        f"at {seconds(r.time_at(at))} the frame gives: it shifts {number(shift, 2)} mm and leans "
        f"{number(tilt, 2)}°, and the centre of mass with it;",
        f"from there to the nearest edge of the feet that are down = {number(float(left[at]))} mm",
    )


def _fall_read(r: Reading) -> Told | None:
    found = r.of(fall)
    return (found.energy_j, None) if found else None


def _fall_working(r: Reading) -> Lines:
    found = r.of(fall)
    assert found
    return (
        f"{number(found.kg, 2)} kg, its mass {number(found.drop_mm, 0)} mm above where it lies on its frame:",
        f"m·g·Δh = {number(found.energy_j)} J",
        *fall_told(r),
    )


FIGURES = (
    FigureSpec("fall_j", "If it falls", "J", 1, _fall_read, _fall_working, ("balance",), better=-1, compared=True),
    FigureSpec(
        "carried_margin_mm",
        "Margin as it gives",
        "mm",
        1,
        _left_read,
        _left_working,
        ("load",),
        better=1,
        compared=True,
    ),
    FigureSpec(
        "sag_mm", "Gives under its weight", "mm", 1, _sag_read, _sag_working, ("load",), better=-1, compared=True
    ),
    FigureSpec("lag_deg", "Lags by at most", "°", 1, _lag_read, _lag_working, ("load",), better=-1),
    FigureSpec("lag_mm", "A foot lags by at most", "mm", 1, _behind_read, _behind_working, ("load",), better=-1),
)
