"""F22: more servos, inputs and lamps than the boards have outputs."""

from __future__ import annotations

from collections.abc import Iterator

from bustle.core.judge.figure import FigureSpec, Lines, Told
from bustle.core.judge.finding import Finding
from bustle.core.judge.judgement import Judgement
from bustle.core.judge.judgements.bench.boards_told import as_in, boards_told, checked
from bustle.core.judge.ways import Edit, Mending, Offer
from bustle.core.servo.channel_map import unwired, wired_in_order, with_board
from bustle.core.walk.reading import Reading
from bustle.core.words.wording import joined


def too_few_channels(r: Reading) -> Iterator[Finding]:
    bare = unwired(r.project)
    boards = r.project.electrics.boards
    if bare:
        total = sum(b.channels for b in boards)
        yield Finding(
            "F22", "stop", "Servos without a channel",
            f"{len(bare)} of {len(r.kit.servos)} servos are on no channel ({joined(bare[:3])}); "
            f"{joined([b.name for b in boards])} {'has' if len(boards) == 1 else 'have'} {total} in all.",
            (), None, float(len(bare)), 0.0, "servos",
        )  # fmt: skip
    for signal in r.project.electrics.signals:
        board = next((b for b in boards if b.name == signal.board), None)
        taken = board and next((w.place for w in board.wires if w.channel == signal.pin), None)
        if taken:
            yield Finding(
                "F22", "stop", "Two on one pin",
                f"{signal.name} is on pin {signal.pin} of {signal.board}, and so is {taken}; 2 on 1 pin.",
                (("", signal.name),), None, 2.0, 1.0, "on a pin",
            )  # fmt: skip


def _wire(m: Mending) -> Iterator[Edit]:
    """All in order on the boards there are, or with one board more."""
    yield as_in("Wire all servos in order, leg by leg", wired_in_order(checked(m), "leg"))
    more = with_board(checked(m), m.project.electrics.boards[-1].kind)
    yield as_in("One board more, and all in order", wired_in_order(more, "leg"))


def _read(r: Reading) -> Told | None:
    if not r.project.electrics.boards:
        return None
    return float(sum(len(b.wires) for b in r.project.electrics.boards)), None


def _working(r: Reading) -> Lines:
    boards = r.project.electrics.boards
    return (
        *(f"{b.name}: {len(b.wires)} of {b.channels} {'addresses' if b.kind == 'bus' else 'channels'}" for b in boards),
        f"= {sum(len(b.wires) for b in boards)}",
    )


USED = FigureSpec("channels_used", "Channels used", "", 0, _read, _working, ("servos",))

JUDGEMENT = Judgement(
    "F22",
    "Every servo has a channel",
    ("servos", "table"),
    too_few_channels,
    boards_told,
    figures=(USED,),
    bench=True,
    ways=(Offer(_wire, keep="first", any_motion=True),),
)
