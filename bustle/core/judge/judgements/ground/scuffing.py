"""F12: feet that scuff for want of a joint."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import numpy as np

from bustle.core.edits.patches import replace
from bustle.core.geometry.extremes import greatest
from bustle.core.judge.figure import FigureSpec, Lines, Told
from bustle.core.judge.finding import Finding
from bustle.core.judge.judgement import Judgement
from bustle.core.judge.measures.feet.foot_slip import (
    ACROSS_SHARE,
    aside_mm,
    dragged_across,
    planted,
    scrub_mm,
    slip_mm,
    wander,
    wheels_way,
)
from bustle.core.judge.measures.way_walked import crawls, slid
from bustle.core.judge.ways import Edit, Found, Mending, Offer, Turn
from bustle.core.kinds.legs import FAMILIES
from bustle.core.kinds.legs.in_one_plane import in_one_plane
from bustle.core.project.motion import PhaseGait
from bustle.core.walk.reading import Reading
from bustle.core.words.wording import also, length, number, seconds, told_apart

# Wheels dragged across by more than this share of the way they are brought along push it on: swayed by 10 to 37 mm, two
# legs before two wheels went a third to three quarters too far in a physics engine, at shares of 0.9 to 3.5.
PUSHED_ON = 0.5
PUSHING = "So dragged, it goes otherwise than told; a dry run says how far."
CRAWLING = "It crawls: as its servos give and have play, it may go half as far as told, or an eighth further."
# Feet that slide further than they step: rings of such legs went 0.96 to 1.26 of what is told, legs of two kinds, which
# give otherwise in front than behind, 0.14 to 2.3.
RUBBING = "Its feet slide further than they step: how far it goes hangs on their grip and give, from hardly to twice."

# A foot may stand so far from where it is asked, or so much of its leg.
ASIDE_MM, ASIDE_SHARE = 10.0, 0.1


def turns_without_yaw(r: Reading) -> bool:
    """Whether it is the turn that drags: it turns, on legs that walk straight without slip."""
    planar = all(in_one_plane(limb) for limb in r.project.walker.legs)
    return bool(r.gait and r.gait.twist.omega_deg_s) and planar


def slipping_legs(r: Reading) -> list[int]:
    """Limbs that slip more than the project allows in a stance, the worst first."""
    slip, limit = r.of(slip_mm), r.project.limits.slip_mm
    return [int(i) for i in np.argsort(-np.round(slip, 6), kind="stable") if slip[i] > limit]


def furthest_off_s(r: Reading) -> float:
    """When the leg that slips most is furthest from where it should stand."""
    worst = r.of(slipping_legs)[0]
    if r.of(scrub_mm)[worst] > r.project.limits.slip_mm:
        return 0.0
    off = np.linalg.norm(r.of(wander)[worst], axis=-1) * r.of(planted)[worst]
    return float(greatest(off) * r.row_s)


def slip_finding(r: Reading, code: str, title: str, message: str) -> Finding:
    """Of all the legs that slip."""
    names = [r.project.walker.limbs[i].name for i in r.of(slipping_legs)]
    value, limit = float(r.of(slip_mm)[r.of(slipping_legs)[0]]), r.project.limits.slip_mm
    subjects = tuple((n, "") for n in names)
    return Finding(code, "warn", title, message + also(names[1:]), subjects, furthest_off_s(r), value, limit, "mm")


def share_of_stroke(r: Reading, leg: int) -> str:
    stroke = float(r.score.stroke_mm[leg])
    return f", {number(100 * r.of(slip_mm)[leg] / stroke, 0)} % of its stroke" if stroke > 1 else ""


def _for_each_mm(r: Reading, leg: int) -> float | None:
    """How far a wheel is dragged across for each mm that the machine goes; None where it goes nowhere."""
    x, y = (v[: r.samples] for v in r.course.body.travel[:2])
    way = float(np.hypot(np.diff(x), np.diff(y)).sum())
    return float(r.of(scrub_mm)[leg]) / way if way > 1.0 else None


def _elsewhere(r: Reading) -> Iterator[Finding]:
    """Feet that stand far from where they are asked, because their legs give up that direction. Where the legs lead the
    body nobody asks."""
    aside = r.of(aside_mm)
    limbs = r.project.walker.limbs
    most = np.array([max(ASIDE_MM, ASIDE_SHARE * sum(k.length_mm for k in m.links)) for m in limbs])
    legs = [int(i) for i in np.argsort(-np.round(aside, 6), kind="stable") if aside[i] > most[i]]
    if not legs or not isinstance(r.motion, PhaseGait) or r.motion.travel == "implied":
        return
    names = [limbs[i].name for i in legs]
    away, keep = told_apart(length, float(aside[legs[0]]), float(most[legs[0]]))
    yield Finding(
        "F12", "warn", "Feet stand elsewhere",
        f"{names[0]} stands {away} from where it is asked to: its leg follows other directions and "
        f"does not get there; keep {keep}." + also(names[1:]),
        tuple((name, "aside") for name in names), None, float(aside[legs[0]]), float(most[legs[0]]), "mm",
    )  # fmt: skip


def _across(r: Reading, wheels: list[int]) -> Finding:
    """However short the way is."""
    names = [r.project.walker.limbs[i].name for i in wheels]
    across, whole = (float(v[wheels[0]]) for v in r.of(wheels_way))
    return Finding(
        "F12", "warn", "Wheels dragged sideways",
        f"{names[0]} is to go {length(across)} of {length(whole)} a cycle across the way it rolls: what pushes it "
        "slips before it does." + also(names[1:]),
        tuple((name, "") for name in names), None, across, ACROSS_SHARE * whole, "mm",
    )  # fmt: skip


def scuffing(r: Reading) -> Iterator[Finding]:
    """Slip in a stance above what the project allows, other than by turning."""
    yield from _elsewhere(r)
    legs = r.of(slipping_legs)
    if not legs and (wheels := r.of(dragged_across)):
        yield _across(r, wheels)
    if not legs or turns_without_yaw(r):
        return
    worst = legs[0]
    slips, keep = told_apart(length, float(r.of(slip_mm)[worst]), r.project.limits.slip_mm)
    if r.of(scrub_mm)[worst] > r.project.limits.slip_mm:
        each = _for_each_mm(r, worst)
        yield slip_finding(
            r, "F12", "Wheels dragged sideways",
            f"{r.project.walker.limbs[worst].name} is dragged {slips} across the way it rolls "
            "in each cycle" + (f", {length(1000 * each)} for each metre" if each else "")
            + f"; keep {keep}." + (f" {PUSHING}" if each and each > PUSHED_ON else ""),
        )  # fmt: skip
        return
    yield slip_finding(
        r,
        "F12",
        "Feet scuff",
        f"{r.project.walker.limbs[worst].name} slips {slips} over the floor in each stance"
        f"{share_of_stroke(r, worst)}, most at {seconds(furthest_off_s(r))}; keep {keep}."
        + (f" {RUBBING}" if r.of(slid) > 1 else f" {CRAWLING}" if r.of(crawls) else ""),
    )


def other_keep(m: Mending) -> Iterator[Edit]:
    """Legs with too few joints follow other coordinates."""
    limbs = m.project.walker.limbs
    for family in dict.fromkeys(limb.family for limb in limbs if FAMILIES[limb.family].keeps):
        for keep in FAMILIES[family].keeps:
            own = [n for n, limb in enumerate(limbs) if limb.family == family]
            if FAMILIES[family].open or all(limbs[n].keep == keep.name for n in own):
                continue
            edits = tuple(replace(f"/walker/limbs/{n}/keep", keep.name) for n in own)
            yield Edit(f"Feet follow: {keep.label[0].lower()}{keep.label[1:]}", edits)


def feet_brought_along(r: Reading) -> tuple[dict[str, Any], ...]:
    """Feet asked for where the legs put them; nothing where none stands elsewhere."""
    if not any(_elsewhere(r)):
        return ()
    edits, down = [], r.of(planted)
    for i, limb in enumerate(r.project.walker.limbs):
        if limb.neutral_mm is not None and down[i].any():
            gap = r.of(wander)[i][down[i]].mean(axis=0)
            x, y = limb.neutral_mm
            edits.append(replace(f"/walker/limbs/{i}/neutral_mm", [round(x + gap[0], 1), round(y + gap[1], 1)]))
    return tuple(edits)


def _feet_along(m: Mending) -> Iterator[Edit]:
    if m.finding.subject == "aside":
        yield Edit("Feet to where the legs put them", feet_brought_along(m.reading))


def _along_the_way(m: Mending) -> Iterator[Edit]:
    """Wheels that roll the way the body goes."""
    if m.gait.twist.vx_mm_s == 0.0 and m.gait.twist.vy_mm_s == 0.0:
        return
    way = float(np.degrees(np.arctan2(m.gait.twist.vy_mm_s, m.gait.twist.vx_mm_s)))
    edits = [
        replace(f"/walker/limbs/{n}/feet/0/contact/heading_deg", round(way - limb.mount.yaw_deg, 1))
        for n, limb in enumerate(m.project.walker.limbs)
        if limb.passive
        and not limb.steers
        and limb.feet[0].contact.kind == "rolls"
        and not limb.feet[0].contact.any_way
    ]
    if edits:
        yield Edit("Wheels along the way", tuple(edits))


def _read(r: Reading) -> Told | None:
    return float(r.of(slip_mm).max(initial=0.0)), None


def _working(r: Reading) -> Lines:
    worst = greatest(r.of(slip_mm))
    slip, stroke = float(r.of(slip_mm)[worst]), float(r.score.stroke_mm[worst])
    share = (f"{number(slip)} of a stroke of {number(stroke)} mm: {number(100 * slip / stroke)} %",) if stroke else ()
    name = r.project.walker.limbs[worst].name
    return f"{name}: the widest distance between two places of the foot while it stands", *share, f"= {number(slip)} mm"


SLIP = FigureSpec("slip_mm", "Slip in a stance", "mm", 1, _read, _working, ("frame",), better=-1, compared=True)

JUDGEMENT = Judgement(
    "F12",
    "Feet stand where they were put",
    ("frame",),
    scuffing,
    stops=False,
    limits_stride=True,
    figures=(SLIP,),
    ways=(
        Offer(_feet_along),
        Found("least_slip_heave"),
        Offer(_along_the_way),
        Offer(other_keep),
        Turn("stride", up=False),
    ),
)
