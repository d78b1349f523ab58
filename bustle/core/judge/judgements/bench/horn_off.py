"""F37: the horn's tooth leaves an offset larger than the trim range."""

from __future__ import annotations

from collections.abc import Iterator

from bustle.core.edits.patches import replace
from bustle.core.judge.finding import Finding
from bustle.core.judge.judgement import Judgement
from bustle.core.judge.judgements.bench.boards_told import as_in, checked
from bustle.core.judge.ways import Edit, Mending, Offer
from bustle.core.project.project import document
from bustle.core.servo.fitted_servos import servos_at
from bustle.core.servo.horn_teeth import centred_on_teeth, fitted_on_nearest_teeth
from bustle.core.walk.reading import Reading
from bustle.core.words.wording import degrees, joined


def not_judged(r: Reading) -> str | None:
    return None if r.project.electrics.fitted else "no horn is fitted yet"


def horn_off(r: Reading) -> Iterator[Finding]:
    limit = r.project.electrics.trim_range_deg
    off = sorted(
        (s for s in servos_at(r.project) if abs(s.offset_deg) > limit), key=lambda s: -round(abs(s.offset_deg), 6)
    )
    if not off:
        return
    worst = off[0]
    limb, _, joint = worst.joint.partition("/")
    teeth = worst.sheet.spline_teeth
    pitch = f", one tooth is {degrees(360 / teeth)}" if teeth else ""
    yield Finding(
        "F37", "stop", "Horn on the wrong tooth",
        f"{worst.place} is {degrees(worst.offset_deg)} off by its tooth and trim, and the trim reaches "
        f"{degrees(limit)}{pitch}."
        + (f" Also {joined([s.place for s in off[1:4]])}." if off[1:] else ""),
        ((limb, joint),), None, abs(worst.offset_deg), limit, "°",
    )  # fmt: skip


def _off(m: Mending) -> list[str]:
    limit = m.project.electrics.trim_range_deg
    return [s.place for s in servos_at(m.project) if abs(s.offset_deg) > limit]


def _nearest(m: Mending) -> Iterator[Edit]:
    yield as_in(f"Put {joined(_off(m)[:3])} on the nearest tooth", fitted_on_nearest_teeth(checked(m), _off(m)))
    after = document(centred_on_teeth(checked(m), _off(m)))
    edits = (replace("/electrics", after["electrics"]), replace("/walker/drives", after["walker"]["drives"]))
    yield Edit(f"Let {joined(_off(m)[:3])} stand where a tooth puts it, servo centred", edits)


def _untrimmed(m: Mending) -> Iterator[Edit]:
    off = _off(m)
    project = fitted_on_nearest_teeth(checked(m), off)
    fitted = tuple(f.model_copy(update={"trim_deg": 0.0}) if f.place in off else f for f in project.electrics.fitted)
    after = project.model_copy(update={"electrics": project.electrics.model_copy(update={"fitted": fitted})})
    yield as_in("Nearest teeth, and trims taken back", after)


JUDGEMENT = Judgement(
    "F37",
    "Horns are within their trim",
    ("servos",),
    horn_off,
    not_judged,
    bench=True,
    ways=(Offer(_nearest, any_motion=True), Offer(_untrimmed, any_motion=True)),
)
