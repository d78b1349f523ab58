"""F51: falling, it lands on a limb, and the gears behind that take the blow."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from bustle.core.edits.patches import replace
from bustle.core.falling.fall import fall
from bustle.core.falling.lands_on import WAYS, LandsOn, lands_on
from bustle.core.judge.figure import FigureSpec, Lines, Told
from bustle.core.judge.finding import Finding
from bustle.core.judge.judgement import Judgement
from bustle.core.judge.ways import Edit, Mending, Offer
from bustle.core.loads.told import STOPS_ANYWHERE, not_worked_out
from bustle.core.walk.reading import Reading
from bustle.core.words.wording import degrees, length, number

# No sheet tells what a servo's gears stand. Its stall torque they stand every day; beyond so many times that they are
# taken to strip: assumed.
STRIPS = 3.0
# A horn that lets go at so many times the stall torque moves the leg and spares the gears.
LETS_GO = 1.3
# A bumper reaches so much further than it has to, and no frame is made so many times as wide for one.
CLEAR_MM, MOST_WIDE = 3.0, 2.5


def judged(r: Reading) -> str | None:
    if r.balance == "static":
        return STOPS_ANYWHERE
    why = not_worked_out(r)
    if why:
        return why
    return None if r.of(fall) else "it is held, or weighs nothing"


def worst(r: Reading) -> LandsOn:
    return max(r.of(lands_on), key=lambda one: round(one.share, 6))


def _place(r: Reading, hit: LandsOn) -> str:
    """Which part of it touches the floor, in words."""
    if hit.limb < 0:
        return "its frame"
    limb = r.project.walker.limbs[hit.limb]
    hinges = r.course.solved.points[hit.limb].shape[1] - 1
    if hit.hinges < hinges == len(limb.joints):
        return f"{limb.name} at its {limb.joints[hit.hinges].name} joint"
    return limb.name


def lands_on_a_joint(r: Reading) -> Iterator[Finding]:
    hit = r.of(worst)
    if hit.share <= STRIPS:
        return
    joint = r.kit.joints[r.kit.servos[hit.servo].first]
    lets_go = LETS_GO * hit.torque_nm / hit.share
    yield Finding(
        "F51", "note", "A fall breaks gears",
        f"If it falls {WAYS[hit.way]} it lands on {_place(r, hit)} with {number(hit.energy_j)} J, and the gears of "
        f"{joint} take up to {number(hit.torque_nm)} N·m, {number(hit.share)} times what that servo holds at stall. A "
        f"horn that lets go at {number(lets_go)} N·m spares them, or a bumper on the frame that lands first.",
        ((joint.limb.name, joint.name),), None, hit.share, STRIPS, "× stall",
    )  # fmt: skip


def _bumper(m: Mending) -> Iterator[Edit]:
    hit, section = m.reading.of(worst), m.project.walker.sections[0]
    if not np.isfinite(hit.bumper_mm) or hit.bumper_mm <= 0:
        return
    axis = 0 if hit.way < 2 else 1
    size = list(section.size_mm)
    wide = float(np.ceil(size[axis] + 2 * (hit.bumper_mm + CLEAR_MM)))
    if wide > MOST_WIDE * size[axis]:
        return
    # A round one is as wide as it is long.
    for k in (0, 1) if section.shape == "round" else (axis,):
        size[k] = wide
    yield Edit(
        f"Bumper: {section.name} {length(wide)} {'long' if axis == 0 else 'wide'}",
        (replace("/walker/sections/0/size_mm", size),),
    )


def _read(r: Reading) -> Told | None:
    return None if judged(r) else (r.of(worst).share, None)


def _working(r: Reading) -> Lines:
    hit = r.of(worst)
    if hit.servo < 0:
        return (f"each way it falls it lands on {_place(r, hit)}, behind which nothing turns: {number(hit.share)}",)
    servo = r.kit.servos[hit.servo]
    return (
        f"{WAYS[hit.way]} it lands on {_place(r, hit)} with {number(hit.energy_j)} J, and on its frame "
        f"{degrees(hit.sooner_deg)} of its turn later",
        "E = F²/2·Σ l²/K over the servos behind that point, as stiff as each is; nothing else gives",
        f"{r.kit.joints[servo.first]} takes F·l = {number(hit.torque_nm)} N·m = {number(hit.share)} × its stall torque",
        f"no sheet tells what gears stand: beyond {number(STRIPS)} they are taken to strip",
    )


JUDGEMENT = Judgement(
    "F51",
    "What it lands on as it falls",
    ("balance",),
    lands_on_a_joint,
    judged,
    stops=False,
    figures=(
        FigureSpec(
            "blow_share",
            "If it falls, of stall torque",
            "×",
            1,
            _read,
            _working,
            ("balance",),
            better=-1,
            compared=True,
        ),
    ),
    ways=(Offer(_bumper, any_motion=True),),
)
