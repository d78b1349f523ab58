"""What is drawn is what is told: the arrays of a picture against each other, its figures and a geometry library."""

from __future__ import annotations

import unittest
from unittest import mock

import numpy as np

from bustle.core.document.checked import parse_project
from bustle.core.edits.at_rest import AT_REST, standing
from bustle.core.evaluate import evaluate
from bustle.core.project.project import document
from bustle.core.starting.starting_walkers import SHAPES
from bustle.formats import write_table
from bustle.web.drawn.picture import drawn_first, picture
from bustle.web.drawn.recent_plans import plan_of
from tests.judge.test_support import oracle
from tests.long import in_turns
from tests.projects import changed, start
from tests.seeded import SeededTest
from tests.web.test_api import decode

# Of these no foot slides or rolls as they walk.
STANDING = ("six_sprawled", "six_radial", "six_upright", "four_sprawled", "four_upright", "two_full", "two_planar")


STATIONS = ("frame", "stride", "balance", "timing", "load", "table", "motions", "leg")


class Pictures(SeededTest):
    def pictures(self, shapes, count):
        """Of walks that shapes come with, at any length."""
        for shape in self.random.choice(shapes, count, replace=False):
            project = start(str(shape), "Drawn", float(self.random.uniform(80, 400)))
            walks = [m.name for m in project.motions if m.kind == "phase_gait" and not m.stands]
            if not walks:
                continue
            name = str(self.random.choice(walks))
            head, arrays = decode(picture(evaluate(project, name)))
            yield project, head, arrays, {f["name"]: f["value"] for f in head["figures"]}


class AtRest(SeededTest):
    @in_turns
    def test_what_a_drag_has_worked_out_changes_nothing_in_the_whole(self):
        """The whole is told from the same reading as the glimpses before it."""
        for shape in self.random.choice(list(SHAPES), 4, replace=False):
            project = start(str(shape), "Rested", float(self.random.uniform(80, 400)))
            motion = str(self.random.choice([motion.name for motion in project.motions]))
            dragged = evaluate(project, motion)
            for station in self.random.permutation(STATIONS):
                picture(dragged, str(station))
            with self.subTest(shape=shape, motion=motion, seed=self.seed):
                self.assertEqual(picture(dragged), picture(evaluate(project, motion)))

    @in_turns
    def test_drawn_first_it_is_the_same_in_two_parts(self):
        """What is drawn, then what is left: together what comes at once, and never twice."""
        for shape in self.random.choice(list(SHAPES), 4, replace=False):
            project = start(str(shape), "Parts", float(self.random.uniform(80, 400)))
            motion = str(self.random.choice([motion.name for motion in project.motions]))
            station = self.random.choice([None, *STATIONS])
            rest = evaluate(standing(project, motion), AT_REST, 2) if station == "frame" else None
            with self.subTest(shape=shape, motion=motion, station=station, seed=self.seed):
                at_once, arrays = decode(picture(evaluate(project, motion), station, rest))
                (drawn, first), (told, second) = map(decode, drawn_first(evaluate(project, motion), station, rest))
                self.assertFalse(set(first) & set(second))
                self.assertEqual({"points", "polygon", "contact"} - set(first), set())
                self.assertEqual(set(arrays), {*first, *second})
                for name, array in arrays.items():
                    np.testing.assert_array_equal(array, (first | second)[name], name)
                self.assertEqual(set(drawn) - set(told), set())
                for key in set(at_once) - {"arrays"}:
                    self.assertEqual(at_once[key], told[key], key)
                    self.assertEqual(told[key], drawn.get(key, told[key]), key)

    @in_turns
    def test_it_is_drawn_before_anything_is_judged(self):
        for shape in self.random.choice(list(SHAPES), 4, replace=False):
            project = start(str(shape), "Parts", float(self.random.uniform(80, 400)))
            for station in (None, "load", "balance"):
                with (
                    self.subTest(shape=shape, station=station, seed=self.seed),
                    mock.patch("bustle.web.drawn.picture.told_at", side_effect=AssertionError("judged")),
                    mock.patch("bustle.core.evaluate.findings", side_effect=AssertionError("judged")),
                    mock.patch("bustle.core.loads.foot_forces._forces", side_effect=AssertionError("held")),
                ):
                    parts = drawn_first(evaluate(project, project.motions[0].name), station)
                    next(parts)
                    with self.assertRaises(AssertionError):
                        next(parts)

    @in_turns
    def test_what_is_told_hangs_on_no_motion_that_was_asked_before(self):
        """To the last digit: what is kept of a machine is worked out of the machine alone."""
        for shape in self.random.choice(list(SHAPES), 3, replace=False):
            project = start(str(shape), "Order", float(self.random.uniform(80, 400)))
            first, then = self.random.choice([motion.name for motion in project.motions], 2, replace=False)
            one, other = (project.model_copy(update={"walker": project.walker.model_copy()}) for _ in range(2))
            picture(evaluate(one, str(first)))
            with self.subTest(shape=shape, first=first, then=then, seed=self.seed):
                self.assertEqual(picture(evaluate(one, str(then))), picture(evaluate(other, str(then))))

    @in_turns
    def test_a_draft_that_comes_back_is_told_as_it_is(self):
        """Drafts and motions in turn, each known or not: what is kept of one is never told of another."""
        projects = [
            start("six_sprawled", "One", 200.0),
            start("six_sprawled", "Two", 205.0),
            start("four_sprawled", "3", 90.0),
        ]
        for _ in range(12):
            project = projects[self.random.integers(3)]
            motion = str(self.random.choice([motion.name for motion in project.motions]))
            copy = parse_project(document(project))
            self.assertEqual(picture(plan_of(copy, motion)), picture(evaluate(project, motion)))


class Rows(Pictures):
    @in_turns
    def test_what_the_table_shows_is_what_is_written(self):
        """Held against sag or not."""
        held = [shape for shape in SHAPES if start(shape, "Held", 200.0).against_sag != "off"]
        for shapes in (held, list(SHAPES)):
            for project, head, arrays, _ in self.pictures(shapes, 2):
                plan = evaluate(project, head["motion"])
                text = write_table(plan, "csv", 3).decode()
                rows = [line.split(",") for line in text.splitlines() if not line.startswith("#")]
                columns = [n for n, name in enumerate(rows[0]) if name.endswith(("_deg", "_mm"))]
                written = np.array([[row[n] for n in columns] for row in rows[1:]], dtype=float)
                with self.subTest(project.walker.limbs[0].family, motion=head["motion"], seed=self.seed):
                    driven = [n for n, joint in enumerate(plan.reading.kit.joints) if not joint.free]
                    np.testing.assert_allclose(arrays["joints_deg"][:, driven], written, atol=1e-3)


class Lies(Pictures):
    @in_turns
    def test_links_and_frames_are_rigid(self):
        for project, head, arrays, _ in self.pictures(list(SHAPES), 3):
            for leg, limb in zip(head["legs"], project.walker.limbs, strict=True):
                track = arrays["points"][:, slice(*leg["points"])]
                long = np.linalg.norm(np.diff(track, axis=1), axis=-1)
                self.assertLess(np.ptp(long, axis=0).max(initial=0.0), 0.01)
                told = sum(link.length_mm for link in limb.links)
                if limb.steps and limb.family != "free":
                    self.assertAlmostEqual(long[0].sum(), told, delta=0.05 * told)
            corners = arrays["frame"]
            across = np.linalg.norm(corners[:, :, None] - corners[:, None], axis=-1)
            self.assertLess(np.ptp(across, axis=0).max(), 0.01)

    @in_turns
    def test_feet_that_stand_stay_where_they_are_on_the_ground(self):
        for _, head, arrays, _ in self.pictures(STANDING, 3):
            x, y, theta = arrays["travel"].T
            c, s = np.cos(theta), np.sin(theta)
            for n, leg in enumerate(head["legs"]):
                foot = arrays["points"][:, leg["points"][1] - 1]
                ground = np.stack(
                    [x + c * foot[:, 0] - s * foot[:, 1], y + s * foot[:, 0] + c * foot[:, 1], foot[:, 2]]
                )
                down = arrays["contact"][:, n] > 0
                both = down[1:] & down[:-1]
                self.assertLess(np.abs(np.diff(ground, axis=1)[:, both]).max(initial=0.0), 0.02)
                # Where it is in the air it gets somewhere.
                self.assertGreater(np.abs(np.diff(ground, axis=1)[:, ~both]).max(), 0.5)

    @in_turns
    def test_the_margin_is_that_of_the_polygon_and_the_mass_drawn(self):
        for _, _, arrays, _ in self.pictures(list(SHAPES), 3):
            for row in self.random.choice(len(arrays["time_s"]), 12):
                corners = arrays["polygon"][row, : int(arrays["polygon_count"][row])]
                if len(corners):
                    _, margin = oracle(corners.astype(float), arrays["com"][row, :2].astype(float))
                    self.assertAlmostEqual(arrays["margin_mm"][row], margin, delta=0.02)


class Slopes(Pictures):
    """What is drawn of a floor that slopes, of a halt, and of how the frame gives."""

    @in_turns
    def test_the_plumb_line_stands_square_to_a_level_line_and_the_margin_is_taken_at_its_foot(self):
        for shape in ("six_sprawled", "four_sprawled", "six_radial"):
            slope, uphill = float(self.random.uniform(3, 15)), float(self.random.uniform(-180, 180))
            project = start(shape, "Drawn", float(self.random.uniform(100, 300)))
            project = changed(project, {"floor/slope_deg": slope, "floor/uphill_deg": uphill})
            head, arrays = decode(picture(evaluate(project, "Forward")))
            down = arrays["com"][:, :2] - arrays["plumb"]
            np.testing.assert_allclose(np.hypot(*down.T) / arrays["com"][:, 2], np.tan(np.radians(slope)), rtol=1e-4)
            turned = np.degrees(np.arctan2(down[:, 1], down[:, 0])) - uphill
            np.testing.assert_allclose(np.cos(np.radians(turned)), 1.0, atol=1e-6)
            # Halted, a foot that has hardly left the floor holds as one that stands; these are well above it.
            tips = arrays["points"][:, [leg["points"][1] - 1 for leg in head["legs"]]]
            far = np.linalg.norm(tips[..., :2], axis=-1).max()
            high = tips[..., 2] - tips[..., 2].min(axis=0) > np.tan(np.radians(2.0)) * 2 * far
            clear = (high | (arrays["contact"] > 0)).all(axis=1)
            self.assertGreater(clear.sum(), 10)
            for row in self.random.choice(len(arrays["time_s"]), 8):
                corners = arrays["polygon"][row, : int(arrays["polygon_count"][row])].astype(float)
                at_rest, on = (oracle(corners, arrays[at][row].astype(float))[1] for at in ("plumb", "halted"))
                self.assertAlmostEqual(arrays["margin_mm"][row], at_rest, delta=0.02)
                self.assertGreater(arrays["halted_mm"][row], on - 0.02)
                if clear[row]:
                    self.assertAlmostEqual(arrays["halted_mm"][row], on, delta=0.02)

    def test_on_a_level_floor_nothing_is_plumbed_and_what_is_not_stopped_anywhere_is_not_halted(self):
        _, arrays = decode(picture(evaluate(start("four_upright", "Drawn", 200.0), "Trot")))
        self.assertFalse({"plumb", "halted"} & set(arrays))

    @in_turns
    def test_the_middle_of_the_frame_gives_by_what_is_told(self):
        for project, head, arrays, _ in self.pictures(STANDING, 3):
            if head["load"]["not_told"]:
                continue
            down, shift, turn = arrays["load_sag"][:, 0], arrays["load_sag"][:, 1:4], arrays["load_sag"][:, 4:]
            r = evaluate(project, head["motion"]).reading
            x, y, theta = (v[: r.samples] for v in r.course.body.travel)
            at = r.course.body.at[: r.samples] - np.stack([x, y, 0 * x], axis=1)
            c, s = np.cos(theta), np.sin(theta)
            at = np.stack([c * at[:, 0] + s * at[:, 1], c * at[:, 1] - s * at[:, 0], at[:, 2]], axis=1)
            gone = shift + np.cross(turn, at)
            np.testing.assert_allclose(gone[:, 2], -down, atol=2e-3)
            # A little, and never so that the frame would be drawn elsewhere.
            self.assertLess(np.abs(gone).max(), 0.1 * float(at[:, 2].max()))


class Told(Pictures):
    @in_turns
    def test_traces_reach_what_the_figures_say(self):
        for project, head, arrays, figures in self.pictures(list(SHAPES), 3):
            self.assertAlmostEqual(arrays["com"][:, 2].mean(), figures["com_height_mm"], delta=0.01)
            rates = np.abs(arrays["rates_deg_s"]).max()
            self.assertAlmostEqual(rates, figures["peak_rate_deg_s"], delta=1e-4 * rates)
            down = arrays["trace_supported"] > 0
            if head["balance"] == "static":
                worst = arrays["trace_margin_mm"][down].min()
                self.assertAlmostEqual(worst, figures["worst_margin_mm"], delta=0.01)
                self.assertAlmostEqual(worst, head["worst"]["margin_mm"], delta=0.01)
            if "lean" in arrays:
                lean = np.degrees(np.abs(arrays["lean"][:, 0]).max())
                # It goes on leaning from the last row on two feet until the next is down.
                self.assertLess(lean, figures["lean_deg"] + 0.01)
                self.assertGreater(lean, 0.6 * figures["lean_deg"])
            if "push_room_mm" in arrays:
                told = figures.get("pushing_room_mm", figures.get("pushing_ahead_mm"))
                self.assertAlmostEqual(arrays["push_room_mm"].min(), told, delta=0.01)
            if head["load"]["not_told"] is None and project.walker.held == "free":
                # Over a cycle nothing rises or falls: the floor carries the weight, no more and no less.
                carried = arrays["load_feet"][:, :, 2].sum(axis=1).mean()
                self.assertAlmostEqual(carried, head["load"]["weight_n"], delta=0.01 * carried)

    def test_what_rocks_sideways_is_traced_fore_and_aft_alone(self):
        """Its pushing point goes far over the outer borders, and keeps between toes and heels."""
        project = start("two_parallelogram", "Drawn", float(self.random.uniform(150, 400)))
        _, arrays = decode(picture(evaluate(project, "Forward")))
        outside = -min(
            oracle(corners[: int(count)].astype(float), push.astype(float))[1]
            for corners, count, push in zip(arrays["polygon"], arrays["polygon_count"], arrays["push"], strict=True)
        )
        self.assertGreater(outside, 5.0)
        self.assertGreater(arrays["push_room_mm"].min(), 5.0)
        flat = start("two_full", "Drawn", 260.0)
        index = next(n for n, m in enumerate(flat.motions) if m.name == "Forward")
        for on_its_sway in (True, False):
            swayed = flat if on_its_sway else changed(flat, {f"motions/{index}/pose/sway": []})
            _, arrays = decode(picture(evaluate(swayed, "Forward")))
            self.assertEqual(arrays["push_room_mm"].min() > 0, on_its_sway)


if __name__ == "__main__":
    unittest.main()
