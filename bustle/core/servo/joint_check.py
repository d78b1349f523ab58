"""The joint check: one servo at a time about its own middle, before any walk.

3° both ways, then 10°, slowly; from the foot up in each leg; all other outputs off, all off at the end. It turns about
the servo's middle and never about a planned angle, so that what is wrong in the plan cannot carry a joint into its
stop. What must be seen is told from the machine's own geometry: which way the end of the leg goes.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from itertools import pairwise

import numpy as np

from bustle.core.at_rest.posed_joints import centred_joints
from bustle.core.document.checked import CheckedProject, parse_project
from bustle.core.geometry.arrays import Array
from bustle.core.geometry.serial_chain import forward
from bustle.core.machine.joints_and_servos import servos_turned
from bustle.core.machine.kit import kit_of
from bustle.core.project.electrics import Fitted
from bustle.core.project.project import Project, document
from bustle.core.servo.channel_map import first_free, wired
from bustle.core.servo.fitted_servos import ServoAt, servos_at
from bustle.core.servo.joint_table import Table
from bustle.core.servo.pulses import map_of
from bustle.core.words.problems import refuse

SWINGS_DEG = (3.0, 10.0)
DEG_S = 12.0
REST_S = 0.6
# Where an output is off: no pulse, no tick; a bus count below any that is sent.
OFF = 0.0
OFF_COUNT = -1.0

WAYS = (("forward", "back"), ("left", "right"), ("up", "down"))


@dataclass(frozen=True)
class Check:
    """One servo's turn: from row `first` on; sees: what must be seen when it first turns 3° one way."""

    servo: ServoAt
    first: int
    rows: int
    sees: str


@dataclass(frozen=True)
class JointCheck:
    table: Table
    checks: tuple[Check, ...]


def in_order(project: Project, limb: str | None) -> list[ServoAt]:
    """From the foot up in each limb. Raises InputRefused for a limb that has no servo."""
    kit = kit_of(project)
    limbs = {m.name: n for n, m in enumerate(project.walker.limbs)}
    servos = [s for s in servos_at(project) if limb is None or s.joint.partition("/")[0] == limb]
    if not servos:
        known = ", ".join(dict.fromkeys(s.joint.partition("/")[0] for s in servos_at(project)))
        raise refuse("limb", f"{(limb or '')[:40]!r} has no servo; those that have: {known}")
    return sorted(servos, key=lambda s: (limbs[s.joint.partition("/")[0]], -kit.column_of[s.joint]))


def swing_deg(frame_s: float) -> Array:
    """(n,) the horn's angle about its middle, row by row: 0, ±3°, 0, ±10°, 0."""
    corners = [0.0]
    for swing in SWINGS_DEG:
        corners += [swing, -swing, 0.0]
    rows: list[float] = []
    for start, end in pairwise(corners):
        rows += [start] * max(1, round(REST_S / frame_s))
        moving = max(1, round(abs(end - start) / DEG_S / frame_s))
        rows += [start + (end - start) * (k + 1) / moving for k in range(moving)]
    return np.array([*rows, *[0.0] * max(1, round(REST_S / frame_s))])


def joint_check(project: Project, limb: str | None = None, ticks: bool = False) -> JointCheck:
    """A table that moves one servo after another. limb: of that limb alone.

    Raises InputRefused for a limb without servos, and for ticks without a board.
    """
    servos = in_order(project, limb)
    # Its own middle: neither tooth nor trim, which belong to the plan.
    bare = map_of([replace(s, fitted=Fitted(place=s.place)) for s in servos], project)
    if ticks and not (bare.bus | (bare.ticks_per_us > 0)).all():
        raise refuse("values", "ticks need a pulse board, and not every servo here is wired to one; take pulses")
    frame_s = project.controller.frame_period_ms / 1000
    swing = np.radians(swing_deg(frame_s))
    rest = max(1, round(REST_S / frame_s))
    each = len(swing) + rest
    off = np.where(bare.bus, OFF_COUNT, OFF)
    values = np.tile(off, (each * len(servos) + rest, 1))
    moved = bare.told(np.tile(swing[:, None], (1, len(servos))))
    sent = bare.sent(moved) if ticks else np.round(np.where(bare.bus, np.rint(moved), moved), 1)
    checks = []
    for n, servo in enumerate(servos):
        first = n * each
        values[first : first + len(swing), n] = sent[:, n]
        checks.append(Check(servo, first, len(swing), must_be_seen(project, servo)))
    motion = f"Joint check {limb}" if limb else "Joint check"
    table = Table(
        project=project.name,
        motion=motion,
        duration_s=(len(values) - 1) * frame_s,
        row_s=frame_s,
        repeats=False,
        decimals=0 if ticks else 1,
        time_s=np.asarray(np.arange(len(values)) * frame_s, dtype=np.float64),
        columns=tuple(s.place.replace(" ", "_") for s in servos),
        units=tuple("count" if s.bus else "tick" if ticks else "us" for s in servos),
        geared=tuple(f"{c.servo.place}: from row {c.first + 1}; {c.sees}" for c in checks),
        values=values,
        assumed=("about each servo's own middle; 0 is off, and −1 on a bus",),
        channels=tuple(s.goes_to for s in servos),
    )
    return JointCheck(table, tuple(checks))


def must_be_seen(project: Project, servo: ServoAt) -> str:
    """Which way the end of its limb goes when the horn first turns on from its middle."""
    at, moved = limb_turned(project, servo, 1.0)
    return f"{servo.joint.replace('/', ' ')} goes {_way(moved[-1] - at[-1])}"


def limb_turned(project: Project, servo: ServoAt, horn_deg: float) -> tuple[Array, Array]:
    """(P, 3) mm, body frame: the limb with all servos centred, and with this one's horn turned on by so much."""
    kit = kit_of(project)
    centred = centred_joints(project.walker)
    turned = servos_turned(kit.gearings, centred, np.radians(horn_deg))
    number = next(n for n, s in enumerate(kit.servos) if s.name == servo.place)
    column = kit.column_of[servo.joint]
    group, row = next((g, g.columns.tolist().index(c)) for g in kit.assembled({}).parts
                      for c in g.columns.tolist() if column in c)  # fmt: skip
    section = next((t.section for t in kit.turners if t.column == column), None)
    if section is not None:
        # Behind it there is a section of the frame alone: its middle is what is seen to go.
        bends = np.degrees([centred[column], turned[number][column]])
        places = [kit.assembled({}, (kit.held_at(column, float(bend)),)).sections[section] for bend in bends]
        hinge = next(s.hinge for s in project.walker.sections if s.name == section)
        assert hinge is not None
        pivots = [p.carry(-np.array(hinge.to_mm)) for p in places]
        return np.stack([pivots[0], places[0].at]), np.stack([pivots[1], places[1].at])
    both = np.stack([centred, turned[number]])[:, group.columns]
    points, _ = forward(group.build.chain, np.moveaxis(both, 1, 0))
    return points[row, 0], points[row, 1]


def _way(step: Array) -> str:
    axis = int(np.argmax(np.abs(step)))
    return WAYS[axis][0 if step[axis] > 0 else 1].upper()


def answered(
    project: CheckedProject, place: str, saw: str, instead: str | None, seen_on: str, table: str
) -> CheckedProject:
    """The project with what was seen of a place when it was told to move. Nothing else changes: see `mended`.

    Raises InputRefused for a place that is not there, and for "another" without which.
    """
    servos = {s.place: s for s in servos_at(project)}
    if place not in servos:
        raise refuse("place", f"{place[:60]!r} is no servo of this walker")
    if saw == "another" and (instead is None or instead not in servos or instead == place):
        raise refuse("instead", "say which servo moved in its stead")
    values = document(project)
    electrics = values["electrics"]
    electrics["seen"] = [s for s in electrics["seen"] if s["place"] != place]
    entry = {"place": place, "saw": saw, "instead": instead if saw == "another" else None}
    electrics["seen"].append({**entry, "seen_on": seen_on, "table": table})
    return parse_project(values)


def mended(project: CheckedProject, place: str) -> CheckedProject:
    """What was seen of a place, set right: its direction turned round; its channel and that of the one which moved in
    its stead swapped; a channel that is dead left for one that is free. It is then to be seen once more.

    Raises InputRefused where nothing was seen wrong, and where no channel is free.
    """
    seen = next((s for s in project.electrics.seen if s.place == place), None)
    if seen is None or seen.saw == "as_told":
        raise refuse("place", f"nothing was seen wrong with {place[:60]}")
    servos = {s.place: s for s in servos_at(project)}
    both = {place}
    if seen.saw == "another":
        other = servos[seen.instead or ""]
        if servos[place].board is None or other.board is None or other.channel is None:
            raise refuse("instead", f"{place} and {seen.instead} need channels before they can be swapped")
        project = wired(project, place, other.board.name, other.channel)
        both.add(other.place)
    elif seen.saw == "nothing":
        free = first_free(project, place)
        if free is None:
            raise refuse("place", f"no channel is free for {place}; add a board")
        project = wired(project, place, *free)
    values = document(project)
    electrics = values["electrics"]
    if seen.saw == "other_way":
        item = next((i for i in electrics["items"] if i["place"] == place), None)
        if item is None:
            item = {"name": place, "type": servos[place].sheet.name, "place": place, "direction": 1}
            electrics["items"].append(item)
        item["direction"] = -int(item["direction"])
    for entry in electrics["seen"]:
        if entry["place"] in both and entry["saw"] != "as_told":
            entry["mended"] = True
    return parse_project(values)


def left_to_check(project: Project) -> list[str]:
    """Places that have not been seen to do as they were told."""
    done = {s.place for s in project.electrics.seen if s.saw == "as_told"}
    return [s.name for s in kit_of(project).servos if s.name not in done]
