"""A plan as the screen wants it: one buffer, a JSON head and 32-bit floats (see `picture_head`).

Points are in the travel frame, in which the walker stays put and the floor moves, so that a cycle can be played round
and round.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import Any

import numpy as np
import orjson

from bustle.core.at_rest.joint_axes import joint_axes
from bustle.core.evaluate import Plan
from bustle.core.geometry.arrays import Array
from bustle.core.geometry.planar_twist import bring_back
from bustle.core.geometry.serial_chain import seen_from_travel
from bustle.core.judge.figure import Figure
from bustle.core.judge.judgements.ground.foot_catches import LEFT_UNDER_FOOT
from bustle.core.judge.measures.feet.swing_clearance import clearances, swings
from bustle.core.judge.measures.joint_rates import joint_rates
from bustle.core.judge.measures.lead_lengths import lead_ways
from bustle.core.judge.measures.margins.worst_margin import worst_margin
from bustle.core.judge.registry import CARRYING, FIGURES, JUDGEMENTS, shown_at, told_at
from bustle.core.loads.held_against_sag import sent_joints
from bustle.core.machine.masses import Entry, place_of
from bustle.core.walk.foot_outlines import ball_mm, foot_outlines
from bustle.core.walk.motions.own_ends import at_speed
from bustle.core.walk.plumb import over_floor
from bustle.core.walk.reading import Reading
from bustle.core.walk.scores_in_a_row import Chained
from bustle.core.walk.standing_polygon import standing
from bustle.web.drawn.load_picture import halted_arrays, lean_arrays, load_arrays, load_view, pushing_arrays
from bustle.web.said import picture_head as head


def picture(plan: Plan, station: str | None = None, rest: Plan | None = None) -> bytes:
    """The plan with all its findings and figures, or with what is needed while a handle is dragged at a station. rest:
    the same machine at rest, of which one instant is put beside it."""
    plan = _as_asked(plan, station)
    layout = _layout(plan.reading, rest)
    return _packed(
        _told(plan, station, layout), _drawn_arrays(plan.reading, rest) | _told_arrays(plan.reading, station)
    )


def drawn_first(plan: Plan, station: str | None = None, rest: Plan | None = None) -> Iterator[bytes]:
    """The same in two buffers: what is drawn, before anything is judged, and then the rest."""
    plan = _as_asked(plan, station)
    layout = _layout(plan.reading, rest)
    yield _packed(head.DrawnHead.model_construct(**layout), _drawn_arrays(plan.reading, rest))
    yield _packed(_told(plan, station, layout), _told_arrays(plan.reading, station))


def _as_asked(plan: Plan, station: str | None) -> Plan:
    # What a table is held against is part of its angles.
    if station in (None, CARRYING) or plan.reading.project.against_sag != "off":
        return plan
    return Plan(plan.reading.in_a_hurry())


def _packed(its_head: head.DrawnHead, arrays: Mapping[str, Array]) -> bytes:
    """A buffer with these arrays, and where they are in its head."""
    body = np.empty(sum(array.size for array in arrays.values()), dtype="<f4")
    offset = 0
    for name, array in arrays.items():
        its_head.arrays.append(head.ArrayPlace(name=name, shape=list(array.shape), offset=offset))
        body[offset : offset + array.size].reshape(array.shape)[...] = array
        offset += array.size
    text = orjson.dumps(its_head.__dict__, option=orjson.OPT_SERIALIZE_NUMPY)
    text += b" " * (-len(text) % 4)
    return b"".join([len(text).to_bytes(4, "little"), text, body.data])


def _drawn_arrays(r: Reading, rest: Plan | None) -> dict[str, Array]:
    return _course(r) | (_at_rest(rest.reading) if rest else {})


def _told_arrays(r: Reading, station: str | None) -> dict[str, Array]:
    """What is drawn only once it is known what servos are told, and what things hold."""
    arrays = {
        "joints_deg": r.of(sent_joints) * r.kit.scale,
        "rates_deg_s": r.of(joint_rates) * r.kit.scale,
    }
    if station in (None, "load"):
        arrays |= load_arrays(r)
    if station in (None, "balance", "timing"):
        arrays |= pushing_arrays(r) | lean_arrays(r) | halted_arrays(r)
    return arrays


def _course(r: Reading) -> dict[str, Array]:
    n, course, held = r.samples, r.course, r.of(standing)
    times = r.times
    order = np.argsort(times, kind="stable")
    margin = np.where(held.supported, held.margin_mm, 0.0)
    flat = np.zeros((n, held.corners.shape[1], 3))
    flat[..., :2] = held.corners[:n]
    points, frame = np.split(_machine(r), [sum(p.shape[1] for p in course.solved.points)], axis=1)
    rest = _in_travel(r, np.concatenate([flat, course.com_ground_mm[:n, None]], axis=1))
    sloping = {"plumb": _in_travel(r, r.of(over_floor)[:n, None])[:, 0]} if r.project.floor.slope_deg else {}
    return sloping | {
        "time_s": course.time_s[:n],
        "points": points,
        "frame": frame,
        "soles": _soles(r),
        "travel": np.stack(course.body.travel, axis=-1)[:n],
        "com": rest[:, -1],
        "polygon": rest[:, :-1, :2],
        "polygon_count": held.count[:n].astype(float),
        "contact": course.contact.T[:n].astype(float),
        "margin_mm": margin[:n],
        "trace_time_s": times[order],
        "trace_margin_mm": margin[order],
        "trace_supported": held.supported[order].astype(float),
    }


def _at_rest(r: Reading) -> dict[str, Array]:
    """Limbs, frame, soles and centre of mass of the first instant."""
    points, frame = np.split(_machine(r)[:1], [sum(p.shape[1] for p in r.course.solved.points)], axis=1)
    com = _in_travel(r, r.course.com_ground_mm[:1, None])
    body, solved = r.course.body, r.course.solved
    servos = [place_of(entry, solved)[:1] for entry in _servos(r)]
    ways = [way[:, :1] for way in r.of(lead_ways)]

    axes = joint_axes(r.assembled.parts, solved)

    def drawn(places: list[Array]) -> Array:
        """(N, 1, 3) each, body frame → (1, ΣN, 3), travel frame."""
        local = np.swapaxes(np.concatenate([np.zeros((0, 1, 3)), *places]), 0, 1)
        return _in_travel(r, local @ np.swapaxes(body.turn[:1], -1, -2) + body.at[:1, None])

    return {
        "rest_points": points,
        "rest_frame": frame,
        "rest_soles": _soles(r)[:1],
        "rest_com": com[:, 0],
        "rest_servos": drawn([place[None] for place in servos]),
        "rest_leads": drawn(ways),
        "rest_joints": drawn([axes[:, 0, None], axes[:, 2, None]]),
        "rest_axes": axes[:, 1] @ body.turn[0].T,
        "rest_joints_deg": r.angles[0] * r.kit.scale,
    }


def _machine(r: Reading) -> Array:
    """(S, P, 3) in the travel frame: every limb's points, then the outlines of the frame's sections, the body first."""
    n, body, solved = r.samples, r.course.body, r.course.solved
    outlines = (solved.carried(s.name, o) for s, o in zip(r.project.walker.sections, _outlines(r), strict=True))
    local = [*(p[:n].T for p in solved.points), *(o[:, :n].transpose(2, 0, 1) for o in outlines)]
    x, y, theta = (v[:n] for v in body.travel)
    return seen_from_travel(body.at[:n], body.turn[:n], x, y, theta, np.concatenate(local, axis=1))


def _sections(r: Reading) -> list[head.SectionLayout]:
    ends = np.cumsum([0, *map(len, _outlines(r))]).tolist()
    names = [s.name for s in r.project.walker.sections]
    return [head.SectionLayout(name=name, points=(ends[n], ends[n + 1])) for n, name in enumerate(names)]


def _outlines(r: Reading) -> list[Array]:
    """Each section's rims (2K, 3) mm in the body frame, where it was put together."""
    return list(r.assembled.rims.values())


def _in_travel(r: Reading, points: Array) -> Array:
    """Ground-frame points (S, P, 3) seen from the travel frame."""
    x, y, theta = (v[: len(points), None] for v in r.course.body.travel)
    seen = points.copy()
    seen[..., 0], seen[..., 1] = bring_back((x, y, theta), points[..., 0], points[..., 1])
    return seen


def _soles(r: Reading) -> Array:
    """(S, P, 3) mm in the travel frame: the outlines of soles and wheels one after the other."""
    every = np.concatenate([np.zeros((0, r.samples, 3)), *r.of(foot_outlines)])
    return _in_travel(r, np.moveaxis(every, 0, 1))


def _servos(r: Reading) -> list[Entry]:
    """The servos among the masses; those that weigh nothing are nowhere."""
    return [entry for entry in r.assembled.masses if entry.servo]


def _carried(r: Reading) -> tuple[list[str], list[head.LeadLayout]]:
    """What `rest_servos` and `rest_leads` are of."""
    ends = np.cumsum([0, *(len(way) for way in r.of(lead_ways))]).tolist()
    leads = [
        head.LeadLayout(name=lead.name, points=(ends[n], ends[n + 1])) for n, lead in enumerate(r.project.walker.leads)
    ]
    return [entry.name for entry in _servos(r)], leads


def _layout(r: Reading, rest: Plan | None) -> dict[str, Any]:
    """The fields of a `DrawnHead`."""
    servos, leads = _carried(rest.reading) if rest else ([], [])
    speeds = {c: s.sheet.no_load_speed_deg_s for s in r.kit.servos for c in s.columns}
    return {
        "motion": r.motion.name,
        "kind": r.motion.kind,
        "repeats": r.score.periodic,
        "balance": r.balance,
        "pieces": [
            head.PieceView(name=p.name, start_s=p.start_s)
            for p in (r.score.pieces if isinstance(r.score, Chained) else ())
        ],
        "footprints": footprints(r),
        "cycle_s": r.score.duration_s,
        "samples": r.samples,
        "sections": _sections(r),
        "soles": [len(found) for found in r.of(foot_outlines)],
        "legs": _legs(r),
        "joint_limits_deg": (np.stack([r.kit.low, r.kit.high], axis=1) * r.kit.scale[:, None]).tolist(),
        "joint_speed_deg_s": [speeds.get(c) for c in range(len(r.kit.joints))],
        "servos": servos,
        "leads": leads,
        "arrays": [],
    }


def _told(plan: Plan, station: str | None, layout: dict[str, Any]) -> head.PictureHead:
    r = plan.reading
    names = FIGURES.keys() if station is None else shown_at(station)[1]
    codes, found = (tuple(JUDGEMENTS), plan.findings) if station is None else told_at(r, station)
    worst = r.of(worst_margin) if r.balance == "static" else None
    return head.PictureHead.model_construct(
        **layout | {"arrays": []},
        clearances=_clearances(r) if LEFT_UNDER_FOOT.name in names else [],
        worst=None if worst is None else head.WorstMargin(margin_mm=worst[0], time_s=r.time_at(worst[1])),
        whole=station is None,
        judged={code: JUDGEMENTS[code].judged(r) for code in codes},
        figures=[_figure(f) for f in plan.figures_among(names)],
        findings=[
            head.FindingView(
                code=f.code,
                severity=f.severity,
                title=f.title,
                message=f.message,
                subject=f.subject,
                where=f.where,
            )
            for f in found
        ],
        at_speed=at_speed(r.project),
        load=load_view(r) if station in (None, "load") else None,
    )


def _figure(f: Figure) -> head.FigureView:
    spec = f.spec
    return head.FigureView(
        name=spec.name, label=f.label, value=f.value, unit=spec.unit, digits=spec.digits, time_s=f.time_s
    )


def _legs(r: Reading) -> list[head.LegLayout]:
    found, start = [], 0
    for i, (limb, joints, stroke, points) in enumerate(
        zip(r.project.walker.limbs, r.kit.slices, r.score.stroke_mm.tolist(), r.course.solved.points, strict=True)
    ):
        end = start + points.shape[1]
        found.append(
            head.LegLayout(
                name=limb.name,
                points=(start, end),
                joints=(joints.start, joints.stop),
                joint_names=[j.name for j in limb.joints],
                role="leg" if limb.steps else "support" if limb.passive else "arm",
                stroke_mm=stroke,
                round_mm=ball_mm(r, i),
            )
        )
        start = end
    return found


def _clearances(r: Reading) -> list[head.ClearanceView]:
    sags = {c.limb: c.sag_mm for c in r.at_once(lambda r: r.of(clearances)) or ()}
    return [
        head.ClearanceView(
            leg=r.project.walker.limbs[s.limb].name,
            height_mm=s.height_mm,
            sag_mm=sags.get(s.limb),
            droop_mm=s.droop_mm,
            uneven_mm=s.uneven_mm,
            assumed=s.assumed,
        )
        for s in r.of(swings)
    ]


def footprints(r: Reading) -> list[tuple[float, float, float]]:
    """Where each foot was put down, in order: limb, x, y in the ground frame. Only of motions with an end."""
    if r.score.periodic:
        return []
    found = []
    for i, limb in enumerate(r.project.walker.limbs):
        if not limb.steps:
            continue
        down = r.course.contact[i, : r.samples]
        put = np.flatnonzero(down & ~np.concatenate([[False], down[:-1]]))
        for k in put:
            x, y = r.course.feet_ground_mm[i, k, :2]
            found.append((float(i), round(float(x), 1), round(float(y), 1)))
    return found
