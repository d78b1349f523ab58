"""How long each lead has to be over the joints' travel: the way from waypoint to waypoint, at its longest."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.geometry.extremes import greatest
from bustle.core.machine.limb_groups import chain_of
from bustle.core.project.walker import Lead, Waypoint
from bustle.core.walk.reading import Reading


@dataclass(frozen=True)
class LeadNeed:
    """needed_mm at its longest, which is at `sample`."""

    lead: Lead
    needed_mm: float
    sample: int


def lead_ways(r: Reading) -> list[Array]:
    """(waypoints, S, 3) mm in the body frame: where each lead passes."""
    walker, solved, samples = r.project.walker, r.course.solved, r.samples
    sections, chains = r.assembled.sections, chain_of(r.assembled.parts)
    links = {
        f"{limb.name}/{link.name}": (i, chains[i].hinge_of_link(n))
        for i, limb in enumerate(walker.limbs)
        for n, link in enumerate(limb.links)
    }

    def place(point: Waypoint) -> Array:
        at = np.array(point.at_mm)
        if point.on in sections:
            return solved.carried(point.on, sections[point.on].carry(at)[None])[0, :samples]
        limb, hinge = links[point.on]
        return solved.points[limb][:samples, hinge] + solved.frames[limb][:samples, hinge] @ at

    return [np.stack([place(point) for point in lead.path]) for lead in walker.leads]


def lead_needs(r: Reading) -> list[LeadNeed]:
    """For every lead: Σ |pₖ₊₁ − pₖ| over its waypoints, the largest over the samples."""
    found = []
    for lead, way in zip(r.project.walker.leads, r.of(lead_ways), strict=True):
        length = np.linalg.norm(np.diff(way, axis=0), axis=-1).sum(axis=0)
        at = greatest(length)
        found.append(LeadNeed(lead, float(length[at]), at))
    return found
