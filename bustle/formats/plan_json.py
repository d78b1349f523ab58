"""A plan as JSON values: samples from solved joints, figures, findings."""

from __future__ import annotations

from typing import Any

from numpy.typing import NDArray

from bustle.core.evaluate import Plan
from bustle.core.geometry.arrays import Array
from bustle.core.judge.playing import judged
from bustle.core.loads.foot_forces import foot_forces
from bustle.core.loads.giving.sag import sag
from bustle.core.loads.held_against_sag import carried_joints, sent_joints
from bustle.core.loads.joint_torques import joint_torques, servo_loads
from bustle.core.loads.told import assumed_of_loads, not_told
from bustle.core.loads.zero_moment_point import zero_moment_point
from bustle.core.servo.servo_table import fitted, told
from bustle.core.walk.plumb import over_floor
from bustle.core.walk.reading import Reading
from bustle.core.walk.standing_polygon import standing


def _plain(array: NDArray[Any]) -> Any:
    return (array + 0.0).tolist()


def _slides(r: Reading, values: Array) -> dict[str, Any]:
    """Joints that slide, in mm; left out where there are none."""
    slides: dict[str, dict[str, Any]] = {}
    for n, joint in enumerate(r.kit.joints):
        if joint.slides:
            slides.setdefault(joint.limb.name, {})[joint.name] = _plain(values[:, n])
    return {"joints_mm": slides} if slides else {}


def _sent(r: Reading) -> dict[str, Any]:
    """What each servo is told, by its place: pulses, or counts on a bus; and the ticks of its board, if any."""
    pulses, rows = r.of(fitted), r.of(told)
    sent = pulses.sent(rows)
    found: dict[str, Any] = {"servo_us": {}, "tick": {}, "count": {}}
    for n, servo in enumerate(pulses.servos):
        if servo.bus:
            found["count"][servo.place] = _plain(sent[:, n])
            continue
        found["servo_us"][servo.place] = _plain(rows[:, n])
        if pulses.ticks_per_us[n] > 0:
            found["tick"][servo.place] = _plain(sent[:, n])
    return found


def _by_limb(r: Reading, values: Array) -> dict[str, Any]:
    """Degrees, or mm where a joint slides."""
    return {
        limb.name: {j.name: _plain(values[:, s.start + k]) for k, j in enumerate(limb.joints)}
        for limb, s in zip(r.project.walker.limbs, r.kit.slices, strict=True)
    }


def _loads(r: Reading) -> dict[str, Any]:
    """Forces and torques, and the joints as they are sent and as they are carried; nothing where they are not judged.

    assumed: what the figures rest on that nobody has measured.
    """
    why = not_told(r)
    if why:
        return {"loads": {"not_told": why}}
    feet, loads = r.of(foot_forces), r.of(servo_loads)
    places = [s.name for s in r.kit.servos]
    return {
        "loads": {"assumed": list(assumed_of_loads(r))},
        "zmp_ground_mm": _plain(r.of(zero_moment_point) * 1000),
        "unbalanced_nm": _plain(feet.unbalanced_nm),
        "foot_force_n": {
            limb.name: _plain(feet.of_limb(i)) for i, limb in enumerate(r.project.walker.limbs) if limb.feet
        },
        "torque_nm": _by_limb(r, r.of(joint_torques)),
        "servo_share": {place: _plain(loads.share[:, n]) for n, place in enumerate(places)},
        "lag_deg": {place: _plain(loads.lag_deg[:, n]) for n, place in enumerate(places)},
        "sag_mm": _plain(r.of(sag).down_mm),
        "sent_deg": _by_limb(r, r.of(sent_joints) * r.kit.scale),
        "carried_deg": _by_limb(r, r.of(carried_joints) * r.kit.scale),
    }


def plan_values(plan: Plan) -> dict[str, Any]:
    """Units are in the names; the ground frame is where the travel frame is at t = 0."""
    r, course = plan.reading, plan.reading.course
    n = r.samples
    names = [limb.name for limb in r.project.walker.limbs]
    values = r.angles * r.kit.scale
    corners = r.of(standing)
    margin = [float(m) if held else None for m, held in zip(corners.margin_mm[:n], corners.supported[:n], strict=True)]
    return {
        "samples": {
            "time_s": _plain(course.time_s[:n]),
            "joints_deg": {
                limb.name: {
                    j.name: _plain(values[:, s.start + k]) for k, j in enumerate(limb.joints) if j.kind == "hinge"
                }
                for limb, s in zip(r.project.walker.limbs, r.kit.slices, strict=True)
            },
            **_slides(r, values),
            **_sent(r),
            **_loads(r),
            "feet_body_mm": {name: _plain(f[:n]) for name, f in zip(names, course.feet_body_mm, strict=True)},
            "feet_ground_mm": {name: _plain(f[:n]) for name, f in zip(names, course.feet_ground_mm, strict=True)},
            "link_points_body_mm": {name: _plain(p[:n]) for name, p in zip(names, course.solved.points, strict=True)},
            "contact": {name: c[:n].tolist() for name, c in zip(names, course.contact, strict=True)},
            "com_ground_mm": _plain(course.com_ground_mm[:n, :2]),
            "plumb_ground_mm": _plain(r.of(over_floor)[:n]),
            "support_polygon_ground_mm": [
                _plain(c[:k]) for c, k in zip(corners.corners[:n], corners.count[:n], strict=True)
            ],
            "margin_mm": margin,
        },
        "judged": judged(r),
        "figures": {f.name: f.value for f in plan.figures},
        "findings": [
            {"code": f.code, "severity": f.severity, "message": f.message, "where": f.where} for f in plan.findings
        ],
    }
