"""F24 what the feet cannot clear, F25 feet that stamp, F48 feet that do not find the ground."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from bustle.core.judge.judgements.finding import Finding, Severity
from bustle.core.judge.measures.footing import GRAVITY, jolt_n
from bustle.core.machine.masses import total_kg
from bustle.core.walk.reading import Evidence
from bustle.core.words.wording import also, degrees, length, number, seconds


def obstacle(e: Evidence) -> Iterator[Finding]:
    """F24: the path's height over the obstacle, and over carpet pile, less sag and droop. Judged where one is given."""
    floor, limbs = e.project.floor, e.project.walker.limbs
    names: dict[str, list[str]] = {}
    for budget in e.budgets:
        spent = budget.sag_mm + budget.droop_mm
        name = limbs[budget.limb].name
        if budget.over_obstacle_mm is not None and floor.obstacle_mm is not None:
            over = budget.over_obstacle_mm - spent
            if over <= floor.obstacle_mm:
                names.setdefault("obstacle", []).append(name)
        if floor.pile_mm and budget.left_mm <= floor.pile_mm:
            names.setdefault("pile", []).append(name)
    assumed = ", stiffness assumed" if any(b.assumed for b in e.budgets) else ""
    for what, legs in names.items():
        budget = next(b for b in e.budgets if limbs[b.limb].name == legs[0])
        spent = budget.sag_mm + budget.droop_mm
        if what == "obstacle":
            high, sample = budget.over_obstacle_mm or 0.0, budget.over_obstacle_sample
            limit, words = floor.obstacle_mm or 0.0, f"an obstacle of {length(floor.obstacle_mm or 0.0)} there"
        else:
            high, sample, limit = budget.height_mm, budget.sample, floor.pile_mm
            spent += budget.uneven_mm
            words = f"pile of {length(floor.pile_mm)}"
        yield Finding(
            "F24", "stop", "Foot catches",
            f"{legs[0]}'s path is {length(high)} up, {length(high - spent)} after sag and droop of {length(spent)}"
            f"{assumed}; it cannot clear {words}." + also(legs[1:]),
            tuple((leg, what) for leg in legs), float(sample * e.row_s), high - spent, limit, "mm",
        )  # fmt: skip


def stamping(e: Evidence) -> Iterator[Finding]:
    """F25: the jolt of the hardest landing against a share of the weight."""
    weight = total_kg(e.masses) * GRAVITY
    if not weight:
        return
    limit = e.project.limits.jolt_share * weight
    hard = []
    for footing in e.footings:
        down = float(e.score.landing_mm_s[footing.limb, 1])
        force = jolt_n(footing, down)
        if force > limit:
            hard.append((force, down, footing))
    if not hard:
        return
    hard.sort(key=lambda h: -h[0])
    force, down, footing = hard[0]
    names = [e.project.walker.limbs[f.limb].name for _, _, f in hard]
    source = "stiffness and inertia assumed" if footing.assumed else "inertia assumed"
    yield Finding(
        "F25", "warn", "Feet stamp",
        f"{names[0]} lands at {number(down, 0)} mm/s, a jolt of {number(force, 1)} N ({source}); that is "
        f"{number(100 * force / weight, 0)} % of the weight, keep {number(100 * limit / weight, 0)} %."
        + also(names[1:]),
        tuple((name, "") for name in names), None, force, limit, "N",
    )  # fmt: skip


def missed_ground(e: Evidence) -> Iterator[Finding]:
    """F48: the lean until a foot meets a floor lower than planned, where the floor's unevenness is given."""
    uneven = e.project.floor.unevenness_mm
    gait = e.gait
    if gait and gait.swing.search_mm:
        short = [s for s in e.searches if s.reach_mm < gait.swing.search_mm - 1e-6]
        if short:
            least = min(short, key=lambda s: s.reach_mm)
            name = e.project.walker.limbs[least.limb].name
            yield Finding(
                "F48", "warn", "Search depth out of reach",
                f"{name} can go {length(least.reach_mm)} below the plan as it lands at {seconds(least.time_s)}; "
                f"{length(gait.swing.search_mm)} are asked for.",
                ((name, "depth"),), least.time_s, least.reach_mm, gait.swing.search_mm, "mm",
            )  # fmt: skip
    if not uneven:
        return
    limit = e.project.limits.lean_deg
    leans = sorted(e.searches, key=lambda s: -s.lean_deg(uneven))
    bad = [s for s in leans if s.lean_deg(uneven) > limit]
    if bad:
        worst = bad[0]
        names = [e.project.walker.limbs[s.limb].name for s in bad]
        severity: Severity = "stop" if worst.lean_deg(uneven) > 3 * limit else "warn"
        yield Finding(
            "F48", severity, "Foot misses the ground",
            f"On a floor {length(uneven)} lower {names[0]} lands on nothing at {seconds(worst.time_s)} and the body "
            f"leans {degrees(worst.lean_deg(uneven))}, {number(worst.deg_per_ms, 3)}° each millisecond; keep "
            f"{degrees(limit)}."
            + also(names[1:]),
            tuple((name, "lean") for name in names), worst.time_s, worst.lean_deg(uneven), limit, "°",
        )  # fmt: skip


def kicked(e: Evidence) -> Iterator[Finding]:
    """F49: the margin less the push of a limb that is moved, at the instant where least is left."""
    if e.balance != "static" or not e.kicks:
        return
    worst, limit = e.kicks[0], e.project.limits.margin_mm
    if worst.left_mm >= limit or not np.isfinite(worst.margin_mm):
        return
    time = float(worst.sample * e.row_s)
    severity: Severity = "stop" if worst.left_mm <= 0 else "warn"
    yield Finding(
        "F49", severity, "Moved at the wrong moment",
        f"Moving {worst.limb} at {seconds(time)} pushes the balance {length(worst.push_mm)} where the margin is "
        f"{length(worst.margin_mm)}; {length(worst.left_mm)} is left, keep {length(limit)}.",
        ((worst.limb, ""),), time, worst.left_mm, limit, "mm",
    )  # fmt: skip
