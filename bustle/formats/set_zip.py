"""The whole set of motions in one archive: a table for each, and set.json, which says how they belong together.

set.json lists every motion with its kind, duration, rows and twist; the groups of gaits that may be blended row by row
(same timing and rows); the control map; the soft start, joint by joint; and the fail-safe pose. Entries are dated at
the beginning of the archive format's own time, so that the same project gives the same bytes.
"""

from __future__ import annotations

import io
import json
import zipfile
from dataclasses import dataclass
from typing import Any

from bustle.core.document.checked import CheckedProject
from bustle.core.evaluate import Plan, evaluate
from bustle.core.judge.playing import CannotBePlayed, told
from bustle.core.machine.joints_and_servos import JointName
from bustle.core.machine.kit import kit_of
from bustle.core.project.motion import PhaseGait, Programme, Transition
from bustle.core.servo.power_on_order import Switch, soft_start
from bustle.core.walk.motions.lifting_rule import RULE, WALKING_BY_IT
from bustle.formats import write_table
from bustle.formats.c_table import identifier
from bustle.formats.table_format import TableFormat

EPOCH = (1980, 1, 1, 0, 0, 0)


@dataclass(frozen=True)
class LeftOut:
    """A motion that is not in the archive, and why."""

    motion: str
    code: str
    sentence: str


def left_out(plans: dict[str, Plan]) -> tuple[LeftOut, ...]:
    """The motions with a stop against them, each with its first."""
    stops = ((name, told(plan.reading).stops) for name, plan in plans.items())
    return tuple(LeftOut(name, found[0].code, found[0].message) for name, found in stops if found)


def write_set(
    project: CheckedProject, kind: TableFormat, decimals: int = 2, anyway: bool = False, values: str = "angles"
) -> tuple[bytes, tuple[LeftOut, ...]]:
    """Every motion of the project that may be played as a table, with set.json; and those left out.

    anyway: those with a stop too. values: as of a table. Raises CannotBePlayed where nothing would be left.
    """
    plans = {m.name: evaluate(project, m.name) for m in project.motions}
    out = () if anyway else left_out(plans)
    for one in out:
        del plans[one.motion]
    if out and not plans:
        raise CannotBePlayed(f"A stop stands against every motion. {out[0].motion}: {out[0].code} {out[0].sentence}")
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w", zipfile.ZIP_DEFLATED) as archive:
        told = {**set_values(project, plans, kind), "values": values, "left_out": [vars(one) for one in out]}
        _add(archive, "set.json", json.dumps(told, ensure_ascii=False, indent=1).encode())
        for n, (name, plan) in enumerate(plans.items()):
            _add(archive, file_name(n, name, kind), write_table(plan, kind.name, decimals, anyway, values=values))
    return buffer.getvalue(), out


def file_name(number: int, motion: str, kind: TableFormat) -> str:
    """Numbered, as two names may come to one identifier."""
    return f"{number + 1:02d}_{identifier(motion)}{kind.suffix}"


def _add(archive: zipfile.ZipFile, name: str, data: bytes) -> None:
    archive.writestr(zipfile.ZipInfo(name, EPOCH), data, zipfile.ZIP_DEFLATED)


def set_values(project: CheckedProject, plans: dict[str, Plan], kind: TableFormat) -> dict[str, Any]:
    start, named = soft_start(project), {j.path: j for j in kit_of(project).joints}
    return {
        "format": "bustle-set",
        "version": 1,
        "walker": project.name,
        "row_period_ms": project.controller.frame_period_ms,
        "motions": [_motion(project, n, name, plan, kind) for n, (name, plan) in enumerate(plans.items())],
        "blend_groups": blend_groups(project),
        "controls": [c.model_dump(mode="json") for c in project.controls],
        "start": {
            "pose": start.pose,
            "takes_s": round(start.takes_s, 3),
            "switch_on": [_switched_on(s, named[s.joint]) for s in start.switches],
        },
        "fail_safe": project.start_up.fail_safe or start.pose,
        # What stands against the machine as it is wired and fitted, whatever it plays.
        "bench": [
            {"code": f.code, "sentence": f.message}
            for plan in list(plans.values())[:1]
            for f in told(plan.reading).bench
        ],
        "next_leg_rule": [*RULE, *WALKING_BY_IT],
    }


def _switched_on(switch: Switch, joint: JointName) -> dict[str, Any]:
    """As its tables have it."""
    to = joint.sign * switch.to + 0.0
    return {"at_s": switch.at_s, "servo": switch.servo, "joint": joint.called, "to": to, "unit": switch.unit}


def _motion(project: CheckedProject, number: int, name: str, plan: Plan, kind: TableFormat) -> dict[str, Any]:
    e = plan.reading
    motion = project.motion(name)
    known = told(e)
    values: dict[str, Any] = {
        "name": name,
        "kind": motion.kind,
        "file": file_name(number, name, kind),
        "duration_s": e.score.duration_s,
        "rows": e.samples,
        "repeats": e.score.periodic,
        "stops": sorted({f.code for f in known.stops}),
        "not_judged": known.unjudged,
    }
    if isinstance(motion, PhaseGait):
        values["twist"] = motion.twist.model_dump(mode="json")
        values["gait"] = motion.gait
    if isinstance(motion, Programme):
        # For a controller that plays the parts' own tables instead of the whole.
        values["flows"] = motion.flows
        values["parts"] = [part.model_dump(mode="json") for part in motion.parts]
    if isinstance(motion, Transition):
        values["flows"] = motion.flows
        values["start"], values["end"] = (at.model_dump(mode="json") for at in (motion.start, motion.end))
    return values


def blend_groups(project: CheckedProject) -> list[list[str]]:
    """Gaits whose legs are timed alike over the same cycle: rows of their tables may be mixed in any proportion, as the
    feet of all of them stand and swing together."""
    groups: dict[tuple[Any, ...], list[str]] = {}
    for m in project.motions:
        if isinstance(m, PhaseGait) and not m.pauses and not m.stands:
            key = (m.cycle_s, m.inverted, tuple((leg.limb, leg.phase, leg.duty) for leg in m.legs))
            groups.setdefault(key, []).append(m.name)
    return [names for names in groups.values() if len(names) > 1]
