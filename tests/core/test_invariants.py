"""What physics says must not change: size, pace, place and side, on random walkers through the front door."""

from __future__ import annotations

import numpy as np

from bustle.core.document.checked import parse_project
from bustle.core.evaluate import evaluate
from bustle.core.judge.measures.joint_rates import joint_rates
from bustle.core.judge.measures.margins.worst_margin import worst_margin
from bustle.core.project.project import Project, document
from bustle.core.starting.starting_walkers import SHAPES
from bustle.core.walk.standing_polygon import standing
from tests.long import in_turns
from tests.projects import start
from tests.seeded import SeededTest

SIZES = (
    "radius_mm",
    "length_mm",
    "at_mm",
    "size_mm",
    "neutral_mm",
    "lift_mm",
    "ride_height_mm",
    "shift_mm",
    "vx_mm_s",
    "vy_mm_s",
)
SWAYS = ("x_cos_mm", "x_sin_mm", "y_cos_mm", "y_sin_mm")


def scaled(value, factor, keys, key=None):
    """The document with every number under these keys times the factor."""
    if isinstance(value, dict):
        return {
            k: scaled(v, factor, keys, k if k in keys or key is None or key not in keys else key)
            for k, v in value.items()
        }
    if isinstance(value, list):
        return [scaled(v, factor, keys, key) for v in value]
    return value * factor if key in keys and isinstance(value, float) else value


class RandomWalkers(SeededTest):
    def walker(self) -> Project:
        shape = str(self.random.choice([s for s in SHAPES if not s.startswith("two_") and s != "four_casters"]))
        values = document(start(shape, "Random", float(self.random.uniform(90, 280))))
        values["against_sag"] = "off"
        motion = values["motions"][0]
        motion["twist"] = {
            "vx_mm_s": float(self.random.uniform(-20, 20)),
            "vy_mm_s": float(self.random.uniform(-12, 12)),
            "omega_deg_s": float(self.random.uniform(-8, 8)),
        }
        motion["foot_path"] = str(self.random.choice(["cycloid", "half_ellipse"]))
        motion["pose"]["pitch_deg"] = float(self.random.uniform(-4, 4))
        for leg in motion["legs"]:
            leg["phase"] = float(self.random.random())
            leg["duty"] = float(self.random.uniform(0.55, 0.9))
        values["motions"] = [motion]
        return parse_project(values)

    @in_turns
    def test_twice_the_size_has_the_same_angles_and_twice_the_margins(self):
        for _ in range(8):
            project = self.walker()
            large = parse_project(scaled(document(project), 1.5, (*SIZES, *SWAYS)))
            small, big = (evaluate(p, "Forward", 60).reading for p in (project, large))
            np.testing.assert_allclose(big.angles, small.angles, atol=1e-9, err_msg=f"seed {self.seed}")
            np.testing.assert_allclose(big.of(standing).margin_mm, small.of(standing).margin_mm * 1.5, atol=1e-6)

    @in_turns
    def test_half_the_pace_has_the_same_angles_and_half_the_rates(self):
        for _ in range(8):
            project = self.walker()
            values = scaled(document(project), 0.5, ("vx_mm_s", "vy_mm_s", "omega_deg_s"))
            values["motions"][0]["cycle_s"] *= 2
            quick, slow = (evaluate(p, "Forward", 60).reading for p in (project, parse_project(values)))
            np.testing.assert_allclose(slow.angles, quick.angles, atol=1e-9, err_msg=f"seed {self.seed}")
            np.testing.assert_allclose(slow.of(joint_rates), quick.of(joint_rates) / 2, atol=1e-9)

    @in_turns
    def test_the_mirrored_walker_has_the_mirrored_margins(self):
        """y → −y of everything: the same margins, and every foot at the mirrored place."""
        for _ in range(8):
            project = self.walker()
            values = document(project)
            for limb in values["walker"]["limbs"]:
                limb["mount"]["at_mm"][1] *= -1
                limb["mount"]["yaw_deg"] *= -1
                limb["neutral_mm"][1] *= -1
                limb["mirrored"] = not limb["mirrored"]
            for mass in values["walker"]["masses"]:
                mass["at_mm"][1] *= -1
            motion = values["motions"][0]
            motion["twist"]["vy_mm_s"] *= -1
            motion["twist"]["omega_deg_s"] *= -1
            for term in motion["pose"]["sway"]:
                term["y_cos_mm"] *= -1
                term["y_sin_mm"] *= -1
            one, other = (evaluate(p, "Forward", 60).reading for p in (project, parse_project(values)))
            np.testing.assert_allclose(
                other.of(standing).margin_mm, one.of(standing).margin_mm, atol=1e-6, err_msg=f"seed {self.seed}"
            )
            mirrored = one.course.feet_body_mm * np.array([1.0, -1.0, 1.0])
            np.testing.assert_allclose(other.course.feet_body_mm, mirrored, atol=1e-6)

    @in_turns
    def test_starting_the_cycle_elsewhere_only_shifts_it(self):
        """All phases later by a quarter: the same rows, a quarter of the cycle later."""
        for _ in range(8):
            project = self.walker()
            values = document(project)
            values["motions"][0]["pose"]["sway"] = []
            plain = evaluate(parse_project(values), "Forward", 80).reading
            for leg in values["motions"][0]["legs"]:
                leg["phase"] = (leg["phase"] + 0.25) % 1
            later = evaluate(parse_project(values), "Forward", 80).reading
            np.testing.assert_allclose(
                later.angles, np.roll(plain.angles, 20, axis=0), atol=1e-9, err_msg=f"seed {self.seed}"
            )
            self.assertAlmostEqual(later.of(worst_margin)[0], plain.of(worst_margin)[0], places=6)

    @in_turns
    def test_links_keep_their_lengths_and_standing_feet_their_height(self):
        for _ in range(12):
            project = self.walker()
            e = evaluate(project, "Forward", 50).reading
            for n, limb in enumerate(project.walker.limbs):
                spans = np.linalg.norm(np.diff(e.course.solved.points[n], axis=1), axis=-1)
                wanted = np.array([link.length_mm for link in limb.links])
                np.testing.assert_allclose(spans, np.broadcast_to(wanted, spans.shape), atol=1e-9)
                standing = e.course.contact[n] & (e.course.solved.miss_mm[n] < 1e-6)
                if len(limb.joints) < 3:
                    continue  # a tilted body lifts what such a leg slips
                self.assertLess(
                    np.abs(e.course.feet_ground_mm[n, standing, 2]).max(initial=0), 1e-6, f"seed {self.seed}"
                )

    @in_turns
    def test_more_samples_agree_where_they_fall_together(self):
        for _ in range(6):
            project = self.walker()
            coarse, fine = (evaluate(project, "Forward", n).reading for n in (40, 120))
            np.testing.assert_allclose(fine.angles[::3], coarse.angles, atol=1e-9, err_msg=f"seed {self.seed}")
            np.testing.assert_array_equal(fine.course.contact[:, :120:3], coarse.course.contact[:, :40])

    @in_turns
    def test_a_heavier_body_draws_the_centre_of_mass_to_itself(self):
        for _ in range(6):
            values = document(self.walker())
            values["walker"]["masses"][0]["at_mm"] = [12.0, -7.0, 3.0]
            distances = []
            for grams in (100.0, 1000.0, 10_000.0):
                values["walker"]["masses"][0]["mass_g"] = grams
                centre = evaluate(parse_project(values), "Forward", 30).reading.course.com_body_mm
                distances.append(np.linalg.norm(centre - [12.0, -7.0, 3.0], axis=-1).max())
            self.assertTrue(distances[0] > distances[1] > distances[2], f"seed {self.seed}")
