"""A limit is a limit: a finding tells the value that it holds against it, fires while that is beyond it by a hair, and
is silent as soon as it is not, on machines of any kind."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import Any

from bustle.core.document.checked import CheckedProject
from bustle.core.evaluate import evaluate
from bustle.core.judge.finding import Finding
from bustle.core.project.motion import PhaseGait
from bustle.core.starting.starting_walkers import SHAPES
from tests.long import in_turns
from tests.projects import changed, start
from tests.seeded import SeededTest

# Of the value, or of a thousandth where it is less.
HAIR = 1e-6


@dataclass(frozen=True)
class Limit:
    """Where it stands in the project, and a limit that no machine keeps. least: whether the value has to be above it.
    besides: what has to be said of the machine for it to be judged at all. room: whether the finding tells where
    something is and where it ends, and the limit is of what lies between."""

    path: str
    strict: float
    least: bool
    besides: dict[str, Any] = field(default_factory=dict)
    room: bool = False


LIMITS = {
    "F02": Limit("limits/clearance_mm", 200.0, True, {"floor/unevenness_mm": 1.0}),
    "F05": Limit("limits/held_share", 1e-3, False),
    "F06": Limit("limits/speed_share", 1e-3, False),
    "F12": Limit("limits/slip_mm", 1e-6, False),
    "F15": Limit("limits/end_stop_deg", 45.0, True, room=True),
    "F18": Limit("limits/margin_mm", 500.0, True),
    "F25": Limit("limits/jolt_share", 1e-6, False),
    "F29": Limit("limits/foot_play_mm", 1e-6, False, {"servo_types/0/play_deg": 0.7}),
    "F38": Limit("limits/row_step_deg", 1e-6, False),
    "F40": Limit("limits/turning_radius_mm", 0.0, False),
    "F46": Limit("limits/step_height_mm", 1000.0, True),
    "F47": Limit("limits/straight_knee_mm", 100.0, True),
    "F48": Limit("limits/lean_deg", 1e-6, False, {"floor/unevenness_mm": 6.0}),
}


class Limits(SeededTest):
    def machines(self) -> Iterator[tuple[str, CheckedProject, str]]:
        """Shapes of those that stand at every instant, of any size, each with one of its gaits."""
        for shape in self.random.permutation([s for s in SHAPES if not s.startswith("two_")]):
            project = start(str(shape), "Drawn", float(self.random.integers(80, 400)))
            gaits = [m.name for m in project.motions if isinstance(m, PhaseGait) and m.balance == "static"]
            yield str(shape), project, str(self.random.choice(gaits))

    def told(self, project: CheckedProject, motion: str, code: str) -> dict[tuple[str, ...], Finding]:
        return {(f.subject, f.title): f for f in evaluate(project, motion).findings_among([code])}

    @in_turns
    def test_fires_beyond_it_by_a_hair_and_not_within(self):
        """Three machines, and more until half of the judgements have been heard."""
        heard = set()
        for n, (shape, project, motion) in enumerate(self.machines()):
            if n >= 3 and len(heard) > len(LIMITS) / 2:
                break
            for code, limit in LIMITS.items():
                machine = changed(project, limit.besides)
                for what, finding in self.told(changed(machine, {limit.path: limit.strict}), motion, code).items():
                    if not limit.room and (finding.limit != limit.strict or finding.value == limit.strict):
                        continue
                    heard.add(code)
                    value = abs(finding.limit - finding.value) if limit.room else finding.value
                    hair = HAIR * max(abs(value), 1e-3) * (1 if limit.least else -1)
                    with self.subTest(code=code, motion=motion, shape=shape, told=finding.message, seed=self.seed):
                        told = self.told(changed(machine, {limit.path: value + hair}), motion, code)
                        self.assertIn(what, told)
                        self.assertAlmostEqual(told[what].value, finding.value, delta=1e-9 + abs(hair))
                        kept = self.told(changed(machine, {limit.path: value - hair}), motion, code)
                        # Far beyond its limit some stop a walk; a hair beyond, all but warn or stop alike.
                        self.assertNotIn(told[what].severity, [kept[what].severity] if what in kept else [])
        self.assertGreater(len(heard), len(LIMITS) / 2, heard)
