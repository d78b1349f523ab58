"""F44: the link to a board is too slow for its frames; the walk jitters."""

from __future__ import annotations

from collections.abc import Iterator

from bustle.core.edits.patches import replace
from bustle.core.judge.figure import FigureSpec, Lines, Told
from bustle.core.judge.finding import Finding, Severity
from bustle.core.judge.judgement import Judgement
from bustle.core.judge.judgements.bench.boards_told import boards_told
from bustle.core.judge.ways import Edit, Mending, Offer
from bustle.core.project.electrics import Board
from bustle.core.walk.reading import Reading
from bustle.core.words.wording import number

# Of a frame: its address and register, and on and off times of each channel; on a bus its head and sum, and place,
# time and address of each servo.
HEAD_BYTES = {"pulse_board": 2, "plain_pins": 0, "bus": 8}
EACH_BYTES = {"pulse_board": 4, "plain_pins": 0, "bus": 7}
WARN = 0.7


def frame_bytes(board: Board) -> int:
    return HEAD_BYTES[board.kind] + EACH_BYTES[board.kind] * len(board.wires)


def needs(r: Reading) -> list[tuple[float, Board]]:
    """Share of its link that each board takes at the table's rate, the most first."""
    rate = 1000.0 / r.project.controller.frame_period_ms
    found = [
        (frame_bytes(b) * rate / b.link_bytes_s, b) for b in r.project.electrics.boards if b.link_bytes_s and b.wires
    ]
    return sorted(found, key=lambda f: -round(f[0], 9))


def slow_link(r: Reading) -> Iterator[Finding]:
    if not r.of(needs):
        return
    share, board = r.of(needs)[0]
    if share <= WARN:
        return
    severity: Severity = "stop" if share > 1 else "warn"
    assert board.link_bytes_s
    rate = 1000.0 / r.project.controller.frame_period_ms
    takes = 1000 * frame_bytes(board) / board.link_bytes_s
    yield Finding(
        "F44", severity, "Link too slow",
        f"{board.name} takes {frame_bytes(board)} bytes {number(rate, 0)} times a second, {number(100 * share, 0)} % "
        f"of its link: {number(takes)} ms of every {number(1000 / rate)} ms row. Keep {number(100 * WARN, 0)} %.",
        (("", board.name),), None, 100 * share, 100 * WARN, "%",
    )  # fmt: skip


def _faster(m: Mending) -> Iterator[Edit]:
    rate = 1000.0 / m.project.controller.frame_period_ms
    edits, said = [], ""
    for n, board in enumerate(m.project.electrics.boards):
        least = frame_bytes(board) * rate / WARN
        if board.link_bytes_s and board.link_bytes_s < least:
            wanted = float(-(-least // 1000) * 1000)
            edits.append(replace(f"/electrics/boards/{n}/link_bytes_s", wanted))
            said = f"A link of {number(wanted, 0)} bytes a second to {board.name}"
    yield Edit(said, tuple(edits))


def _read(r: Reading) -> Told | None:
    return (100 * r.of(needs)[0][0], None) if r.of(needs) else None


def _working(r: Reading) -> Lines:
    return tuple(
        f"{b.name}: {frame_bytes(b)} bytes × {number(1000 / r.project.controller.frame_period_ms, 0)} rows a second / "
        f"{number(b.link_bytes_s or 0, 0)} bytes a second = {number(100 * share, 0)} %"
        for share, b in r.of(needs)
    )


LINK = FigureSpec("link_share", "Of the link", "%", 0, _read, _working, ("servos",), better=-1)

JUDGEMENT = Judgement(
    "F44",
    "Links carry every row",
    ("servos",),
    slow_link,
    boards_told,
    figures=(LINK,),
    bench=True,
    ways=(Offer(_faster, any_motion=True),),
)
