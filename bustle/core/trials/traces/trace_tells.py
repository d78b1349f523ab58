"""What a trace tells: whether it comes again, leans and lands as told, and can be told anything by at all."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from bustle.core.trials.seen.what_was_seen import Seen
from bustle.core.trials.traces.felt import MISREADS, span
from bustle.core.trials.traces.heard import Heard, Lean
from bustle.core.trials.traces.shaken import Shaken
from bustle.core.words.wording import joined, percent

# A cycle that takes longer or shorter by this share, and a foot that lands later by this share or this long.
OFF_CLOCK = 0.02
LATE, LATE_MS = 0.04, 30.0
# What is told to lean so far, each way, is asked to; within these shares it does.
LEANS_DEG, REACHED = 1.0, (0.7, 1.4)
# Less of it comes again from cycle to cycle than this share: it is irregular. Below MOVES_DEG nothing is told of it.
AGAIN, MOVES_DEG = 0.5, 0.5

# Of the catalogue, title, sentence, what to do.
Said = tuple[str, str, str, str]


@dataclass(frozen=True)
class Earlier:
    """The trace before it: of which trial, and the thresholds it came to, by limb."""

    number: int
    thresholds: dict[str, float]


def earlier_of(h: Heard, number: int) -> Earlier:
    each = {foot.limb: foot.threshold for foot in h.feet}
    return Earlier(number, {limb: threshold for limb, threshold in each.items() if threshold is not None})


def trace_tells(h: Heard, motion: str, number: int, earlier: Earlier | None = None) -> list[Seen]:
    """Of trial `number`."""
    return [Seen(motion, *said, (number,)) for said in _said(h, earlier)]


def _said(h: Heard, earlier: Earlier | None) -> Iterator[Said]:
    off = h.laid.period_s / h.told_s - 1
    if abs(off) > OFF_CLOCK:
        yield (
            "F44", "Another cycle than told",
            f"A cycle takes {h.laid.period_s:.2f} s by the trace, {h.told_s:.2f} s by the table: "
            f"{percent(abs(off))} {'longer' if off > 0 else 'shorter'}.",
            "Time the controller's rows: a loop with other work, or a link that is slow, makes each a little longer.",
        )  # fmt: skip
    for lean in h.leans:
        yield from _of_lean(lean)
    for each in h.shaken[:1]:
        if each.share > 1:
            yield _swamped(each)
    yield from _of_feet(h, earlier)


def _of_lean(lean: Lean) -> Iterator[Said]:
    if lean.moves_deg >= MOVES_DEG and lean.again < AGAIN:
        yield (
            "", "No two cycles alike",
            f"Of what its {lean.way} does, {percent(lean.again)} comes again each cycle; half of it should.",
            "Look for what is loose: a horn, a link, a sole; and walk it on an even floor.",
        )  # fmt: skip
    if lean.told_deg < LEANS_DEG:
        return
    share = lean.seen_deg / lean.told_deg
    if not REACHED[0] <= share <= REACHED[1]:
        yield (
            "", f"Its {lean.way} is not as told",
            f"With its stride it leans {lean.seen_deg:.1f}° each way by {lean.way}; {lean.told_deg:.1f}° is told.",
            "What it leans less than told it does not shift its mass by either: measure its give, and play, at Load."
            if share < 1 else "It gives more than assumed: measure its give, and play, at Load.",
        )  # fmt: skip


def _swamped(each: Shaken) -> Said:
    by = each.filter
    do = (
        f"A low-pass of {'one pole' if by.poles == 1 else 'two poles'} at {by.corner_hz:.1f} Hz leaves the lean over; "
        f"it tells it {by.late_ms:.0f} ms late, {by.late_deg:.0f}° of the cycle."
        if by else "Every filter that leaves the lean over tells it too late (30° of the cycle, assumed): land softer, "
        "with a path that comes down slowly, or step by foot contacts and timing alone."
    )  # fmt: skip
    return (
        "F26", "Footfalls drown the lean",
        f"By {each.way} the steps shake it {each.shake_deg:.1f}° each way, the stride leans it {each.lean_deg:.1f}°: "
        f"{each.share:.1f} times its power.",
        do,
    )  # fmt: skip


def _of_feet(h: Heard, earlier: Earlier | None) -> Iterator[Said]:
    over = [f for f in h.feet if f.known and f.threshold is None]
    for f in over:
        stands, up = (f"{low:.0f} to {high:.0f}" for low, high in (span(f.loaded), span(f.unloaded)))
        yield (
            "F27", f"{f.limb}: loaded reads like unloaded",
            f"{f.limb} reads {stands} while it should stand and {up} while in the air: the best threshold misreads "
            f"{percent(f.misread)}, {percent(MISREADS)} would do.",
            "See that its sole presses on the sensor alone, and that it does stand; then find another resistor for its "
            "divider.",
        )  # fmt: skip
    before = earlier.thresholds if earlier else {}
    moved = [f for f in h.feet if f.threshold is not None and f.limb in before and not f.fits(before[f.limb])]
    for f in moved:
        assert earlier
        yield (
            "F27", f"{f.limb}: its threshold has moved",
            f"{before[f.limb]:.0f}, from trial {earlier.number}, misreads {percent(f.misreads(before[f.limb]))} of "
            f"what it reads now; {f.threshold:.0f} misreads {percent(f.misread)}.",
            f"Down past {f.told_down_at:.0f}, up again past {f.told_up_at:.0f}.",
        )  # fmt: skip
    resistors = [f for f in h.feet if f.divider]
    if resistors:
        named = joined([f"{f.limb} {f.divider:.2g} times" for f in resistors if f.divider])
        yield (
            "F27", "Other divider resistors", f"Loaded and unloaded are furthest apart with other resistors: {named}.",
            "Then let it walk once more, and take the thresholds from that.",
        )  # fmt: skip
    most = max(LATE_MS, 1000 * LATE * h.laid.period_s)
    landing = [f for f in h.feet if f.lands_ms is not None]
    for f in landing:
        # Of two feet, one late is the other early.
        if f.lands_ms is not None and (f.lands_ms if len(landing) == 2 else abs(f.lands_ms)) > most:
            yield (
                "F48", f"{f.limb} lands {'late' if f.lands_ms > 0 else 'early'}",
                f"Beside the other feet {f.limb} touches down {abs(f.lands_ms):.0f} ms "
                f"{'later' if f.lands_ms > 0 else 'earlier'} than planned; {most:.0f} ms would do.",
                "Measure its height at rest, and its links: a leg that hangs high lands late. So does one that lags "
                "(Load)." if f.lands_ms > 0 else "Measure its height at rest, and its links: one that hangs low "
                "lands early.",
            )  # fmt: skip
