"""Jobs at the Leg, Frame and Compare stations: a foot dragged, a leg mirrored, figures read, files in and out."""

from __future__ import annotations

import re
from pathlib import Path

from playwright.sync_api import expect

from bustle.formats.robot_files.urdf_out import write_urdf
from tests.browser.bench_test import BrowserTest
from tests.long import in_turns
from tests.projects import start


class OnTheClamp(BrowserTest):
    def number(self, label):
        return float(self.page.get_by_label(label, exact=True).input_value().replace("−", "-"))

    def joint(self, name):
        row = self.page.get_by_role("row", name=re.compile(f"^{name}"))
        return float(row.get_by_role("cell").first.inner_text().rstrip("°").replace("−", "-"))

    @in_turns
    def test_a_foot_is_dragged_and_the_joints_follow(self):
        page = self.go(self.new_walker(), "leg", "leg=L2")
        expect(page.get_by_text(re.compile("Reached, .* to the nearest edge"))).to_be_visible()
        knee, up = self.joint("Tibia pitch"), self.number("up")
        self.drag(page.locator('[data-grip="clamp-foot"]'), 0, -60)
        expect(page.get_by_label("up", exact=True)).not_to_have_value(str(up).replace("-", "−"))
        self.assertGreater(self.number("up"), up + 10)
        expect(page.get_by_role("row", name=re.compile("^Tibia pitch"))).not_to_contain_text(
            f"{knee:.1f}".replace("-", "−")
        )
        # The same from the keyboard, a millimetre at a time, however quick the hand.
        before = self.number("up")
        page.locator('[data-grip="clamp-foot"]').focus()
        for _ in range(5):
            page.keyboard.press("ArrowUp")
        expect(page.get_by_label("up", exact=True)).to_have_value(f"{before + 5:g}".replace("-", "−"))
        # Far out it says by how much it does not reach.
        page.get_by_label("left", exact=True).first.fill("400")
        page.keyboard.press("Enter")
        expect(page.get_by_text(re.compile(r"Out of reach by \d+"))).to_be_visible()
        page.get_by_role("button", name="Back to stance").click()
        self.assertAlmostEqual(self.number("up"), up, delta=0.01)

    @in_turns
    def test_the_working_shows_the_triangle_with_this_legs_numbers(self):
        page = self.go(self.new_walker(), "leg", "leg=L2")
        page.locator(".fold").get_by_role("button", name="Show the working").click()
        steps = page.locator(".steps")
        expect(steps).to_contain_text("acos((a² + b² − L²) / (2·a·b))")
        expect(steps).to_contain_text("acos((60² + 96²")
        expect(page.locator(".m-triangle")).to_contain_text("a 60 mm")
        expect(page.locator(".m-triangle")).to_contain_text("b 96 mm")

    @in_turns
    def test_a_sole_is_tilted_to_a_slope(self):
        page = self.go(self.new_walker("two_full", mm=260.0), "leg", "leg=L")
        expect(page.get_by_text(re.compile("Reached, .* to the nearest edge"))).to_be_visible()
        ankle = self.joint("Ankle pitch")
        page.get_by_label("toes down", exact=True).fill("12")
        page.keyboard.press("Enter")
        expect(page.get_by_role("row", name=re.compile("^Ankle pitch"))).not_to_contain_text(
            f"{ankle:.1f}".replace("-", "−")
        )
        # Toes up counts positive at the ankle, and the hip moves so that the foot stays where it was.
        self.assertLess(self.joint("Ankle pitch"), ankle - 5)
        expect(page.get_by_text(re.compile("Reached, .* to the nearest edge"))).to_be_visible()
        # The planar twin has no joint to lean with, and says what is left.
        page = self.go(self.new_walker("two_planar", mm=260.0), "leg", "leg=L")
        page.get_by_label("lean right", exact=True).fill("9")
        page.keyboard.press("Enter")
        expect(page.get_by_text("Reached, the sole 9.0° out of true.")).to_be_visible()

    @in_turns
    def test_a_straight_line_with_an_error_put_in(self):
        page = self.go(self.new_walker(), "leg", "leg=L2")
        page.get_by_text("Straight-line test").click()
        page.get_by_label("Line").select_option(label="Fore and aft")
        page.get_by_role("button", name="Run the foot along it").click()
        expect(page.get_by_text("Straight.", exact=True)).to_be_visible()
        page.get_by_label("Error put in").select_option(label="femur zero off, °")
        page.get_by_label("How much").fill("6")
        page.keyboard.press("Enter")
        page.get_by_role("button", name="Run the foot along it").click()
        expect(page.get_by_text(re.compile(r"Off straight by 0\.\d+ mm"))).to_be_visible()
        page.get_by_label("Length", exact=True).fill("300")
        page.keyboard.press("Enter")
        page.get_by_role("button", name="Run the foot along it").click()
        expect(page.get_by_text(re.compile("L2 (yaw is at its end stop|is at the end of its reach)"))).to_be_visible()

    @in_turns
    def test_drift_is_entered_explained_and_recorded(self):
        walker = self.new_walker()
        page = self.go(walker, "leg", "leg=L2")
        page.get_by_text("Drift with height").click()
        for _ in range(3):
            page.get_by_role("button", name="Add a reading").click()
        for n, left in ((1, "-2,5"), (3, "2,5")):
            page.get_by_label(f"Reading {n}, left").fill(left)
            page.keyboard.press("Enter")
        expect(page.locator(".findings")).to_contain_text("foot drifts 5 mm over its height")
        page.get_by_role("button", name="Explain", exact=True).click()
        first = page.locator(".explanations li").first
        expect(first).to_contain_text("femur zero")
        first.get_by_role("button", name="Record").click()
        expect(page.locator(".findings")).not_to_contain_text("drifts")
        expect(page.get_by_role("button", name=re.compile("^saved, revision"))).to_be_visible()
        built = self.project(walker)["walker"]["as_built"]["limbs"]
        self.assertGreater(abs(built[0]["joint_zero_deg"]["femur"]), 1.0)

    @in_turns
    def test_a_leg_is_added_to_a_walker_with_every_kind_of_motion(self):
        """The seventh leg joins the walks, the course and the walk by the rule; undo takes it away again."""
        walker = self.demo("Fennel")
        page = self.go(walker, "frame", "motion=Forward")
        page.get_by_role("button", name="Add a limb").click()
        page.get_by_role("button", name=re.compile("^sprawled Hip yaw, femur")).click()
        self.saved(2)
        expect(page.get_by_role("link", name=re.compile("^Frame"))).to_contain_text("7 legs")
        self.assertEqual(len(self.project(walker)["walker"]["limbs"]), 7)
        page.get_by_role("link", name=re.compile("^Motions")).click()
        for motion in ("Aisle round", "Round the pots"):
            page.get_by_role("button", name=motion, exact=True).click()
            expect(page.get_by_role("img", name=f"Way of {motion} over the floor")).to_be_visible()
            self.assertEqual(page.locator(".floor-leg").count(), 7)
        page.get_by_role("button", name="Undo").click()
        expect(page.get_by_role("link", name=re.compile("^Frame"))).to_contain_text("6 legs")

    @in_turns
    def test_a_limb_without_a_foot_has_nothing_to_hold(self):
        page = self.page
        walker = self.new_walker("two_moving_mass", "Thrower", 220.0)
        page.goto(f"{self.address}/walkers/{walker}/leg?leg=weight")
        expect(page.get_by_text("weight does not step")).to_be_visible()


class TheWholeMachine(BrowserTest):
    @in_turns
    def test_a_leg_is_removed_mirrored_back_and_the_figures_are_read(self):
        walker = self.new_walker()
        page = self.go(walker, "frame", "leg=R2")
        frame = page.get_by_role("link", name=re.compile("^Frame"))
        before = frame.inner_text()
        page.get_by_role("button", name="Remove R2").click()
        expect(frame).to_contain_text("5 legs")
        self.saved(2)
        page.get_by_role("button", name="L2", exact=True).click()
        page.get_by_role("button", name="Mirror L2").click()
        expect(frame).to_contain_text("6 legs")
        expect(frame).to_have_text(before.replace("\n", ""), use_inner_text=False)
        self.saved(3)
        legs = {limb["name"]: limb for limb in self.project(walker)["walker"]["limbs"]}
        self.assertEqual(legs["R2"]["mount"]["at_mm"][1], -legs["L2"]["mount"]["at_mm"][1])
        page.get_by_role("button", name="Undo").click()
        expect(page.locator(".rail-nav")).to_contain_text("5 legs")

    @in_turns
    def test_a_mount_is_dragged_and_turned(self):
        walker = self.new_walker()
        page = self.go(walker, "frame", "leg=L2")
        self.drag(page.locator('[data-grip="mount"]'), 0, -24)
        self.saved(2)
        self.drag(page.locator('[data-grip="mount-turn"]'), 10, -30)
        self.saved(3)
        limbs = {m["name"]: m for m in self.project(walker)["walker"]["limbs"]}
        self.assertGreater(limbs["L2"]["mount"]["at_mm"][0], 5)
        self.assertLess(limbs["L2"]["mount"]["yaw_deg"], 85)
        self.assertEqual(limbs["R2"]["mount"]["yaw_deg"], -limbs["L2"]["mount"]["yaw_deg"])

    @in_turns
    def test_a_box_an_edge_and_a_budget_are_judged(self):
        walker = self.new_walker()
        page = self.go(walker, "frame", "leg=L1")
        page.get_by_role("button", name="Frame", exact=True).click()
        page.get_by_role("button", name="Fits", exact=True).click()
        page.get_by_role("button", name="Set: folded into a box").click()
        expect(page.locator(".findings")).to_contain_text("Folded, it is")
        expect(page.locator(".m-folding-box")).to_be_visible()
        before = float(page.get_by_role("textbox", name="femur, folded").input_value())
        page.get_by_role("button", name="Make Front the main view").click()
        self.drag(page.locator('.main-view [data-grip="fold-femur"]'), 0, -40)
        expect(page.get_by_role("textbox", name="femur, folded")).not_to_have_value(f"{before:g}")
        page.get_by_role("button", name="Set: Has to pass over an edge of").click()
        page.get_by_label("Has to pass over an edge of", exact=True).fill("60")
        page.keyboard.press("Enter")
        expect(page.locator(".rail-nav a", has_text="Frame").locator(".mark.stop")).to_be_visible()
        expect(page.locator(".findings")).to_contain_text("Belly grounds")
        page.get_by_role("button", name=re.compile("^Keep: Ride height")).first.click()
        expect(page.locator(".findings")).not_to_contain_text("grounds on an edge")
        page.get_by_role("button", name="Body", exact=True).click()
        page.locator(".ledger-row", has_text="Mass").get_by_role("button", name="Set").click()
        page.get_by_label("Mass, budget").fill("1500")
        page.keyboard.press("Enter")
        expect(page.locator(".ledger-row.over")).to_contain_text("over")

    @in_turns
    def test_machines_are_compared_by_figures(self):
        page = self.go(self.new_walker(), "compare")
        page.get_by_label("Machine 1").select_option(label="Four two-joint legs, upright")
        table = page.get_by_role("table", name="Machines side by side")
        expect(table.get_by_role("columnheader").nth(2)).to_contain_text("Four two-joint legs, upright, 200 mm")
        servos = table.get_by_role("row", name=re.compile("^Servos"))
        expect(servos).to_contain_text("18")
        expect(servos).to_contain_text("8 best")
        page.get_by_role("button", name="Put another beside it").click()
        expect(table.get_by_role("columnheader")).to_have_count(4)

    @in_turns
    def test_a_urdf_goes_out_and_comes_in(self):
        walker = self.new_walker(name="Burnet")
        page = self.go(walker, "frame", "leg=L1")
        with page.expect_download() as caught:
            page.get_by_role("button", name="Files").click()
            page.get_by_role("button", name=re.compile("^URDF")).click()
        data = Path(caught.value.path()).read_bytes()
        self.assertEqual(data, write_urdf(start("six_sprawled", "Burnet", 200.0)).data)
        expect(page.get_by_text("The rows and timing of the motions.")).to_be_visible()
        page.goto(self.address)
        page.get_by_label("Project file", exact=True).set_input_files(
            {"name": "burnet.urdf", "mimeType": "application/xml", "buffer": data}
        )
        expect(page.get_by_label("Walker's name")).to_have_value("Burnet")
        expect(page.locator(".rail-nav")).to_contain_text("6 legs")
        # Somebody's own names: told at once, kept in tables, and changed on the leg.
        own = data.replace(b'"L1/femur"', b'"front_left_thigh"')
        page.goto(self.address)
        page.get_by_label("Project file", exact=True).set_input_files(
            {"name": "own.urdf", "mimeType": "application/xml", "buffer": own}
        )
        expect(page.get_by_role("status")).to_contain_text("front_left_thigh is L1/femur")
        page.get_by_role("button", name="Open it").click()
        page.get_by_role("button", name="L1", exact=True).click()
        page.get_by_role("tab", name="Joints").or_(page.get_by_role("button", name="Joints", exact=True)).first.click()
        page.get_by_role("button", name="Names in tables and files").click()
        name = page.get_by_label(re.compile("called"))
        expect(name).to_have_value("front_left_thigh")
        name.fill("thigh_1")
        name.press("Enter")
        expect(page.get_by_role("button", name="saved, revision 2")).to_be_visible()
        page.goto(self.address)
        page.get_by_label("Project file", exact=True).set_input_files(
            {"name": "bad.urdf", "mimeType": "application/xml", "buffer": b"<robot name='x'><link name='a'/></robot>"}
        )
        expect(page.get_by_role("alert")).to_contain_text("no revolute, continuous or prismatic joint")

    @in_turns
    def test_every_starting_shape_opens_on_the_bench(self):
        page = self.page
        for shape in ("two_full", "two_rocker", "four_casters", "two_wheels", "six_two_radial"):
            self.go(self.new_walker(shape, shape, 180.0), "balance")
            expect(page.locator(".findings")).not_to_contain_text("Falls over")

    @in_turns
    def test_a_leg_measured_longer_is_told_as_drift_and_put_right(self):
        page = self.page
        walker = self.new_walker("four_upright", "Uneven", 220.0)
        drawn = {limb["name"]: limb["links"][-1]["length_mm"] for limb in self.project(walker)["walker"]["limbs"]}
        for number, leg in enumerate(("FL", "BL"), start=2):
            self.go(walker, "leg", f"leg={leg}")
            page.get_by_role("button", name="As built").click()
            self.fill("shank, measured", f"{1.1 * drawn[leg]:g}")
            self.saved(number)
        self.go(walker, "stride")
        expect(page.locator(".findings")).to_contain_text("to the right of its way after a metre")
        page.get_by_role("button", name=re.compile("By its feet on the floor")).click()
        page.get_by_role("button", name=re.compile("^Keep: Draw the links")).click()
        expect(page.locator(".findings")).not_to_contain_text("its way after a metre")
        self.saved(4)
        links = [limb["links"][-1]["length_mm"] for limb in self.project(walker)["walker"]["limbs"]]
        self.assertAlmostEqual(max(links) / min(links), 1.1, places=2)
        # What was seen on the floor goes to the other side.
        self.fill("Steers left", 60)
        expect(page.get_by_role("term").filter(has_text="Drifts left")).to_be_visible()
        self.until(lambda: self.project(walker)["motions"][0]["steer_mm_m"] == 60.0, "steering was not saved")
