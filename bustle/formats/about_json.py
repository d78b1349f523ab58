"""What a table file does not say itself, beside it: where it is from, what its columns are, what stands against it."""

from __future__ import annotations

import json
from typing import Any

from bustle.core.document.file import project_hash
from bustle.core.evaluate import Plan
from bustle.core.falling.fall import fall_told
from bustle.core.judge.playing import judged, told
from bustle.core.servo.joint_table import Table
from bustle.core.walk.motions.own_ends import at_speed

HOLDS = "joint angles, positive by the right hand about each joint's axis"


def about_values(plan: Plan, table: Table) -> dict[str, Any]:
    r = plan.reading
    known = told(r)
    return {
        "format": "bustle-about",
        "version": 1,
        "walker": table.project,
        "says": project_hash(r.project),
        "motion": table.motion,
        "rows": len(table.values),
        "row_s": table.row_s,
        "duration_s": table.duration_s,
        "repeats": table.repeats,
        "columns": [{"name": c, "unit": u} for c, u in zip(table.columns, table.units, strict=True)],
        "holds": HOLDS if table.of_joints else "what each servo is told, in the unit of its column",
        "geared": list(table.geared),
        "channels": list(table.channels),
        "assumed": [*filter(None, [table.held.removeprefix(", ")]), *table.assumed],
        "cut": list(table.cut),
        "stop_switch": r.project.electrics.stop_switch and r.project.electrics.stop_switch.model_dump(mode="json"),
        "at_speed": at_speed(r.project).get(table.motion),
        "if_it_falls": list(fall_told(r)),
        "cannot_be_played": known.refused,
        "stops": [{"code": f.code, "sentence": f.message} for f in (*known.bench, *known.stops)],
        "judged": judged(r),
    }


def write_about(plan: Plan, table: Table) -> bytes:
    return (json.dumps(about_values(plan, table), ensure_ascii=False, indent=1) + "\n").encode()
