"""What the shelf shows of a revision, kept beside its document, so that it is told even where that cannot be read."""

from __future__ import annotations

from typing import Any

from bustle.core.at_rest.parts_list import totals
from bustle.core.document.checked import CheckedProject


def card_of(project: CheckedProject) -> dict[str, Any]:
    return {
        "name": project.name,
        "note": project.note,
        "legs": len(project.walker.legs),
        "motions": [m.name for m in project.motions],
        "mass_g": next(t.value for t in totals(project) if t.name == "mass_g"),
    }


def card_of_raw(document: dict[str, Any]) -> dict[str, Any]:
    """As much as can be told of a document that is not understood."""
    name, motions = document.get("name"), document.get("motions")
    return {
        "name": name[:60] if isinstance(name, str) and name else "A walker without a name",
        "note": "",
        "legs": 0,
        "motions": [""] * len(motions) if isinstance(motions, list) else [],
        "mass_g": 0.0,
    }
