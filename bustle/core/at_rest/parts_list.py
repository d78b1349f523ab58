"""The parts list: every link, servo and mass with what it weighs, costs and takes to print, and the totals."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass

from bustle.core.project.project import Project


@dataclass(frozen=True)
class Part:
    """A line of the list: so many alike."""

    name: str
    kind: str
    count: int
    mass_g: float
    price: float
    print_h: float
    where: str


@dataclass(frozen=True)
class Total:
    """A sum and its budget, None where there is none."""

    name: str
    label: str
    unit: str
    value: float
    budget: float | None


def parts(project: Project) -> list[Part]:
    """Every part once, alike ones together, in the order of the walker: masses, servos, links, leads."""
    walker = project.walker
    found = [Part(m.name, "mass", 1, m.mass_g, m.price, m.print_h, m.on) for m in walker.masses]
    servos = Counter(s.type for d in walker.drives for s in d.servos)
    for sheet in project.servo_types:
        if servos[sheet.name]:
            found.append(Part(sheet.name, "servo", servos[sheet.name], sheet.mass_g, sheet.price, 0.0, "joints"))
    links: dict[tuple[str, float, float, float, float], list[str]] = {}
    for limb in walker.limbs:
        for link in limb.links:
            key = (link.name, link.length_mm, link.mass_g, link.price, link.print_h)
            links.setdefault(key, []).append(limb.name)
    for (name, length, mass, price, hours), limbs in links.items():
        found.append(Part(f"{name} {length:g} mm", "link", len(limbs), mass, price, hours, ", ".join(limbs)))
    found += [Part(f"{lead.name} {lead.length_mm:g} mm", "lead", 1, 0.0, 0.0, 0.0, "") for lead in walker.leads]
    return found


def totals(project: Project) -> list[Total]:
    """Mass, price and print hours against their budgets."""
    lines, budget = parts(project), project.budget
    unit = project.walker.currency
    return [
        Total("mass_g", "Mass", "g", sum(p.count * p.mass_g for p in lines), budget.mass_g),
        Total("price", "Price", unit, sum(p.count * p.price for p in lines), budget.price),
        Total("print_h", "Print time", "h", sum(p.count * p.print_h for p in lines), budget.print_h),
    ]
