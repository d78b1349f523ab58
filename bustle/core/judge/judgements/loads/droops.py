"""F02: the machine gives and its feet drag where they should be clear."""

from __future__ import annotations

from collections.abc import Iterator

from bustle.core.judge.finding import Finding, Severity
from bustle.core.judge.judgement import Judgement, of_gaits
from bustle.core.judge.measures.swing_clearance import clearances
from bustle.core.judge.ways import Turn
from bustle.core.walk.reading import Reading
from bustle.core.words.wording import also, length

# A lift that is small itself is kept clear by this share of it.
SHARE = 0.5


def droops(r: Reading) -> Iterator[Finding]:
    """Warn where lift less sag, play and the floor's unevenness is under the clearance, stop where nothing is left."""
    keep, limbs = r.project.limits.clearance_mm, r.project.walker.limbs
    # What is lifted by no more than that was not meant to be clear by it.
    short = [s for s in r.of(clearances) if s.left_mm < min(keep, SHARE * s.height_mm)]
    if not short:
        return
    worst = short[0]
    severity: Severity = "stop" if worst.left_mm < 0 else "warn"
    spent = worst.sag_mm + worst.droop_mm + worst.uneven_mm
    names = [limbs[s.limb].name for s in short]
    yield Finding(
        "F02", severity, "Foot drags" if severity == "stop" else "Foot barely clears",
        f"{names[0]} is lifted {length(worst.height_mm)}; sag, play and the floor take {length(spent)}"
        f"{', stiffness assumed' if worst.assumed else ''}, and {length(worst.left_mm)} is left of {length(keep)}."
        + also(names[1:]),
        tuple((name, "drags") for name in names), float(worst.sample * r.row_s), worst.left_mm, keep, "mm",
    )  # fmt: skip


JUDGEMENT = Judgement(
    "F02",
    "Feet are clear though the machine gives",
    ("stride", "load"),
    droops,
    of_gaits,
    ways=(Turn("lift", down=False),),
)
