"""A URDF file as a checked tree of links and joints; lengths in mm, angles in rad."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass, field, replace
from typing import Literal
from xml.etree import ElementTree as ET

import numpy as np
from defusedxml.common import DefusedXmlException
from defusedxml.ElementTree import fromstring
from scipy.spatial.transform import Rotation

from bustle.core.geometry.arrays import Array
from bustle.core.words.problems import refuse

MAX_BYTES = 2_000_000
MAX_JOINTS = 400
# What a walker is made from; every other element is passed over and told.
KNOWN = ("link", "joint", "material")
MOST_TOLD = 12
MOVING = ("revolute", "continuous", "prismatic")
Kind = Literal["ball", "box", "rod"]
# By URDF's word: ours, and its measures.
SHAPES: dict[str, tuple[Kind, tuple[str, ...]]] = {
    "sphere": ("ball", ("radius",)),
    "box": ("box", ("size",)),
    "cylinder": ("rod", ("radius", "length")),
}
MOST_MM = 3000.0
# Of any number, so that no square of it overflows. What is without end, as some say of an effort, is far below it.
MOST = 1e100


@dataclass(frozen=True)
class Touch:
    """A ball, box or rod: at (3,), turn (3, 3), and its radius (1,), its sides (3,) or its radius and length along its
    own z (2,), mm. foots: whether its link is called a foot."""

    kind: Kind
    at: Array
    turn: Array
    size: Array
    foots: bool = False

    def placed(self, at: Array, turn: Array) -> Touch:
        """On a link that lies so."""
        return replace(self, at=at + turn @ self.at, turn=turn @ self.turn)

    def holds(self, point: Array) -> bool:
        """Whether a ball has a point (3,) in it."""
        return bool(np.linalg.norm(point - self.at) <= self.size[0])

    @property
    def lowest_mm(self) -> float:
        """The height of its lowest point."""
        up = self.turn[2]
        if self.kind == "box":
            half = float(np.abs(up) @ self.size / 2)
        elif self.kind == "rod":
            half = float(self.size[0] * np.hypot(up[0], up[1]) + abs(up[2]) * self.size[1] / 2)
        else:
            half = float(self.size[0])
        return float(self.at[2]) - half


@dataclass
class Body:
    """A link: its mass (kg) and where (mm), and the balls, boxes and rods that it touches with; that it shows, where it
    touches with none."""

    name: str
    mass_kg: float = 0.0
    centre: Array = field(default_factory=lambda: np.zeros(3))
    touches: list[Touch] = field(default_factory=list)


@dataclass(frozen=True)
class Follows:
    """What moves a joint that has no motor of its own: factor times the leader's angle, and offset, rad."""

    leader: str
    factor: float
    offset: float


@dataclass
class Hinge:
    """A joint: where it sits in its parent, and its axis in its own frame. low, high: rad or mm."""

    name: str
    kind: str
    parent: str
    child: str
    at: Array
    turn: Array
    axis: Array
    low: float
    high: float
    effort: float
    velocity: float
    follows: Follows | None = None


@dataclass
class Tree:
    name: str
    root: str
    bodies: dict[str, Body]
    below: dict[str, list[Hinge]]
    unused: list[str]


def read_tree(data: bytes) -> Tree:
    """Raises InputRefused with a sentence for anything that is no tree of links and joints."""
    if len(data) > MAX_BYTES:
        raise refuse("", f"The file is {len(data) / 1e6:.1f} MB; a URDF file has at most {MAX_BYTES / 1e6:g} MB.")
    try:
        robot = fromstring(data, forbid_dtd=True)
    except DefusedXmlException as error:
        raise refuse(
            "", "The file declares a document type or entities, which a URDF has no need of; remove them."
        ) from error
    except (ET.ParseError, ValueError, LookupError) as error:
        raise refuse("", f"The file is not well-formed XML: {error}.") from error
    if robot.tag != "robot":
        raise refuse("", f"The file's first element is <{robot.tag[:40]}>, where a URDF has <robot>.")
    unused: list[str] = []
    bodies = {body.name: body for body in _bodies(robot, unused)}
    hinges = list(_hinges(robot, bodies))
    if not any(h.kind in MOVING for h in hinges):
        raise refuse("", "The file has no revolute, continuous or prismatic joint, so nothing in it can walk.")
    if len(hinges) > MAX_JOINTS:
        raise refuse("", f"The file has {len(hinges)} joints; at most {MAX_JOINTS} are read.")
    below: dict[str, list[Hinge]] = {name: [] for name in bodies}
    for hinge in hinges:
        below[hinge.parent].append(hinge)
    root = _root(bodies, hinges, below)
    others = Counter(child.tag for child in robot if child.tag not in KNOWN and isinstance(child.tag, str))
    unused += [f"elements <{tag[:40]}>: {count} of them" for tag, count in others.most_common(MOST_TOLD)]
    if len(others) > MOST_TOLD:
        unused.append(f"{len(others) - MOST_TOLD} more kinds of element")
    return Tree((robot.get("name") or "Walker from URDF").strip()[:60], root, bodies, below, unused)


def _numbers(text: str | None, count: int, where: str, usual: Array) -> Array:
    if text is None:
        return usual
    try:
        values = np.array([float(part) for part in text.split()])
    except ValueError as error:
        raise refuse(where, f"must be {count} numbers, got {text[:40]!r}") from error
    if len(values) != count or not (np.abs(values) <= MOST).all():
        raise refuse(where, f"must be {count} finite numbers of no more than {MOST:g}, got {text[:40]!r}")
    return values


def _origin(element: ET.Element | None, where: str) -> tuple[Array, Array]:
    if element is None:
        return np.zeros(3), np.eye(3)
    at = _numbers(element.get("xyz"), 3, f"{where} origin xyz", np.zeros(3)) * 1000
    rpy = _numbers(element.get("rpy"), 3, f"{where} origin rpy", np.zeros(3))
    if np.abs(at).max() > 3000:
        raise refuse(f"{where} origin xyz", f"must be within 3 m, got {element.get('xyz')}")
    return at, Rotation.from_euler("xyz", rpy).as_matrix()


def _bodies(robot: ET.Element, unused: list[str]) -> Iterator[Body]:
    seen: set[str] = set()
    meshes = 0
    for link in robot.findall("link"):
        name = link.get("name") or ""
        if not name or name in seen:
            raise refuse("link", "every link needs a name" if not name else f"two links are called {name[:60]!r}")
        seen.add(name)
        body = Body(name)
        inertial = link.find("inertial")
        if inertial is not None:
            body.centre, _ = _origin(inertial.find("origin"), f"link {name} inertial")
            mass = inertial.find("mass")
            value = _numbers(None if mass is None else mass.get("value"), 1, f"link {name} mass", np.zeros(1))[0]
            if value < 0 or value > 100:
                raise refuse(f"link {name} mass", f"must be from 0 to 100 kg, got {value:g}")
            body.mass_kg = float(value)
        body.touches = _touches(link, "collision") or _touches(link, "visual")
        meshes += sum(visual.find("geometry/mesh") is not None for visual in link.findall("visual"))
        yield body
    if meshes:
        unused.append(f"mesh shapes: {meshes} of them")


def called_foot(name: str) -> bool:
    return "foot" in name.lower()


def _touches(link: ET.Element, tag: str) -> list[Touch]:
    """What a link touches with, or shows, in its own frame; what has no size is nothing."""
    name, found = link.get("name") or "", list[Touch]()
    for element in link.findall(tag):
        at, turn = _origin(element.find("origin"), f"link {name} {tag}")
        for shape, (kind, keys) in SHAPES.items():
            given = element.find(f"geometry/{shape}")
            if given is not None:
                count = 3 if kind == "box" else 1
                read = [_numbers(given.get(key), count, f"link {name} {shape}", np.zeros(count)) for key in keys]
                size = np.concatenate(read) * 1000
                if (size > 0).all() and (size < MOST_MM).all():
                    found.append(Touch(kind, at, turn, size, called_foot(name)))
    return found


def _hinges(robot: ET.Element, bodies: dict[str, Body]) -> Iterator[Hinge]:
    seen: set[str] = set()
    for joint in robot.findall("joint"):
        name = joint.get("name") or ""
        if not name or name in seen:
            raise refuse("joint", "every joint needs a name" if not name else f"two joints are called {name[:60]!r}")
        seen.add(name)
        kind = joint.get("type") or ""
        if kind not in (*MOVING, "fixed"):
            known = ", ".join((*MOVING, "fixed"))
            raise refuse(f"joint {name}", f"its type must be one of {known}, got {kind[:40]!r}")
        ends = []
        for side in ("parent", "child"):
            element = joint.find(side)
            link = None if element is None else element.get("link")
            if link is None or link not in bodies:
                raise refuse(f"joint {name}", f"its {side} link {(link or 'without name')[:60]!r} is not in the file")
            ends.append(link)
        at, turn = _origin(joint.find("origin"), f"joint {name}")
        axis_element, limit, slides = joint.find("axis"), joint.find("limit"), kind == "prismatic"
        usual = np.array([1.0, 0.0, 0.0])
        axis = _numbers(None if axis_element is None else axis_element.get("xyz"), 3, f"joint {name} axis", usual)
        if kind != "fixed" and np.linalg.norm(axis) < 1e-9:
            raise refuse(f"joint {name} axis", "must not be 0 0 0")

        def read(key: str, usual: float, limit: ET.Element | None = limit, name: str = name) -> float:
            text = None if limit is None else limit.get(key)
            return float(_numbers(text, 1, f"joint {name} {key}", np.array([usual]))[0])

        low, high = (-np.pi, np.pi) if kind == "continuous" else (read("lower", 0.0), read("upper", 0.0))
        if kind in ("revolute", "prismatic") and low >= high:
            raise refuse(f"joint {name}", f"its upper limit must be above its lower one, got {low:g} and {high:g}")
        scale = 1000.0 if slides else 1.0
        size = float(np.linalg.norm(axis)) or 1.0
        yield Hinge(
            name, kind, ends[0], ends[1], at, turn, axis / size, low * scale, high * scale,
            read("effort", 0.0), read("velocity", 0.0), _follows(joint.find("mimic"), f"joint {name} mimic"),
        )  # fmt: skip


def _follows(mimic: ET.Element | None, where: str) -> Follows | None:
    if mimic is None:
        return None

    def read(key: str, usual: float) -> float:
        return float(_numbers(mimic.get(key), 1, f"{where} {key}", np.array([usual]))[0])

    return Follows(mimic.get("joint") or "", read("multiplier", 1.0), read("offset", 0.0))


def _root(bodies: dict[str, Body], hinges: list[Hinge], below: dict[str, list[Hinge]]) -> str:
    parents: dict[str, str] = {}
    for hinge in hinges:
        if hinge.child in parents:
            raise refuse("joint", f"link {hinge.child} hangs on two joints, {parents[hinge.child]} and {hinge.name}")
        parents[hinge.child] = hinge.name
    roots = [name for name in bodies if name not in parents]
    if not roots:
        raise refuse("joint", "the joints run in a circle; a walker is a tree that begins at one link")
    if len(roots) > 1:
        raise refuse(
            "link", f"{len(roots)} links hang on nothing ({', '.join(roots[:3])}); a walker begins at one link"
        )
    reached, waiting = set(), [roots[0]]
    while waiting:
        here = waiting.pop()
        reached.add(here)
        waiting += [h.child for h in below[here]]
    lost = [name for name in bodies if name not in reached]
    if lost:
        raise refuse("joint", f"links {', '.join(lost[:3])} run in a circle that nothing leads to")
    return roots[0]
