"""A mirrored machine walks mirrored."""

from __future__ import annotations

import unittest

import numpy as np

from bustle.core.document.checked import parse_project
from bustle.core.document.file import load_project, save_project
from bustle.core.edits.limb_edits import mirrored
from bustle.core.edits.mirroring import mirror_image, turned_over
from bustle.core.evaluate import evaluate
from bustle.core.project.project import document
from bustle.core.servo.servo_angles import servo_angles
from bustle.core.starting.starting_walkers import SHAPES
from bustle.core.walk.standing_polygon import standing
from tests.long import in_turns, is_long, share
from tests.projects import ROOT, changed, quadruped, start
from tests.seeded import SeededTest
from tests.tables import shipped


class MirrorImage(SeededTest):
    @is_long
    def test_every_walker_that_ships_walks_the_other_way_round(self):
        for name, made in share(self.random, list(shipped().items()), 25):
            project = made()
            self.agree(name, project)

    @in_turns
    @is_long
    def test_lopsided_walkers_too(self):
        for shape in share(self.random, list(SHAPES), 6):
            project = start(shape, "Lopsided", 200.0)
            self.agree(shape, self.bent(project))

    def bent(self, project):
        """One leg is not like the others, the body leans, sways and goes aside."""
        edits = {"walker/limbs/0/joints/0/max_deg": project.walker.limbs[0].joints[0].max_deg + 3.0}
        edits["floor/slope_deg"], edits["floor/uphill_deg"] = 3.0, float(self.random.uniform(-170, 170))
        edits["walker/drives/0/servos/0/centre_deg"] = float(self.random.uniform(-9, 9))
        for n, motion in enumerate(project.motions):
            if motion.kind != "phase_gait":
                continue
            path = f"motions/{n}"
            edits[f"{path}/pose/shift_mm"] = [2.0, float(self.random.uniform(-4, 4))]
            edits[f"{path}/pose/roll_deg"], edits[f"{path}/pose/yaw_deg"] = self.random.uniform(-3, 3, 2).tolist()
            edits[f"{path}/pose/sway"] = [{"harmonic": 1, "y_cos_mm": 3.0, "y_sin_mm": -2.0, "x_cos_mm": 1.0}]
            if motion.moves:
                edits[f"{path}/twist/vy_mm_s"] = 1.5
                edits[f"{path}/steer_mm_m"] = float(self.random.uniform(-30, 30))
        for k, limb in enumerate(project.walker.limbs):
            for f, foot in enumerate(limb.feet):
                if foot.sole.kind == "rectangle":
                    edits[f"walker/limbs/{k}/feet/{f}/sole/left_mm"] = 4.0
        return changed(project, edits)

    def agree(self, name, project):
        image = mirror_image(project)
        self.assertEqual(save_project(mirror_image(image)), save_project(project), "twice is as before")
        limbs = {limb["name"]: limb for limb in document(project)["walker"]["limbs"]}
        for motion in project.motions:
            # Of two legs alike in all, one on each side, the rule lifts the left one: in the mirror, the other.
            if motion.kind == "free_walk":
                continue
            with self.subTest(walker=name, motion=motion.name, seed=self.seed):
                one, other = (evaluate(p, motion.name, 60) for p in (project, image))
                a, b = one.reading, other.reading
                sign = np.array([-1.0 if turned_over(limbs[j.limb.name], j.name) else 1.0 for j in a.kit.joints])
                np.testing.assert_allclose(b.angles, a.angles * sign, atol=1e-6)
                np.testing.assert_allclose(np.abs(b.of(servo_angles)), np.abs(a.of(servo_angles)), atol=1e-6)
                np.testing.assert_allclose(b.course.com_ground_mm, a.course.com_ground_mm * [1, -1, 1], atol=1e-6)
                np.testing.assert_allclose(b.of(standing).margin_mm, a.of(standing).margin_mm, atol=1e-6)
                self.assertEqual(sorted({f.code for f in other.findings}), sorted({f.code for f in one.findings}))


class OneLimb(unittest.TestCase):
    """A limb mirrored to the other side takes everything along, by the same rule."""

    def test_end_stops_rod_and_centre_change_sides(self):
        project = quadruped()
        roll = next(n for n, j in enumerate(project.walker.limbs[0].joints) if j.name == "roll")
        source = project.walker.limbs[0].name
        drive = next(n for n, d in enumerate(project.walker.drives) if d.joints == (f"{source}/roll",))
        asked = changed(
            project,
            {
                f"walker/limbs/0/joints/{roll}/min_deg": -20.0,
                f"walker/limbs/0/joints/{roll}/max_deg": 35.0,
                f"walker/drives/{drive}/kind": "rod",
                f"walker/drives/{drive}/settings": {"horn_deg": 80.0, "lever_deg": 85.0},
                f"walker/drives/{drive}/servos/0/centre_deg": 7.0,
            },
        )
        after = mirrored(asked, source)
        self.assertEqual([m.name for m in after.walker.limbs], [m.name for m in project.walker.limbs])
        twin = next(m for m in after.walker.limbs if m.name == "FR")
        self.assertEqual((twin.joints[roll].min_deg, twin.joints[roll].max_deg), (-35.0, 20.0))
        rod = next(d for d in after.walker.drives if d.joints == ("FR/roll",))
        self.assertEqual((rod.kind, rod.settings["horn_deg"], rod.settings["lever_deg"]), ("rod", -80.0, -85.0))
        self.assertEqual(rod.servos[0].centre_deg, -7.0)
        # Phases are the leg's own, and what was measured of it stays.
        self.assertEqual(after.motions, project.motions)

    def test_frames_second_feet_folds_and_weights_go_along(self):
        project = load_project((ROOT / "demo" / "faults" / "F36.bustle.json").read_bytes())
        source = project.walker.limbs[0]
        values = document(project)
        values["walker"]["masses"].append(
            {"name": "weight", "mass_g": 20.0, "at_mm": [1.0, 2.0, 3.0], "on": f"{source.name}/{source.links[0].name}"}
        )
        foot = {**values["walker"]["limbs"][0]["feet"][0], "name": "other", "side": "upper", "at_mm": [0.0, 6.0, 9.0]}
        values["walker"]["limbs"][0]["feet"].append(foot)
        walk = next(m for m in values["motions"] if m.get("kind", "phase_gait") == "phase_gait")
        x, y = source.neutral_mm
        placed = [{"limb": source.name, "at_mm": [x, y + 5.0, 10.0]}]
        frame = {"name": "1", "pose": walk["pose"], "feet": placed}
        values["motions"].append({"kind": "keyframes", "name": "Up", "frames": [frame]})
        after = document(mirrored(parse_project(values), source.name))
        twin = next(m for m in after["walker"]["limbs"] if m["name"].startswith("R") and "other" in str(m["feet"]))
        self.assertEqual(twin["feet"][1]["at_mm"], [0.0, -6.0, 9.0])
        weights = [m for m in after["walker"]["masses"] if m["name"].startswith("weight")]
        self.assertEqual([m["at_mm"][1] for m in weights], [2.0, -2.0])
        feet = {f["limb"]: f["at_mm"] for f in after["motions"][-1]["frames"][0]["feet"]}
        self.assertEqual(feet[twin["name"]], [x, -(y + 5.0), 10.0])
        folded = {(a["limb"], a["joint"]): a["value"] for a in after["walker"]["folded"]["joints"]}
        for joint in source.joints:
            if (source.name, joint.name) in folded:
                sign = -1 if turned_over(document(project)["walker"]["limbs"][0], joint.name) else 1
                self.assertEqual(folded[twin["name"], joint.name], sign * folded[source.name, joint.name] + 0.0)
