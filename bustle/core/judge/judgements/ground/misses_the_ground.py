"""F48: a foot does not find the ground where the plan has it."""

from __future__ import annotations

from collections.abc import Iterator

from bustle.core.judge.figure import FigureSpec, Lines, Told
from bustle.core.judge.finding import Finding, Severity
from bustle.core.judge.judgement import Judgement, of_gaits
from bustle.core.judge.judgements.ground.stamping import softly
from bustle.core.judge.measures.feet.late_foot import LateFoot, late_feet
from bustle.core.judge.ways import Offer, Turn
from bustle.core.walk.reading import Reading
from bustle.core.words.wording import also, degrees, length, number, seconds


def misses_the_ground(r: Reading) -> Iterator[Finding]:
    """The lean until a foot meets a floor lower than planned, where the floor's unevenness is given."""
    uneven = r.project.floor.unevenness_mm
    depth = r.gait.swing.search_mm if r.gait else 0.0
    if depth:
        short = [s for s in r.of(late_feet) if s.reach_mm < depth - 1e-6]
        if short:
            least = min(short, key=lambda s: round(s.reach_mm, 6))
            name = r.project.walker.limbs[least.limb].name
            yield Finding(
                "F48", "warn", "Search depth out of reach",
                f"{name} can go {length(least.reach_mm)} below the plan as it lands at {seconds(least.time_s)}; "
                f"{length(depth)} are asked for.",
                ((name, "depth"),), least.time_s, least.reach_mm, depth, "mm",
            )  # fmt: skip
    if not uneven:
        return
    limit = r.project.limits.lean_deg
    leans = sorted(r.of(late_feet), key=lambda s: -round(s.lean_deg(uneven), 6))
    bad = [s for s in leans if s.lean_deg(uneven) > limit]
    if bad:
        worst = bad[0]
        names = [r.project.walker.limbs[s.limb].name for s in bad]
        severity: Severity = "stop" if worst.lean_deg(uneven) > 3 * limit else "warn"
        yield Finding(
            "F48", severity, "Foot misses the ground",
            f"On a floor {length(uneven)} lower {names[0]} lands on nothing at {seconds(worst.time_s)} and the body "
            f"leans {degrees(worst.lean_deg(uneven))}, {number(worst.deg_per_ms, 3)}° each millisecond; keep "
            f"{degrees(limit)}."
            + also(names[1:]),
            tuple((name, "lean") for name in names), worst.time_s, worst.lean_deg(uneven), limit, "°",
        )  # fmt: skip


def _worst(r: Reading) -> LateFoot | None:
    return max(r.of(late_feet), key=lambda one: round(one.deg_per_ms, 9), default=None)


def _read(r: Reading) -> Told | None:
    late = r.of(_worst)
    return (late.deg_per_ms, late.time_s) if late else None


def _working(r: Reading) -> Lines:
    late = r.of(_worst)
    assert late
    return (
        f"{r.project.walker.limbs[late.limb].name} comes down at {number(late.speed_mm_s, 0)} mm/s, "
        f"{length(late.arm_mm)} from the middle of the feet that stand",
        f"atan({number(late.speed_mm_s / 1000, 3)} mm / {number(late.arm_mm)} mm) each ms "
        f"= {number(late.deg_per_ms, 3)}°",
    )


LATE_LEAN = FigureSpec(
    "late_deg_ms", "Lean of a late foot", "°/ms", 3, _read, _working, ("stride/ground",), better=-1, compared=True
)

JUDGEMENT = Judgement(
    "F48",
    "Feet find uneven ground",
    ("stride",),
    misses_the_ground,
    of_gaits,
    figures=(LATE_LEAN,),
    ways=(
        Turn("search", down=False),
        Turn("search", up=False),
        Turn("feet_out", down=False),
        Offer(softly),
    ),
)
