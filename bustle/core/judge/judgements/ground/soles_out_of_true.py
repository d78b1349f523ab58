"""F55: a sole stands on its edge, or points elsewhere than planned."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from bustle.core.edits.patches import replace
from bustle.core.geometry.arrays import Array
from bustle.core.geometry.extremes import greatest
from bustle.core.judge.figure import FigureSpec, Lines, Told
from bustle.core.judge.finding import Finding, Severity, offenders
from bustle.core.judge.judgement import Judgement
from bustle.core.judge.measures.feet.sole_lie import lies, sole_lie
from bustle.core.judge.ways import Edit, Mending, Offer, Turn
from bustle.core.project.motion import Keyframes, PhaseGait
from bustle.core.walk.motions.made_of import has_swings
from bustle.core.walk.reading import Reading
from bustle.core.words.wording import also, degrees, length, number, seconds, told_apart

TILT_DEG, EDGE_MM, STOP_DEG, TURN_DEG = 2.0, 1.0, 8.0, 3.0


def not_judged(r: Reading) -> str | None:
    if has_swings(r.project, r.motion):
        return "its joints are given, and where its soles point is not asked for"
    return None if any(lies(m) for m in r.project.walker.limbs) else "its feet are round: they stand however they lie"


def _tilted(r: Reading) -> tuple[list[int], int] | None:
    lie = r.of(sole_lie)
    over = np.maximum(lie.tilt - np.radians(TILT_DEG), np.where(lie.edge_mm > EDGE_MM, lie.tilt, 0.0))
    return offenders(over.T)


def out_of_true(r: Reading) -> Iterator[Finding]:
    limbs, lie = r.project.walker.limbs, r.of(sole_lie)
    tilted = r.of(_tilted)
    if tilted:
        legs, at = tilted
        worst, tilt = legs[0], float(np.degrees(lie.tilt[legs[0], at]))
        # Where joints are given nobody asked for a flat sole: whether it stands is told by its margin.
        asked = lie.tilt * ~lie.given
        stops = any(lie.broad[i] and np.degrees(asked[i].max()) > STOP_DEG for i in legs)
        severity: Severity = "stop" if stops else "warn"
        edge = float(lie.edge_mm[worst, at])
        out, keep = told_apart(degrees, tilt, TILT_DEG)
        lifted = f", its edge {length(edge)} off" if edge else ""
        names = [limbs[i].name for i in legs]
        yield Finding(
            "F55", severity, "Sole stands on its edge",
            f"The sole of {names[0]} is {out} out of the floor{lifted} at {seconds(at * r.row_s)}; "
            f"keep {keep} and {length(EDGE_MM)}." + also(names[1:]),
            tuple((name, "tilt") for name in names), at * r.row_s, tilt, TILT_DEG, "°",
        )  # fmt: skip
    turned = offenders((np.abs(lie.turned) - np.radians(TURN_DEG)).T)
    if turned:
        legs, at = turned
        off = float(np.degrees(lie.turned[legs[0], at]))
        names = [limbs[i].name for i in legs]
        side, (points, keep) = "left" if off > 0 else "right", told_apart(degrees, abs(off), TURN_DEG)
        yield Finding(
            "F55", "warn", "Sole points elsewhere",
            f"The toes of {names[0]} point {points} to the {side} of where they should at "
            f"{seconds(at * r.row_s)}; keep {keep}." + also(names[1:]),
            tuple((name, "turn") for name in names), at * r.row_s, abs(off), TURN_DEG, "°",
        )  # fmt: skip


def _own_toes(m: Mending) -> Iterator[Edit]:
    """The toes where the joints can have them."""
    if m.finding.subject != "turn":
        return
    lie, edits = m.reading.of(sole_lie), []
    for i, limb in enumerate(m.project.walker.limbs):
        if lies(limb):
            turned = lie.turned[i][lie.turned[i] != 0]
            off = float(np.degrees(turned.mean())) if len(turned) else 0.0
            if abs(off) > 0.05:
                edits.append(replace(f"/walker/limbs/{i}/toe_deg", round(limb.toe_deg + off, 1)))
    if edits:
        yield Edit("Toes as the joints have them", tuple(edits))


def _less_sway(m: Mending) -> Iterator[Edit]:
    motion = m.project.motion(m.motion)
    if m.finding.subject != "tilt" or not isinstance(motion, PhaseGait) or not motion.pose.sway:
        return
    for share in (0.9, 0.8, 0.7, 0.6, 0.5, 0.4, 0.3, 0.2, 0.1, 0.0):
        terms = [
            {k: v if k == "harmonic" else round(v * share, 2) for k, v in term.model_dump().items()}
            for term in motion.pose.sway
        ]
        yield Edit(f"Sway {number(100 * share, 0)} % of what it is", (replace(f"{m.path}/pose/sway", terms),))


def _level(m: Mending) -> Iterator[Edit]:
    """No lean of the body, which a leg without the joint for it passes on to its sole."""
    motion = m.project.motion(m.motion)
    if m.finding.subject != "tilt" or isinstance(motion, Keyframes) or not isinstance(motion, PhaseGait):
        return
    if motion.pose.roll_deg or motion.pose.pitch_deg:
        yield Edit("Body level", (replace(f"{m.path}/pose/roll_deg", 0.0), replace(f"{m.path}/pose/pitch_deg", 0.0)))


def _round(m: Mending) -> Iterator[Edit]:
    """A ball stands however it lies."""
    if m.finding.subject != "tilt":
        return
    edits = [
        replace(f"/walker/limbs/{i}/feet/0/sole", {"kind": "ball", "radius_mm": 8.0})
        for i, limb in enumerate(m.project.walker.limbs)
        if lies(limb)
    ]
    yield Edit("Round soles, balls of 8 mm", tuple(edits))


def _most(values: Array, r: Reading) -> Told:
    leg, at = np.unravel_index(greatest(values), values.shape)
    return float(np.degrees(values[leg, at])), float(at * r.row_s)


def _tilt_read(r: Reading) -> Told | None:
    return None if not_judged(r) else _most(r.of(sole_lie).tilt, r)


def _tilt_working(r: Reading) -> Lines:
    lie = r.of(sole_lie)
    worst = greatest(lie.tilt.max(axis=1))
    most, at = _most(lie.tilt, r)
    lines = (
        f"{r.project.walker.limbs[worst].name}: between the sole and the floor, at its most while it stands",
        f"= {number(most)}° at {seconds(at or 0.0)}",
    )
    edge = float(lie.edge_mm[worst].max())
    return (*lines, f"its edge is {length(edge)} from where the middle of the sole is") if edge else lines


def _turn_read(r: Reading) -> Told | None:
    return None if not_judged(r) else _most(np.abs(r.of(sole_lie).turned), r)


def _turn_working(r: Reading) -> Lines:
    worst = greatest(np.abs(r.of(sole_lie).turned).max(axis=1))
    name, (most, at) = r.project.walker.limbs[worst].name, _most(np.abs(r.of(sole_lie).turned), r)
    return (
        f"{name}: between where its toes point on the floor and where they should, at its most while it stands",
        f"= {number(most)}° at {seconds(at or 0.0)}",
    )


TILT = FigureSpec(
    "sole_tilt_deg", "Sole out of true", "°", 1, _tilt_read, _tilt_working, ("stride", "leg"), better=-1, compared=True
)
TURNED = FigureSpec(
    "sole_turn_deg", "Toes off", "°", 1, _turn_read, _turn_working, ("stride", "leg"), better=-1, compared=True
)

JUDGEMENT = Judgement(
    "F55",
    "Soles lie and point as planned",
    ("stride", "leg"),
    out_of_true,
    not_judged,
    figures=(TILT, TURNED),
    ways=(
        Offer(_own_toes),
        Offer(_less_sway, keep="first"),
        Offer(_level, keep="first"),
        Turn("roll", subject="tilt"),
        Turn("pitch", subject="tilt"),
        Turn("stride", up=False, subject="tilt"),
        Offer(_round, keep="first", any_motion=True),
    ),
)
