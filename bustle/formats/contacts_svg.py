"""A picture of who is on the ground when, over one cycle or the whole of a motion, to print: SVG in black on white."""

from __future__ import annotations

from xml.sax.saxutils import escape

import numpy as np

from bustle.core.evaluate import Plan
from bustle.core.words.wording import number

LEFT, TOP, ROW, BAR, WIDTH = 70, 46, 26, 16, 640


def write_contacts(plan: Plan) -> bytes:
    """One bar per leg: filled where it stands. Widths are of the samples, millimetres do not come into it."""
    e = plan.reading
    legs = [(i, m.name) for i, m in enumerate(e.project.walker.limbs) if m.steps]
    height = TOP + ROW * len(legs) + 40
    title = escape(f"{e.project.name}: {e.motion.name}")
    whole = e.score.duration_s
    parts = [
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{LEFT + WIDTH + 30}" height="{height}" '
        f'viewBox="0 0 {LEFT + WIDTH + 30} {height}" font-family="sans-serif" font-size="13">',
        f"<title>{title}, feet on the ground</title>",
        f'<text x="{LEFT}" y="22" font-weight="bold">{title}</text>',
        f'<text x="{LEFT + WIDTH}" y="22" text-anchor="end">{number(whole, 3)} s</text>',
    ]
    for row, (i, name) in enumerate(legs):
        y = TOP + row * ROW
        parts.append(f'<text x="{LEFT - 10}" y="{y + 13}" text-anchor="end">{escape(name)}</text>')
        parts.append(f'<rect x="{LEFT}" y="{y}" width="{WIDTH}" height="{BAR}" fill="none" stroke="#777"/>')
        for start, end in runs(e.course.contact[i, : e.samples]):
            x, wide = LEFT + WIDTH * start / e.samples, WIDTH * (end - start) / e.samples
            parts.append(f'<rect x="{x:.2f}" y="{y}" width="{wide:.2f}" height="{BAR}" fill="#000"/>')
    foot = TOP + ROW * len(legs)
    for tick in range(11):
        x = LEFT + WIDTH * tick / 10
        parts.append(f'<path d="M{x:g} {foot}v6" stroke="#000"/>')
        parts.append(f'<text x="{x:g}" y="{foot + 20}" text-anchor="middle">{number(tick / 10, 1)}</text>')
    parts.append(f'<text x="{LEFT}" y="{foot + 36}">share of the cycle; filled: on the ground</text></svg>')
    return ("\n".join(parts) + "\n").encode()


def runs(flags: np.ndarray) -> list[tuple[int, int]]:
    """Where flags (S,) are set: (first, past the last) of each run."""
    edges = np.diff(np.concatenate([[0], flags.astype(int), [0]]))
    return [(int(a), int(b)) for a, b in zip(np.flatnonzero(edges > 0), np.flatnonzero(edges < 0), strict=True)]
