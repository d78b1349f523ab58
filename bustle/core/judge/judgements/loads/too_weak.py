"""F07: the servos cannot hold the walker up."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from bustle.core.edits.patches import replace
from bustle.core.falling.leans_on import leans_on
from bustle.core.geometry.extremes import greatest
from bustle.core.judge.figure import FigureSpec, Lines, Told
from bustle.core.judge.finding import Finding, by_joint
from bustle.core.judge.judgement import Judgement
from bustle.core.judge.ways import Edit, Mending, Offer, Turn
from bustle.core.loads.at_its_voltage import at_its_voltage
from bustle.core.loads.joint_torques import held_shares, servo_loads
from bustle.core.loads.told import not_carried
from bustle.core.walk.reading import Reading
from bustle.core.words.wording import also, number, seconds

# A servo that is swapped for a stronger one has this share of its stall torque in hand.
IN_HAND = 0.6
# A servo that ran hot is to hold this share of the limit.
COOL = 0.9


def too_weak(r: Reading) -> Iterator[Finding]:
    """Stop where a servo would have to hold more than its stall torque, were the machine frozen there."""
    share = np.abs(r.of(held_shares))
    weak = np.flatnonzero(share.max(axis=0, initial=0.0) > 1.0)
    first = [r.kit.joints[s.first] for s in r.kit.servos]
    ranked = sorted(weak.tolist(), key=lambda n: -round(float(share[:, n].max()), 6))
    for joint, columns in by_joint([j.name for j in first], ranked).items():
        worst = columns[0]
        row = greatest(share[:, worst])
        value, stall = float(share[row, worst]), float(r.of(at_its_voltage).stall_nm[worst])
        yield Finding(
            "F07", "stop", "Too weak",
            f"{first[worst]}'s servo would have to hold {number(value * stall, 2)} N·m at "
            f"{seconds(float(row * r.row_s))}; it stalls at {number(stall, 2)} N·m{_at_volts(r, worst)}."
            + also([first[c].limb.name for c in columns[1:]]),
            tuple((first[c].limb.name, joint) for c in columns), float(row * r.row_s), 100 * value, 100.0, "%",
        )  # fmt: skip
    yield from _too_soft(r)


def _too_soft(r: Reading) -> Iterator[Finding]:
    """Stop where it leans on by itself on the one sole it stands on, since its servos give faster than they hold."""
    soft = r.of(leans_on)
    if soft is None or soft.share < 1.0:
        return
    name, time = r.project.walker.limbs[soft.limb].name, float(soft.row * r.row_s)
    yield Finding(
        "F07", "stop", "Too soft to stand",
        f"Standing on {name} alone at {seconds(time)}, its weight leans it on by itself: that takes "
        f"{number(100 * soft.share, 0)} % of the stiffness its servos have{_assumed(r)}.",
        ((name, "stiffness"),), time, 100 * soft.share, 100.0, "%",
    )  # fmt: skip


def _assumed(r: Reading) -> str:
    return ", assumed" if any(s.sheet.full_torque_at_deg is None for s in r.kit.servos) else ""


def _at_volts(r: Reading, servo: int) -> str:
    """The voltage it is given, where a supply tells."""
    given = r.of(at_its_voltage)
    return f" on {number(float(given.volts[servo]))} V" if given.supplied[servo] else ""


def stronger(m: Mending) -> Iterator[Edit]:
    """Sheets strong enough, of every kind of servo that is too weak or runs hot: as light and as quick as before, to be
    found among real ones."""
    loads, soft = m.reading.of(servo_loads), m.reading.of(leans_on)
    limit = m.project.limits.held_share
    wanted = np.maximum(np.abs(loads.held_share).max(axis=0) / IN_HAND, loads.held_rms / limit / COOL)
    if soft is not None:
        # A servo twice as strong that gives its torque as far off its place is twice as stiff.
        wanted = np.maximum(wanted, soft.share / IN_HAND)
    most: dict[str, float] = {}
    for servo, factor in zip(m.reading.kit.servos, wanted.tolist(), strict=True):
        most[servo.sheet.name] = max(most.get(servo.sheet.name, 0.0), factor)
    edits, said = [], []
    for n, sheet in enumerate(m.project.servo_types):
        if most.get(sheet.name, 0.0) > 1.0:
            torque = float(np.ceil(most[sheet.name] * sheet.stall_torque_nm * 20) / 20)
            edits.append(replace(f"/servo_types/{n}/stall_torque_nm", torque))
            said.append(f"{sheet.name} of {number(torque, 2)} N·m")
    if edits:
        yield Edit(f"Stronger servos: {', '.join(said)}", tuple(edits))


def _peak(r: Reading) -> tuple[int, int] | None:
    share = np.abs(r.of(held_shares))
    if not share.size:
        return None
    row, column = np.unravel_index(greatest(share), share.shape)
    return int(row), int(column)


def _read(r: Reading) -> Told | None:
    peak = None if not_carried(r) else r.of(_peak)
    if peak is None:
        return None
    return 100 * float(abs(r.of(held_shares)[peak])), float(peak[0] * r.row_s)


def _working(r: Reading) -> Lines:
    peak = r.of(_peak)
    assert peak is not None
    servo, stall = r.kit.servos[peak[1]], float(r.of(at_its_voltage).stall_nm[peak[1]])
    held = float(abs(r.of(held_shares)[peak])) * stall
    return (
        f"{r.kit.joints[servo.first]}, frozen at {seconds(float(peak[0] * r.row_s))}: the parts beyond the joint less",
        f"what the floor carries, through its drive: {number(held, 2)} N·m",
        f"/ {number(stall, 2)} N·m stall torque of {servo.sheet.name}{_at_volts(r, peak[1])}",
        f"= {number(100 * held / stall, 0)} %",
    )


HELD_SHARE = FigureSpec(
    "held_share", "Most of a servo's stall torque", "%", 0, _read, _working, ("load",), better=-1, compared=True
)

JUDGEMENT = Judgement(
    "F07",
    "Servos hold the walker up",
    ("load",),
    too_weak,
    not_carried,
    figures=(HELD_SHARE,),
    ways=(Turn("ride_height", down=False), Turn("ride_height", up=False), Offer(stronger, any_motion=True)),
)
