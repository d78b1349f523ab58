"""Any other limb: up to seven hinges or slides, written as axes and offsets.

Joint j turns about, or slides along, its `axis`, then link j's `offset_mm` leads to the next joint or the foot, both
written in the frame before the joint at zero pose. Without a closed form, inverse kinematics is damped least squares
within the limits (see `damped_least_squares`): of the foot's place alone, of its tilt too, or of tilt and heading.
"""

from __future__ import annotations

from bustle.core.geometry.arrays import Array, Flags
from bustle.core.kinds.legs.family import Family, Keep, Layout
from bustle.core.kinds.legs.searched.damped_least_squares import solve_damped

FIGURE = """
   o--axis 1--> offset 1 --o--axis 2--> offset 2 -- ... --> foot
   mount                   each as you measure it
"""


def layout(lengths: Array, hip: Array, mirrored: Flags) -> Layout:
    raise TypeError("a free chain is laid out from its own axes and offsets")


SERIAL = Family(
    name="serial",
    label="free chain",
    about="Up to seven hinges or slides, written as axes and offsets.",
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
