"""What a ruler, a spring balance, a board and a weight tell: give, play, torque, the floor and its grip."""

from __future__ import annotations

import numpy as np

from bustle.core.edits.at_rest import AT_REST, standing
from bustle.core.edits.patches import patched, replace
from bustle.core.judge.measures.feet.foot_play import foot_plays
from bustle.core.loads.at_its_voltage import at_its_voltage
from bustle.core.loads.friction import held_across, held_along
from bustle.core.loads.giving.sag import sag
from bustle.core.loads.told import not_standing
from bustle.core.machine.kit import FULL_TORQUE_AT_DEG
from bustle.core.machine.masses import GRAVITY
from bustle.core.trials.measurement import Against, Given, Patch
from bustle.core.walk.read import read
from bustle.core.words.problems import refuse

# What a sheet may say (`project.parts`).
SOFT_DEG, PLAY_DEG = (0.05, 90.0), 20.0


def hung_and_stood(g: Given) -> tuple[Against, ...]:
    """The give of all legs: the belly's height hanging, feet just touching, less that standing.

    Sag goes with the angle at which a servo gives its torque: that is taken as often as large as the sag is.
    """
    why = not_standing(g.standing)
    if why:
        raise refuse("values", f"the plan tells of no sag to put it beside: {why}")
    measured = g.values["hanging_mm"] - g.values["standing_mm"]
    planned = float(g.standing.of(sag).down_mm[0])
    if measured <= 0:
        raise refuse("values.standing_mm", "hanging, it is higher: the belly sinks when it stands")
    if planned < 1e-3:
        raise refuse("values", "planned, it does not give at all; tell its masses and servos first")
    factor, patch = measured / planned, []
    for n, sheet in enumerate(g.project.servo_types):
        soft = (sheet.full_torque_at_deg or FULL_TORQUE_AT_DEG) * factor
        patch.append(
            replace(f"/servo_types/{n}/full_torque_at_deg", round(min(max(soft, SOFT_DEG[0]), SOFT_DEG[1]), 2))
        )
    return (Against("Sinks as it stands by", planned, measured, "mm", 1, tuple(patch)),)


def wiggled(g: Given) -> tuple[Against, ...]:
    """Play at a foot, end to end: every servo's play is taken as often as large."""
    measured = g.values["play_mm"]
    planned = max((p.play_mm for p in foot_plays(g.standing)), default=0.0)
    ones = patched(g.project, [replace(f"/servo_types/{n}/play_deg", 1.0) for n in range(len(g.project.servo_types))])
    of_one = max((p.play_mm for p in foot_plays(read(standing(ones, g.motion), AT_REST, 2))), default=0.0)
    if of_one <= 0:
        raise refuse("values.play_mm", "no joint of a leg has a servo that could have play")
    each = min(measured / of_one, PLAY_DEG)
    patch = [replace(f"/servo_types/{n}/play_deg", round(each, 2)) for n in range(len(g.project.servo_types))]
    return (Against("Play at the foot", planned, measured, "mm", 1, tuple(patch)),)


def pulled(g: Given) -> tuple[Against, ...]:
    """Torque at this voltage: what the balance shows when the servo gives in, times its arm."""
    r = g.standing
    if not r.kit.servos:
        raise refuse("values", "no servo is told")
    measured = g.values["pull_g"] / 1000 * GRAVITY * g.values["arm_mm"] / 1000
    planned = float(r.of(at_its_voltage).stall_nm[0])
    sheet = r.kit.servos[0].sheet
    n = next(n for n, s in enumerate(g.project.servo_types) if s.name == sheet.name)
    factor = measured / planned
    patch = [replace(f"/servo_types/{n}/stall_torque_nm", round(sheet.stall_torque_nm * factor, 3))]
    for k, point in enumerate(sheet.at):
        patch.append(replace(f"/servo_types/{n}/at/{k}/stall_torque_nm", round(point.stall_torque_nm * factor, 3)))
    return (Against(f"{sheet.name} stalls at", planned, measured, "N·m", 2, tuple(patch)),)


def pressed_in(g: Given) -> tuple[Against, ...]:
    """How far the floor gives under a weight, and whether it springs back."""
    newtons = g.values["weight_g"] / 1000 * GRAVITY
    measured = g.values["sinks_mm"] / newtons
    floor = g.project.floor
    patch: Patch = (
        replace("/floor/gives_mm_per_n", round(min(measured, 50.0), 4)),
        replace("/floor/bounces", bool(g.values["bounces"])),
    )
    return (Against("The floor gives under a newton", floor.gives_mm_per_n, measured, "mm", 3, patch),)


def slid(g: Given) -> tuple[Against, ...]:
    """Grip: tan of the slope at which a foot starts to slip, heels down and then sideways."""
    ahead, across = (float(np.tan(np.radians(g.values[k]))) for k in ("ahead_deg", "across_deg"))
    patch = (
        replace("/floor/friction", round(ahead, 2)),
        replace("/floor/friction_across", round(across, 2)),
        replace("/floor/friction_note", "measured on a tilted board"),
    )
    return (
        Against("Holds ahead", held_along(g.standing), ahead, "of the load", 2, patch),
        Against("Holds across", held_across(g.standing), across, "of the load", 2, ()),
    )
