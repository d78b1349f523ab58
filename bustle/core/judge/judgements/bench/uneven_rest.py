"""F14: legs rest at different heights with every servo centred, and it limps."""

from __future__ import annotations

from collections.abc import Iterator

from bustle.core.judge.figure import FigureSpec, Lines, Told
from bustle.core.judge.finding import Finding
from bustle.core.judge.judgement import Judgement
from bustle.core.judge.judgements.bench.boards_told import as_in, checked
from bustle.core.judge.judgements.ground.as_built import put_right
from bustle.core.judge.measures.feet.built_unevenly import measured, uneven
from bustle.core.judge.ways import Edit, Mending, Offer
from bustle.core.servo.rest_heights import Trim, limp_mm, trimmed, trims
from bustle.core.walk.reading import Reading
from bustle.core.words.wording import degrees, length, number, told_apart

# What a ruler tells apart.
KEEP_MM = 1.5


def not_judged(r: Reading) -> str | None:
    if r.of(measured) or r.project.electrics.rest_heights:
        return None
    return "no feet have been measured with the servos centred, nor links and zeros of legs"


def _trims(r: Reading) -> tuple[Trim, ...]:
    return trims(r.project)


def uneven_rest(r: Reading) -> Iterator[Finding]:
    """Warn where the highest foot and the lowest are further apart than a ruler's error: at rest as measured, or
    standing, by links and zeros that were."""
    yield from _standing(r)
    limp = limp_mm(r.project)
    if limp <= KEEP_MM:
        return
    worst = max(r.of(_trims), key=lambda t: abs(round(t.off_mm, 6)))
    how, (apart, keep) = "no joint of it moves it upright", told_apart(length, limp, KEEP_MM)
    if worst.servo:
        how = f"trim {worst.servo.place} by {degrees(worst.trim_deg)} ({number(worst.told, 0)} {worst.unit})"
    if worst.rod_said:
        how += f", or make {worst.rod_said}"
    yield Finding(
        "F14", "warn", "Legs rest at different heights",
        f"{worst.limb} rests {length(abs(worst.off_mm))} {'above' if worst.off_mm > 0 else 'below'} the others, a limp "
        f"of {apart}; {how}. Keep {keep}.",
        ((worst.limb, ""),), None, limp, KEEP_MM, "mm",
    )  # fmt: skip


def _standing(r: Reading) -> Iterator[Finding]:
    found = r.of(uneven)
    if not found or found.apart_mm <= KEEP_MM:
        return
    low, high = (r.project.walker.limbs[n].name for n in (found.low, found.high))
    apart, keep = told_apart(length, found.apart_mm, KEEP_MM)
    yield Finding(
        "F14", "warn", "Legs stand at different heights",
        f"As it is built {low} reaches {apart} lower than {high} where both are to stand: it limps, "
        f"and leans {degrees(found.lean_deg)} standing on both. Keep {keep}.",
        ((low, "built"), (high, "built")), None, found.apart_mm, KEEP_MM, "mm",
    )  # fmt: skip


def _put_right(m: Mending) -> Iterator[Edit]:
    if m.finding.subject == "built":
        yield from put_right(m)


def _trim(m: Mending) -> Iterator[Edit]:
    if m.finding.subject == "built":
        return
    said = ", ".join(
        f"{t.servo.place} {degrees(t.trim_deg)}" for t in trims(m.project) if t.servo and abs(t.trim_deg) > 0.1
    )
    yield as_in(f"Trim {said}", trimmed(checked(m)))


def _read(r: Reading) -> Told | None:
    return (limp_mm(r.project), None) if r.project.electrics.rest_heights else None


def _working(r: Reading) -> Lines:
    return (
        "height measured − height planned with every servo centred, beside the leg in the middle",
        *(f"{t.limb}: {number(t.off_mm)} mm" + (f", {t.servo.place} by {degrees(t.trim_deg)}" if t.servo else "")
          for t in r.of(_trims)),
    )  # fmt: skip


LIMP = FigureSpec("limp_mm", "Limp, servos centred", "mm", 1, _read, _working, ("servos",), better=-1)

JUDGEMENT = Judgement(
    "F14",
    "Legs rest at one height",
    ("servos",),
    uneven_rest,
    not_judged,
    stops=False,
    figures=(LIMP,),
    bench=True,
    ways=(Offer(_trim, any_motion=True), Offer(_put_right, any_motion=True)),
)
