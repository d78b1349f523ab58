"""Named gaits of six legs, places L0 L1 L2 R0 R1 R2 from the front.

tripod: L0, L2, R1 touch down at 0; R0, R2, L1 at 1/2; duty 1/2. Three legs carry at any time.
ripple: on each side a wave from back to front a third of a cycle apart, the right side half a cycle after the
    left: L2 0, L1 1/3, L0 2/3, R2 1/2, R1 5/6, R0 1/6; duty 2/3. Four legs carry.
tetrapod: pairs across the body, three of them a third of a cycle apart, on each side a wave from back to front:
    L2 and R0 at 0, L1 and R2 at 1/3, L0 and R1 at 2/3; duty 2/3. Four legs carry.
wave: one leg at a time, back to front on the left, then on the right: L2 0, L1 1/6, L0 2/6, R2 3/6, R1 4/6,
    R0 5/6; duty 5/6. Five legs carry.

Source: the wave gaits of "Insect Walking", Annual Review of Entomology 11 (1966), and of the book "Machines
That Walk: The Adaptive Suspension Vehicle" (1989), where tripod, ripple and wave are the members with duty
1/2, 2/3 and 5/6. Sources differ in where the count starts and in what ripple means; these are the figures
used here.
"""

from bustle.core.kinds.gaits.gait import Gait, by_order, in_groups

TRIPOD = Gait(
    name="tripod",
    label="Tripod",
    duty=1 / 2,
    balance="static",
    touchdowns=in_groups([[("L", 0), ("L", 2), ("R", 1)], [("R", 0), ("R", 2), ("L", 1)]]),
    about="Three legs carry while three swing. The quickest that may be frozen.",
)
RIPPLE = Gait(
    name="ripple",
    label="Ripple",
    duty=2 / 3,
    balance="static",
    touchdowns=by_order([("L", 2), ("R", 0), ("L", 1), ("R", 2), ("L", 0), ("R", 1)]),
    about="A wave along each side, the sides half a cycle apart. Four legs carry.",
)
TETRAPOD = Gait(
    name="tetrapod",
    label="Tetrapod",
    duty=2 / 3,
    balance="static",
    touchdowns=in_groups([[("L", 2), ("R", 0)], [("L", 1), ("R", 2)], [("L", 0), ("R", 1)]]),
    about="Two legs swing together, across the body. Four legs carry.",
)
WAVE = Gait(
    name="wave",
    label="Wave",
    duty=5 / 6,
    balance="static",
    touchdowns=by_order([("L", 2), ("L", 1), ("L", 0), ("R", 2), ("R", 1), ("R", 0)]),
    about="One leg at a time. Slow, with the most in hand.",
)
GAITS = (TRIPOD, RIPPLE, TETRAPOD, WAVE)
