"""What mends a fault of legs that are built otherwise than they are drawn."""

from __future__ import annotations

from collections.abc import Iterator

from bustle.core.edits.as_measured import drawn_as_measured
from bustle.core.edits.patches import replace
from bustle.core.judge.judgements.bench.boards_told import checked
from bustle.core.judge.ways import Edit, Mending
from bustle.core.project.project import document
from bustle.core.servo.zero_trims import with_zeros_trimmed, zero_trims
from bustle.core.words.wording import degrees


def put_right(m: Mending) -> Iterator[Edit]:
    """Links drawn as they were measured, servos trimmed by what their zeros are off, or both."""
    links = tuple(drawn_as_measured(m.project.walker))
    if links:
        yield Edit("Draw the links as they were measured", links)
    trims = zero_trims(checked(m))
    if not trims:
        return
    after = document(with_zeros_trimmed(checked(m)))
    zeros = (
        replace("/electrics", after["electrics"]),
        *(replace(f"/walker/as_built/limbs/{k}/joint_zero_deg", truth["joint_zero_deg"])
          for k, truth in enumerate(after["walker"]["as_built"]["limbs"])),
    )  # fmt: skip
    said = f"Trim {trims[0].servo.place} by {degrees(trims[0].trim_deg)}"
    if len(trims) > 1:
        said += f" and {len(trims) - 1} more"
    yield Edit(said, zeros)
    if links:
        yield Edit(f"{said}, and draw the links as they were measured", (*links, *zeros))
