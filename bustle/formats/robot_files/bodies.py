"""The walker as rigid bodies in a tree, for files that other programs build a machine from.

Lengths in m, masses in kg, inertias in kg·m² about each body's own centre of mass, in its own axes. A body's frame sits
at its joint, turned as the link before it was at zero pose. Every mass of the ledger is in the body it rides on, with
its true inertia, so that mass, centre of mass and inertia are the plan's.

A hinge that follows others (a parallelogram's ankle) has one joint for each of them, one after the other about the same
axis, so that every table column is a joint of its own and what follows it is told by name and factor.

Engines ask every moving body for a mass. A part without one borrows a little from the part before it, at the joint
between them, where it changes no centre of mass in any pose.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from bustle.core.at_rest.geared_joints import Turned, geared_joints
from bustle.core.document.checked import CheckedProject
from bustle.core.geometry.arrays import Array
from bustle.core.geometry.serial_chain import Chain
from bustle.core.kinds.legs import FAMILIES
from bustle.core.machine.kit import Turner, kit_of
from bustle.core.machine.masses import Entry, inertia_kg_m2
from bustle.core.machine.sections import AXES, section_places
from bustle.core.project.walker import Limb, Section
from bustle.formats.robot_files.shapes import (
    Shape,
    ball_shape,
    ended,
    frame_shape,
    link_shape,
    sole_shapes,
    wheel_shape,
)

# A ball's axles, from the frame inwards: what it does as it turns on each.
AXLES = {"ahead": AXES["pitch"], "aside": AXES["roll"], "about": AXES["yaw"]}

# Soles that are the same however they are turned.
ROUND = ("point", "ball")

# What a part without mass borrows, kg, at most this share of the part it moves on, and more of one that borrowed; a kg
# of it as a ball of 3 mm, kg·m²; and what it weighs where there is nothing to borrow.
BORROWED_KG, BORROWED_SHARE, PASSED_ON, BALL = 2e-3, 0.02, 0.4, 0.4 * 0.003**2 * np.eye(3)
LEAST_KG = 5e-7


@dataclass(frozen=True)
class Joint:
    """What a body turns or slides by. low, high: rad or m. turned: its servo, None where it has none.

    follows: the joint that moves it, and by how much for each unit of it; None where it moves by itself. friction_nm:
    of a friction ring.
    """

    name: str
    slides: bool
    axis: Array
    low: float
    high: float
    turned: Turned | None = None
    follows: tuple[str, float] | None = None
    ends: bool = True
    friction_nm: float = 0.0


@dataclass
class Body:
    """at, turn: where it sits in its parent. joint None: it is fixed there. A frame alone has no mass and no shape."""

    name: str
    parent: int
    at: Array
    turn: Array
    joint: Joint | None = None
    kg: float = 0.0
    centre: Array = field(default_factory=lambda: np.zeros(3))
    inertia: Array = field(default_factory=lambda: np.zeros((3, 3)))
    shapes: list[Shape] = field(default_factory=list)

    def add(self, kg: float, at: Array, inertia: Array) -> None:
        """I about the new centre: I₁ + I₂ + m₁m₂/(m₁+m₂)·(d²·1 − d·dᵀ), d between the two (parallel axes)."""
        total = self.kg + kg
        if total == 0.0:
            return
        d = at - self.centre
        self.inertia = self.inertia + inertia + self.kg * kg / total * (d @ d * np.eye(3) - np.outer(d, d))
        self.centre, self.kg = self.centre + kg / total * d, total


@dataclass(frozen=True)
class Robot:
    """bodies: parents before children, the body frame first. lost: what no such file holds, a sentence each."""

    name: str
    bodies: tuple[Body, ...]
    lost: tuple[str, ...]


def robot_of(project: CheckedProject, plainly: bool = False) -> Robot:
    """The design of a walker, its hinged sections straight. plainly: for readers that know boxes, rods and balls, and
    let nothing slide without holding it: what rolls every way is a ball that turns, about three axles one in the other,
    and what curves is plates."""
    walker, kit = project.walker, kit_of(project)
    straight = kit.assembled({})
    turned = geared_joints(kit)
    bodies = _sections(project, straight.masses, kit.turners, turned)
    homes, short = {body.name: n for n, body in enumerate(bodies)}, list[str]()
    for group in straight.parts:
        for row, member in enumerate(group.members.tolist()):
            limb, chain = walker.limbs[member], group.build.only([row]).chain
            if any(t.joint.limb.name == limb.name for t in kit.turners):
                # It is the hinge of its section, and no part of its own.
                continue
            own = ended(limb, walker.legs) if plainly else limb
            if own != limb:
                short.append(f"{limb.name}: that its sole curves on; in the file it ends short of the next one.")
            _limb(bodies, project, homes[own.section], own, chain, straight.masses, member, turned, plainly)
    _lend(bodies)
    return Robot(project.name, tuple(bodies), (*_lost(project), *short))


def _sections(
    project: CheckedProject, entries: Sequence[Entry], turners: Sequence[Turner], turned: dict[str, Turned]
) -> list[Body]:
    walker = project.walker
    driven = {t.section: t.joint for t in turners}
    places = section_places(walker, {})
    bodies: list[Body] = []
    homes: dict[str, int] = {}
    # A section hangs on one before it, whatever the order in the file.
    waiting: list[Section] = list(walker.sections)
    while waiting:
        section = next(s for s in waiting if s.hinge is None or s.hinge.on in homes)
        waiting.remove(section)
        parent, at = -1, np.zeros(3)
        if section.hinge:
            hinge = section.hinge
            low, high = np.radians([hinge.min_deg, hinge.max_deg])
            joint = Joint(f"{section.name}/hinge", False, AXES[hinge.axis], float(low), float(high))
            if section.name in driven:
                own = driven[section.name]
                low, high = sorted((own.low * own.sign, own.high * own.sign))
                joint = Joint(own.called, False, AXES[hinge.axis] * own.sign, low, high, turned.get(own.path))
            pivot = Body(f"{section.name}/pivot", homes[hinge.on], np.array(hinge.at_mm) / 1000, np.eye(3), joint)
            bodies.append(pivot)
            parent, at = len(bodies) - 1, np.array(hinge.to_mm) / 1000
        body = Body(section.name, parent, at, np.eye(3))
        body.shapes.append(frame_shape(section))
        place = places[section.name]
        for entry in entries:
            if entry.limb < 0 and entry.on == section.name:
                here = (np.array(entry.at) - place.at) @ place.turn
                body.add(entry.mass_kg, here / 1000, inertia_kg_m2(entry, np.zeros(3)))
        homes[section.name] = len(bodies)
        bodies.append(body)
    return bodies


def _limb(
    bodies: list[Body], project: CheckedProject, parent: int, limb: Limb, chain: Chain, entries: Sequence[Entry],
    member: int, turned: dict[str, Turned], plainly: bool,
) -> None:  # fmt: skip
    place = section_places(project.walker, {})[limb.section]
    at, turn = (chain.mount_at[0] - place.at) @ place.turn, place.turn.T @ chain.mount_turn[0]
    hinges = chain.offsets.shape[1]
    coupling = np.eye(hinges) if chain.coupling is None else chain.coupling
    for h in range(hinges):
        offset = chain.offsets[0, h]
        movers = _movers(limb, chain, coupling, h, turned)
        name = _link_name(limb, chain, coupling, h)
        for n, joint in enumerate(movers or [None]):
            last = n == max(len(movers) - 1, 0)
            bodies.append(Body(name if last else f"{name}_{n + 1}", parent, at / 1000, turn, joint))
            parent, at, turn = len(bodies) - 1, np.zeros(3), np.eye(3)
        body = bodies[-1]
        body.shapes += link_shape(limb, offset, tip=h == hinges - 1 and bool(limb.feet))
        for entry in entries:
            if entry.limb == member and entry.link == h:
                here = entry.along * offset + np.array(entry.at)
                body.add(entry.mass_kg, here / 1000, inertia_kg_m2(entry, offset))
        at = offset
    for foot in limb.feet:
        label = "foot" if foot.side == "under" else "upper_foot"
        where = at + turn @ np.array(foot.at_mm)
        ball = ball_shape(foot) if plainly else None
        if ball:
            shape, centre = ball
            bodies += _on_axles(f"{limb.name}/ball", len(bodies), parent, (where + turn @ centre) / 1000, turn, shape)
        else:
            bodies[parent].shapes += sole_shapes(foot, where, turn, in_plates=plainly)
        # The foot's frame: where the plan has the end of the leg, or the axle of its wheel.
        bodies.append(Body(f"{limb.name}/{label}", parent, where / 1000, turn))
        wheel = wheel_shape(foot)
        if wheel:
            shape, centre, axle = wheel
            joint = Joint(f"{limb.name}/axle", False, axle, -np.pi, np.pi, ends=False)
            spot = (where + turn @ centre) / 1000
            bodies.append(Body(f"{limb.name}/wheel", parent, spot, turn, joint, shapes=[shape]))


def _on_axles(name: str, first: int, parent: int, at: Array, turn: Array, shape: Shape) -> list[Body]:
    """A ball that turns every way, as the bodies from the first on. The third axle keeps it from locking once it has
    turned a quarter ahead."""
    found = []
    for n, (way, axis) in enumerate(AXLES.items()):
        joint = Joint(f"{name}_{way}", False, axis, -np.pi, np.pi, ends=False)
        found.append(Body(name if way == [*AXLES][-1] else f"{name}_in_{way}", parent, at, turn, joint))
        parent, at, turn = first + n, np.zeros(3), np.eye(3)
    found[-1].shapes.append(shape)
    return found


def _link_name(limb: Limb, chain: Chain, coupling: Array, h: int) -> str:
    """`<leg>/<joint>_link` for what the first hinge of a joint moves; what follows is numbered."""
    for n, joint in enumerate(limb.joints):
        if chain.hinge_of_joint(n) == h and coupling[h, n]:
            return f"{limb.name}/{joint.name}_link"
    return f"{limb.name}/part{h + 1}_link"


def _movers(limb: Limb, chain: Chain, coupling: Array, h: int, turned: dict[str, Turned]) -> list[Joint]:
    """The joints of hinge h: those that follow first, its own last; none where it is stiff."""
    found = []
    own = next((n for n in range(len(limb.joints)) if chain.hinge_of_joint(n) == h), None)
    for n in np.flatnonzero(coupling[h]).tolist():
        spec, factor = limb.joints[n], float(coupling[h, n])
        path, slides = f"{limb.name}/{spec.name}", chain.slide(h)
        called, sign = limb.called_in_files(spec)
        low, high = (spec.min_mm / 1000, spec.max_mm / 1000) if spec.kind == "slide" else (
            float(np.radians(spec.min_deg)), float(np.radians(spec.max_deg))
        )  # fmt: skip
        axis = chain.axes[0, h]
        if n == own:
            ring = 0.0 if spec.kind == "slide" else spec.friction_nm
            low, high = sorted((low * sign, high * sign))
            found.append(Joint(called, slides, axis * factor * sign, low, high, turned.get(path), friction_nm=ring))
        else:
            low, high = sorted((low * factor, high * factor))
            follows = (called, factor * sign)
            found.insert(0, Joint(f"{called}_on_part{h + 1}", slides, axis, low, high, follows=follows))
    return found


def _lend(bodies: list[Body]) -> None:
    """A little of the mass it moves on to every moving part without any, at the joint between them. To what has a
    shape and none, and moves by no joint, next to nothing: of such, readers make out a mass by its size."""
    weightless = [(body, body.joint) for body in bodies if body.joint and body.kg == 0]
    for body, joint in weightless:
        parent, at = _moves_on(bodies, body)
        share = PASSED_ON if any(parent is other for other, _ in weightless) else BORROWED_SHARE
        kg = 0.0 if joint.slides else min(BORROWED_KG, share * parent.kg)
        # Far from a small body it can spare less, and of what is left the next ones borrow.
        while kg > LEAST_KG:
            left = replace(parent)
            left.add(-kg, at, -kg * BALL)
            if _can_be(left.inertia):
                parent.kg, parent.centre, parent.inertia = left.kg, left.centre, left.inertia
                break
            kg /= 4
        body.add(max(kg, LEAST_KG), np.zeros(3), max(kg, LEAST_KG) * BALL)
    for body in bodies:
        if body.kg == 0 and body.shapes:
            body.add(LEAST_KG, np.zeros(3), LEAST_KG * BALL)


def _moves_on(bodies: list[Body], body: Body) -> tuple[Body, Array]:
    """The body with mass that its joint sits on, through what is fixed to it, and where (m) in that body's axes."""
    parent, at = bodies[body.parent], body.at
    while parent.kg == 0.0 and parent.joint is None and parent.parent >= 0:
        at = parent.at + parent.turn @ at
        parent = bodies[parent.parent]
    return parent, at


def _can_be(inertia: Array) -> bool:
    """Whether some body has such an inertia: no principal one above the sum of the other two."""
    small, middle, large = np.linalg.eigvalsh(inertia)
    return bool(small > 0 and small + middle >= large * (1 + 1e-9))


def _lost(project: CheckedProject) -> list[str]:
    walker = project.walker
    lost = []
    for drive in walker.drives:
        name = drive.servos[0].name
        if drive.kind == "rod":
            lost.append(
                f"{name}: its rod; torque and speed are those at the servo's centre, dead points are not there."
            )
        elif drive.kind == "cord":
            lost.append(f"{name}: its cord; the file's joint is also pushed, and its spring is not there.")
        elif len(drive.joints) > 1:
            both = " and ".join(drive.joints)
            lost.append(f"{name}: its {drive.kind.replace('_', ' ')}; {both} have a servo each in the file.")
        if drive.stiffness_nm_deg is not None:
            lost.append(f"{name}: how far its horn gives.")
    lost += [
        f"{limb.name}: its sole stays level by itself; in the file it is fixed to the last link."
        for limb in walker.limbs
        if limb.steps and not FAMILIES[limb.family].sole_follows and any(f.sole.kind not in ROUND for f in limb.feet)
    ]
    for truth in walker.as_built.limbs:
        lost.append(f"{truth.limb}: what was measured of the built leg; the design is written.")
    if any(s.play_deg for s in project.servo_types):
        lost.append("Play of the servos; every joint is without it.")
    if walker.leads:
        lost.append("Leads.")
    if walker.folded:
        lost.append("The folded pose.")
    return lost
