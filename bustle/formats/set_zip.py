"""The whole set of motions in one archive: a table for each, and set.json, which says how they belong together.

set.json lists every motion with its kind, duration, rows and twist; the groups of gaits that may be blended row by row
(same timing and rows); the control map; the soft start, joint by joint; and the fail-safe pose. Entries are dated at
the beginning of the archive format's own time, so that the same project gives the same bytes.
"""

from __future__ import annotations

import io
import json
import zipfile
from typing import Any

from bustle.core.document.checked import CheckedProject
from bustle.core.evaluate import Plan, evaluate
from bustle.core.project.motion import PhaseGait, Programme, Transition
from bustle.core.servo.power_on_order import soft_start
from bustle.core.walk.joint_table import joint_table
from bustle.core.walk.motions.lifting_rule import RULE, WALKING_BY_IT
from bustle.formats.c_table import identifier
from bustle.formats.table_format import TableFormat

EPOCH = (1980, 1, 1, 0, 0, 0)


def write_set(project: CheckedProject, kind: TableFormat, decimals: int = 2) -> bytes:
    """Every motion of the project as a table, with set.json."""
    plans = {m.name: evaluate(project, m.name) for m in project.motions}
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w", zipfile.ZIP_DEFLATED) as archive:
        _add(archive, "set.json", json.dumps(set_values(project, plans, kind), ensure_ascii=False, indent=1).encode())
        for n, (name, plan) in enumerate(plans.items()):
            table = joint_table(plan.reading, decimals if kind.decimals is None else kind.decimals)
            _add(archive, file_name(n, name, kind), kind.write(table))
    return buffer.getvalue()


def file_name(number: int, motion: str, kind: TableFormat) -> str:
    """Numbered, as two names may come to one identifier."""
    return f"{number + 1:02d}_{identifier(motion)}{kind.suffix}"


def _add(archive: zipfile.ZipFile, name: str, data: bytes) -> None:
    archive.writestr(zipfile.ZipInfo(name, EPOCH), data, zipfile.ZIP_DEFLATED)


def set_values(project: CheckedProject, plans: dict[str, Plan], kind: TableFormat) -> dict[str, Any]:
    start = soft_start(project)
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
            "switch_on": [
                {"at_s": s.at_s, "servo": s.servo, "joint": s.joint, "to": s.to, "unit": s.unit} for s in start.switches
            ],
        },
        "fail_safe": project.start_up.fail_safe or start.pose,
        "next_leg_rule": [*RULE, *WALKING_BY_IT],
    }


def _motion(project: CheckedProject, number: int, name: str, plan: Plan, kind: TableFormat) -> dict[str, Any]:
    e = plan.reading
    motion = project.motion(name)
    values: dict[str, Any] = {
        "name": name,
        "kind": motion.kind,
        "file": file_name(number, name, kind),
        "duration_s": e.score.duration_s,
        "rows": e.samples,
        "repeats": e.score.periodic,
        "stops": sorted({code for code, *_ in plan.stops}),
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
