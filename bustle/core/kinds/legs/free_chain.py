"""Any other limb: up to seven hinges or slides, written as axes and offsets.

Joint j turns about, or slides along, its `axis`, then link j's `offset_mm` leads to the next joint or the foot, both
written in the frame before the joint at zero pose. Without a closed form, inverse kinematics is damped least squares
within the limits (see `damped_least_squares`): of the foot's place alone, of its tilt too, or of tilt and heading. With
too few joints for that it stands as high as it is asked to, then as near; what it misses beyond is its slip.
"""

from __future__ import annotations

from collections.abc import Iterable

from bustle.core.geometry.arrays import Array, Flags
from bustle.core.kinds.legs.family import Family, Keep, Layout
from bustle.core.kinds.legs.searched.damped_least_squares import solve_damped

FIGURE = """
   o--axis 1--> offset 1 --o--axis 2--> offset 2 -- ... --> foot
   mount                   each as you measure it
"""


def layout(lengths: Array, hip: Array, mirrored: Flags) -> Layout:
    raise TypeError("a free chain is laid out from its own axes and offsets")


# A hinge whose axis is this steep turns what hangs on it to the side.
HEADS = 0.3


def kept(sole: str, axes: Iterable[Array]) -> str | None:
    """What a chain with a sole of that kind keeps, its hinges about these axes (3,): what stands on breadth is told how
    to lie, too, and where nothing in it turns to the side, not where to head."""
    if sole not in ("rectangle", "edge"):
        return None
    return "pose" if any(abs(axis[2]) > HEADS for axis in axes) else "level"


SERIAL = Family(
    name="serial",
    label="free chain",
    about="Up to seven hinges or slides, written as axes and offsets: any other leg becomes the one that it is.",
    figure=FIGURE,
    links=(),
    joints=(),
    branches=("as_near_as_it_gets",),
    layout=layout,
    solve=solve_damped,
    pose=True,
    takes_hip_offset=False,
    open=True,
    carries_aside=True,
    keeps=(
        Keep("place", "The foot's place"),
        Keep("pose", "Place, tilt and heading"),
        Keep("level", "Place and tilt"),
    ),
)
