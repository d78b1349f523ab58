"""Walks that live by their timing and what is measured on the machine, worked as a builder works them."""

from __future__ import annotations

import re

from playwright.sync_api import expect

from bustle.core.dry_run.dry_run import VARIANTS
from bustle.core.project.project import document
from tests.browser.bench_test import BrowserTest
from tests.long import in_turns
from tests.projects import changed, start


class OnTwoSoles(BrowserTest):
    @in_turns
    def test_the_sway_is_planned_over_the_soles_and_the_pushing_point_is_drawn(self):
        walker = self.demo("Bramble")
        page = self.go(walker, "balance", "motion=Forward")
        expect(page.locator(".m-push .push-trail")).to_be_attached()
        expect(page.locator(".rail-nav a", has_text="Balance")).to_contain_text("inside soles")
        page.get_by_role("button", name="No sway").click()
        self.saved(2)
        expect(page.get_by_role("button", name=re.compile("Rolls over its sole|Pushes near"))).to_be_visible()
        page.get_by_role("button", name="Plan the sway over its soles").click()
        self.saved(3)
        expect(page.get_by_role("button", name=re.compile("Rolls over its sole|Pushes near"))).to_have_count(0)
        forward = next(m for m in self.project(walker)["motions"] if m["name"] == "Forward")
        self.assertTrue(forward["pose"]["sway"])

    @in_turns
    def test_the_rungs_say_what_to_see_and_what_would_fell_it_and_are_added(self):
        walker = self.demo("Bramble")
        page = self.go(walker, "balance", "motion=Forward")
        page.get_by_role("button", name="Step by step on the floor").click()
        page.get_by_role("button", name="Make the rungs").click()
        rungs = page.locator(".rungs li")
        expect(rungs).to_have_count(5, timeout=60_000)
        expect(rungs.nth(3)).to_contain_text("Felled first by servos that give twice as much")
        before = len(self.project(walker)["motions"])
        page.get_by_role("button", name=re.compile("^Add them")).click()
        self.saved(2)
        self.assertGreater(len(self.project(walker)["motions"]), before)

    @in_turns
    def test_a_mass_that_is_not_there_yet_is_told_and_added(self):
        walker = self.new_walker("four_upright")
        page = self.go(walker, "balance", "motion=Forward")
        page.get_by_role("button", name="What if I add a mass").click()
        page.get_by_label("Added, It weighs").fill("250")
        page.get_by_label("Added, left").fill("90")
        page.get_by_role("button", name="What it would do").click()
        table = page.locator(".load-table").last
        expect(table).to_contain_text("stops: F18")
        page.get_by_role("button", name="Add it", exact=True).click()
        self.saved(2)
        self.assertEqual(self.project(walker)["walker"]["masses"][-1]["mass_g"], 250.0)


class OnTheFloor(BrowserTest):
    @in_turns
    def test_a_walk_that_goes_badly_in_a_dry_run_is_mended_and_goes_well(self):
        walker = self.demo("Sorrel")
        page = self.go(walker, "balance", "motion=Hose+step")
        page.get_by_role("button", name="Run it").click()
        run = page.locator(".dry-run")
        expect(run.locator(".outcome")).to_contain_text("of its way", timeout=60_000)
        expect(run.locator(".outcome")).not_to_have_attribute("data-well", "true")
        expect(run.locator("li:not(.heads) .which")).to_have_count(len(VARIANTS))
        run.locator(".mends").get_by_role("button", name="Keep").first.click()
        self.saved(2)
        expect(run).to_contain_text("Changed since")
        page.get_by_role("button", name="Run it again").click()
        expect(run.locator(".outcome")).to_have_attribute("data-well", "true", timeout=60_000)

    @in_turns
    def test_how_a_dry_run_goes_is_told_unasked_and_what_mends_it_is_a_step_away(self):
        """Nothing stops either on paper; one overruns, whose servos give and are not held against it."""
        held = start("four_upright_2", "Runs on", 290.0)
        trot = held.motions[2].twist.vx_mm_s * held.motions[2].cycle_s
        loose = {"motions/2/lift_mm": 39.0, "motions/2/cycle_s": 0.6, "motions/2/twist": {"vx_mm_s": trot / 0.6}}
        sound = self.kept({"project": document(held)})
        page = self.go(sound, "stride", "motion=Trot")
        findings = page.get_by_role("region", name="Findings")
        expect(findings).to_contain_text(re.compile(r"In a dry run it goes (9|10)\d.% of its way"), timeout=60_000)
        walker = self.kept({"project": document(changed(held, {"against_sag": "off", **loose}))})
        self.go(walker, "stride", "motion=Trot")
        expect(findings).to_contain_text("In a dry run it goes 1", timeout=60_000)
        expect(findings).not_to_contain_text("Sound")
        expect(page.locator(".rail-nav a", has_text="Balance")).to_contain_text("a warning")
        findings.get_by_role("link", name="What mends it").click()
        page.locator(".mends").get_by_role("button", name="Keep").first.click(timeout=60_000)
        self.saved(2)
        expect(findings).to_contain_text(
            re.compile(r"Sound .* In a dry run it goes 1[01]\d.% of its way"), timeout=60_000
        )
        self.assertEqual(self.project(walker)["against_sag"], "full")

    @in_turns
    def test_how_far_a_rocker_goes_is_told_by_its_dry_run_alone(self):
        walker = self.new_walker("two_rocker", "Rocks", 180.0)
        page = self.go(walker, "balance", "motion=Forward")
        page.get_by_role("button", name="Run it").click()
        run = page.locator(".dry-run")
        expect(run.locator(".outcome")).to_have_text(re.compile(r"^Stays up, goes \d+ mm a cycle"), timeout=60_000)
        self.assertEqual(run.locator("li .covers", has_text=re.compile(r"^\d+ mm$")).count(), len(VARIANTS))
        page.get_by_role("button", name="Step by step on the floor").click()
        page.get_by_role("button", name="Make the rungs").click()
        expect(page.locator(".rungs > li strong")).to_have_text(
            ["Rock low", "Rock", "Half step", "Full step"], timeout=60_000
        )
        page.get_by_role("button", name="Set it at Motions").click()
        expect(page.get_by_role("heading", name="Motions", exact=True)).to_be_visible()


class Measured(BrowserTest):
    @in_turns
    def test_a_spring_balance_is_read_put_beside_the_plan_and_taken_over(self):
        walker = self.demo("Fennel")
        page = self.go(walker, "load", "motion=Forward")
        page.get_by_role("button", name="Measured in ten minutes").click()
        page.get_by_role("button", name="Spring balance on an arm").click()
        expect(page.get_by_text("a stalled servo burns")).to_be_visible()
        page.get_by_label("Spring balance on an arm, Balance shows").fill("1000")
        page.get_by_role("button", name="Put beside the plan").click()
        expect(page.get_by_text(re.compile(r"F05 sound → warns")).first).to_be_visible()
        was = self.project(walker)["servo_types"][0]["stall_torque_nm"]
        page.get_by_role("button", name="Take it over").click()
        self.saved(2)
        self.assertLess(self.project(walker)["servo_types"][0]["stall_torque_nm"], was)

    @in_turns
    def test_what_cannot_be_is_said_at_the_line(self):
        page = self.go(self.demo("Fennel"), "load", "motion=Forward")
        page.get_by_role("button", name="Measured in ten minutes").click()
        page.get_by_role("button", name="Ruler, floor to belly").click()
        page.get_by_label("Ruler, floor to belly, Hanging").fill("60")
        page.get_by_label("Ruler, floor to belly, Standing").fill("70")
        page.get_by_role("button", name="Put beside the plan").click()
        expect(page.get_by_role("alert")).to_contain_text("the belly sinks when it stands")


class JointsThatSwing(BrowserTest):
    @in_turns
    def test_a_swing_is_made_larger_and_one_is_added(self):
        walker = self.demo("Pip")
        page = self.go(walker, "motions", "motion=Forward")
        page.get_by_label("L yaw, to and fro by").fill("30")
        page.keyboard.press("Enter")
        self.saved(2)
        page.get_by_label("Another joint").select_option("L/ankle")
        self.saved(3)
        joints = self.project(walker)["motions"][0]["joints"]
        self.assertEqual([j["swing"] for j in joints if (j["limb"], j["joint"]) == ("L", "yaw")], [30.0])
        self.assertEqual(joints[-1]["times"], 2)

    @in_turns
    def test_its_machine_is_measured_on_the_drawing_and_its_servos_are_judged(self):
        walker = self.new_walker("two_servo", mm=140.0)
        page = self.go(walker, "frame", "motion=Forward&leg=L")
        before = self.project(walker)["walker"]["limbs"][0]["mount"]["at_mm"][1]
        self.drag(page.locator('[data-grip="mount"]'), -12, 0)
        self.saved(2)
        self.assertGreater(self.project(walker)["walker"]["limbs"][0]["mount"]["at_mm"][1], before)
        page.get_by_label("Body length").fill("80")
        page.keyboard.press("Enter")
        self.saved(3)
        self.assertEqual(self.project(walker)["walker"]["sections"][0]["size_mm"][0], 80.0)
        expect(page.locator(".rail-nav a", has_text="Load")).to_contain_text("% of a stall")


class HeldLegs(BrowserTest):
    @in_turns
    def test_a_leg_is_taken_out_of_the_walk_held_elsewhere_and_let_walk_again(self):
        walker = self.new_walker("six_sprawled")
        page = self.go(walker, "timing", "motion=Slowly")
        for n, leg in enumerate(("L2", "R2")):
            page.get_by_role("button", name=f"Hold {leg}").click()
            self.saved(2 + n)
        expect(page.get_by_role("group", name="Legs that take no part")).to_be_visible()
        walk = next(m for m in self.project(walker)["motions"] if m["name"] == "Slowly")
        self.assertEqual([h["limb"] for h in walk["held"]], ["L2", "R2"])
        self.assertEqual(len(walk["legs"]), 4)
        box = page.get_by_label("L2 femur")
        box.fill("75")
        box.press("Enter")
        self.saved(4)
        walk = next(m for m in self.project(walker)["motions"] if m["name"] == "Slowly")
        self.assertIn({"limb": "L2", "joint": "femur", "value": 75.0}, walk["joints"])
        page.get_by_label("Gait", exact=True).select_option("creep")
        self.saved(5)
        page.get_by_role("button", name="Let L2 walk").click()
        self.saved(6)
        walk = next(m for m in self.project(walker)["motions"] if m["name"] == "Slowly")
        self.assertEqual([h["limb"] for h in walk["held"]], ["R2"])
        self.assertEqual(len(walk["legs"]), 5)
