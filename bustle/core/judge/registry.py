"""The judgements there are. A new one is one file, and one line here."""

from __future__ import annotations

from collections.abc import Iterable
from functools import cache

from bustle.core.judge.figure import FigureSpec
from bustle.core.judge.finding import Finding
from bustle.core.judge.judgement import Judgement
from bustle.core.judge.judgements.balance import (
    falls_over,
    heavier_than_it_walked,
    lands_on_a_joint,
    lands_on_its_edge,
    leans_in_mid_swing,
    mass_too_light,
    moved_at_the_wrong_moment,
    narrow_soles,
    rocks_out_of_time,
    rolls_over_its_sole,
    top_heavy,
)
from bustle.core.judge.judgements.bench import (
    driven_at_boot,
    export_told,
    fresh_pack,
    horn_off,
    nothing_decided,
    shared_supply,
    slow_link,
    too_few_channels,
    uneven_rest,
    wrong_way_round,
)
from bustle.core.judge.judgements.ground import (
    belly_grounds,
    dragged_turn,
    drifting_foot,
    drifts,
    foot_catches,
    misses_the_ground,
    other_way,
    pulled_round,
    scuffing,
    soles_out_of_true,
    stamping,
    supports_off_the_floor,
)
from bustle.core.judge.judgements.joints import (
    end_stop,
    foot_play,
    out_of_reach,
    row_period,
    servo_speed,
    straight_knee,
)
from bustle.core.judge.judgements.loads import (
    droops,
    feet_slip,
    gives,
    held_off,
    overheats,
    overshoots,
    supply_gives_out,
    too_weak,
)
from bustle.core.judge.judgements.machine import (
    collision,
    folded_size,
    mass,
    short_leads,
    turning_circle,
    wrong_side,
)
from bustle.core.judge.judgements.motion import jumps_at_power_on, leaps, pace_and_way
from bustle.core.walk.reading import Reading

# In the order in which findings of one severity are told.
JUDGEMENTS: dict[str, Judgement] = {
    judgement.code: judgement
    for judgement in (
        out_of_reach.JUDGEMENT,
        supports_off_the_floor.JUDGEMENT,
        falls_over.JUDGEMENT,
        rolls_over_its_sole.JUDGEMENT,
        lands_on_its_edge.JUDGEMENT,
        narrow_soles.JUDGEMENT,
        heavier_than_it_walked.JUDGEMENT,
        leans_in_mid_swing.JUDGEMENT,
        mass_too_light.JUDGEMENT,
        rocks_out_of_time.JUDGEMENT,
        top_heavy.JUDGEMENT,
        lands_on_a_joint.JUDGEMENT,
        end_stop.JUDGEMENT,
        servo_speed.JUDGEMENT,
        straight_knee.JUDGEMENT,
        row_period.JUDGEMENT,
        other_way.JUDGEMENT,
        drifts.JUDGEMENT,
        pulled_round.JUDGEMENT,
        soles_out_of_true.JUDGEMENT,
        scuffing.JUDGEMENT,
        dragged_turn.JUDGEMENT,
        collision.JUDGEMENT,
        belly_grounds.JUDGEMENT,
        turning_circle.JUDGEMENT,
        short_leads.JUDGEMENT,
        folded_size.JUDGEMENT,
        foot_catches.JUDGEMENT,
        stamping.JUDGEMENT,
        misses_the_ground.JUDGEMENT,
        moved_at_the_wrong_moment.JUDGEMENT,
        droops.JUDGEMENT,
        held_off.JUDGEMENT,
        too_weak.JUDGEMENT,
        overheats.JUDGEMENT,
        supply_gives_out.JUDGEMENT,
        overshoots.JUDGEMENT,
        feet_slip.JUDGEMENT,
        jumps_at_power_on.JUDGEMENT,
        wrong_side.JUDGEMENT,
        leaps.JUDGEMENT,
        drifting_foot.JUDGEMENT,
        foot_play.JUDGEMENT,
        wrong_way_round.JUDGEMENT,
        uneven_rest.JUDGEMENT,
        nothing_decided.JUDGEMENT,
        shared_supply.JUDGEMENT,
        too_few_channels.JUDGEMENT,
        horn_off.JUDGEMENT,
        fresh_pack.JUDGEMENT,
        driven_at_boot.JUDGEMENT,
        slow_link.JUDGEMENT,
    )
}

# Those that may say that a walk must not be started at all; and those that say it of the machine on its bench.
STOPPING = tuple(judgement for judgement in JUDGEMENTS.values() if judgement.stops and not judgement.bench)
BENCH = tuple(judgement for judgement in JUDGEMENTS.values() if judgement.bench)

# Those that no judgement is about first.
FIGURES: dict[str, FigureSpec] = {
    spec.name: spec
    for spec in (
        *pace_and_way.FIGURES,
        *mass.FIGURES,
        *export_told.FIGURES,
        *gives.FIGURES,
        *(figure for judgement in JUDGEMENTS.values() for figure in judgement.figures),
    )
}

# Figures that stand on the rail, whatever station is open.
RAIL = "rail"


# The station that shows what the machine carries.
CARRYING = "load"


@cache
def shown_at(station: str) -> tuple[frozenset[str], frozenset[str]]:
    """What is needed while a handle is dragged with a station open: codes of judgements, names of figures."""
    codes = (code for code, j in JUDGEMENTS.items() if j.tier == "drag" or station in j.stations)
    names = (
        name for name, spec in FIGURES.items() if {station, RAIL} & {place.partition("/")[0] for place in spec.stations}
    )
    return frozenset(codes), frozenset(names)


_RANK = {"stop": 0, "warn": 1, "note": 2}


def findings(r: Reading, judgements: Iterable[Judgement]) -> tuple[Finding, ...]:
    """Every finding of these judgements, stops first."""
    return _stops_first(finding for judgement in judgements for finding in judgement.found(r))


def told_at(r: Reading, station: str) -> tuple[tuple[str, ...], tuple[Finding, ...]]:
    """What is told while a handle is dragged with a station open: the codes that are judged, and every finding of
    theirs, stops first. What waits for the hand to rest is not among them."""
    codes, _ = shown_at(station)
    asked = {code: r.at_once(judgement.found_at_once) for code, judgement in JUDGEMENTS.items() if code in codes}
    known = {code: found for code, found in asked.items() if found is not None}
    return tuple(known), _stops_first(finding for found in known.values() for finding in found)


def _stops_first(found: Iterable[Finding]) -> tuple[Finding, ...]:
    return tuple(sorted(found, key=lambda f: _RANK[f.severity]))
