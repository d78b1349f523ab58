"""Write demo/faults/: for each check of the machine itself, a project in which it fires and its sound twin.

.venv/bin/python scripts/write_faults.py
"""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np

from bustle.core.at_rest.foot_drift import drift_left_mm
from bustle.core.document.checked import parse_project
from bustle.core.document.file import save_project
from bustle.core.edits.patches import patched
from bustle.core.project.project import Project, document
from bustle.core.project.walker import DriftReading, MeasuredLimb
from bustle.core.servo.calibration import numbered
from bustle.core.servo.channel_map import wired_in_order
from bustle.core.servo.rest_heights import resting_feet
from bustle.core.starting.starting_walkers import start, steadied

FOLDER = Path(__file__).parents[1] / "demo" / "faults"


def alone(project: Project, motion: str, changes: dict[str, Any]) -> Project:
    """The project with one motion only, and the fields at these slash paths set."""
    values = document(project)
    values["motions"] = [m for m in values["motions"] if m["name"] == motion]
    base = parse_project(values)
    return patched(base, [{"op": "add", "path": f"/{path}", "value": value} for path, value in changes.items()])


def readings(project: Project, limb: str, truth: dict[str, float]) -> list[dict[str, Any]]:
    """What a ruler would show at three heights on a leg whose joint zeros are off by `truth`, to half a millimetre."""
    leg = next(m for m in project.walker.limbs if m.name == limb)
    heights = [30.0, 70.0, 110.0]
    still = tuple(DriftReading(height_mm=h, drift_mm=(0.0, 0.0)) for h in heights)
    built = MeasuredLimb(limb=limb, joint_zero_deg=truth)
    drift = np.round(-drift_left_mm(project.walker, leg, still, built) * 2) / 2
    return [{"height_mm": h, "drift_mm": [float(v) for v in d]} for h, d in zip(heights, drift, strict=True)]


def _with_head(project: Project) -> Project:
    """A heavy head on an arm, ahead of the body, that nods."""
    values = document(project)
    head = {
        "name": "head",
        "mount": {"at_mm": [80.0, 0.0, 20.0]},
        "family": "serial",
        "branch": "as_near_as_it_gets",
        "joints": [{"name": "nod", "min_deg": -70.0, "max_deg": 70.0, "axis": [0.0, 1.0, 0.0]}],
        "links": [{"name": "neck", "length_mm": 60.0, "offset_mm": [60.0, 0.0, 0.0], "mass_g": 20.0}],
        "feet": [],
        "neutral_mm": None,
    }
    values["walker"]["limbs"].append(head)
    servo = {"name": "head nod", "type": values["servo_types"][0]["name"]}
    values["walker"]["drives"].append({"servos": [servo], "joints": ["head/nod"]})
    values["walker"]["masses"].append({"name": "Camera", "mass_g": 190.0, "on": "head/neck", "at_mm": [60.0, 0.0, 0.0]})
    return parse_project(values)


def on_boards(project: Project, **more: Any) -> dict[str, Any]:
    """The electrics of a machine that is set up: numbered servos on two boards, a regulated bank that is watched."""
    values = document(project)
    boards = [{"name": f"Board {n}", "address": 63 + n, "enable_off_at_start": True} for n in (1, 2)]
    bank = {"name": "Pack", "full_v": 8.4, "empty_v": 6.6, "regulated_v": 6.0}
    plug = {"name": "Alarm plug", "does": "alarm_plug", "pin": 0, "at_start": "off"}
    values["electrics"] |= {
        "boards": boards,
        "banks": [bank],
        "signals": [plug],
        "stop_switch": {"where": "on the lead of the pack", "effect": "holds"},
        "fail_safe": {"after_ms": 500.0},
    }
    wired = wired_in_order(numbered(parse_project(values)), "leg")
    return {**document(wired)["electrics"], **more}


def mast(high_mm: float) -> dict[str, Any]:
    """A battery of 1.2 kg so high over the middle of the body, at its back."""
    at = [-15.0, 0.0, high_mm]
    return {"walker/masses/-": {"name": "Big battery", "mass_g": 1200.0, "on": "body", "at_mm": at}}


def longer_on_the_left(project: Project, share: float) -> dict[str, Any]:
    """Measured legs of which those on the left came out longer than they are drawn by that share."""
    legs = [limb for limb in project.walker.legs if limb.mount.at_mm[1] > 0]
    measured = [
        {
            "limb": limb.name,
            "link_length_mm": {k.name: round(k.length_mm * (1 + share), 1) for k in limb.links if k.length_mm},
        }
        for limb in legs
    ]
    return {"walker/as_built/limbs": measured}


def heights(project: Project, off: dict[str, float]) -> list[dict[str, Any]]:
    """What a ruler would show over the bench, to half a millimetre, of feet that are off by so much."""
    level = {name: z + 300.0 for name, z, _ in resting_feet(project)}
    return [{"limb": n, "height_mm": round((z + off.get(n, 0.0)) * 2) / 2} for n, z in level.items()]


def pairs() -> dict[str, tuple[Project, Project]]:
    """Code → (faulty, sound)."""
    six, two = start("six_sprawled", "Six legs", 200.0), start("six_two", "Six two-joint legs", 160.0)
    flat = start("four_upright_2", "Four flat legs", 200.0)
    circle = start("six_two_radial", "Six two-joint legs, circle", 160.0)
    flat_soles = start("two_planar", "Two flat soles", 240.0)
    casters = start("four_casters", "Four legs and casters", 160.0)
    low = casters.walker.limbs[4].mount.at_mm[2] - 7.0
    down = -casters.motions[0].pose.ride_height_mm
    level = {f"walker/limbs/{n}/mount/at_mm": [x, 0.0, down] for n, x in ((4, 51.0), (5, -51.0))}
    trot = start("four_upright", "Four upright legs", 220.0)
    on_soles = start("two_full", "Two legs of six joints", 260.0)
    long, _, high = on_soles.walker.sections[0].size_mm
    bumper = [long, 123.0, high]
    quad = start("four_upright", "Four upright legs", 220.0)
    light = {
        "motion": "Forward", "cycle_s": 3.0, "stroke_mm": 48.0, "lift_mm": 26.5, "mass_g": 1250.0,
        "com_height_mm": 140.0, "room_mm": 8.8,
    }  # fmt: skip
    stepping = start("two_parallelogram", "Two legs without ankle rolls", 260.0)
    brisk = {"servo_types/0/no_load_speed_deg_s": 480.0}
    swift = {"servo_types/0/no_load_speed_deg_s": 700.0, "servo_types/0/stall_torque_nm": 5.0}
    gently = [{"y_cos_mm": -6.5}]
    throws = start("two_moving_mass", "Two legs and a thrown mass", 220.0)
    cable = {"name": "Cable", "pull_n": 3.0, "at_mm": [-90.0, 110.0, 0.0]}
    within = {"limits/drift_mm_m": 10.0}
    rotor = {"mass_g": 5.0, "radius_mm": 5.5, "ratio": 300.0}
    lead = {
        "name": "L1 tibia lead",
        "length_mm": 165.0,
        "path": [{"on": "body"}, {"on": "L1/coxa"}, {"on": "L1/femur"}],
    }
    fold = {"box_mm": [330.0, 330.0, 170.0]}
    drift = {"limb": "L2", "drift": readings(six, "L2", {"femur": 1.3})}
    crowded = {"walker/limbs/1/neutral_mm": [86.0, 138.0], "walker/limbs/0/neutral_mm": [112.0, 140.0]}
    carpet = {"floor/obstacle_mm": 24.0}
    stamp = {"motions/0/foot_path": "half_ellipse", "motions/0/cycle_s": 0.8, "motions/0/twist/vx_mm_s": 90.0}
    uneven = {"floor/unevenness_mm": 14.0}
    upper = {"name": "upper_foot", "side": "upper"}
    upside: dict[str, Any] = {f"walker/limbs/{n}/feet": [{}, upper] for n in range(6)}
    # Legs that bend both ways, as a machine that is to walk upside down has.
    upside |= {f"walker/limbs/{n}/joints/2/max_deg": 150.0 for n in range(6)}
    upside |= {f"walker/drives/{3 * n + 2}/servos/0/centre_deg": 0.0 for n in range(6)}
    upside |= {"servo_types/0/travel_deg": 300.0}
    walked = {"motion": "Forward", "cycle_s": 1.2, "stroke_mm": 48.0, "lift_mm": 20.0}
    head = steadied(_with_head(start("four_sprawled", "Four legs and a head", 200.0)), "Forward")
    bench = on_boards(six)
    first = six.walker.drives[0].servos[0].name
    small = [{**b, "channels": 8, "wires": b["wires"][:8]} for b in bench["boards"]]
    slow = [{**b, "link_bytes_s": 2500.0} for b in bench["boards"]]
    quick = [{**b, "link_bytes_s": 40_000.0} for b in bench["boards"]]
    live = [{**b, "enable_off_at_start": False} for b in bench["boards"]]
    bank = bench["banks"][0]
    types = {"servo_types/0/most_v": 7.2}
    nod = {"limb": "head", "joint": "nod", "to": -30.0, "takes": 0.05}
    return {
        "F02": (
            alone(
                six,
                "Forward",
                {
                    "servo_types/0/full_torque_at_deg": 20.0,
                    "servo_types/0/stall_torque_nm": 1.2,
                    "motions/0/lift_mm": 4.0,
                },
            ),
            alone(
                six,
                "Forward",
                {
                    "servo_types/0/full_torque_at_deg": 20.0,
                    "servo_types/0/stall_torque_nm": 1.2,
                    "motions/0/lift_mm": 20.0,
                },
            ),
        ),
        "F04": (
            alone(six, "Forward", {"electrics": {**bench, "banks": [{**bank, "regulator_a": 6.0}]}}),
            alone(six, "Forward", {"electrics": {**bench, "banks": [{**bank, "regulator_a": 15.0}]}}),
        ),
        "F19": (alone(trot, "Trot", {**brisk, "motions/0/cycle_s": 1.6}), alone(trot, "Trot", brisk)),
        "F10": (
            alone(quad, "Forward", {"walked": [light], "walker/masses/1/at_mm": [0.0, 26.0, -12.0]}),
            alone(quad, "Forward", {"walked": [light]}),
        ),
        "F09": (
            alone(stepping, "Forward", {"motions/0/pose/sway": gently, "motions/0/cycle_s": 0.5}),
            alone(stepping, "Forward", {"motions/0/pose/sway": gently, "motions/0/cycle_s": 0.26}),
        ),
        "F35": (
            alone(throws, "Forward", {**swift, "walker/masses/2/mass_g": 90.0}),
            alone(throws, "Forward", swift),
        ),
        "F53": (
            alone(on_soles, "Forward", {"motions/0/pose/sway": [{"y_cos_mm": -12.0, "y_sin_mm": 20.0}]}),
            alone(on_soles, "Forward", {}),
        ),
        "F11": (
            alone(quad, "Forward", longer_on_the_left(quad, 0.05)),
            alone(quad, "Forward", longer_on_the_left(quad, 0.005)),
        ),
        "F52": (
            alone(six, "Forward", {"walker/drags": [cable], **within}),
            alone(six, "Forward", {"walker/drags": [{**cable, "at_mm": [-90.0, 10.0, 0.0]}], **within}),
        ),
        "F33": (
            alone(on_soles, "Forward", {f"walker/limbs/{n}/feet/0/sole/width_mm": 9.0 for n in range(2)}),
            alone(on_soles, "Forward", {}),
        ),
        "F34": (alone(on_soles, "Stand", mast(190.0)), alone(on_soles, "Stand", mast(-20.0))),
        "F51": (alone(on_soles, "Forward", {}), alone(on_soles, "Forward", {"walker/sections/0/size_mm": bumper})),
        "F57": (alone(on_soles, "Forward", {"against_sag": "off"}), alone(on_soles, "Forward", {})),
        "F03": (alone(casters, "Forward", level), alone(casters, "Forward", {})),
        "F30": (
            alone(six, "Forward", {"servo_types/0/rotor": rotor}),
            alone(six, "Forward", {"servo_types/0/rotor": {**rotor, "ratio": 150.0}}),
        ),
        "F05": (
            alone(six, "Forward", {"servo_types/0/stall_torque_nm": 0.8}),
            alone(six, "Forward", {"servo_types/0/stall_torque_nm": 1.2}),
        ),
        "F07": (
            alone(six, "Forward", {"servo_types/0/stall_torque_nm": 0.4, "limits/held_share": 1.0}),
            alone(six, "Forward", {"servo_types/0/stall_torque_nm": 0.8, "limits/held_share": 1.0}),
        ),
        "F08": (
            alone(six, "Forward", {"floor/friction": 0.03, "motions/0/cycle_s": 0.8}),
            alone(six, "Forward", {"floor/friction": 0.2, "motions/0/cycle_s": 0.8}),
        ),
        "F23": (
            alone(six, "Forward", {**upside, "walker/limbs/3/feet": [{}], "motions/0/inverted": True}),
            alone(six, "Forward", {**upside, "motions/0/inverted": True}),
        ),
        "F24": (alone(six, "Forward", carpet), alone(six, "Forward", {**carpet, "motions/0/lift_mm": 34.0})),
        "F25": (
            alone(six, "Forward", stamp),
            alone(six, "Forward", {**stamp, "motions/0/foot_path": "minimum_jerk"}),
        ),
        "F39": (
            alone(six, "Forward", {"walked": [{**walked, "stroke_mm": 24.0}]}),
            alone(six, "Forward", {"walked": [walked]}),
        ),
        "F43": (
            alone(six, "Forward", {"start_up/at_once": 18}),
            alone(six, "Forward", {"start_up/at_once": 3}),
        ),
        "F48": (
            alone(six, "Forward", uneven),
            alone(six, "Forward", {**uneven, "motions/0/swing/search_mm": 14.0}),
        ),
        "F49": (
            alone(head, "Forward", {"motions/0/moves_of_arms": [{**nod, "at": 0.6, "back_at": 0.8}]}),
            alone(head, "Forward", {"motions/0/moves_of_arms": [{**nod, "at": 0.01, "back_at": 0.51, "takes": 0.2}]}),
        ),
        "F54": (
            alone(circle, "Forward", {"motions/0/travel": "asked", "limits/slip_mm": 25.0}),
            alone(circle, "Forward", {"limits/slip_mm": 25.0}),
        ),
        "F55": (
            alone(flat_soles, "Stand", {"motions/0/pose/roll_deg": 9.0}),
            alone(flat_soles, "Stand", {"motions/0/pose/roll_deg": 1.0}),
        ),
        "F56": (
            alone(
                casters, "Forward", {f"walker/limbs/{n}/mount/at_mm": [x, 0.0, low] for n, x in ((4, 51.0), (5, -51.0))}
            ),
            alone(casters, "Forward", {}),
        ),
        "F01": (
            alone(six, "Forward", {"electrics": {**bench, "seen": [{"place": first, "saw": "other_way"}]}}),
            alone(six, "Forward", {"electrics": {**bench, "seen": [{"place": first, "saw": "as_told"}]}}),
        ),
        "F14": (
            alone(six, "Forward", {"electrics": {**bench, "rest_heights": heights(six, {"L2": 5.0})}}),
            alone(six, "Forward", {"electrics": {**bench, "rest_heights": heights(six, {})}}),
        ),
        "F20": (
            alone(six, "Forward", {"electrics": {**bench, "fail_safe": None}}),
            alone(six, "Forward", {"electrics": bench}),
        ),
        "F21": (
            alone(six, "Forward", {"electrics": {**bench, "banks": [{**bank, "feeds_logic": True}]}}),
            alone(six, "Forward", {"electrics": bench}),
        ),
        "F22": (
            alone(six, "Forward", {"electrics": {**bench, "boards": small}}),
            alone(six, "Forward", {"electrics": bench}),
        ),
        "F37": (
            alone(
                six,
                "Forward",
                {
                    "electrics": {**bench, "fitted": [{"place": first, "tooth_left_deg": 14.4}]},
                    "servo_types/0/spline_teeth": 25,
                },
            ),
            alone(
                six,
                "Forward",
                {
                    "electrics": {**bench, "fitted": [{"place": first, "tooth_left_deg": 3.0}]},
                    "servo_types/0/spline_teeth": 25,
                },
            ),
        ),
        "F41": (
            alone(six, "Forward", {**types, "electrics": {**bench, "banks": [{**bank, "regulated_v": None}]}}),
            alone(six, "Forward", {**types, "electrics": bench}),
        ),
        "F42": (
            alone(six, "Forward", {"electrics": {**bench, "boards": live}}),
            alone(six, "Forward", {"electrics": bench}),
        ),
        "F44": (
            alone(six, "Forward", {"electrics": {**bench, "boards": slow}}),
            alone(six, "Forward", {"electrics": {**bench, "boards": quick}}),
        ),
        "F12": (
            alone(two, "Forward", {"motions/0/twist/vx_mm_s": 120.0, "limits/slip_mm": 3.0}),
            alone(two, "Forward", {"limits/slip_mm": 3.0}),
        ),
        "F13": (
            alone(flat, "Forward", {"motions/0/twist/omega_deg_s": 3.0}),
            alone(flat, "Forward", {}),
        ),
        "F16": (
            alone(six, "Forward", crowded),
            alone(six, "Forward", {}),
        ),
        "F46": (
            alone(six, "Forward", {"limits/step_height_mm": 56.0}),
            alone(six, "Forward", {"limits/step_height_mm": 40.0}),
        ),
        "F40": (
            alone(flat, "Forward", {"limits/turning_radius_mm": 500.0}),
            alone(flat, "Forward", {"limits/turning_radius_mm": 1200.0}),
        ),
        "F45": (
            alone(six, "Forward", {"walker/leads": [{**lead, "length_mm": 128.0}]}),
            alone(six, "Forward", {"walker/leads": [lead]}),
        ),
        "F36": (
            alone(six, "Forward", {"walker/folded": fold}),
            alone(six, "Forward", {"walker/folded": {"box_mm": [600.0, 600.0, 300.0]}}),
        ),
        "F28": (
            alone(six, "Forward", {"walker/as_built/limbs": [drift]}),
            alone(six, "Forward", {"walker/as_built/limbs": [{**drift, "joint_zero_deg": {"femur": 1.3}}]}),
        ),
        "F29": (
            alone(six, "Forward", {"servo_types/0/play_deg": 1.05, "limits/foot_play_mm": 4.5}),
            alone(six, "Forward", {"limits/foot_play_mm": 4.5}),
        ),
    }


if __name__ == "__main__":
    for code, projects in pairs().items():
        for project, ending in zip(projects, ("", ".sound"), strict=True):
            (FOLDER / f"{code}{ending}.bustle.json").write_bytes(save_project(project))
