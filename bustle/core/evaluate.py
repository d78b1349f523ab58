"""The front door: a project and the name of a motion in, everything that is known about it out.

Only the walk itself is worked out at once. Figures and findings are read off it when somebody asks, each once: whoever
drags a handle asks for few, whoever judges for all.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from functools import cache, cached_property, partial

from bustle.core.document.checked import CheckedProject
from bustle.core.judge.figure import Figure, figure_of
from bustle.core.judge.finding import Finding
from bustle.core.judge.judgement import Judgement
from bustle.core.judge.registry import FIGURES, JUDGEMENTS, STOPPING, findings
from bustle.core.walk.read import read
from bustle.core.walk.reading import Reading

Stop = tuple[str, str, str]


@cache
def _read_by(names: frozenset[str]) -> tuple[Callable[[Reading], Figure | None], ...]:
    """How the figures of these names are read, in the registry's order."""
    return tuple(partial(figure_of, spec) for name, spec in FIGURES.items() if name in names)


@dataclass(frozen=True)
class Plan:
    """One evaluation: its arrays are in `reading`; figures and findings are what they come to."""

    reading: Reading

    @cached_property
    def figures(self) -> tuple[Figure, ...]:
        return self.figures_among(FIGURES)

    def figures_among(self, names: Iterable[str]) -> tuple[Figure, ...]:
        """Those of these names that this plan has, in the registry's order; of a hurried one, what does not wait."""
        found = (self.reading.at_once(figure) for figure in _read_by(frozenset(names)))
        return tuple(figure for figure in found if figure is not None)

    def figure(self, name: str) -> float | None:
        """Its value; None where it does not apply."""
        found = figure_of(FIGURES[name], self.reading)
        return found.value if found else None

    @cached_property
    def findings(self) -> tuple[Finding, ...]:
        """All of them, stops first."""
        return self.findings_among(JUDGEMENTS)

    def findings_among(self, codes: Iterable[str]) -> tuple[Finding, ...]:
        """Those of these codes, stops first."""
        asked = frozenset(codes)
        return findings(self.reading, (j for code, j in JUDGEMENTS.items() if code in asked))

    @property
    def stops(self) -> frozenset[Stop]:
        """What would stop this walk: (code, leg, joint) of every stop finding."""
        return frozenset(stop for judgement in STOPPING for stop in self._stops_of(judgement))

    @property
    def sound(self) -> bool:
        """Whether nothing stops it; asks no further than the first that does."""
        return self.stopped_by() is None

    def stopped_by(self, likely: str | None = None) -> str | None:
        """The code of something that stops it, the first that is found; whoever knows what is likely has it asked
        first."""
        for judgement in sorted(STOPPING, key=lambda judgement: judgement.code != likely):
            if self._stops_of(judgement):
                return judgement.code
        return None

    def _stops_of(self, judgement: Judgement) -> list[Stop]:
        return [
            (f.code, *subject)
            for f in judgement.found(self.reading)
            if f.severity == "stop"
            for subject in f.subjects or (("", ""),)
        ]


def evaluate(project: CheckedProject, motion: str, samples: int | None = None) -> Plan:
    """Evaluate one motion of a project.

    Args: samples, how many instants to spread over the duration; by default the table's rows. The end is left out where
    the motion repeats, as it is the beginning again, and counted where it does not.
    Raises InputRefused naming the motions there are, or for a sample count outside 2 … 20 000.
    """
    return Plan(read(project, motion, samples))
