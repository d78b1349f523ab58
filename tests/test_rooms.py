"""The rooms of the core and the folders round it: who may import from whom. Arrows run one way, and in no circle."""

from __future__ import annotations

import ast
import re
import unittest
from functools import cache
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]

# From a room only what is listed before it may be imported; within `judge` the order is the one written here.
ROOMS = (
    "words", "geometry", "project", "kinds", "document", "machine", "at_rest", "edits", "walk", "loads",
    "loads.giving", "falling", "servo", "judge.measures", "judge.balance", "judge", "judge.judgements",
    "judge.registry", "judge.playing", "evaluate", "clamp", "search", "dry_run", "starting", "trials",
)  # fmt: skip
# Of these two neither knows of the other.
APART = (("words", "geometry"), ("document", "machine"))
AROUND = ("lifelines", "core", "formats", "store", "jobs", "rig", "web", "cli", "launch")
# Whom what lies around the core may import from, besides the core and itself.
OUTWARD = {
    "lifelines": (),
    "core": (),
    "formats": (),
    "store": ("lifelines",),
    "jobs": ("lifelines", "store", "formats"),
    "rig": ("formats",),
    "web": ("lifelines", "formats", "store", "jobs"),
    "cli": ("formats",),
    "launch": ("lifelines", "formats", "store", "jobs", "web"),
}


@cache
def modules() -> list[tuple[str, Path]]:
    found = []
    for path in sorted((ROOT / "bustle").rglob("*.py")):
        parts = path.relative_to(ROOT).with_suffix("").parts
        found.append((".".join(parts[:-1] if parts[-1] == "__init__" else parts), path))
    return found


@cache
def imported(path: Path) -> frozenset[str]:
    """Every module of ours that a file names, inside functions and under TYPE_CHECKING too."""
    found = set()
    for node in ast.walk(ast.parse(path.read_text())):
        if isinstance(node, ast.Import):
            found |= {alias.name for alias in node.names}
        elif isinstance(node, ast.ImportFrom) and node.module:
            # `from package import module` names the module too.
            found |= {node.module, *(f"{node.module}.{alias.name}" for alias in node.names)}
    known = dict(modules())
    return frozenset(name for name in found if name in known)


def room_of(module: str) -> str | None:
    """The longest room that a module of the core lies in."""
    inside = module.removeprefix("bustle.core.")
    found = [room for room in ROOMS if inside == room or inside.startswith(f"{room}.")]
    return max(found, key=len, default=None)


class Arrows(unittest.TestCase):
    def test_every_module_of_the_core_lies_in_a_room(self) -> None:
        loose = [m for m, _ in modules() if m.startswith("bustle.core.") and room_of(m) is None]
        self.assertEqual(loose, [])

    def test_no_arrow_of_the_core_runs_up(self) -> None:
        wrong = []
        for module, path in modules():
            if not module.startswith("bustle.core."):
                continue
            own = room_of(module)
            for name in imported(path):
                other = room_of(name)
                # What a package says of itself is no arrow.
                if other is None or other == own or module.startswith(f"{name}."):
                    continue
                if ROOMS.index(other) > ROOMS.index(own) or (own, other) in APART or (other, own) in APART:
                    wrong.append(f"{module} → {name}")
        self.assertEqual(wrong, [])

    def test_around_the_core_arrows_point_inwards(self) -> None:
        wrong = []
        for module, path in modules():
            own = module.split(".")[1] if "." in module else ""
            for name in imported(path):
                other = name.split(".")[1] if "." in name else ""
                if own and other and other not in (own, "core", *OUTWARD[own]):
                    wrong.append(f"{module} → {name}")
        self.assertEqual(wrong, [])

    def test_no_circle_among_the_modules(self) -> None:
        known = {module: imported(path) - {module} for module, path in modules()}
        # A package's own file lists its modules; that they lie in it is no arrow back.
        arrows = {m: {n for n in names if not m.startswith(f"{n}.")} for m, names in known.items()}
        self.assertEqual(circle(arrows), [])

    def test_no_circle_in_the_interface(self) -> None:
        source = ROOT / "ui" / "src"
        files = [p for kind in ("*.ts", "*.tsx") for p in source.rglob(kind) if not p.name.endswith(".d.ts")]
        names = {p.relative_to(source).with_suffix("").as_posix(): p for p in files}
        arrows = {}
        for name, path in names.items():
            found = set()
            for asked in re.findall(r"""(?:from|import\()\s*["']([@.][^"']*)["']""", path.read_text()):
                base = asked[2:] if asked.startswith("@/") else _joined(Path(name).parent, asked)
                found |= {n for n in (base, f"{base}/index") if n in names}
            arrows[name] = found
        self.assertEqual(circle(arrows), [])


def _joined(folder: Path, asked: str) -> str:
    parts = [*folder.parts]
    for part in asked.split("/"):
        if part == "..":
            parts.pop()
        elif part != ".":
            parts.append(part)
    return "/".join(parts)


def circle(arrows: dict[str, set[str]]) -> list[str]:
    """The modules of a circle, one after another; empty where there is none."""
    done: set[str] = set()

    def walk(name: str, way: list[str]) -> list[str]:
        if name in way:
            return [*way[way.index(name) :], name]
        if name in done:
            return []
        for other in sorted(arrows.get(name, ())):
            found = walk(other, [*way, name])
            if found:
                return found
        done.add(name)
        return []

    for name in arrows:
        found = walk(name, [])
        if found:
            return found
    return []
