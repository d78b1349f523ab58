"""The servos of a machine read from URDF: one of its own in every joint, as strong and quick as the file says."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise
from typing import Any

import numpy as np

from bustle.core.machine.masses import GRAVITY
from bustle.formats.robot_files.urdf_branch import Branch
from bustle.formats.robot_files.urdf_tree import Tree

Values = dict[str, Any]

# Of what a leg carries, where no torque is told; and where no mass is either, N·m.
SPARE, USUAL_NM = 3.0, 1.5
# How many turns of a second joint one servo may make for each of the first.
RATIOS = (0.05, 20.0)


def assumed_nm(tree: Tree, branches: Sequence[Branch], unused: list[str]) -> float:
    """The torque of joints whose own is not told: the greatest that is, else SPARE times what half of the legs take to
    carry the machine at half their length."""
    silent = sum(not (hinge.effort > 0 or hinge.follows) for branch in branches for hinge in branch.hinges)
    told = max((hinge.effort for branch in branches for hinge in branch.hinges), default=0.0)
    legs = [[*branch.places, branch.foot] for branch in branches if branch.foot is not None]
    kg = sum(body.mass_kg for body in tree.bodies.values())
    nm = told
    if not told > 0:
        lengths = [sum(float(np.linalg.norm(b - a)) for a, b in pairwise(leg)) / 1000 for leg in legs]
        carried_n = kg * GRAVITY / max(1.0, len(legs) / 2)
        nm = SPARE * carried_n * float(np.mean(lengths or [0.0])) / 2 or USUAL_NM
    nm = float(np.clip(float(f"{nm:.2g}"), 1e-3, 1000))
    if silent:
        unused.append(f"the torque of {silent} joints, told as none; {nm:g} N·m are assumed, type their servo's own")
    return nm


def drives_of(
    branch: Branch, limb: Values, servos: dict[tuple[float, float], Values], lacking_nm: float
) -> list[Values]:
    """A direct drive per joint, its servo as strong and quick as the file says, with travel for the joint's limits."""
    drives = []
    for hinge, joint in zip(branch.hinges, limb["joints"], strict=True):
        key = (hinge.effort, hinge.velocity)
        if key not in servos:
            speed = float(np.clip(np.degrees(hinge.velocity), 1, 10_000))
            servos[key] = {
                "name": f"Servo {len(servos) + 1}",
                "mass_g": 0.0,
                "stall_torque_nm": float(np.clip(hinge.effort, 1e-3, 1000)) if hinge.effort > 0 else lacking_nm,
                "no_load_speed_deg_s": speed if hinge.velocity > 0 else 360.0,
                "rated_v": 6.0,
                "travel_deg": 360.0,
            }
        middle = 0.0 if "min_mm" in joint else float(np.clip((joint["min_deg"] + joint["max_deg"]) / 2, -180, 180))
        # Its servo keeps the file's name.
        name = joint["in_files"]["called"] if "in_files" in joint else f"{limb['name']} {joint['name']}"
        servo = {"name": name, "type": servos[key]["name"], "centre_deg": round(middle, 3)}
        drives.append({"servos": [servo], "joints": [f"{limb['name']}/{joint['name']}"]})
    return drives


def tied(
    drives: Sequence[Values], branches: Sequence[Branch], limbs: Sequence[Values], unused: list[str]
) -> list[Values]:
    """The drives, with what follows another joint turned by that one's servo: q₂ = m·q₁ + o in the file. One joint can
    follow each; of more, and of what slides, it is said that they have servos of their own here."""
    joints = {
        hinge.name: (hinge, f"{limb['name']}/{joint['name']}", -1.0 if _reversed(joint) else 1.0)
        for branch, limb in zip(branches, limbs, strict=True)
        for hinge, joint in zip(branch.hinges, limb["joints"], strict=True)
    }
    by_joint = {drive["joints"][0]: drive for drive in drives}
    for hinge, path, way in joints.values():
        if hinge.follows is None:
            continue
        leader, leads, leads_way = joints.get(hinge.follows.leader, (hinge, "", 1.0))
        turn, ratio = by_joint.get(leads), hinge.follows.factor * way * leads_way
        slides, chained = "prismatic" in (hinge.kind, leader.kind), leader.follows is not None
        if turn is None or len(turn["joints"]) > 1 or slides or chained or not RATIOS[0] <= abs(ratio) <= RATIOS[1]:
            unused.append(f"joint {hinge.name}: that it follows another; it is read as a joint of its own")
            continue
        second = ratio * turn["servos"][0]["centre_deg"] + way * float(np.degrees(hinge.follows.offset))
        turn["kind"] = "pair_equal" if ratio > 0 else "pair_mirrored"
        turn["joints"].append(path)
        turn["settings"] = {"second_centre_deg": round(second, 6), "ratio": round(abs(ratio), 9)}
        del by_joint[path]
    return list(by_joint.values())


def _reversed(joint: Values) -> bool:
    return bool(joint.get("in_files", {}).get("reversed", False))
