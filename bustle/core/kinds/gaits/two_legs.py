"""Named gaits of two legs, places L0 and R0. All are half a cycle apart; they differ in how long both feet stay down.

walk: duty 3/5, so that both feet are down for a tenth of the cycle, twice: double support.
weight shift: duty 4/5. The body sways over one foot before the other is lifted, so that it may be stopped.
tipping: duty 1/2. No double support; the body tips from one foot on to the other.
shuffle: duty 9/10. Feet hardly leave the floor and are soon back.

Source: "The gaits of bipedal and quadrupedal animals", International Journal of Robotics Research 3 (1984): a walk has
duty above 1/2 and phases half a cycle apart, and its double support is twice (duty − 1/2) of the cycle.
"""

from bustle.core.kinds.gaits.gait import Gait, by_order

PHASES = by_order([("L", 0), ("R", 0)])
GAITS = (
    Gait("weight_shift", "Weight shift", PHASES, 4 / 5, "static", "Sways over one foot, then steps with the other."),
    Gait("two_walk", "Walk, double support", PHASES, 3 / 5, "dynamic", "Both feet are down for a tenth, twice."),
    Gait("tipping", "Tipping step", PHASES, 1 / 2, "dynamic", "Tips from foot to foot. Lives by its timing."),
    Gait("shuffle", "Shuffle", PHASES, 9 / 10, "dynamic", "Feet hardly lift and are soon back."),
)
