"""F01: a servo is mounted the other way round, on another's channel, or on a dead one."""

from __future__ import annotations

from collections.abc import Iterator

from bustle.core.edits.patches import replace
from bustle.core.judge.finding import Finding
from bustle.core.judge.judgement import Judgement
from bustle.core.judge.judgements.bench.boards_told import as_in, checked
from bustle.core.judge.ways import Edit, Mending, Offer
from bustle.core.servo.channel_map import first_free
from bustle.core.servo.fitted_servos import servos_at
from bustle.core.servo.joint_check import mended
from bustle.core.walk.reading import Reading
from bustle.core.words.wording import joined

SAID = {
    "other_way": "turned the other way",
    "another": "stood still while {instead} moved",
    "nothing": "did nothing",
}


def not_judged(r: Reading) -> str | None:
    return None if r.project.electrics.seen else "no joint check has been made"


def wrong_way_round(r: Reading) -> Iterator[Finding]:
    """What the joint check has shown and nobody has mended: a stop."""
    joints = {s.place: s.joint for s in servos_at(r.project)}
    bad = [s for s in r.project.electrics.seen if s.saw != "as_told" and not s.mended]
    if not bad:
        return
    first = bad[0]
    limb, _, joint = joints[first.place].partition("/")
    rest = [s.place for s in bad[1:]]
    yield Finding(
        "F01", "stop", "Answers wrongly",
        f"{first.place} {SAID[first.saw].format(instead=first.instead)} in the joint check; {len(bad)} of "
        f"{len(r.kit.servos)} servos do not do as they are told." + (f" Also {joined(rest[:3])}." if rest else ""),
        ((limb, joint),), None, float(len(bad)), 0.0, "servos",
    )  # fmt: skip


def _mend(m: Mending) -> Iterator[Edit]:
    """Every one of them as the check has shown; those are then to be seen once more."""
    project, said = checked(m), []
    for seen in m.project.electrics.seen:
        if seen.saw != "as_told" and not seen.mended:
            if seen.saw == "nothing" and first_free(project, seen.place) is None:
                return
            project = mended(project, seen.place)
            said.append(seen.place)
    yield as_in(f"Set {joined(said[:3])} as seen, and check again", project)


def _forget(m: Mending) -> Iterator[Edit]:
    kept = [s.model_dump(mode="json") for s in m.project.electrics.seen if s.saw == "as_told"]
    yield Edit("Take back what was seen of those, and check them anew", (replace("/electrics/seen", kept),))


JUDGEMENT = Judgement(
    "F01",
    "Every servo answers as it is told",
    ("servos", "table"),
    wrong_way_round,
    not_judged,
    bench=True,
    ways=(Offer(_mend, any_motion=True), Offer(_forget, any_motion=True)),
)
