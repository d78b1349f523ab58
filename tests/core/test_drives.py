"""Drives: joint to servo and back, what they cannot hold, and servos that several joints share."""

from __future__ import annotations

import numpy as np

from bustle.core.document.checked import parse_project
from bustle.core.evaluate import evaluate
from bustle.core.judge.measures.servo_rates import servo_rates
from bustle.core.kinds.drives import DRIVES
from bustle.core.project.project import document
from tests.projects import changed, hexapod, quadruped, troubles
from tests.seeded import SeededTest


class RoundTrips(SeededTest):
    def drawn(self, kind, count=200):
        joints = self.random.uniform(-1.2, 1.2, (50, count, kind.joints))
        centres = self.random.uniform(-1.0, 1.0, (count, kind.servos))
        settings = np.array(
            [
                [s.default + self.random.uniform(-1, 1) * (0.2 * abs(s.default) + 0.5) for s in kind.settings]
                for _ in range(count)
            ]
        ).reshape(count, -1)
        return joints, centres, settings

    def test_joint_to_servo_to_joint(self):
        for kind in DRIVES.values():
            joints, centres, settings = self.drawn(kind)
            if kind.joints > kind.servos:
                # What one servo can give both of its joints.
                joints = kind.to_joints(kind.to_servos(joints, centres, settings), centres, settings)
            holds = kind.strain(joints, centres, settings) <= 0
            back = kind.to_joints(kind.to_servos(joints, centres, settings), centres, settings)
            off = np.degrees(np.abs(back - joints).max(axis=-1))
            off -= 360 * np.round(off / 360)
            with self.subTest(kind=kind.name, seed=self.seed):
                self.assertGreater(holds.mean(), 0.25)
                self.assertLess(np.abs(off[holds]).max(), 1e-9)

    def test_what_is_linear_turns_its_joints_alike_wherever_they_stand(self):
        for kind in DRIVES.values():
            joints, centres, settings = self.drawn(kind)
            servos = kind.to_servos(joints, centres, settings)
            step = self.random.uniform(0.01, 0.1, servos.shape[-1])
            turned = kind.to_joints(servos + step, centres, settings) - kind.to_joints(servos, centres, settings)
            spread = float(np.nanmax(np.abs(turned - turned[:1])))
            with self.subTest(kind=kind.name, seed=self.seed):
                self.assertEqual(kind.linear, spread < 1e-9)

    def test_a_rod_keeps_its_length(self):
        """Horn and lever ends, laid out in the plane, are the rod apart at every angle it can hold."""
        kind = DRIVES["rod"]
        joints, centres, settings = self.drawn(kind)
        holds = kind.strain(joints, centres, settings) <= 0
        servo = kind.to_servos(joints, centres, settings)[..., 0]
        base, horn, rod, lever, horn_deg, lever_deg = settings.T
        theta = servo + np.radians(horn_deg)
        phi = joints[..., 0] - centres[:, 0] + np.radians(lever_deg)
        x = horn * np.cos(theta) - base - lever * np.cos(phi)
        y = horn * np.sin(theta) - lever * np.sin(phi)
        off = np.abs(np.hypot(x, y) - rod)
        self.assertLess(off[holds].max(), 1e-6, f"seed {self.seed}")

    def test_a_rod_stops_at_its_dead_point(self):
        kind = DRIVES["rod"]
        settings = np.array([kind.values({})])
        sweep = np.linspace(-np.pi, np.pi, 721)[:, None, None]
        strained = kind.strain(sweep, np.zeros((1, 1)), settings)[:, 0] > 0
        self.assertFalse(strained[330:390].any())
        self.assertTrue(strained.any())

    def test_a_cord_only_pulls(self):
        kind = DRIVES["cord"]
        settings = np.array([kind.values({"rest_deg": -10.0})])
        strain = kind.strain(np.radians([[[-20.0]], [[-10.0]], [[30.0]]]), np.zeros((1, 1)), settings)
        np.testing.assert_allclose(np.degrees(strain[:, 0]), [10.0, 0.0, 0.0], atol=1e-9)


class OnTheWalker(SeededTest):
    def geared(self, ratio):
        values = document(hexapod())
        for drive in values["walker"]["drives"]:
            if drive["joints"][0].endswith("/tibia"):
                drive["kind"], drive["settings"] = "gear", {"ratio": ratio}
        return parse_project(values)

    def test_a_gear_multiplies_servo_rates_and_travel(self):
        plain, geared = (evaluate(p, "Forward").reading for p in (hexapod(), self.geared(2.0)))
        np.testing.assert_array_equal(plain.angles, geared.angles)

        def rate(e):
            return max(
                np.abs(e.of(servo_rates)[:, n]).max() for n, s in enumerate(e.kit.servos) if s.name.endswith("tibia")
            )

        self.assertAlmostEqual(rate(geared), 2 * rate(plain), places=9)
        far = evaluate(self.geared(9.0), "Forward").findings
        self.assertTrue(any(f.code == "F15" and "servo" in f.message for f in far))

    def test_a_rod_asked_past_its_dead_point_is_a_stop(self):
        values = document(hexapod())
        for drive in values["walker"]["drives"]:
            if drive["joints"][0] == "L1/femur":
                drive["kind"] = "rod"
                drive["settings"] = {"base_mm": 40.0, "horn_mm": 8.0, "rod_mm": 40.0, "lever_mm": 24.0}
                drive["servos"][0]["centre_deg"] = -20.0
        found = [f for f in evaluate(parse_project(values), "Forward").findings if f.code == "F15"]
        self.assertTrue(
            any("dead point" in f.message and f.severity == "stop" for f in found), [f.message for f in found]
        )

    def test_where_the_servo_sits_moves_the_centre_of_mass(self):
        riding = document(hexapod())
        for drive in riding["walker"]["drives"]:
            if drive["joints"][0].endswith("/tibia") and drive["joints"][0].startswith("L"):
                drive["servos"][0]["sits_on"] = "body"
        before, after = (evaluate(p, "Stand").reading.course.com_body_mm[0] for p in (hexapod(), parse_project(riding)))
        # Left tibia servos moved from the knees to the hips: the centre goes right.
        self.assertLess(after[1], before[1] - 0.5)

    def test_one_servo_for_two_legs_gives_both_what_it_can(self):
        """Mirrored knees on one servo: standing alike they are met exactly, walking apart they share the miss."""
        values = document(quadruped())
        drives = [d for d in values["walker"]["drives"] if d["joints"][0] not in ("FL/knee", "FR/knee")]
        shared = {
            "kind": "pair_equal",
            "servos": [{"name": "Front knees", "type": values["servo_types"][0]["name"], "centre_deg": -75.0}],
            "joints": ["FL/knee", "FR/knee"],
            "settings": {"second_centre_deg": -75.0},
        }
        values["walker"]["drives"] = [*drives, shared]
        tied = parse_project(values)
        stand = evaluate(tied, "Stand")
        self.assertEqual(troubles(stand), ())
        e = evaluate(tied, "Forward").reading
        knees = e.angles[:, [e.kit.column_of["FL/knee"], e.kit.column_of["FR/knee"]]]
        np.testing.assert_allclose(knees[:, 0], knees[:, 1], atol=1e-12)
        free = evaluate(quadruped(), "Forward").reading
        apart = np.abs(
            free.angles[:, free.kit.column_of["FL/knee"]] - free.angles[:, free.kit.column_of["FR/knee"]]
        ).max()
        self.assertGreater(apart, 0.1)
        miss = e.course.solved.miss_mm[:2]
        self.assertGreater(miss.max(), 0.5)
        self.assertLess(e.course.solved.miss_mm[2:].max(), 1e-6)
        # No better than shared by plain means: the other joints have given way.
        self.assertLess(miss.max(), 100.0 * apart)

    def test_free_joints_stay_out_of_the_table(self):
        from bustle.core.servo.joint_table import joint_table

        values = document(hexapod())
        values["walker"]["limbs"][0]["joints"][2]["free"] = True
        values["walker"]["drives"] = [d for d in values["walker"]["drives"] if d["joints"] != ["L1/tibia"]]
        table = joint_table(evaluate(parse_project(values), "Forward").reading)
        self.assertNotIn("L1.tibia", table.columns)
        self.assertEqual(len(table.columns), 17)

    def test_refusals_name_the_drive(self):
        for change, words in (
            ({"walker/drives/0/settings": {"ratio": 2.0}}, "a direct drive has no settings"),
            ({"walker/drives/0/kind": "gear", "walker/drives/0/settings": {"ratio": 0.0}}, "must not be 0"),
            ({"walker/drives/0/kind": "gear", "walker/drives/0/settings": {"teeth": 2.0}}, "a gear drive has ratio"),
            ({"walker/drives/0/kind": "pair_equal"}, "1 servo and 2 joints"),
            ({"walker/limbs/0/joints/0/free": True}, "L1/yaw is free"),
            ({"walker/drives/0/servos/0/sits_on": "moon"}, "'moon' is no section or link"),
        ):
            with self.assertRaises(ValueError) as caught:
                changed(hexapod(), change)
            self.assertIn(words, str(caught.exception))
