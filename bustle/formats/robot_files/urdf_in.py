"""URDF in: any tree of revolute and prismatic joints that ends in feet, as a walker.

Each branch of the root link becomes a limb; fixed joints are folded into what carries them. A branch whose joints
lie as those of a family of legs do becomes one of it, others become free chains with their own axes and offsets. The
foot is the last link held by a fixed joint, if it is called a foot, weighs next to nothing or is a ball; else the ball
or box of the last link, where it is low enough to stand on. What stands on the frame itself, casters and wheels, is
read too (`urdf_supports`). What cannot be used is listed.
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import pairwise
from os.path import commonprefix
from typing import Any

import numpy as np

from bustle.core.document.checked import CheckedProject
from bustle.core.geometry.arrays import Array
from bustle.core.kinds.legs import FAMILIES
from bustle.core.kinds.legs.free_chain import kept
from bustle.core.project.project import FORMAT, VERSION
from bustle.core.words.problems import refuse
from bustle.core.words.wording import number
from bustle.formats.robot_files.urdf_branch import Branch
from bustle.formats.robot_files.urdf_frame import frame_of
from bustle.formats.robot_files.urdf_legs import as_family, link_hinges, rounded
from bustle.formats.robot_files.urdf_servos import assumed_nm, drives_of, tied
from bustle.formats.robot_files.urdf_soles import may_be_stood_on, stands_on
from bustle.formats.robot_files.urdf_stance import standing
from bustle.formats.robot_files.urdf_supports import (
    Support,
    apart,
    axles_of_a_ball,
    caster,
    stands_on_the_frame,
    support_of,
)
from bustle.formats.robot_files.urdf_tree import Body, Hinge, Tree, called_foot, read_tree

Values = dict[str, Any]

LIGHT_KG = 1e-6
# Of a joint, in files.
LONGEST_NAME = 60
# What nobody calls a foot is one where it comes as near to the lowest: a share of how far that is below the root, mm.
LOW, LOW_MM = 0.25, 10.0


@dataclass(frozen=True)
class Read:
    """The project and, one sentence each, what of the file could not be used; called: of each limb whose joints have
    other names here, which became which."""

    project: CheckedProject
    unused: tuple[str, ...]
    called: tuple[str, ...] = ()


def read_urdf(data: bytes, name: str | None = None) -> Read:
    """Raises InputRefused with a sentence for a file that is no walker."""
    tree = read_tree(data)
    unused = list(tree.unused)
    branches: list[Branch] = []
    frame: list[tuple[Body, Array, Array]] = []
    casters: list[Support] = []
    outline = frame_of(tree)
    if not outline.shown:
        size = " × ".join(number(v, 0) for v in outline.size_mm)
        unused.append(f"how large the frame is, which nothing shows: {size} mm, by where the limbs hang")
    _gather(tree, tree.root, -outline.middle, np.eye(3), branches, frame, casters, unused)
    branches, wheels, frame_masses = _wheels(branches, unused)
    supports = apart(casters, wheels)
    _give_feet(branches, -float(outline.middle[2]), unused)
    limbs: list[Values] = []
    drives: list[Values] = []
    masses: list[Values] = []
    servos: dict[tuple[float, float], Values] = {}
    for branch in branches:
        limb, count = _limb(branch, [m["name"] for m in limbs], unused), len(limbs)
        limbs.append(limb)
        masses += _masses(branch, limb, count)
    _name_in_files(branches, limbs)
    lacking_nm = assumed_nm(tree, branches, unused)
    for branch, limb in zip(branches, limbs, strict=True):
        drives += drives_of(branch, limb, servos, lacking_nm)
    drives = tied(drives, branches, limbs, unused)
    called = tuple(line for pair in zip(branches, limbs, strict=True) for line in _called(*pair))
    legs = [limb for limb in limbs if limb["feet"]]
    if len(legs) < 2:
        raise refuse("", f"The file has {len(legs)} limbs that end in a foot; a walker has at least two.")
    if len(legs) > 12:
        raise refuse("", f"The file has {len(legs)} limbs that end in a foot; a walker has at most twelve.")
    for support in supports:
        limbs.append(support.as_limb(_free(_word(support.name.partition("/")[0]), [m["name"] for m in limbs])))
        if not support.turns:
            unused.append(f"foot {support.name}: how it goes over the floor; it is read as a caster, see its foot")
    for n, (body, at) in enumerate([(body, at) for body, at, _ in frame] + frame_masses):
        if body.mass_kg > LIGHT_KG:
            masses.append({"name": f"{body.name[:50]} {n + 1}", "mass_g": body.mass_kg * 1000, "at_mm": rounded(at)})
    values = {
        "format": FORMAT,
        "version": VERSION,
        "name": _plain(name or tree.name),
        "walker": {
            "sections": [outline.as_section()],
            "limbs": limbs,
            "masses": masses,
            "drives": drives,
        },
        "servo_types": list(servos.values()),
    }
    depth = max((support.depth_mm for support in supports), default=None)
    return Read(standing(values, limbs[: len(branches)], branches, depth), tuple(unused), called)


def _wheels(branches: list[Branch], unused: list[str]) -> tuple[list[Branch], list[Support], list[tuple[Body, Array]]]:
    """The limbs that are none, the wheels, and what those weigh."""
    limbs, wheels, masses = [], [], []
    for branch in branches:
        parts = (branch.hinges, branch.places)
        found = support_of(*parts, branch.axes, branch.touches, branch.end)
        if found is None:
            axles = axles_of_a_ball(*parts, branch.touches, branch.end)
            limbs.append(branch.without_axles(axles) if axles else branch)
            continue
        wheels.append(found)
        masses += [(body, at) for _, body, at, _ in branch.masses]
        driven = [hinge.name for hinge in branch.hinges if hinge.effort > 0]
        unused += [f"joint {name}: its motor; a wheel rolls freely here" for name in driven]
    return limbs, wheels, masses


def _plain(text: str) -> str:
    kept = " ".join(re.sub(r"[<>&\x00-\x1f\x7f]", " ", text).split())
    return kept[:60] or "Walker from URDF"


def _gather(
    tree: Tree, link: str, at: Array, turn: Array, branches: list[Branch],
    frame: list[tuple[Body, Array, Array]], casters: list[Support], unused: list[str],
) -> None:  # fmt: skip
    """What is fixed to the root is frame; every moving joint on it begins a branch."""
    body = tree.bodies[link]
    frame.append((body, at + turn @ body.centre, turn))
    for hinge in tree.below[link]:
        here, way = at + turn @ hinge.at, turn @ hinge.turn
        if hinge.kind == "fixed":
            if not tree.below[hinge.child] and stands_on_the_frame(tree.bodies[hinge.child]):
                touches = [touch.placed(here, way) for touch in tree.bodies[hinge.child].touches]
                casters.append(caster(hinge.child, here, touches))
                continue
            _gather(tree, hinge.child, here, way, branches, frame, casters, unused)
        else:
            branch = Branch()
            _follow(tree, hinge, here, way, branch, unused)
            branches.append(branch)


def _is_foot(body: Body) -> bool:
    balls = any(touch.kind == "ball" for touch in body.touches)
    return called_foot(body.name) or balls or body.mass_kg <= LIGHT_KG


def _give_feet(branches: list[Branch], root_mm: float, unused: list[str]) -> None:
    """Each limb that has a foot its sole, and a foot to each whose last link comes low enough to stand on. root_mm: how
    high the file's root is."""
    for branch in branches:
        branch.touches = [touch for touch in branch.touches if touch.kind != "rod" or may_be_stood_on(touch)]
    lowest = min([t.lowest_mm for b in branches for t in b.touches], default=0.0)
    low = lowest + max(LOW * (root_mm - lowest), LOW_MM)
    for branch in branches:
        if branch.foot is None and min([t.lowest_mm for t in branch.touches], default=np.inf) > low:
            continue
        stands = stands_on(branch.touches, branch.foot)
        branch.foot, branch.sole, branch.over_floor_mm = stands.end, stands.sole, stands.over_floor_mm
        if stands.why:
            unused.append(f"the foot after joint {branch.hinges[-1].name}: {stands.why}")


def _follow(tree: Tree, hinge: Hinge, at: Array, turn: Array, branch: Branch, unused: list[str]) -> None:
    """Down the branch: each moving joint in turn, fixed links folded into the link that carries them."""
    if len(branch.hinges) == 7:
        unused.append(f"joint {hinge.name} and what hangs on it: a limb has at most seven joints")
        return
    branch.hinges.append(hinge)
    branch.places.append(at)
    branch.axes.append(turn @ hinge.axis)
    branch.end, branch.touches = at, []
    waiting = [(hinge.child, at, turn)]
    onwards: list[tuple[Hinge, Array, Array]] = []
    while waiting:
        link, here, way = waiting.pop(0)
        body = tree.bodies[link]
        if body.mass_kg > LIGHT_KG:
            branch.masses.append((len(branch.hinges) - 1, body, here + way @ body.centre, way))
        branch.touches += [touch.placed(here, way) for touch in body.touches]
        for touch in body.touches:
            if touch.kind == "rod":
                branch.rods.setdefault(len(branch.hinges) - 1, float(touch.size[0]))
        for below in tree.below[link]:
            there, that_way = here + way @ below.at, way @ below.turn
            if below.kind != "fixed":
                onwards.append((below, there, that_way))
                continue
            waiting.append((below.child, there, that_way))
            if not tree.below[below.child]:
                branch.end = there
                child = tree.bodies[below.child]
                if _is_foot(child):
                    branch.foot = branch.marked = there
    for extra, _, _ in onwards[1:]:
        unused.append(f"joint {extra.name} and what hangs on it: a limb does not branch")
    if onwards:
        branch.foot = None
        _follow(tree, *onwards[0], branch, unused)


def _limb(branch: Branch, taken: list[str], unused: list[str]) -> Values:
    head, _, tail = branch.hinges[0].name.partition("/")
    stem = re.sub(r"[^A-Za-z0-9_]", "_", head if tail else branch.hinges[0].name)
    stem = _common(branch) or stem
    name = _free(_word(stem), taken)
    end = branch.foot if branch.foot is not None else branch.end
    points = [*branch.places, end]
    offsets = [b - a for a, b in pairwise(points)]
    joints: list[Values] = []
    common = _common(branch)
    for n, hinge in enumerate(branch.hinges):
        word = re.sub(r"[^A-Za-z0-9_]", "_", hinge.name.rpartition("/")[2])
        # Each limb has its own joints: what they all begin with need not be said again.
        word = word.removeprefix(f"{common}_")
        own = _free(word if word[:1].isalpha() else f"joint{n + 1}", [j["name"] for j in joints])
        joints.append(_joint(hinge, own, branch.axes[n]))
    limb = None
    if not any(hinge.kind == "prismatic" for hinge in branch.hinges):
        limb = as_family(branch.axes, [branch.places[0], *offsets], joints, branch.foot is not None)
    limb = limb or _as_chain(branch, joints, offsets)
    for link, behind in zip(limb["links"], link_hinges(limb["family"], len(joints)), strict=True):
        # What shows nothing of itself is as thick as the rest.
        if branch.rods:
            link["radius_mm"] = round(branch.rods.get(behind, max(branch.rods.values())), 6)
    limb["name"] = name
    contact = {"kind": "rolls", "any_way": True} if branch.rolls else {"kind": "planted"}
    limb["feet"] = [] if branch.foot is None else [{"sole": branch.sole, "contact": contact}]
    limb["neutral_mm"] = None if branch.foot is None else rounded(branch.foot[:2])
    return limb


def _name_in_files(branches: Sequence[Branch], limbs: Sequence[Values]) -> None:
    """Tables are for the robot that the file is of: joints are called and counted there as it has them, with what no
    table may hold left out of their names."""
    taken: set[str] = set()
    for branch, limb in zip(branches, limbs, strict=True):
        for joint, hinge in zip(limb["joints"], branch.hinges, strict=True):
            plain = re.sub(r"[^A-Za-z0-9_./-]", "_", hinge.name)
            wanted = (plain if re.match("[A-Za-z_]", plain) else f"joint_{plain}")[:LONGEST_NAME]
            if wanted in taken:
                wanted = next(w for n in range(2, 1000) if (w := f"{wanted[: LONGEST_NAME - 4]}_{n}") not in taken)
            taken.add(wanted)
            other_way = joint.pop("reversed", False)
            if other_way or wanted != f"{limb['name']}/{joint['name']}":
                joint["in_files"] = {"called": wanted, "reversed": other_way}


def _called(branch: Branch, limb: Values) -> Iterator[str]:
    """Legs of a family have its joints' names."""
    paths = [f"{limb['name']}/{joint['name']}" for joint in limb["joints"]]
    pairs = zip((hinge.name for hinge in branch.hinges), paths, strict=True)
    other = [f"{was} is {path}" for was, path in pairs if was not in (path, path.replace("/", "_"))]
    if other:
        yield ", ".join(other)


def _common(branch: Branch) -> str:
    """What the names of a limb's joints all begin with, up to an underscore: "FL" of FL_hip and FL_knee."""
    names = [re.sub(r"[^A-Za-z0-9_]", "_", h.name.rpartition("/")[2]) for h in branch.hinges]
    if len(names) < 2 or any("/" in h.name for h in branch.hinges):
        return ""
    return commonprefix(names).rpartition("_")[0]  # noqa: RUF071 (letter by letter is what is meant)


def _word(text: str) -> str:
    """As a limb may be called."""
    stem = re.sub(r"[^A-Za-z0-9_]", "_", text)
    return stem if stem[:1].isalpha() else f"limb_{stem}"


def _free(wanted: str, taken: list[str]) -> str:
    wanted = wanted[:20]
    known = {t.casefold() for t in taken}
    if wanted.casefold() not in known:
        return wanted
    return next(f"{wanted}_{n}" for n in range(2, 1000) if f"{wanted}_{n}".casefold() not in known)


def _joint(hinge: Hinge, name: str, axis: Array) -> Values:
    if hinge.kind == "prismatic":
        return {"name": name, "kind": "slide", "min_mm": hinge.low, "max_mm": hinge.high, "axis": rounded(axis)}
    low, high = (float(np.clip(np.degrees(v), -360, 360)) for v in (hinge.low, hinge.high))
    return {"name": name, "min_deg": low, "max_deg": high, "axis": rounded(axis)}


def _as_chain(branch: Branch, joints: list[Values], offsets: list[Array]) -> Values:
    names = [f"{j['name']}_link"[:24] for j in joints]
    turning = [a for hinge, a in zip(branch.hinges, branch.axes, strict=True) if hinge.kind != "prismatic"]
    return {
        "mount": {"at_mm": rounded(branch.places[0])},
        "family": "serial",
        "branch": FAMILIES["serial"].branches[0],
        "keep": kept(branch.sole["kind"], turning),
        "joints": joints,
        "links": [
            {"name": n, "length_mm": float(np.linalg.norm(o)), "offset_mm": rounded(o)}
            for n, o in zip(names, offsets, strict=True)
        ],
    }


def _masses(branch: Branch, limb: Values, count: int) -> list[Values]:
    """Link masses, each in the frame of the link it rides on: at zero pose that is turned as the mount is."""
    yaw = np.radians(limb["mount"].get("yaw_deg", 0.0))
    c, s = np.cos(yaw), np.sin(yaw)
    turn = np.array([[c, -s, 0.0], [s, c, 0.0], [0.0, 0.0, 1.0]])
    link_at, found = link_hinges(limb["family"], len(branch.hinges)), []
    for n, (hinge, body, at, _) in enumerate(branch.masses):
        # What moves with a joint that has no link of its own is put on the next link.
        k = next((k for k, moves in enumerate(link_at) if moves >= hinge), len(link_at) - 1)
        local = (at - branch.places[link_at[k]]) @ turn
        found.append(
            {
                "name": f"{limb['name']} {_plain(body.name)[:40]} {count + 1}.{n + 1}",
                "mass_g": body.mass_kg * 1000,
                "at_mm": rounded(local),
                "on": f"{limb['name']}/{limb['links'][k]['name']}",
            }
        )
    return found
