"""A machine that is turned round the upright, with the floor it walks on and the way it goes, is the same machine."""

from __future__ import annotations

import numpy as np

from bustle.core.document.checked import parse_project
from bustle.core.evaluate import evaluate
from bustle.core.judge.judgements.loads.feet_slip import grip_needed
from bustle.core.judge.measures.feet.foot_slip import slip_mm
from bustle.core.judge.measures.margins.halted import halted_margin
from bustle.core.loads.foot_forces import foot_forces
from bustle.core.loads.giving.sag import sag
from bustle.core.loads.joint_torques import servo_loads
from bustle.core.project.project import document
from bustle.core.walk.plumb import over_floor
from bustle.core.walk.standing_polygon import standing
from tests.loads.test_slopes import sloping
from tests.projects import changed, start
from tests.seeded import SeededTest

ROUND = {"shape": "round", "size_mm": [160.0, 160.0, 40.0]}


def turned(project, by_deg):
    """Mounts, feet, masses, ways and the rise of the floor, all by one angle; the body is round."""
    values = document(project)
    c, s = np.cos(np.radians(by_deg)), np.sin(np.radians(by_deg))

    def on(at):
        x, y, *up = at
        return [c * x - s * y, s * x + c * y, *up]

    for limb in values["walker"]["limbs"]:
        mount = limb["mount"]
        mount["at_mm"] = on(mount["at_mm"])
        mount["yaw_deg"] = (mount["yaw_deg"] + by_deg + 180.0) % 360.0 - 180.0
        limb["neutral_mm"] = on(limb["neutral_mm"])
    for mass in values["walker"]["masses"]:
        mass["at_mm"] = on(mass["at_mm"])
        mass |= {"size_mm": [0.0, 0.0, 0.0], "fills": False}
    for motion in values["motions"]:
        if "twist" in motion:
            twist = motion["twist"]
            twist["vx_mm_s"], twist["vy_mm_s"] = on([twist["vx_mm_s"], twist["vy_mm_s"]])
        if "pose" in motion:
            motion["pose"]["shift_mm"] = on(motion["pose"]["shift_mm"])
    uphill = values["floor"]["uphill_deg"] + by_deg
    values["floor"]["uphill_deg"] = (uphill + 180.0) % 360.0 - 180.0
    return parse_project(values)


class Turned(SeededTest):
    def machine(self):
        """Round, with a load off its middle, on a slope of its own, walking some way of its own."""
        base = start("six_radial", "Turned", float(self.random.uniform(120, 260)))
        values = document(base)
        values["motions"] = [m for m in values["motions"] if m["kind"] == "phase_gait"]
        values["walker"]["sections"][0] |= ROUND
        for mass in values["walker"]["masses"]:
            mass |= {"size_mm": [0.0, 0.0, 0.0], "fills": False}
        at = self.random.uniform(-30, 30, 2).tolist()
        values["walker"]["masses"].append({"name": "Load", "mass_g": 150.0, "at_mm": [*at, 20.0], "on": "body"})
        project = parse_project(values)
        index = [m.name for m in project.motions].index("Forward")
        ahead = project.motions[index].twist.vx_mm_s
        way = float(self.random.uniform(-180, 180))
        twist = {"vx_mm_s": 0.5 * ahead * np.cos(np.radians(way)), "vy_mm_s": 0.5 * ahead * np.sin(np.radians(way))}
        project = changed(project, {f"motions/{index}/twist/{k}": round(float(v), 3) for k, v in twist.items()})
        return sloping(project, self.random.uniform(0, 14), self.random.uniform(-180, 180))

    def pair(self):
        project = self.machine()
        by = float(self.random.uniform(-180, 180))
        return (evaluate(p, "Forward") for p in (project, turned(project, by))), by

    def test_its_joints_its_margins_and_its_loads_are_the_same(self):
        for _ in range(3):
            (one, other), by = self.pair()
            a, b = one.reading, other.reading
            with self.subTest(by=by, seed=self.seed):
                np.testing.assert_allclose(b.angles, a.angles, atol=1e-6)
                np.testing.assert_allclose(b.of(standing).margin_mm, a.of(standing).margin_mm, atol=1e-4)
                np.testing.assert_allclose(b.of(halted_margin), a.of(halted_margin), atol=1e-4)
                np.testing.assert_allclose(b.of(servo_loads).share, a.of(servo_loads).share, atol=1e-5)
                np.testing.assert_allclose(b.of(sag).down_mm, a.of(sag).down_mm, atol=1e-5)
                np.testing.assert_allclose(b.of(grip_needed), a.of(grip_needed), atol=1e-4)
                np.testing.assert_allclose(b.of(slip_mm), a.of(slip_mm), atol=1e-4)

    def test_what_lies_over_the_floor_is_turned_with_it(self):
        (one, other), by = self.pair()
        a, b = one.reading, other.reading
        c, s = np.cos(np.radians(by)), np.sin(np.radians(by))
        turn = np.array([[c, -s], [s, c]])
        np.testing.assert_allclose(b.of(over_floor), a.of(over_floor) @ turn.T, atol=1e-4)
        np.testing.assert_allclose(
            b.of(foot_forces).forces[..., :2], a.of(foot_forces).forces[..., :2] @ turn.T, atol=1e-4
        )
        np.testing.assert_allclose(b.of(foot_forces).forces[..., 2], a.of(foot_forces).forces[..., 2], atol=1e-4)

    def test_it_is_judged_alike(self):
        (one, other), by = self.pair()
        told = [{(f.code, f.severity, f.title) for f in plan.findings} for plan in (one, other)]
        self.assertEqual(*told, f"by {by}, seed {self.seed}")
        figures = [{f.name: f.value for f in plan.figures} for plan in (one, other)]
        for name in ("worst_margin_mm", "halted_margin_mm", "com_height_mm", "grip_needed", "held_rms", "sag_mm"):
            self.assertAlmostEqual(figures[0][name], figures[1][name], places=3, msg=name)
