"""A plan as the screen wants it: one buffer, a JSON head and 32-bit floats.

Layout: 4 bytes, the head's length (little-endian); the head, padded with spaces to a multiple of four bytes;
the floats. The head's `arrays` give name, shape and offset (in floats) of each. Points are in the travel frame,
in which the walker stays put and the floor moves, so that a cycle can be played round and round.
"""

from __future__ import annotations

import numpy as np
import orjson

from bustle.core.evaluate import Plan
from bustle.core.geometry.arrays import Array
from bustle.core.geometry.planar_twist import bring_back
from bustle.core.machine.sections import section_places
from bustle.core.machine.soles import corners, sole_turn
from bustle.core.walk.course import to_ground
from bustle.core.walk.reading import Evidence
from bustle.core.walk.scores_in_a_row import Chained


def picture(plan: Plan) -> bytes:
    e = plan.evidence
    arrays = _arrays(e)
    listing, offset = [], 0
    for name, array in arrays.items():
        listing.append({"name": name, "shape": array.shape, "offset": offset})
        offset += array.size
    head = orjson.dumps({**_head(plan), "arrays": listing}, option=orjson.OPT_SERIALIZE_NUMPY)
    head += b" " * (-len(head) % 4)
    body = [np.ascontiguousarray(a, dtype="<f4").tobytes() for a in arrays.values()]
    return b"".join([len(head).to_bytes(4, "little"), head, *body])


def _arrays(e: Evidence) -> dict[str, Array]:
    n, course = e.samples, e.course
    points = np.concatenate([to_ground(course.body, np.moveaxis(p, 1, 0)) for p in course.solved.points])
    polygon = e.support.corners
    times = np.array([e.time_at(k) for k in range(len(course.time_s))])
    order = np.argsort(times, kind="stable")
    margin = np.where(e.support.supported, e.support.margin_mm, 0.0)
    return {
        "time_s": course.time_s[:n],
        "points": _in_travel(e, np.moveaxis(points, 0, 1))[:n],
        "frame": _in_travel(e, np.moveaxis(_corners(e), 0, 1))[:n],
        "soles": _soles(e),
        "travel": np.stack(course.body.travel, axis=-1)[:n],
        "com": _in_travel(e, course.com_ground_mm[:, None])[:n, 0],
        "polygon": _in_travel(e, np.concatenate([polygon, np.zeros((*polygon.shape[:2], 1))], axis=2))[:n, :, :2],
        "polygon_count": e.support.count[:n].astype(float),
        "contact": course.contact.T[:n].astype(float),
        "joints_deg": e.angles * e.scale,
        "rates_deg_s": e.rates * e.scale,
        "margin_mm": margin[:n],
        "trace_time_s": times[order],
        "trace_margin_mm": margin[order],
        "trace_supported": e.support.supported[order].astype(float),
    }


def _in_travel(e: Evidence, points: Array) -> Array:
    """Ground-frame points (S + 2E, P, 3) seen from the travel frame."""
    x, y, theta = (v[:, None] for v in e.course.body.travel)
    seen = bring_back((x, y, theta), points[..., 0], points[..., 1])
    return np.stack([*seen, points[..., 2]], axis=-1)


def _corners(e: Evidence) -> Array:
    """(8 a section, S, 3) mm: the sections' boxes in the ground frame, the body's first; each its lower four first,
    counter-clockwise from back right."""
    signs = np.array([(x, y, z) for z in (-1, 1) for x, y in ((-1, -1), (1, -1), (1, 1), (-1, 1))])
    places = section_places(e.project.walker, e.bends_deg)
    boxes = [places[s.name].carry(signs * np.array(s.size_mm) / 2) for s in e.project.walker.sections]
    points = np.concatenate(boxes)
    return to_ground(e.course.body, np.broadcast_to(points[:, None], (len(points), len(e.course.time_s), 3)))


def _soles(e: Evidence) -> Array:
    """(S, 4 a flat sole, 3) mm in the travel frame: the corners of soles that are flat, to draw."""
    course, found = e.course, []
    for i, limb in enumerate(e.project.walker.limbs):
        if limb.feet and limb.feet[0].sole.kind == "rectangle":
            end = to_ground(course.body, course.solved.points[i][:, -1])
            turn = sole_turn(limb, course.body.turn @ course.solved.end_turns(i), course.headings[i])
            found.append(corners(limb.feet[0], end, turn))
    if not found:
        return np.zeros((e.samples, 0, 3))
    return _in_travel(e, np.moveaxis(np.concatenate(found), 0, 1))[: e.samples]


def _head(plan: Plan) -> dict:
    e = plan.evidence
    start = 0
    legs = []
    for limb, joints, stroke, points in zip(
        e.project.walker.limbs, e.slices, e.score.stroke_mm, e.course.solved.points, strict=True
    ):
        count = points.shape[1]
        legs.append(
            {
                "name": limb.name,
                "points": [start, start + count],
                "joints": [joints.start, joints.stop],
                "joint_names": [j.name for j in limb.joints],
                "role": "leg" if limb.steps else "support" if limb.passive else "arm",
                "stroke_mm": float(stroke),
            }
        )
        start += count
    speeds = {c: s.sheet.no_load_speed_deg_s for s in e.servos for c in s.columns}
    return {
        "motion": e.motion.name,
        "kind": e.motion.kind,
        "repeats": e.score.periodic,
        "balance": e.balance,
        "pieces": [
            {"name": p.name, "start_s": p.start_s} for p in (e.score.pieces if isinstance(e.score, Chained) else ())
        ],
        "footprints": footprints(e),
        "budgets": [
            {
                "leg": e.project.walker.limbs[b.limb].name,
                "height_mm": b.height_mm,
                "sag_mm": b.sag_mm,
                "droop_mm": b.droop_mm,
                "uneven_mm": b.uneven_mm,
                "left_mm": b.left_mm,
                "assumed": b.assumed,
            }
            for b in e.budgets
        ],
        "cycle_s": e.score.duration_s,
        "samples": e.samples,
        "legs": legs,
        "joint_limits_deg": [[j.low * j.scale, j.high * j.scale] for j in e.joints],
        "joint_speed_deg_s": [speeds.get(c) for c in range(len(e.joints))],
        "worst": None if e.worst_margin is None else {"margin_mm": e.worst_margin[0], "time_s": _time(e)},
        "figures": [
            {
                "name": f.name,
                "label": f.label,
                "value": f.value,
                "unit": f.unit,
                "digits": f.digits,
                "working": f.working,
                "time_s": f.time_s,
            }
            for f in plan.figures
        ],
        "findings": [
            {
                "code": f.code,
                "severity": f.severity,
                "title": f.title,
                "message": f.message,
                "subject": f.subject,
                "where": f.where,
            }
            for f in plan.findings
        ],
    }


def footprints(e: Evidence) -> list[list[float]]:
    """Where each foot was put down, in order: [limb, x, y] in the ground frame. Only of motions with an end."""
    if e.score.periodic:
        return []
    found = []
    for i, limb in enumerate(e.project.walker.limbs):
        if not limb.steps:
            continue
        down = e.course.contact[i, : e.samples]
        put = np.flatnonzero(down & ~np.concatenate([[False], down[:-1]]))
        for k in put:
            x, y = e.course.feet_ground_mm[i, k, :2]
            found.append([float(i), round(float(x), 1), round(float(y), 1)])
    return found


def _time(e: Evidence) -> float:
    assert e.worst_margin
    return e.time_at(e.worst_margin[1])
