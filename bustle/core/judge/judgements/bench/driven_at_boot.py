"""F42: an unconnected input or a booting controller drives joints to their stops."""

from __future__ import annotations

from collections.abc import Iterator

from bustle.core.edits.patches import replace
from bustle.core.judge.finding import Finding
from bustle.core.judge.judgement import Judgement
from bustle.core.judge.judgements.bench.boards_told import boards_told
from bustle.core.judge.ways import Edit, Mending, Offer
from bustle.core.walk.reading import Reading
from bustle.core.words.wording import joined

# Of a bus: the finding's subject, its title, what is said of the servos, and the board's word that clears it.
BUS = (
    ("torque", "Torque on before reading back",
     "are not asked where they stand before their torque is switched on; they jump to the count they were last told",
     "reads_back_first"),
    ("limits", "Limits not written in",
     "have no end stops written into them; one wrong count drives a joint past its own (the wiring sheet lists them)",
     "limits_written"),
)  # fmt: skip


DONE = {
    "reads_back_first": "Read each servo's place back, and tell it that, before its torque",
    "limits_written": "Write the joints' end stops into the servos",
}


def driven_at_boot(r: Reading) -> Iterator[Finding]:
    live = [b for b in r.project.electrics.boards if b.wires and not b.enable_off_at_start]
    if live:
        count = sum(len(b.wires) for b in live)
        yield Finding(
            "F42", "stop", "Outputs live while it starts",
            f"{joined([b.name for b in live])} {'has' if len(live) == 1 else 'have'} {count} servos on outputs that "
            "are not held off while the controller starts; they go wherever noise sends them.",
            (("", "outputs"),), None, float(count), 0.0, "servos",
        )  # fmt: skip
    buses = [b for b in r.project.electrics.boards if b.kind == "bus" and b.wires]
    for subject, title, said, open_ in BUS:
        bare = [b for b in buses if not getattr(b, open_)]
        if bare:
            count = sum(len(b.wires) for b in bare)
            yield Finding(
                "F42", "warn", title, f"{joined([b.name for b in bare])}: {count} servos {said}.",
                (("", subject),), None, float(count), 0.0, "servos",
            )  # fmt: skip
    loose = [s for s in r.project.electrics.signals if s.does in ("input", "pack_voltage") and s.at_start == "floats"]
    if loose:
        yield Finding(
            "F42", "warn", "Inputs that float",
            f"{len(loose)} {'input has' if len(loose) == 1 else 'inputs have'} no state at start "
            f"({joined([s.name for s in loose[:3]])}); pull each up or down.",
            (("", "inputs"),), None, float(len(loose)), 0.0, "inputs",
        )  # fmt: skip


def _hold_off(m: Mending) -> Iterator[Edit]:
    electrics = m.project.electrics
    if m.finding.subject == "outputs":
        edits = tuple(
            replace(f"/electrics/boards/{n}/enable_off_at_start", True)
            for n, b in enumerate(electrics.boards)
            if not b.enable_off_at_start
        )
        yield Edit("Hold the outputs off until all is set", edits)
    for subject, _, _, word in BUS:
        if m.finding.subject == subject:
            edits = tuple(
                replace(f"/electrics/boards/{n}/{word}", True)
                for n, b in enumerate(electrics.boards)
                if b.kind == "bus" and not getattr(b, word)
            )
            yield Edit(DONE[word], edits)
    if m.finding.subject == "inputs":
        edits = tuple(
            replace(f"/electrics/signals/{n}/at_start", "pulled")
            for n, s in enumerate(electrics.signals)
            if s.at_start == "floats"
        )
        yield Edit("Pull every input up or down", edits)


JUDGEMENT = Judgement(
    "F42",
    "Nothing moves while it starts",
    ("servos",),
    driven_at_boot,
    boards_told,
    bench=True,
    ways=(Offer(_hold_off, any_motion=True),),
)
