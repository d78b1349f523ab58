"""F23: upside-down walking lifts the wrong feet."""

from __future__ import annotations

from collections.abc import Iterator

from bustle.core.edits.patches import replace
from bustle.core.edits.upside_down import turned_with_its_own
from bustle.core.judge.finding import Finding
from bustle.core.judge.judgement import Judgement
from bustle.core.judge.ways import Edit, Mending, Offer
from bustle.core.project.motion import PhaseGait
from bustle.core.walk.motions.made_of import upside_down
from bustle.core.walk.reading import Reading
from bustle.core.words.wording import also


def wrong_side(r: Reading) -> Iterator[Finding]:
    """In an inverted motion every foot that carries must be one of the upper side, and the lower of the leg's two."""
    if not upside_down(r.project, r.motion):
        return
    wrong = [limb.name for limb in r.project.walker.legs if limb.feet[0].side != "upper"]
    if wrong:
        yield Finding(
            "F23", "stop", "Upside down on the wrong feet",
            f"{wrong[0]} has no foot on its upper side, so turned over it lifts and plants the wrong one; "
            f"{len(wrong)} of {len(r.project.walker.legs)} legs have none." + also(wrong[1:]),
            tuple((name, "") for name in wrong), None, float(len(wrong)), 0.0, "legs",
        )  # fmt: skip


def _upper_feet(m: Mending) -> Iterator[Edit]:
    """Every leg without one gets a foot like its own on its upper side."""
    edits = []
    for n, limb in enumerate(m.project.walker.limbs):
        if limb.steps and all(foot.side != "upper" for foot in limb.feet):
            twin = {**limb.feet[0].model_dump(mode="json"), "name": "upper_foot", "side": "upper"}
            edits.append({"op": "add", "path": f"/walker/limbs/{n}/feet/-", "value": twin})
    legs = "leg" if len(edits) == 1 else "legs"
    yield Edit(f"Give {len(edits)} {legs} a foot on the upper side", tuple(edits))


def _right_way_up(m: Mending) -> Iterator[Edit]:
    """The motion for the machine standing on its under side, with what is joined to it."""
    if not isinstance(m.project.motion(m.motion), PhaseGait):
        return
    up = turned_with_its_own(m.project, m.motion)
    changed = [n for n, motion in enumerate(m.project.motions) if motion != up.motions[n]]
    values = {n: up.motions[n].model_dump(mode="json") for n in changed}
    yield Edit(
        "Walk it the right way up",
        tuple(replace(f"/motions/{n}/{name}", values[n][name]) for n in changed for name in ("inverted", "pose")),
    )


JUDGEMENT = Judgement(
    "F23",
    "Upside down, it walks on its upper feet",
    ("motions",),
    wrong_side,
    ways=(Offer(_upper_feet), Offer(_right_way_up)),
)
