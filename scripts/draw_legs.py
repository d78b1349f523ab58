"""Write docs/legs.md and a figure per leg family: its zero pose from the front and from the side; a test keeps it
current.
"""

from __future__ import annotations

import inspect
import sys
from pathlib import Path

import numpy as np

from bustle.core.geometry.serial_chain import Chain, forward
from bustle.core.kinds.legs import FAMILIES, Family

FOLDER = Path(__file__).parents[1] / "docs"
SIZES = (24.0, 60.0, 76.0, 18.0)
WIDE, HIGH, PAD = 300, 210, 34


def _points(family: Family) -> np.ndarray:
    """(H+1, 3) mm at zero pose."""
    lengths = np.array([SIZES[: len(family.links)]])
    layout = family.layout(lengths, np.zeros((1, 3)), np.array([False]))
    chain = Chain(layout.axes[None], layout.offsets, np.zeros((1, 3)), np.eye(3)[None], None, layout.coupling)
    return forward(chain, np.zeros((1, 1, len(family.joints))))[0][0, 0]


def _view(points: np.ndarray, across: int, title: str, left: float) -> list[str]:
    """One view as SVG parts, x or y to the right (y to the left), z up."""
    flat = np.stack([points[:, across] * (1 if across == 0 else -1), -points[:, 2]], axis=-1)
    low, high = flat.min(axis=0), flat.max(axis=0)
    scale = min((WIDE - 2 * PAD) / max(60.0, high[0] - low[0]), (HIGH - 2 * PAD) / max(60.0, high[1] - low[1]))
    middle = np.array([left + WIDE / 2, HIGH / 2 + 8])
    placed = (flat - (low + high) / 2) * scale + middle
    line = " ".join(f"{x:.1f},{y:.1f}" for x, y in placed)
    dots = [f'<circle cx="{x:.1f}" cy="{y:.1f}" r="4"/>' for x, y in placed[:-1]]
    x, y = placed[-1]
    foot = f'<path d="M{x - 6:.1f} {y - 6:.1f}h12v12h-12z"/>'
    return [f'<text x="{left + 12}" y="20">{title}</text>', f'<polyline points="{line}"/>', *dots, foot]


def figure(family: Family) -> str:
    points = _points(family)
    parts = [*_view(points, 1, "from behind", 0), *_view(points, 0, "from the left", WIDE)]
    style = (
        "polyline{fill:none;stroke:#8a5205;stroke-width:5;stroke-linejoin:round}"
        "circle,path{fill:#faf7f0;stroke:#20302c;stroke-width:2}text{font:14px sans-serif;fill:#20302c}"
    )
    body = "\n".join(parts)
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {2 * WIDE} {HIGH}" width="{2 * WIDE}" height="{HIGH}">'
        f"<style>{style}</style>\n{body}\n</svg>\n"
    )


def _formulae(family: Family) -> str:
    """The docstring of the family's own file, which is where its mathematics stands."""
    module = inspect.getmodule(family.working or family.solve)
    return inspect.cleandoc((module.__doc__ if module else "") or "")


def pages() -> dict[str, str]:
    """File name under docs/ → text."""
    files: dict[str, str] = {}
    lines = [
        "# Leg families",
        "",
        "What each kind of leg is, its joints with their positive senses, and its zero pose, drawn from its chain.",
        "This page is written by `scripts/draw_legs.py`.",
    ]
    told: set[str] = set()
    for family in FAMILIES.values():
        lines += ["", f"## {family.label[0].upper()}{family.label[1:]} (`{family.name}`)", "", family.about, ""]
        if family.joints:
            files[f"legs/{family.name}.svg"] = figure(family)
            lines += [f"![Zero pose of the {family.label} leg](legs/{family.name}.svg)", ""]
            lines += [f"- **{j.label}** (`{j.name}`): positive {j.positive}" for j in family.joints]
            lines += ["", "Links: " + ", ".join(f"{k.label} (`{k.name}`)" for k in family.links) + "."]
        if family.keeps:
            lines += [
                "",
                "The foot follows: " + "; ".join(k.label[0].lower() + k.label[1:] for k in family.keeps) + ".",
            ]
        lines += ["", "```text", family.figure.strip("\n"), "```"]
        formulae = _formulae(family)
        if formulae not in told:
            told.add(formulae)
            lines += ["", "```text", formulae, "```"]
    files["legs.md"] = "\n".join(lines) + "\n"
    return files


def main() -> None:
    for name, text in pages().items():
        path = FOLDER / name
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_text(text)


if __name__ == "__main__":
    sys.exit(main())
