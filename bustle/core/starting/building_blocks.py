"""What starting shapes are put together from: limbs, servos, masses, a whole walker, its motions."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from typing import Any, Literal

from bustle.core.kinds.gaits import CUSTOM, GAITS, spots_of
from bustle.core.kinds.legs import FAMILIES
from bustle.core.project.parts import ServoType

Values = dict[str, Any]

SERVO: Values = {
    "name": "Metal-gear servo",
    "mass_g": 56.0,
    "stall_torque_nm": 1.9,
    "no_load_speed_deg_s": 400.0,
    "rated_v": 6.0,
    "travel_deg": 200.0,
    "frame_period_ms": 20.0,
    "play_deg": 0.5,
    "price": 14.0,
}

# How far each hip's yaw swings of a walker that tips from sole to sole and turns on each.
TIPPING_YAW_DEG = 25.0
# A walk of six legs that keeps more feet down than its first.
SLOWLY = "Slowly"
# Legs longer than this take longer for a cycle, by as much.
LARGE_MM = 260.0

SIX = ("L1", "L2", "L3", "R1", "R2", "R3")
FOUR = ("FL", "FR", "BL", "BR")


@dataclass(frozen=True)
class Timed:
    """A walk that lives by its timing, as it goes well on legs of at_mm: lengths go with the leg, times with its root.

    ways: the directions it is made in, by the names of its motions. step_mm: how far the body goes in a step, two to a
    cycle; turn_deg: how far it turns in a cycle. sway: planned so that its pushing point keeps to its soles, or these
    terms, or none. swings_deg, swings_at: how far a thrown mass swings to the standing foot's side, and how long after
    touchdown. against_sag: what is held against, as a project's. What gives as the legs are swung too, where it goes
    too far without: in an engine legs that trot up to half as far again, six joints a leg by a quarter; not where
    nothing rolls the ankles, which then went 0.6 of their way. travel: as the steps ask, or as the legs imply.
    """

    gait: str
    at_mm: float
    cycle_s: float
    duty: float
    step_mm: float
    lift_mm: float
    ways: tuple[str, ...] = ("Forward",)
    turn_deg: float = 0.0
    sway: Literal["planned"] | tuple[dict[str, float], ...] = ()
    swings_deg: float = 0.0
    swings_at: float = 0.2
    against_sag: Literal["static", "full"] = "static"
    travel: Literal["asked", "implied"] = "asked"


AHEAD_AND_BACK = ("Forward", "Back")
EVERY_WAY = (*AHEAD_AND_BACK, "Turn left", "Turn right")

# The walks of two legs, by what shifts the weight: a boom that holds it, hips and ankles that roll, feet that are
# kept level below hips that roll, a mass thrown from side to side.
ON_A_BOOM = Timed("two_walk", 260.0, 1.2, 0.6, 20.0, 15.0, AHEAD_AND_BACK, sway="planned")
ROLLING = Timed(
    "two_walk", 260.0, 1.0, 0.65, 20.0, 20.0, EVERY_WAY, turn_deg=20.0, sway="planned", against_sag="full"
)  # fmt: skip
# Swayed by 8 mm, late, it covered half to nine tenths of its way in an engine; so, nine tenths and more.
KEPT_LEVEL = Timed(
    "two_walk", 260.0, 0.4, 0.55, 20.0, 7.0, EVERY_WAY, turn_deg=6.0, sway=({"y_cos_mm": -3.0, "y_sin_mm": -1.5},)
)
THROWN = Timed("two_walk", 220.0, 0.8, 0.6, 15.0, 8.0, AHEAD_AND_BACK, swings_deg=60.0)


def trotting(cycle_s: float, duty: float, step_mm: float, lift_mm: float) -> Timed:
    """Two and two across, quick enough that it is on four feet again before it has leaned far."""
    return Timed("trot", 220.0, cycle_s, duty, step_mm, lift_mm, ("Trot",), against_sag="full")


# By the family of four legs; of others as slow a leg as any would take.
TROTS = {
    "sprawled_3": trotting(0.64, 0.64, 15.0, 12.0),
    "upright_3": trotting(0.76, 0.6, 26.0, 17.0),
    "upright_2": trotting(0.74, 0.58, 24.0, 16.0),
    # Its feet swing on arcs and slide. In an engine it leaned a degree further with 16 mm of lift; small ones, in steps
    # of 12 mm in 0.8 s a cycle, hopped and went 1.3 of their way.
    "sprawled_2": Timed("trot", 160.0, 1.1, 0.62, 20.0, 11.0, ("Trot",), travel="implied"),
}
ANY_TROT = trotting(0.54, 0.62, 16.0, 16.0)


@dataclass(frozen=True)
class Swinging:
    """A walk of joints that swing, as it goes well on legs of at_mm: the time goes with the leg's root.

    joints: each "L/ankle", how far it swings (degrees), at which share of the cycle it is furthest. less: those that
    swing less far where soles would meet or servos are too slow.
    """

    at_mm: float
    cycle_s: float
    joints: tuple[tuple[str, float, float], ...]
    name: str = "Forward"
    less: tuple[str, ...] = ()


def tipping(left: str, right: str) -> tuple[Swinging, ...]:
    """Ankles tip it from sole to sole; on each it turns by what that hip's yaw swings."""
    ankles = ((f"{left}/ankle", 6.0, 0.25), (f"{right}/ankle", 6.0, 0.25))
    yaws = f"{left}/yaw", f"{right}/yaw"
    return tuple(
        Swinging(140.0, 1.0, (*ankles, (yaws[0], one, 0.0), (yaws[1], other, 0.0)), name, yaws)
        for name, one, other in (
            ("Forward", TIPPING_YAW_DEG, TIPPING_YAW_DEG),
            ("Turn left", TIPPING_YAW_DEG, 0.0),
            ("Turn right", 0.0, TIPPING_YAW_DEG),
        )
    )


def rocking(left: str, right: str) -> tuple[Swinging, ...]:
    """It rocks by leaning both legs to a side, and swings the lighter one ahead, late by a third of the rocking."""
    lifts = ((f"{left}/lift", 8.0, 0.0), (f"{right}/lift", 8.0, 0.0))
    return (Swinging(180.0, 0.9, (*lifts, (f"{left}/swing", 8.0, 0.694), (f"{right}/swing", 8.0, 0.194))),)


# Walks of joints that swing, by the family of their two legs.
SWUNG: dict[str, Callable[[str, str], tuple[Swinging, ...]]] = {"biped_2": tipping, "rocker_2": rocking}


def crawls_held(family: str, legs: int, aside: bool) -> Literal["off", "static"]:
    """What legs that stand on three or more are held against; aside: whether all point straight out to the sides. What
    gives under the weight took upright legs and legs of two joints 4 to 18 % off their way in an engine, and 0 to 4 %
    where it was held against; six legs of two joints set round gain nothing by it."""
    slides = family == "sprawled_2" and (aside or legs == 4)
    return "static" if slides or family in ("upright_2", "upright_3") else "off"


@dataclass(frozen=True)
class Built:
    """A walker's parts in the proportions of one length, and what its motions need.

    centres: degrees, of servos by joint, or by limb and joint. stroke_mm, lift_mm: of the walks. walks: the names of
    the motions it can make besides standing. travel: whether the walks go as their twist asks or as their legs imply.
    timed, swings: walks that live by their timing. against_sag: as a project's, see `crawls_held`; a hip that gives a
    degree and a half fells a machine on two legs whose balance is perfect. servo, frame_g: the builder's own sheet, and
    what the frame weighs with all it carries; None: as is usual for the size.
    """

    limbs: list[Values]
    size: list[float]
    ride_mm: float
    centres: dict[str, float] = field(default_factory=dict)
    stroke_mm: float = 0.0
    lift_mm: float = 0.0
    walks: tuple[str, ...] = ()
    balance: str = "static"
    masses: tuple[Values, ...] = ()
    held: str = "free"
    gait: str = ""
    duty: float = 0.0
    cycle_s: float = 0.0
    travel: str = "asked"
    body: str = "box"
    timed: tuple[Timed, ...] = ()
    swings: tuple[Swinging, ...] = ()
    battery_ahead_mm: float = 0.0
    against_sag: Literal["off", "static"] = "off"
    servo: ServoType | None = None
    frame_g: float | None = None


@dataclass(frozen=True)
class Shape:
    """A starting shape; build(length_mm) → Built, length from the hip to the foot of a straight leg.

    about: how it walks. legs, family, placed: of shapes that can be had by one's own numbers, what those begin with.
    """

    name: str
    label: str
    group: str
    usual_mm: float
    build: Callable[[float], Built]
    about: str
    legs: int = 0
    family: str = ""
    placed: str = ""


def mm(value: float) -> float:
    """To the half millimetre."""
    return round(value * 2) / 2


def side_of(name: str) -> int:
    """+1 for a left limb, −1 for a right one, by its label."""
    return 1 if "L" in name else -1


def thickness_mm(lengths: Sequence[float]) -> float:
    """How far links reach to every side of their middle line."""
    return mm(max(2.0, min(6.0, sum(lengths) * 0.03)))


def limb(
    name: str,
    at: Sequence[float],
    yaw_deg: float,
    family: str,
    lengths: Sequence[float],
    joints: dict[str, tuple[float, float]],
    neutral: Sequence[float] | None,
    **more: Any,
) -> Values:
    """A limb of a family: lengths in the family's order, joints' ends by name. `more` overrides any field."""
    spec = FAMILIES[family]
    values: Values = {
        "name": name,
        "mount": {"at_mm": [mm(v) for v in at], "yaw_deg": yaw_deg},
        "family": family,
        "branch": spec.branches[0],
        "joints": [{"name": j.name, "min_deg": joints[j.name][0], "max_deg": joints[j.name][1]} for j in spec.joints],
        "links": [
            {
                "name": link.name,
                "length_mm": mm(length),
                "mass_g": round(mm(length) * 0.15, 1),
                "radius_mm": thickness_mm(lengths),
                "print_h": round(length * 0.012, 1),
            }
            for link, length in zip(spec.links, lengths, strict=True)
        ],
        "neutral_mm": None if neutral is None else [mm(v) for v in neutral],
    }
    return {**values, **more}


def _stronger(built: Built, length: float) -> float:
    """Weight grows with the legs and so do its levers: what holds up 200 mm would stall at 600. On two legs, and on
    four that trot, what is strong enough for 200 mm has a rotor too heavy for the quick steps of 60: it hops; not where
    legs lead, whose steps take their time."""
    scale = (length / 200) ** 2
    legs = sum(1 for part in built.limbs if part["joints"] and part.get("feet") != [])
    quick = any(timed.travel == "asked" for timed in built.timed)
    return scale if legs == 2 or quick else max(1.0, scale)


def walker_of(built: Built, length: float) -> tuple[Values, Values]:
    """The walker and its servo's sheet."""
    servo = (
        built.servo.model_dump(mode="json")
        if built.servo
        else {
            **SERVO,
            "mass_g": round(min(180.0, max(12.0, length / 4)), 0),
            "stall_torque_nm": round(SERVO["stall_torque_nm"] * _stronger(built, length), 2),
        }
    )
    frame_g, battery_g = float(round(2.2 * length) + 60), float(round(length * 0.8))
    if built.frame_g is not None:
        share = built.frame_g / (frame_g + battery_g)
        frame_g, battery_g = round(frame_g * share, 1), round(battery_g * share, 1)
    drives = [
        {
            "servos": [
                {
                    "name": f"{part['name']} {joint['name']}",
                    "type": servo["name"],
                    "centre_deg": built.centres.get(
                        f"{part['name']}/{joint['name']}", built.centres.get(joint["name"], 0.0)
                    ),
                }
            ],
            "joints": [f"{part['name']}/{joint['name']}"],
        }
        for part in built.limbs
        for joint in part["joints"]
    ]
    masses = [
        {
            "name": "Frame and controller",
            "mass_g": frame_g,
            "fills": True,
            "price": 46.0,
            "print_h": round(length * 0.06, 1),
        },
        {
            "name": "Battery",
            "mass_g": battery_g,
            "at_mm": [mm(built.battery_ahead_mm), 0.0, -mm(built.size[2] / 4)],
            "size_mm": [mm(v / 3) for v in built.size],
            "price": 22.0,
        },
        *built.masses,
    ]
    walker = {
        "sections": [{"name": "body", "size_mm": built.size, "shape": built.body}],
        "limbs": built.limbs,
        "masses": masses,
        "drives": drives,
        "held": built.held,
    }
    return walker, servo


def motions_of(built: Built, leg_length_mm: float) -> list[Values]:
    """The walks the shape can make, then standing still. Large ones take their time: halted, their mass goes on."""
    legs = [part for part in built.limbs if part["neutral_mm"] is not None]
    slower = max(1.0, leg_length_mm / LARGE_MM)
    made = [_walk(built, legs, name, slower) for name in built.walks]
    stand = {
        "name": "Stand",
        "gait": CUSTOM,
        "legs": [{"limb": leg["name"], "phase": 0.0, "duty": 1.0} for leg in legs],
        "cycle_s": 2.0,
        "foot_path": "cycloid",
        "lift_mm": built.lift_mm,
        "pose": {"ride_height_mm": built.ride_mm},
        "balance": built.balance,
    }
    return [*made, stand]


def _walk(built: Built, legs: list[Values], name: str, slower: float) -> Values:
    """At the gait that keeps the most in hand while still getting somewhere."""
    spots = spots_of([tuple(leg["mount"]["at_mm"][:2]) for leg in legs])
    usual = GAITS[built.gait or ("tripod" if len(legs) == 6 else "creep")]
    # Without a gait of a name, one leg after the other, by turns on far sides.
    gait = usual if usual.fits(spots) else next((g for g in GAITS.values() if g.fits(spots)), None)
    slow = name == SLOWLY
    if slow:
        gait = next(g for g in (GAITS["ripple"], GAITS["wave"], usual) if g.fits(spots))
    # Tripod with half a tenth of double support, so that feet change over with all six down.
    duty = built.duty or (0.55 if gait is usual and len(legs) == 6 else gait.duty if len(legs) > 6 and gait else 0.88)
    if slow and gait:
        duty = round(gait.duty + 0.1 * (1 - gait.duty), 3)
    cycle = built.cycle_s or (1.2 if len(legs) == 6 else 3.0)
    cycle = round(50 * cycle * (2.5 if slow else 1.0) * slower) / 50
    turns = [(k * (len(legs) // 2 or 1)) % len(legs) / len(legs) for k in range(len(legs))]
    phases = gait.phases(spots) if gait else turns
    speed = built.stroke_mm / (duty * cycle)
    reach = sum(sum(v * v for v in leg["neutral_mm"]) ** 0.5 for leg in legs) / len(legs)
    twist = {
        "Forward": {"vx_mm_s": round(speed, 1)},
        SLOWLY: {"vx_mm_s": round(speed, 1)},
        "Back": {"vx_mm_s": -round(speed, 1)},
        "Turn left": {"omega_deg_s": round(speed / reach * 57.3 * 0.8, 1)},
        "Turn right": {"omega_deg_s": -round(speed / reach * 57.3 * 0.8, 1)},
        "Sideways left": {"vy_mm_s": round(speed * 0.6, 1)},
        "Sideways right": {"vy_mm_s": -round(speed * 0.6, 1)},
    }[name]
    return {
        "name": name,
        "gait": gait.name if gait else CUSTOM,
        "legs": [{"limb": leg["name"], "phase": p, "duty": duty} for leg, p in zip(legs, phases, strict=True)],
        "cycle_s": cycle,
        "twist": twist,
        "foot_path": "cycloid",
        "lift_mm": built.lift_mm,
        "pose": {"ride_height_mm": built.ride_mm},
        # A gait of its own is judged as the shape says: casters make a trot static.
        "balance": built.balance if built.gait or not gait else gait.balance,
        "travel": built.travel,
    }
