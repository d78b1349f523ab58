"""F35: a thrown mass, or the ankles that tip it, cannot bring the machine over the foot that is to carry it."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from bustle.core.edits.patches import replace
from bustle.core.falling.rocking import Thrown, not_rocking, thrown
from bustle.core.falling.tipping_ankles import tipped
from bustle.core.judge.figure import FigureSpec, Lines, Told
from bustle.core.judge.finding import Finding
from bustle.core.judge.judgement import Judgement
from bustle.core.judge.judgements.balance.tips_by_ankles import broader, tipping_working
from bustle.core.judge.ways import Edit, Mending, Offer, Turn
from bustle.core.walk.reading import Reading
from bustle.core.words.wording import length, number, seconds, told_apart


def judged(r: Reading) -> str | None:
    if r.of(tipped):
        return None
    why = not_rocking(r)
    if why:
        return why
    return None if r.of(thrown) is not None else "no mass is thrown"


def _of(r: Reading) -> Thrown:
    found = r.of(thrown)
    assert found
    return found


def too_light(r: Reading) -> Iterator[Finding]:
    """Stop where it does not reach the inner edge of the sole, or does not tip on to one."""
    tips = r.of(tipped)
    if tips:
        if tips.inner_mm > tips.inner_most_mm:
            off, keep = told_apart(length, tips.inner_mm, tips.inner_most_mm)
            yield Finding(
                "F35", "stop", "Does not tip on to its soles",
                f"The soles' inner edges are {off} off the middle, too far for it to tip on to one: "
                f"it shuffles on both and falls short; keep {keep}.",
                ((tips.limb, tips.joint),), None, tips.inner_mm, tips.inner_most_mm, "mm",
            )  # fmt: skip
        return
    mass = _of(r)
    if mass.reaches_mm >= mass.needs_mm:
        return
    name = r.project.walker.limbs[mass.limb].name
    yield Finding(
        "F35", "stop", "Too light to bring it over",
        f"The mass on {name} carries the pushing point {length(mass.reaches_mm)} to the side at "
        f"{seconds(r.score.duration_s)} a cycle; the inner edge of a sole is {length(mass.needs_mm)} off.",
        ((name, ""),), None, mass.reaches_mm, mass.needs_mm, "mm",
    )  # fmt: skip


def _heavier(m: Mending) -> Iterator[Edit]:
    """The mass it throws, as heavy as it takes."""
    if m.reading.of(tipped):
        return
    mass = _of(m.reading)
    name = m.project.walker.limbs[mass.limb].name
    own = [(n, one) for n, one in enumerate(m.project.walker.masses) if one.on.startswith(f"{name}/")]
    if own:
        n, heaviest = max(own, key=lambda item: item[1].mass_g)
        for more in (1.15, 1.3, 1.5, 2.0, 3.0):
            wanted = float(np.ceil(heaviest.mass_g * more * mass.needs_mm / max(mass.reaches_mm, 1e-3)))
            yield Edit(f"{heaviest.name} of {number(wanted, 0)} g", (replace(f"/walker/masses/{n}/mass_g", wanted),))


def _read(r: Reading) -> Told | None:
    if judged(r):
        return None
    tips = r.of(tipped)
    return (tips.inner_most_mm - tips.inner_mm if tips else _of(r).reaches_mm - _of(r).needs_mm, None)


def _working(r: Reading) -> Lines:
    tips = r.of(tipped)
    if tips:
        return *tipping_working(tips), f"= {number(tips.inner_most_mm - tips.inner_mm)} mm nearer than they have to be"
    mass = _of(r)
    return (
        f"thrown {number(mass.high_mm, 0)} mm up, it moves the mass of the whole {number(mass.moves_mm)} mm aside;",
        f"at ω = 2π/{seconds(r.score.duration_s)} that carries the pushing point (1 + z·ω²/g) as far = "
        f"{number(mass.reaches_mm)} mm",
        f"to the inner edge of a sole: {number(mass.needs_mm)} mm, and past it by "
        f"{number(mass.reaches_mm - mass.needs_mm)} mm",
    )


OVER = FigureSpec("thrown_room_mm", "Room past the inner edge", "mm", 1, _read, _working, ("balance",), better=1,
                  compared=True)  # fmt: skip

JUDGEMENT = Judgement(
    "F35",
    "It is brought over its foot",
    ("balance",),
    too_light,
    judged,
    figures=(OVER,),
    ways=(
        Offer(_heavier, keep="first", any_motion=True),
        Offer(broader, any_motion=True),
        Turn("cycle", up=False),
    ),
)
