"""Named gaits of four legs: front-left FL, front-right FR, back-left BL, back-right BR.

creep: one leg at a time, touchdowns a quarter of a cycle apart, duty 4/5 here, so that all four legs are down for a
    twentieth of the cycle between steps. Below duty 3/4 two legs are in the air at once. There are six
    touchdown orders that begin with FL; FL BR FR BL is the one that keeps the most margin walking forward.
trot: diagonal pairs, FL and BR at 0, FR and BL at 1/2, duty 1/2. Two feet carry: it lives by its timing.
walk: FL 0, BR 1/4, FR 1/2, BL 3/4, as the best creep, with duty 5/8: two or three feet carry in turn.
amble: the phases of the walk, duty 9/20: one or two feet carry.
pace: the legs of one side together, left at 0, right at 1/2, duty 1/2.
bound: the front pair at 0, the back pair at 1/2, duty 1/2.
radial creep: legs that look ahead, left, back and right (places L0, L1, L2, R0) one at a time round the circle, a
    quarter of a cycle apart, duty 4/5.

Source: "On the stability properties of quadruped creeping gaits", Mathematical Biosciences 3 (1968), for the
six orders and the duty of 3/4 they need; "Symmetrical gaits of horses", Science 150 (1965), for the trot;
"The gaits of bipedal and quadrupedal animals", International Journal of Robotics Research 3 (1984), for walk, amble,
pace and bound by their phases and duties.
"""

from itertools import permutations

from bustle.core.kinds.gaits.gait import Gait, Spot, by_order, in_groups

CORNERS: dict[str, Spot] = {"FL": ("L", 0), "FR": ("R", 0), "BL": ("L", 1), "BR": ("R", 1)}
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
WALK_PHASES = by_order([CORNERS[corner] for corner in BEST_ORDER])
WALK = Gait(
    name="walk",
    label="Walk",
    duty=5 / 8,
    balance="dynamic",
    touchdowns=WALK_PHASES,
    about="One after another in the creep's best order, but quicker: two or three feet carry.",
)
AMBLE = Gait(
    name="amble",
    label="Amble",
    duty=9 / 20,
    balance="dynamic",
    touchdowns=WALK_PHASES,
    about="The walk's order with shorter stances: one or two feet carry.",
)
PACE = Gait(
    name="pace",
    label="Pace",
    duty=1 / 2,
    balance="dynamic",
    touchdowns=in_groups([[CORNERS["FL"], CORNERS["BL"]], [CORNERS["FR"], CORNERS["BR"]]]),
    about="The legs of one side together. It rolls from side to side.",
)
BOUND = Gait(
    name="bound",
    label="Bound",
    duty=1 / 2,
    balance="dynamic",
    touchdowns=in_groups([[CORNERS["FL"], CORNERS["FR"]], [CORNERS["BL"], CORNERS["BR"]]]),
    about="Front pair, then back pair. It pitches.",
)
RADIAL_CREEP = Gait(
    name="radial_creep",
    label="Radial creep",
    duty=4 / 5,
    balance="static",
    touchdowns=by_order([("L", 0), ("L", 1), ("L", 2), ("R", 0)]),
    about="Legs ahead, left, back and right, one at a time round the circle.",
)
GAITS = (*CREEPS, TROT, WALK, AMBLE, PACE, BOUND, RADIAL_CREEP)
