"""The parts list as CSV: a line a part, then the totals."""

from __future__ import annotations

import csv
import io

from bustle.core.at_rest.parts_list import parts, totals
from bustle.core.document.checked import CheckedProject


def write_parts(project: CheckedProject) -> bytes:
    out = io.StringIO()
    rows = csv.writer(out, lineterminator="\n")
    rows.writerow(["part", "kind", "count", "mass_g_each", "price_each", "print_h_each", "where"])
    for part in parts(project):
        numbers = (f"{v:g}" for v in (part.mass_g, part.price, part.print_h))
        rows.writerow([plain_cell(part.name), part.kind, part.count, *numbers, plain_cell(part.where)])
    mass, price, hours = (f"{round(t.value, 3):g}" for t in totals(project))
    rows.writerow(["total", "", "", mass, price, hours, ""])
    return out.getvalue().encode()


def plain_cell(words: str) -> str:
    """Words that a spreadsheet would take for a formula, marked as words."""
    return f"'{words}" if words[:1] in ("=", "+", "-", "@", "\t") else words
