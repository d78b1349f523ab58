"""Gaps between parts as evaluation tells them, against points set along every link; the turning circle against walks
round it."""

from __future__ import annotations

import numpy as np

from bustle.core.evaluate import evaluate
from bustle.core.judge.measures.feet.foot_slip import slip_mm
from bustle.core.judge.measures.gaps import FAR_MM, begin_inside, carried_gaps, gaps
from bustle.core.judge.measures.turning_circle import turning_radius_mm
from bustle.core.machine.sections import section_places
from tests.projects import changed, hexapod, start
from tests.seeded import SeededTest

ALONG = 61


class Gaps(SeededTest):
    def test_no_gap_is_missed_and_none_is_invented(self):
        """A project whose feet, strides and thicknesses are random: legs near each other, and through the frame."""
        for shape in ("six_sprawled", "four_upright", "two_full", "six_two"):
            project = start(shape, "Near", 200.0)
            edits = {}
            if project.motions[0].moves:
                edits["motions/0/twist/vx_mm_s"] = float(self.random.uniform(5, 40))
            for n, limb in enumerate(project.walker.limbs):
                if limb.neutral_mm:
                    x, y = (float(v) for v in np.array(limb.neutral_mm) + self.random.uniform(-25, 25, 2))
                    edits[f"walker/limbs/{n}/neutral_mm"] = [x, y]
                edits[f"walker/limbs/{n}/links/0/radius_mm"] = float(self.random.uniform(3, 12))
            # Some legs begin within the frame.
            size, more = project.walker.sections[0].size_mm, self.random.uniform(1.0, 1.8, 3)
            edits["walker/sections/0/size_mm"] = [float(v) for v in size * more]
            project = changed(project, edits)
            e = evaluate(project, project.motions[0].name, 40).reading
            with self.subTest(shape=shape, seed=self.seed):
                self.agree(e)

    def agree(self, e):
        links = e.kit.rods
        share = np.linspace(0, 1, ALONG)[:, None]
        spots, longest = [], []
        for rod in links:
            ends = e.course.solved.points[rod.member][: e.samples, rod.hinge : rod.hinge + 2]
            spots.append(ends[:, :1] + share * (ends[:, 1:] - ends[:, :1]))
            longest.append(np.linalg.norm(ends[:, 1] - ends[:, 0], axis=1).max())
        longest = np.array(longest)
        # Parts that bear one name (a stiff hip is several rods) are one part here: the nearest of them counts.
        near = {}

        def note(names, distances, coarse):
            before = near.get(names)
            near[names] = (distances, coarse) if before is None else (np.minimum(before[0], distances), coarse)

        for a, one in enumerate(links):
            for b in range(a + 1, len(links)):
                other = links[b]
                if one.limb == other.limb:
                    continue
                apart = np.linalg.norm(spots[a][:, :, None] - spots[b][:, None], axis=-1).min(axis=(1, 2))
                names = frozenset((f"{one.limb} {one.name}", f"{other.limb} {other.name}"))
                note(names, apart - one.radius - other.radius, (longest.max() + longest.max()) / (2 * (ALONG - 1)))
        places, within = section_places(e.project.walker, e.score.bends_deg), {}
        for section in e.project.walker.sections:
            place, half = places[section.name], np.array(section.size_mm) / 2
            for n, rod in enumerate(links):
                if rod.first and rod.section == section.name:
                    continue
                away = np.abs((spots[n] - place.at) @ place.turn) - half
                outside = np.linalg.norm(np.maximum(away, 0), axis=-1)
                deep = np.where(outside > 0, outside, away.max(axis=-1)).min(axis=1)
                if rod.section == section.name and (outside[:, 0] == 0).all() and deep.min() < rod.radius:
                    within[f"{rod.limb} {rod.name}"] = away[:, 0].max(axis=-1).max()
                    continue
                names = frozenset((f"{rod.limb} {rod.name}", section.name))
                note(names, deep - rod.radius, longest.max() / (2 * (ALONG - 1)))
        inside = {gap.first: gap.distance_mm for gap in e.of(begin_inside)}
        self.assertEqual(inside.keys(), within.keys())
        for name, deep in within.items():
            self.assertAlmostEqual(inside[name], deep, places=6)
        told = {}
        for gap in e.of(gaps):
            told.setdefault(frozenset((gap.first, gap.second)), gap)
        self.assertLessEqual(set(told), set(near))
        for names, (distances, coarse) in near.items():
            self.matches(told.get(names), distances, coarse, names)

    def matches(self, gap, distances, coarse, names):
        least = distances.min()
        if gap is None:
            self.assertGreater(least, FAR_MM - 1e-6, names)
            return
        self.assertLessEqual(gap.distance_mm, least + 0.02, names)
        self.assertGreaterEqual(gap.distance_mm, least - coarse - 0.02, names)
        self.assertLessEqual(distances[gap.sample], gap.distance_mm + coarse + 0.02, names)


class Turning(SeededTest):
    def walked_round(self, project, radius, stroke):
        """The stops of one circle of that radius to the left, at the pace that makes the stroke."""
        motion = project.motions[0]
        far = max(
            np.hypot(radius - limb.neutral_mm[1], limb.neutral_mm[0]) * leg.duty
            for limb, leg in zip(project.walker.legs, motion.legs, strict=True)
        )
        omega = stroke / (far * motion.cycle_s)
        twist = {"vx_mm_s": float(omega * radius), "vy_mm_s": 0.0, "omega_deg_s": float(np.degrees(omega))}
        plan = evaluate(changed(project, {"motions/0/twist": twist}), motion.name)
        return {code for code, *_ in plan.stops} & {"F15", "F17"} or (
            {"slip"} if plan.reading.of(slip_mm).max() > project.limits.slip_mm else set()
        )

    def test_the_circle_told_can_be_walked_and_a_much_tighter_one_cannot(self):
        """Flat legs scuff on arcs: the more slip is allowed, the tighter they turn; yaws that hardly turn do not."""
        cases = [changed(start(shape, "Round", 200.0), {"limits/slip_mm": slip})
                 for shape in ("four_upright_2", "six_two") for slip in (4.0, 8.0, 12.0)]  # fmt: skip
        stiff = {
            f"walker/limbs/{n}/joints/0/{end}_deg": v for n in range(6) for end, v in (("min", -12.0), ("max", 12.0))
        }
        for project in (*cases, changed(hexapod(), stiff)):
            e = evaluate(project, project.motions[0].name).reading
            stroke, radius = float(e.score.stroke_mm.max()), e.of(turning_radius_mm)
            with self.subTest(walker=project.walker.limbs[0].family, slip=project.limits.slip_mm, radius=radius):
                if radius is None:
                    self.assertTrue(self.walked_round(project, 10_000.0, stroke))
                    continue
                self.assertGreater(radius, 30.0)
                self.assertEqual(self.walked_round(project, radius * 1.02, stroke), set())
                self.assertTrue(self.walked_round(project, radius * 0.5, stroke))


class AsItGives(SeededTest):
    def test_parts_that_come_near_once_the_servos_give_are_told_and_stiffer_ones_are_not(self):
        project = start("four_upright", "Wide", 220.0)
        broad = [253.0, 164.0, 48.5]
        soft = changed(project, {"servo_types/0/full_torque_at_deg": 30.0, "walker/sections/0/size_mm": broad})
        r = evaluate(soft, "Forward").reading
        planned, carried = r.of(gaps)[0].distance_mm, r.of(carried_gaps)[0].distance_mm
        self.assertLess(carried, planned)
        between = {"limits/clearance_mm": (planned + carried) / 2}
        (told,) = [f for f in evaluate(changed(soft, between), "Forward").findings if f.code == "F16"]
        self.assertIn("once the servos give", told.message)
        stiff = changed(soft, between | {"servo_types/0/full_torque_at_deg": 0.5})
        self.assertFalse([f for f in evaluate(stiff, "Forward").findings if f.code == "F16"])
