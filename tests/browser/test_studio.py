"""Jobs at the Motions, Stride and Timing stations: a set made and kept, a way over the floor, driving, bars dragged."""

from __future__ import annotations

import re
import zipfile

from playwright.sync_api import expect

from tests.browser.bench_test import BrowserTest
from tests.long import in_turns


class TheSet(BrowserTest):
    @in_turns
    def test_a_set_is_made_kept_and_written(self):
        walker = self.new_walker()
        page = self.go(walker, "motions", "leg=L2")
        page.get_by_text("Make the set", exact=True).click()
        page.get_by_role("button", name="Find the strides").click()
        expect(page.get_by_role("row", name=re.compile("^Turn right"))).to_be_visible(timeout=60_000)
        expect(page.locator(".set-table")).to_contain_text("F06: ")
        # Each as it goes in a dry run.
        expect(page.get_by_role("row", name=re.compile(r"^Forward .* (9|10)\d.%$"))).to_be_visible()
        page.get_by_role("button", name="Keep the set").click()
        self.saved(2)
        names = [m["name"] for m in self.project(walker)["motions"]]
        self.assertTrue({"Forward", "Back", "Left", "Right", "Turn left", "Arc right", "In place"} <= set(names))
        page.get_by_role("link", name="Control map and download").click()
        page.get_by_role("button", name="Add a control").click()
        self.saved(3)
        page.get_by_label("Control 1, does").select_option("Back")
        self.saved(4)
        with page.expect_download() as written:
            page.get_by_role("button", name="Download the set").click()
        self.assertIn("set.json", zipfile.ZipFile(written.value.path()).namelist())
        self.assertEqual(self.project(walker)["controls"][0]["target"], "Back")

    @in_turns
    def test_a_machine_that_only_stands_gets_its_walks_from_itself(self):
        """As one brought in from another program does: two legs, and nothing but a standing pose."""
        came = self.project(self.new_walker("two_full", "Came", 240.0))
        came["motions"] = [m for m in came["motions"] if m["name"] == "Stand"]
        came["controls"] = [{"mode": "Walk", "input": "Button 1", "target": "Stand"}]
        walker = self.kept({"project": came})
        page = self.go(walker, "motions")
        page.get_by_role("link", name="Start over from the machine").click()
        page.get_by_role("button", name="Find its walks").click()
        expect(page.get_by_role("row", name=re.compile(r"^Turn left .*°"))).to_be_visible(timeout=60_000)
        page.get_by_role("button", name="Keep these walks").click()
        self.saved(2)
        kept = self.project(walker)
        self.assertLessEqual({"Stand", "Forward", "Turn right", "Start", "Stop"}, {m["name"] for m in kept["motions"]})
        self.assertEqual([c["target"] for c in kept["controls"]], ["Stand"])
        page.get_by_role("button", name="Undo").click()
        self.saved(3)
        self.assertEqual([m["name"] for m in self.project(walker)["motions"]], ["Stand"])

    @in_turns
    def test_an_arc_of_ones_own_joins_the_set(self):
        walker = self.new_walker()
        page = self.go(walker, "motions", "leg=L2")
        page.get_by_text("Make the set", exact=True).click()
        self.fill("forward part", 1)
        self.fill("left part", 0.5)
        page.get_by_role("button", name="Find the strides").click()
        expect(page.get_by_role("row", name=re.compile("^Own arc"))).to_be_visible(timeout=60_000)
        page.get_by_role("button", name="Keep the set").click()
        self.saved(2)
        twist = next(m["twist"] for m in self.project(walker)["motions"] if m["name"] == "Own arc")
        self.assertAlmostEqual(twist["vy_mm_s"] / twist["vx_mm_s"], 0.5, delta=0.01)

    @in_turns
    def test_a_course_is_timed(self):
        walker = self.new_walker()
        page = self.go(walker, "motions", "leg=L2")
        course = page.locator(".figure", has_text="Course of")
        expect(course).to_contain_text("1000 mm")
        before = float(course.locator("button").inner_text().split()[0])
        self.fill("Course to walk", 2000)
        expect(course).to_contain_text("2000 mm")
        cycle = self.project(walker)["motions"][0]["cycle_s"]
        # Twice as far takes twice as long, but for the one cycle of gathering and losing pace.
        after = float(course.locator("button").inner_text().split()[0])
        self.assertAlmostEqual(after - cycle, 2 * (before - cycle), delta=0.3)
        course.locator("button").click()
        expect(page.locator(".working")).to_contain_text("gathering pace and losing it")

    @in_turns
    def test_a_walk_by_the_rule_is_written_by_hand(self):
        walker = self.new_walker()
        page = self.go(walker, "motions", "leg=L2")
        page.get_by_label("Add").select_option(label="a walk by the next-leg rule")
        self.saved(2)
        expect(page.get_by_role("img", name=re.compile("^Way of By the rule"))).to_be_visible()
        expect(page.locator(".figure", has_text="Of the way asked for")).to_contain_text("%")
        page.get_by_role("button", name="Way 3: remove").click()
        self.saved(3)
        self.fill("Takes", 6)
        self.saved(4)
        kept = self.project(walker)["motions"][-1]
        self.assertEqual((kept["kind"], len(kept["ways"]), kept["takes_s"]), ("free_walk", 2, 6.0))
        page.get_by_text("The rule", exact=True).click()
        expect(page.locator(".rule li")).to_have_count(8)
        # The gait whose steps it makes cannot go while it is there.
        page.get_by_role("button", name="Forward", exact=True).click()
        page.get_by_role("button", name=re.compile("^Motion: ")).click()
        page.get_by_text("Rename, copy, remove").click()
        expect(page.get_by_role("button", name="Remove Forward")).to_be_disabled()
        expect(page.get_by_role("button", name="Remove By the rule")).to_be_enabled()

    @in_turns
    def test_the_drive_pad_walks_what_the_stick_asks_for(self):
        walker = self.new_walker()
        page = self.go(walker, "motions", "leg=L2")
        page.get_by_text("Drive", exact=True).click()
        pad = page.get_by_role("application")
        pad.focus()
        for _ in range(6):
            page.keyboard.press("ArrowUp")
        state = page.locator(".drive-state")
        expect(state).to_contain_text(re.compile(r"^4[78] mm/s"))
        expect(page.get_by_role("button", name="Stop", exact=True).first).to_be_visible()
        for _ in range(4):
            page.keyboard.press("q")
        expect(state).to_contain_text("°/s")
        left, right = (
            float(page.locator(".strokes li", has_text=name).locator("b").inner_text().split()[0])
            for name in ("L2", "R2")
        )
        self.assertLess(left, right)
        # A slower pace keeps the steps and lengthens the cycle.
        page.get_by_label("Less stick means").select_option("slower_pace")
        expect(state).to_contain_text(re.compile(r"a step every [2-9]"))
        page.keyboard.press("Tab")
        pad.focus()
        page.keyboard.press("ArrowLeft")
        page.keyboard.press("0")
        expect(state).to_contain_text(re.compile(r"^0 mm/s"))
        # Legs by the rule: the way changes in mid-walk, and what was driven is kept as a motion.
        page.get_by_label("Legs lift by the next-leg rule, not by a gait").check()
        pad.focus()
        for _ in range(5):
            page.keyboard.press("ArrowUp")
        expect(state).to_contain_text(re.compile(r"mm walked by \d"))
        page.wait_for_timeout(2500)
        page.keyboard.press("q")
        page.keyboard.press("q")
        expect(page.get_by_role("img", name="Way of Drive over the floor")).to_be_visible()
        page.get_by_role("button", name="Keep it").click()
        self.saved(2)
        kept = self.project(walker)["motions"][-1]
        self.assertEqual((kept["kind"], kept["like"]), ("free_walk", "Forward"))
        twists = [way["twist"] for way in kept["ways"]]
        self.assertGreater(twists[-1]["omega_deg_s"], 0)
        self.assertEqual(twists[0]["omega_deg_s"], 0)
        page.get_by_label("Legs lift by the next-leg rule, not by a gait").uncheck()
        pad.focus()
        for _ in range(3):
            page.keyboard.press("ArrowDown")
        expect(state).to_contain_text("mm/s, a step every")

    @in_turns
    def test_a_way_that_no_motion_goes_is_said(self):
        page = self.go(self.new_walker("six_two"), "motions", "leg=L2&job=drive")
        pad = page.get_by_role("application")
        pad.focus()
        page.keyboard.press("q")
        expect(page.locator(".drive-state")).to_contain_text("None of this walker's motions goes round to the left")
        page.keyboard.press("0")
        for _ in range(5):
            page.keyboard.press("ArrowUp")
        expect(page.locator(".drive-state")).to_contain_text("mm/s, a step every")

    @in_turns
    def test_a_course_is_put_together_and_read_from_the_floor(self):
        walker = self.new_walker()
        page = self.go(walker, "motions", "leg=L2")
        page.get_by_label("Add", exact=True).select_option(label="motions in a row")
        self.saved(2)
        page.get_by_label("Part 1, counted in").select_option("distance_mm")
        page.get_by_label("Part 1, how much").fill("500")
        page.keyboard.press("Enter")
        expect(page.locator(".floor-main .caption")).to_contain_text("Ends 500 mm ahead, 0 mm left, turned 0°")
        page.get_by_role("button", name="Add a part").click()
        page.get_by_label("Part 2, motion").select_option("Turn left")
        page.get_by_label("Part 2, counted in").select_option("turn_deg")
        page.get_by_label("Part 2, how much").fill("90")
        page.keyboard.press("Enter")
        expect(page.locator(".floor-main .caption")).to_contain_text("turned 90°")
        self.assertGreater(page.locator(".footprint").count(), 40)
        # It turns at a walk; told to rest between its parts it takes longer.
        expect(page.locator(".pieces li")).to_have_count(1)
        at_a_walk = self.piece_seconds()
        page.get_by_label("Walks flow into each other").uncheck()
        expect(page.locator(".pieces li")).to_have_count(2)
        self.assertGreater(self.piece_seconds(), at_a_walk + 1.0)
        expect(page.locator(".floor-main .caption")).to_contain_text("turned 90°")
        # Its timing is read from the plan; at Stride it says where it is set.
        self.assertGreater(page.locator(".s-pieces path").count(), 0)
        page.keyboard.press("Escape")
        page.get_by_role("link", name=re.compile("^Stride")).click()
        expect(page.get_by_role("button", name="Set it at Motions")).to_be_visible()
        page.get_by_role("link", name=re.compile("^Table")).click()
        expect(page.get_by_role("button", name="Download Course")).to_be_visible()

    def piece_seconds(self) -> float:
        return sum(float(t.split()[0]) for t in self.page.locator(".pieces b").all_inner_texts())

    @in_turns
    def test_a_transition_and_a_pose_are_added_and_a_rename_is_followed(self):
        walker = self.new_walker()
        page = self.go(walker, "motions", "leg=L2")
        page.get_by_label("Add", exact=True).select_option(label="from one into another")
        self.saved(2)
        expect(page.locator(".pieces li")).to_have_count(1)
        expect(page.locator(".pieces")).not_to_contain_text("to rest")
        page.get_by_label("Into", exact=True).select_option("Stand")
        expect(page.locator(".pieces")).to_contain_text("to rest")
        self.saved(3)
        page.get_by_label("Add", exact=True).select_option(label="a standing pose")
        self.saved(4)
        page.get_by_label("Nose down", exact=True).fill("6")
        page.keyboard.press("Enter")
        self.saved(5)
        page.get_by_role("button", name="Motion:").click()
        page.get_by_role("button", name="Rename, copy, remove …").click()
        page.get_by_label("Name of motion 1", exact=True).fill("Stroll")
        page.keyboard.press("Enter")
        self.saved(6)
        made = {m["name"]: m for m in self.project(walker)["motions"]}
        self.assertEqual(made["Pose"]["pose"]["pitch_deg"], 6.0)
        self.assertEqual(
            [m["start"]["motion"] for m in made.values() if m["kind"] == "transition"], ["Stand", *["Stroll"] * 2]
        )


class BarsAndSwings(BrowserTest):
    @in_turns
    def test_dragging_a_bar_shows_the_margin_before_it_is_kept(self):
        walker = self.demo("Fennel")
        page = self.go(walker, "timing", "leg=L2")
        before = self.project(walker)["motions"][0]["legs"]
        bar = page.get_by_role("slider", name="L2 touchdown")
        box = bar.locator("rect").first.bounding_box()
        page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
        page.mouse.down()
        page.mouse.move(box["x"] + box["width"] / 2 + 180, box["y"] + box["height"] / 2, steps=8)
        strip = page.locator(".change-strip")
        expect(strip).to_have_attribute("aria-label", "What this change would do")
        expect(strip).to_contain_text("Worst margin")
        self.assertEqual(self.project(walker)["motions"][0]["legs"], before)
        page.mouse.up()
        expect(strip).to_have_attribute("aria-label", "What the last change did")
        expect(page.get_by_role("button", name=re.compile("^saved, revision"))).to_be_visible()
        after = {leg["limb"]: leg["phase"] for leg in self.project(walker)["motions"][0]["legs"]}
        was = {leg["limb"]: leg["phase"] for leg in before}
        self.assertNotEqual(after["L2"], was["L2"])

    @in_turns
    def test_locked_legs_go_along_and_snap(self):
        walker = self.new_walker()
        page = self.go(walker, "timing", "leg=L2")
        page.get_by_label("Snap to").select_option(label="12ths")
        page.locator(".locks").get_by_role("button", name="R1", exact=True).click()
        expect(page.locator(".together")).not_to_contain_text("neighbours")
        page.get_by_role("slider", name="L2 touchdown").focus()
        for _ in range(5):
            page.keyboard.press("Shift+ArrowRight")
        expect(page.get_by_label("L2 phase")).to_have_value("0.92")
        # Out of turn, neighbours are in the air at once, and it says so.
        expect(page.locator(".together")).to_contain_text("are neighbours")
        expect(page.get_by_role("button", name=re.compile("^saved, revision"))).to_be_visible()
        legs = {leg["limb"]: leg["phase"] for leg in self.project(walker)["motions"][0]["legs"]}
        self.assertAlmostEqual(legs["L2"] * 12, round(legs["L2"] * 12), places=4)
        self.assertAlmostEqual((legs["L2"] - legs["R1"]) % 1.0 % 0.99999, 0.0, places=4)

    @in_turns
    def test_stop_and_plant_adds_a_pause_where_all_feet_are_down(self):
        walker = self.new_walker()
        page = self.go(walker, "timing", "leg=L2")
        page.get_by_role("button", name="Stop and plant").click()
        self.saved(2)
        expect(page.locator(".play-box")).to_contain_text("of 1.748 s")
        with page.expect_download() as written:
            page.get_by_role("button", name="Contacts as a picture to print").click()
        self.assertIn("<svg", written.value.path().read_text())

    @in_turns
    def test_a_path_is_chosen_and_its_points_dragged(self):
        walker = self.new_walker()
        page = self.go(walker, "stride", "leg=L2")
        page.get_by_label("Foot path").select_option("bezier")
        self.saved(2)
        point = page.locator('[data-grip="path-1"]')
        self.drag(point, 0, -30)
        self.saved(3)
        points = self.project(walker)["motions"][0]["swing"]["points"]
        self.assertGreater(points[1][1], 1.4)
        expect(page.locator(".findings")).to_contain_text("lands at")
        page.get_by_role("button", name="Set: Obstacle, height").click()
        page.get_by_label("Obstacle, height", exact=True).fill("60")
        page.keyboard.press("Enter")
        expect(page.locator(".findings")).to_contain_text("cannot clear")
        expect(page.locator(".m-budget .obstacle")).to_be_visible()

    @in_turns
    def test_which_leg_next_is_asked_at_the_playhead(self):
        page = self.go(self.new_walker("four_upright"), "timing", "leg=FL")
        page.get_by_text("Which leg next").click()
        page.get_by_role("button", name="At the playhead").click()
        expect(page.get_by_role("row", name=re.compile("^(FL|FR|BL|BR)")).first).to_be_visible()
        expect(page.locator(".rule li")).to_have_count(8)


class Sway(BrowserTest):
    @in_turns
    def test_sway_is_set_by_hand_and_dragged_on_the_plan(self):
        walker = self.new_walker("six_sprawled")
        page = self.go(walker, "balance")
        self.fill("Sways sideways", 12)
        self.saved(2)
        self.fill("furthest left at", 0.25)
        self.saved(3)
        term = self.project(walker)["motions"][0]["pose"]["sway"][0]
        self.assertEqual((term["y_cos_mm"], term["y_sin_mm"]), (0.0, 12.0))
        self.drag(page.locator('[data-grip="sway"]'), -20, -10)
        self.saved(4)
        term = self.project(walker)["motions"][0]["pose"]["sway"][0]
        self.assertGreater(abs(term["y_sin_mm"]), 12.0)
        self.assertGreater(abs(term["x_cos_mm"]) + abs(term["x_sin_mm"]), 0.5)

    @in_turns
    def test_a_sag_as_measured_is_typed_where_it_tells(self):
        walker = self.new_walker("six_sprawled")
        page = self.go(walker, "stride", "leg=L2")
        sag = page.get_by_label("Sags under its weight (assumed)", exact=True)
        sag.fill("6")
        sag.press("Enter")
        self.saved(2)
        expect(page.get_by_label("Sags under its weight", exact=True)).to_have_value("6")
        self.assertNotEqual(self.project(walker)["servo_types"][0]["full_torque_at_deg"], None)


class UpsideDown(BrowserTest):
    @in_turns
    def test_a_walk_goes_on_its_back_with_its_start_and_stop_and_gets_feet_there(self):
        walker = self.new_walker("six_two")
        page = self.go(walker, "motions", "motion=Forward")
        page.get_by_label("Upside down, on the upper feet").click()
        self.saved(2)
        expect(page.get_by_role("button", name=re.compile("Upside down on the wrong feet"))).to_be_visible()
        page.get_by_role("button", name="Keep: Give 6 legs a foot on the upper side").click()
        self.saved(3)
        expect(page.get_by_role("button", name=re.compile("Upside down on the wrong feet"))).to_have_count(0)
        made = {motion["name"]: motion for motion in self.project(walker)["motions"]}
        self.assertTrue(made["Forward"]["inverted"] and made["Stand"]["inverted"])
        self.assertFalse(made["Slowly"]["inverted"])
        self.assertLessEqual({"Start", "Stop"}, set(made))
        # The bench still measures it as it is built: its left legs are drawn on the left.
        page = self.go(walker, "frame", "motion=Forward&leg=L1")
        labels = page.locator("svg text")
        expect(labels.filter(has_text=re.compile("^L2$")).first).to_be_visible()
        left, right = (labels.filter(has_text=re.compile(f"^{leg}$")).first.bounding_box()["x"] for leg in ("L2", "R2"))
        self.assertLess(left, right)
