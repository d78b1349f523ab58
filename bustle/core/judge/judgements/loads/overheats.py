"""F05: joints held far from their line of force overheat."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from bustle.core.geometry.extremes import greatest
from bustle.core.judge.figure import FigureSpec, Lines, Told
from bustle.core.judge.finding import Finding, by_joint
from bustle.core.judge.judgement import Judgement
from bustle.core.judge.judgements.loads.too_weak import stronger
from bustle.core.judge.ways import Offer, Turn
from bustle.core.loads.joint_torques import servo_loads
from bustle.core.loads.told import not_carried_moving
from bustle.core.walk.reading import Reading
from bustle.core.words.wording import also, number

# From which share of the stall torque a motor's case is too hot to touch after how long: builders' rule, assumed.
BANDS = ((1.0, "at once"), (0.5, "within a minute or two"), (0.0, "within some ten minutes"))


def overheats(r: Reading) -> Iterator[Finding]:
    """Warn where the share that warms a servo, over the whole motion, is above the limit."""
    rms, limit = r.of(servo_loads).held_rms, r.project.limits.held_share
    hot = sorted(np.flatnonzero(rms > limit).tolist(), key=lambda n: -round(float(rms[n]), 6))
    first = [r.kit.joints[s.first] for s in r.kit.servos]
    for joint, columns in by_joint([j.name for j in first], hot).items():
        worst = columns[0]
        soon = next(words for share, words in BANDS if rms[worst] >= share)
        idle = r.gait is not None and r.gait.stands
        yield Finding(
            "F05", "warn", "Runs hot",
            f"{first[worst]}'s servo holds {number(100 * float(rms[worst]), 0)} % of its stall torque all along; above "
            f"{number(100 * limit, 0)} % a finger cannot stay on it {soon}."
            + (" Sit down when idle." if idle else "") + also([first[c].limb.name for c in columns[1:]]),
            tuple((first[c].limb.name, joint) for c in columns), None, 100 * float(rms[worst]), 100 * limit, "%",
        )  # fmt: skip


def _read(r: Reading) -> Told | None:
    if not_carried_moving(r) or not len(r.kit.servos):
        return None
    return 100 * float(r.of(servo_loads).held_rms.max()), None


def _working(r: Reading) -> Lines:
    rms = r.of(servo_loads).held_rms
    servo = r.kit.servos[greatest(rms)]
    return (
        f"{r.kit.joints[servo.first]}: the root of the mean square of its share of",
        f"{number(servo.sheet.stall_torque_nm, 2)} N·m over the motion = {number(100 * float(rms.max()), 0)} %",
    )


WARMS = FigureSpec("held_rms", "Held all along", "%", 0, _read, _working, ("load",), better=-1, compared=True)

JUDGEMENT = Judgement(
    "F05",
    "Servos stay cool",
    ("load",),
    overheats,
    not_carried_moving,
    stops=False,
    figures=(WARMS,),
    ways=(Turn("ride_height", down=False), Turn("ride_height", up=False), Offer(stronger, any_motion=True)),
)
