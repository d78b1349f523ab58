"""F20: the radio is lost, or the stop switch hit, and what the servos then do is not decided, or drops the machine."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from bustle.core.at_rest.resting_height import lies_at_mm
from bustle.core.edits.patches import replace
from bustle.core.judge.figure import FigureSpec, Lines, Told
from bustle.core.judge.finding import Finding, Severity
from bustle.core.judge.judgement import Judgement
from bustle.core.judge.judgements.bench.boards_told import boards_told
from bustle.core.judge.measures.way_to_fail_safe import way_to_fail_safe
from bustle.core.judge.ways import Edit, Mending, Offer
from bustle.core.servo.fitted_servos import servos_at
from bustle.core.walk.reading import Reading
from bustle.core.words.wording import joined, length, seconds

# Falling further than this breaks things.
DROP_MM = 60.0


def drop_mm(r: Reading) -> float:
    """How far the body falls where every joint lets go, from the highest it walks."""
    below = lies_at_mm(r.project.walker, {name: float(bend) for name, bend in r.score.bends_deg.items()})
    return max(0.0, float(np.max(r.course.body.at[: r.samples, 2])) - below)


def nothing_decided(r: Reading) -> Iterator[Finding]:
    if boards_told(r) is None:
        yield from _undecided(r)
    if r.project.electrics.stop_switch is None and r.kit.servos:
        severity: Severity = "warn" if r.project.electrics.boards else "note"
        yield Finding(
            "F20", severity, "No stop switch",
            "0 stop switches are declared; have 1 within reach that cuts the servos' supply, never the logic's.",
            (("", "switch"),), None, 0.0, 1.0, "switches",
        )  # fmt: skip


def judged(r: Reading) -> str | None:
    """That no stop switch is declared can be said of every machine; the rest of one whose boards are told."""
    return boards_told(r) if r.project.electrics.stop_switch or not r.kit.servos else None


def _undecided(r: Reading) -> Iterator[Finding]:
    electrics = r.project.electrics
    safe, switch = electrics.fail_safe, electrics.stop_switch
    if safe is None:
        yield Finding(
            "F20", "stop", "Radio lost: nothing is decided",
            f"What the {len(r.kit.servos)} servos do when the radio is silent is not decided; say after how many ms, "
            "and what then.",
            (), None, 0.0, 1.0, "decided",
        )  # fmt: skip
    if safe and safe.effect == "goes_limp" and not safe.supply_switched:
        hold = [s.place for s in servos_at(r.project) if s.sheet.unpulsed != "goes_limp"]
        if hold:
            yield Finding(
                "F20", "stop", "It does not go limp",
                f"Radio lost, it is to go limp, but {len(hold)} servos hold without pulses or nobody has said what "
                f"they do ({joined(hold[:2])}); switch their supply, or hold.",
                (("", "limp"),), None, float(len(hold)), 0.0, "servos",
            )  # fmt: skip
    way = r.of(way_to_fail_safe)
    if way and way.gap.distance_mm < 0:
        yield Finding(
            "F20", "stop", "Hits something on its way to safety",
            f"Radio lost at {seconds(way.lost_s)}, on the straight way into {way.pose} {way.gap.first} and "
            f"{way.gap.second} overlap by {length(-way.gap.distance_mm)}.",
            ((way.gap.limbs[0], "way"),), way.lost_s, way.gap.distance_mm, 0.0, "mm",
        )  # fmt: skip
    shuts_off = any(b.overload_limp and b.wires for b in electrics.boards if b.kind == "bus")
    limp = shuts_off or (safe and safe.effect == "goes_limp") or (switch and switch.effect == "goes_limp")
    if limp and r.of(drop_mm) > DROP_MM:
        why = "Shut off by an overload" if shuts_off else "Gone limp"
        yield Finding(
            "F20", "warn", "It falls when it goes limp",
            f"{why}, the body drops {length(r.of(drop_mm))} on to its belly; keep {length(DROP_MM)}, or hold "
            "it by a strap.",
            (("", "drop"),), None, r.of(drop_mm), DROP_MM, "mm",
        )  # fmt: skip


def _decide(m: Mending) -> Iterator[Edit]:
    safe = {"after_ms": 500.0, "finish_step": True, "effect": "pose", "supply_switched": False}
    if m.project.electrics.fail_safe is None:
        yield Edit("After 500 ms: finish the step, then the starting pose", (replace("/electrics/fail_safe", safe),))
    if m.finding.subject == "limp":
        yield Edit("Radio lost: switch the servos' supply", (replace("/electrics/fail_safe/supply_switched", True),))
        yield Edit("Radio lost: hold", (replace("/electrics/fail_safe/effect", "holds"),))
    if m.finding.subject == "way":
        yield Edit("Finish the step first, all feet down", (replace("/electrics/fail_safe/finish_step", True),))
        yield Edit("Radio lost: hold", (replace("/electrics/fail_safe/effect", "holds"),))
    if m.finding.subject == "drop":
        edits = []
        if m.project.electrics.fail_safe and m.project.electrics.fail_safe.effect == "goes_limp":
            edits.append(replace("/electrics/fail_safe/effect", "pose"))
        if m.project.electrics.stop_switch and m.project.electrics.stop_switch.effect == "goes_limp":
            edits.append(replace("/electrics/stop_switch/effect", "holds"))
        edits += [
            replace(f"/electrics/boards/{n}/overload_limp", False)
            for n, b in enumerate(m.project.electrics.boards)
            if b.kind == "bus" and b.overload_limp
        ]
        yield Edit("Hold or take a pose instead of going limp", tuple(edits))
    if m.finding.subject == "switch":
        switch = {"where": "within reach", "cuts": "servo_supply", "effect": "holds", "drop_mm": None}
        yield Edit("Declare a stop switch in the servos' supply", (replace("/electrics/stop_switch", switch),))


def _drop_read(r: Reading) -> Told | None:
    return (r.of(drop_mm), None) if r.kit.servos else None


def _drop_working(r: Reading) -> Lines:
    return (
        "the highest that the body walks − the frame's underside, every servo limp at once",
        f"= {length(r.of(drop_mm))}; legs that fold under it end the fall earlier",
    )


DROP = FigureSpec("limp_drop_mm", "Drops when limp", "mm", 0, _drop_read, _drop_working, ("servos",), better=-1)

JUDGEMENT = Judgement(
    "F20",
    "Radio lost and stop switch are decided",
    ("servos", "table"),
    nothing_decided,
    judged,
    figures=(DROP,),
    bench=True,
    ways=(Offer(_decide, any_motion=True),),
)
