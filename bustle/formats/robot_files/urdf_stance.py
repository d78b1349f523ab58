"""How a machine read from URDF stands, which no such file says."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise
from typing import Any

import numpy as np
from scipy.spatial.transform import Rotation

from bustle.core.document.checked import CheckedProject, parse_project
from bustle.core.evaluate import evaluate
from bustle.core.geometry.arrays import Array
from bustle.core.kinds.gaits import CUSTOM
from bustle.core.loads.held_by_supports import legs_half_mm
from bustle.core.starting.starting_walkers import limits_of
from bustle.formats.robot_files.urdf_branch import Branch
from bustle.formats.robot_files.urdf_legs import rounded

Values = dict[str, Any]

# A leg whose foot is this share of its length below the hip at zero pose hangs, and stands at this share of that.
HANGS, BENT = 0.6, 0.9
# Others are tried so far out and down, as shares of their reach.
STANCES = ((0.55, 0.35), (0.65, 0.35), (0.75, 0.35), (0.8, 0.3), (0.85, 0.25))
# Feet are lifted by this share of the longest leg.
LIFTS = 0.1


def standing(values: Values, limbs: list[Values], branches: Sequence[Branch], depth: float | None) -> CheckedProject:
    """The project with its pose: as low and as near as legs stand, else as their end stops let them. depth: how far
    what it stands on beside its legs reaches below it, mm."""
    stood = (_stood(values, limbs, branches, stance, depth) for stance in STANCES)
    first = next(stood)
    return first if _stands(first) else next(filter(_stands, stood), first)


def _stood(
    values: Values, limbs: list[Values], branches: Sequence[Branch], stance: tuple[float, float], depth: float | None
) -> CheckedProject:
    feet = [_stand_in_reach(m, b, *stance) for m, b in zip(limbs, branches, strict=True) if b.foot is not None]
    ride = max(20.0, float(-np.mean(feet)) if depth is None else depth)
    longest = max(sum(k["length_mm"] for k in limb["links"]) for limb in limbs if limb["feet"])
    legs = [m for m in limbs if m["feet"]]
    whole = {**values, "limits": limits_of(longest)}
    project = parse_project({**whole, "motions": [_stand(legs, ride, longest)]})
    higher = 0.0 if depth is None else evaluate(project, project.motions[0].name, 2).reading.of(legs_half_mm)
    return parse_project({**whole, "motions": [_stand(legs, ride + higher, longest)]}) if higher else project


def _stands(project: CheckedProject) -> bool:
    found = evaluate(project, project.motions[0].name, 2).findings_among(("F15", "F17"))
    return all(finding.severity != "stop" for finding in found)


def _stand_in_reach(limb: Values, branch: Branch, out: float, down: float) -> float:
    """A leg that hangs at zero pose stands below its hip with its knee a little bent. Another stands where the middle
    of its joints' travel puts its foot; so far out and down, as shares of its reach, where that is not below the hip.
    The height of the floor under it, mm, in the root's frame."""
    reach = sum(k["length_mm"] for k in limb["links"])
    hip = branch.places[0]
    hanging = branch.places[0] if branch.foot is None else branch.foot
    drop = float(hip[2] - hanging[2])
    if drop > HANGS * reach and np.hypot(*(hanging - hip)[:2]) < drop:
        limb["neutral_mm"] = rounded(hanging[:2])
        return float(hip[2] - BENT * drop - branch.over_floor_mm)
    foot = _at_middle(branch)
    if hip[2] - foot[2] < 0.1 * reach:
        away = (hanging - hip)[:2]
        size = float(np.linalg.norm(away))
        way = away / size if size > 1 else np.zeros(2)
        foot = np.array([*(hip[:2] + way * reach * out), hip[2] - reach * down])
    limb["neutral_mm"] = rounded(foot[:2])
    return float(foot[2] - branch.over_floor_mm)


def _at_middle(branch: Branch) -> Array:
    """The foot with every joint in the middle of its travel, in the root's frame."""
    points = [*branch.places, branch.end if branch.foot is None else branch.foot]
    turn, at = np.eye(3), points[0].copy()
    for hinge, axis, (here, there) in zip(branch.hinges, branch.axes, pairwise(points), strict=True):
        middle = (hinge.low + hinge.high) / 2
        if hinge.kind == "prismatic":
            at = at + turn @ axis * middle
        else:
            turn = turn @ Rotation.from_rotvec(axis * middle).as_matrix()
        at = at + turn @ (there - here)
    return at


def _stand(legs: list[Values], ride: float, longest: float) -> Values:
    return {
        "name": "Stand",
        "gait": CUSTOM,
        "legs": [{"limb": leg["name"], "phase": 0.0, "duty": 1.0} for leg in legs],
        "cycle_s": 2.0,
        "foot_path": "cycloid",
        "lift_mm": round(longest * LIFTS, 1),
        "pose": {"ride_height_mm": round(ride, 3)},
    }
