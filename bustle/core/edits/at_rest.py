"""The machine at rest, to measure on: standing as a walk stands, without its sway, or folded into its box."""

from __future__ import annotations

from bustle.core.document.checked import CheckedProject
from bustle.core.edits.upside_down import turned
from bustle.core.project.motion import JointPose, PhaseGait, Twist
from bustle.core.words.problems import refuse

# The name of the motion that is added to be drawn, which no builder's motion has: theirs do not begin with a space.
AT_REST = " at rest"


def standing(project: CheckedProject, motion: str) -> CheckedProject:
    """With one motion, AT_REST: the walk of that name, or the first there is, with every foot down at its neutral place
    and the body where it is without sway, on a level bench. Raises InputRefused where there is no walk or pose."""
    gaits = [m for m in project.motions if isinstance(m, PhaseGait)]
    asked = next((m for m in gaits if m.name == motion), gaits[0] if gaits else None)
    if asked is None:
        raise refuse("motion", "this walker has no pose to stand in yet")
    # Measured right way up, as it is built.
    asked = turned(asked) if asked.inverted else asked
    rest = asked.model_copy(
        update={
            "name": AT_REST,
            "legs": tuple(leg.model_copy(update={"duty": 1.0}) for leg in asked.legs),
            "twist": Twist(),
            "pose": asked.pose.model_copy(update={"sway": ()}),
            "pauses": (),
            "moves_of_arms": (),
            "travel": "asked",
        }
    )
    level = project.floor.model_copy(update={"slope_deg": 0.0})
    return project.model_copy(update={"motions": (rest,), "floor": level})


def folded(project: CheckedProject) -> CheckedProject:
    """With one motion, AT_REST: folded as it is carried. Raises InputRefused where nothing is said of that."""
    if project.walker.folded is None:
        raise refuse("walker.folded", "nothing is said of how this walker is folded")
    rest = JointPose.model_construct(kind="joint_pose", name=AT_REST, joints=project.walker.folded.joints)
    return project.model_copy(update={"motions": (rest,)})
