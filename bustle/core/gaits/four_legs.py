"""Named gaits of four legs: front-left FL, front-right FR, back-left BL, back-right BR.

creep: one leg at a time, touchdowns a quarter of a cycle apart, duty 4/5 here, so that all four legs are down for a
    twentieth of the cycle between steps. Below duty 3/4 two legs are in the air at once. There are six
    touchdown orders that begin with FL; FL BR FR BL is the one that keeps the most margin walking forward.
trot: diagonal pairs, FL and BR at 0, FR and BL at 1/2, duty 1/2. Two feet carry: it lives by its timing.

Source: "On the stability properties of quadruped creeping gaits", Mathematical Biosciences 3 (1968), for the
six orders and the duty of 3/4 they need; "Symmetrical gaits of horses", Science 150 (1965), for the trot.
"""

from itertools import permutations

from bustle.core.gaits.gait import Gait, Place, by_order, in_groups

CORNERS: dict[str, Place] = {"FL": ("L", 0), "FR": ("R", 0), "BL": ("L", 1), "BR": ("R", 1)}
BEST_ORDER = ("FL", "BR", "FR", "BL")


def _creep(order: tuple[str, ...]) -> Gait:
    best = order == BEST_ORDER
    return Gait(
        name="creep" if best else "creep_" + "_".join(order).lower(),
        label="Creep " + " ".join(order),
        duty=4 / 5,
        balance="static",
        touchdowns=by_order([CORNERS[corner] for corner in order]),
        about="One leg at a time, touching down in the order " + ", ".join(order) + ".",
    )


_ORDERS = [("FL", *rest) for rest in permutations(("BR", "FR", "BL"))]
CREEPS = tuple(_creep(order) for order in sorted(_ORDERS, key=lambda order: order != BEST_ORDER))

TROT = Gait(
    name="trot",
    label="Trot",
    duty=1 / 2,
    balance="dynamic",
    touchdowns=in_groups([[CORNERS["FL"], CORNERS["BR"]], [CORNERS["FR"], CORNERS["BL"]]]),
    about="Diagonal pairs. Two feet carry, so it must keep moving.",
)
GAITS = (*CREEPS, TROT)
