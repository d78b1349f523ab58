"""Walking upside down: the same machine turned over, standing on the feet of its upper side."""

from __future__ import annotations

from bustle.core.kinds.legs import FAMILIES
from bustle.core.project.project import Project
from bustle.core.project.walker import Limb


def turned_over(project: Project) -> Project:
    """The project as a body rolled by 180° about x sees it: upper feet first, knees the other way, neutral places on
    the other side. Where a leg has no upper foot it keeps the one it has."""
    limbs = tuple(_over(limb) if limb.steps else limb for limb in project.walker.limbs)
    return project.model_copy(update={"walker": project.walker.model_copy(update={"limbs": limbs})})


def _over(limb: Limb) -> Limb:
    branches = FAMILIES[limb.family].branches
    other = branches[1 - branches.index(limb.branch)] if len(branches) == 2 else limb.branch
    upper = [foot for foot in limb.feet if foot.side == "upper"]
    x, y = limb.neutral_mm or (0.0, 0.0)
    return limb.model_copy(
        update={
            "branch": other,
            "neutral_mm": (x, -y),
            "toe_deg": -limb.toe_deg,
            "lean_deg": -limb.lean_deg,
            "feet": (*upper, *(foot for foot in limb.feet if foot.side != "upper")),
        }
    )
