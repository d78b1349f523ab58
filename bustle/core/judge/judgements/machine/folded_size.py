"""F36: folded legs stick out of the envelope."""

from __future__ import annotations

from collections.abc import Iterator

from bustle.core.at_rest.fold_that_fits import better_fold
from bustle.core.at_rest.outer_size import extents_mm
from bustle.core.at_rest.posed_joints import posed_joints
from bustle.core.edits.patches import replace
from bustle.core.judge.finding import Finding
from bustle.core.judge.judgement import Judgement
from bustle.core.judge.ways import Edit, Mending, Offer
from bustle.core.walk.reading import Reading
from bustle.core.words.wording import length, number

AXES = ("long", "wide", "high")


def folded_size(r: Reading) -> Iterator[Finding]:
    """The folded pose against its box."""
    walker = r.project.walker
    if walker.folded is None:
        return
    straight = r.kit.assembled({}).parts
    size = extents_mm(walker, posed_joints(walker, walker.folded.joints)[None], straight)[0]
    over = [(float(s - b), n) for n, (s, b) in enumerate(zip(size, walker.folded.box_mm, strict=True)) if s > b + 1e-6]
    if not over:
        return
    most, axis = max(over)
    yield Finding(
        "F36", "warn", "Does not fold into its box",
        f"Folded, it is {length(float(size[axis]))} {AXES[axis]} and the box is {length(walker.folded.box_mm[axis])}: "
        f"{length(most)} too much.",
        (), None, float(size[axis]), walker.folded.box_mm[axis], "mm",
    )  # fmt: skip


def _other_fold(m: Mending) -> Iterator[Edit]:
    """The fold nearest to this one that fits the box."""
    pose = m.project.walker.folded
    found = better_fold(m.project.walker, pose) if pose else None
    if found:
        first = m.project.walker.limbs[0]
        angles = ", ".join(f"{a.joint} {number(a.value, 0)}°" for a in found if a.limb == first.name)
        edit = replace("/walker/folded/joints", [a.model_dump() for a in found])
        yield Edit(f"Fold otherwise: {first.name} {angles}", (edit,))


JUDGEMENT = Judgement(
    "F36",
    "Folded, it fits its box",
    ("frame",),
    folded_size,
    stops=False,
    ways=(Offer(_other_fold, any_motion=True),),
)
