"""F57: a machine on two soles whose balance is faultless lands on the edge of one, since hip and ankle give."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from bustle.core.edits.levers import LEVERS, motion_index
from bustle.core.edits.patches import replace
from bustle.core.falling.pushing_point import not_pushing, sideways, sole_width_mm
from bustle.core.judge.figure import FigureSpec, Lines, Told
from bustle.core.judge.finding import Finding
from bustle.core.judge.judgement import Judgement
from bustle.core.judge.judgements.balance.larger_soles import broader_soles
from bustle.core.judge.ways import Edit, Mending, Offer, Turn
from bustle.core.loads.joint_torques import holding_torques, servo_loads
from bustle.core.loads.told import STOPS_ANYWHERE
from bustle.core.machine.kit import FULL_TORQUE_AT_DEG
from bustle.core.machine.masses import GRAVITY
from bustle.core.walk.reading import Reading
from bustle.core.walk.standing_polygon import standing
from bustle.core.words.wording import degrees, number, percent, seconds

# Fitted to walks played in one physics engine, six joints a leg of 90 to 470 mm that are not held against their sag: of
# 102 stopped 90 fell (9 of the others on legs under 140 mm), of 38 not stopped 8 did.
MOST_SHARE, MOST_SAG_DEG = 1.2, 0.85
CYCLES_S, AT_MM = (0.8, 2.0), 260.0
# Soles that are offered bear this much of what the hip holds.
BEARS = 1.1
# Shares of what servos give, and of a cycle, that are tried to mend it.
STIFFER, QUICKER = (0.85, 0.7, 0.55, 0.4, 0.25), (0.9, 0.8, 0.7, 0.6, 0.5)


@dataclass(frozen=True)
class OnOneSole:
    """At the row of single support where the hip rolls hardest. share: ρ = τ/(m·g·w/2); sag_deg: of hip and ankle;
    left_mm: the static margin less what the sag takes, margin − grows·h·tan(sag). Off by that, it goes on falling for
    half the time t that it stands on one sole, as a pendulum does: grows = cosh(½·t·√(g/h))."""

    row: int
    limb: int
    torque_nm: float
    share: float
    sag_deg: float
    left_mm: float
    grows: float


def judged(r: Reading) -> str | None:
    if r.project.against_sag != "off":
        return "what is sent holds it against its sag"
    return not_on_one_sole(r)


def not_on_one_sole(r: Reading) -> str | None:
    """Why nothing is told of how a hip stands over its sole."""
    if r.balance == "static":
        return STOPS_ANYWHERE
    if len(r.project.walker.legs) != 2 or r.project.walker.held != "free":
        return "it does not stand on one sole of two"
    return not_pushing(r) or (None if r.of(on_one_sole) else "it never stands on one sole")


def fall_grows(for_s: float, high_mm: float) -> float:
    """How many times as far a mass so high is beside its foot after a time t of falling, cosh(t·√(g/h))."""
    return float(np.cosh(min(for_s * np.sqrt(1000 * GRAVITY / max(high_mm, 1.0)), 20.0)))


def on_one_sole(r: Reading) -> OnOneSole | None:
    n, width = r.samples, sole_width_mm(r) / 1000
    held, give = np.abs(r.of(holding_torques)), np.abs(r.of(servo_loads).give_deg)
    servo_of = {s.first: k for k, s in enumerate(r.kit.servos)}
    single = r.course.contact[:, :n].sum(axis=0) == 1
    margin = r.of(standing).margin_mm[:n]
    best: OnOneSole | None = None
    for group in r.assembled.parts:
        rolls = np.flatnonzero(sideways(group))
        for row_, member in enumerate(group.members.tolist()):
            rows = np.flatnonzero(single & r.course.contact[member, :n])
            columns = [int(group.columns[row_][h]) for h in rolls if h < group.columns.shape[1]]
            if not len(rows) or not columns:
                continue
            torque = held[rows][:, columns[0]]
            at = int(rows[int(np.argmax(np.round(torque, 9)))])
            sag = float(sum(give[at, servo_of[c]] for c in columns if c in servo_of))
            most = float(held[at, columns[0]])
            high = float(r.course.com_ground_mm[at, 2])
            share = most / max(r.assembled.total_kg * GRAVITY * width / 2, 1e-9)
            half_s = len(rows) * r.row_s / 2
            grows = fall_grows(half_s, high)
            left = float(margin[at]) - grows * high * float(np.tan(np.radians(min(sag, 80.0))))
            if best is None or share > best.share + 1e-9:
                best = OnOneSole(at, member, most, share, sag, left, grows)
    return best


def _cycles_s(r: Reading) -> tuple[float, float]:
    """The cycles between which it has time to fall and too little to be caught."""
    leg = max(sum(k.length_mm for k in m.links) for m in r.project.walker.legs)
    return CYCLES_S[0] * float(np.sqrt(leg / AT_MM)), CYCLES_S[1] * float(np.sqrt(leg / AT_MM))


def lands_on_its_edge(r: Reading) -> Iterator[Finding]:
    """Stop where hip torque, sag, margin and pace all speak against it; warn where one of the last three does not."""
    at = r.of(on_one_sole)
    assert at
    if at.share <= MOST_SHARE:
        return
    low, high = _cycles_s(r)
    against = (at.sag_deg > MOST_SAG_DEG, at.left_mm < 0, low < r.score.duration_s < high)
    if sum(against) < 2:
        return
    name = r.project.walker.limbs[at.limb].name
    stops = all(against)
    yield Finding(
        "F57", "stop" if stops else "warn", "Lands on the edge of its sole" if stops else "May land on its sole's edge",
        f"On {name} alone its hip holds {number(at.torque_nm, 2)} N·m at {seconds(float(at.row * r.row_s))}, "
        f"{number(at.share, 1)} of what half its sole bears, and hip and ankle give {degrees(at.sag_deg)}; keep "
        f"{number(MOST_SHARE, 1)}.",
        ((name, "roll"),), float(at.row * r.row_s), at.share, MOST_SHARE, "of what half a sole bears",
    )  # fmt: skip


def _hold(m: Mending) -> Iterator[Edit]:
    yield Edit("Held against sag: full", (replace("/against_sag", "full"),))


def _broader(m: Mending) -> Iterator[Edit]:
    """Soles that bear the hip's torque."""
    at = m.reading.of(on_one_sole)
    assert at
    yield from broader_soles(m, at.torque_nm, BEARS)


def _stiffer(m: Mending) -> Iterator[Edit]:
    """Servos, or gears, that give less under the same torque."""
    for share in STIFFER:
        edits = [
            replace(
                f"/servo_types/{n}/full_torque_at_deg",
                round(share * (sheet.full_torque_at_deg or FULL_TORQUE_AT_DEG), 1),
            )
            for n, sheet in enumerate(m.project.servo_types)
        ]
        yield Edit(f"A stiffer drive: {percent(1 - share)} less give at full torque", tuple(edits))


def _quicker(m: Mending) -> Iterator[Edit]:
    """The same strides in less time, in whole rows: the lever of its pace, turned up."""
    index = motion_index(m.project, m.motion)
    for share in QUICKER:
        yield Edit(
            f"Quicker, same strides: {percent(share)} of the time",
            tuple(LEVERS["pace"].set_to(m.project, index, 100 / share)),
        )


def _read(r: Reading) -> Told | None:
    at = None if not_on_one_sole(r) else r.of(on_one_sole)
    return (at.share, float(at.row * r.row_s)) if at else None


def _working(r: Reading) -> Lines:
    at = r.of(on_one_sole)
    assert at
    low, high = _cycles_s(r)
    bears = r.assembled.total_kg * GRAVITY * sole_width_mm(r) / 2000
    share = (
        f"at {seconds(float(at.row * r.row_s))}, frozen: hip roll {number(at.torque_nm, 2)} N·m / (m·g·w/2 = "
        f"{number(bears, 2)} N·m) = {number(at.share, 2)}"
    )
    if r.project.against_sag != "off":
        return share, f"held {r.project.against_sag} against what hip and ankle give, {degrees(at.sag_deg)}"
    return (
        share,
        f"hip and ankle give {number(at.sag_deg, 2)}°, which grows by {number(at.grows, 1)} = cosh(½·t·√(g/h)) until "
        f"the other foot is down; the static margin less that is {number(at.left_mm)} mm",
        f"it falls between {seconds(low)} and {seconds(high)} a cycle",
        "limits fitted to walks played in one physics engine",
    )


SHARE = FigureSpec(
    "sole_bears", "Hip on its sole", "of its half", 2, _read, _working, ("load",), better=-1, compared=True
)

JUDGEMENT = Judgement(
    "F57",
    "Its soles bear what its hips hold",
    ("balance", "load"),
    lands_on_its_edge,
    judged,
    figures=(SHARE,),
    ways=(
        Offer(_hold, any_motion=True),
        Offer(_broader, any_motion=True),
        Offer(_stiffer, keep="first", any_motion=True),
        Offer(_quicker, keep="first"),
        Turn("pace"),
    ),
)
