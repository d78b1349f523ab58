"""Each station's own controls, worked as a builder works them."""

from __future__ import annotations

import json
import re

from playwright.sync_api import expect

from bustle.core.project.project import document
from tests.browser.bench_test import BrowserTest
from tests.long import in_turns
from tests.projects import ROOT, bending


class Frame(BrowserTest):
    @in_turns
    def test_a_mass_is_added_named_weighed_placed_and_removed(self):
        walker = self.new_walker()
        page = self.go(walker, "frame")
        page.get_by_role("button", name="Frame", exact=True).click()
        page.get_by_role("button", name="Masses", exact=True).click()
        before = page.locator(".figure").first.get_by_role("button").inner_text()
        page.get_by_role("button", name="Add a mass").click()
        self.saved(2)
        page.get_by_label("Mass 1, Name").fill("Water can")
        page.keyboard.press("Enter")
        self.saved(3)
        page.get_by_label("Water can, Weight").fill("320")
        page.keyboard.press("Enter")
        self.saved(4)
        page.get_by_label("Water can, At, up", exact=True).fill("−12,5")
        page.keyboard.press("Enter")
        self.saved(5)
        mass = self.project(walker)["walker"]["masses"][2]
        self.assertEqual((mass["name"], mass["mass_g"], mass["at_mm"]), ("Water can", 320.0, [0.0, 0.0, -12.5]))
        self.assertNotEqual(page.locator(".figure").first.get_by_role("button").inner_text(), before)
        page.get_by_role("button", name="Remove Water can").click()
        self.saved(6)
        self.assertEqual(len(self.project(walker)["walker"]["masses"]), 2)

    @in_turns
    def test_link_lengths_are_typed_on_the_side_view(self):
        walker = self.new_walker("four_upright")
        page = self.go(walker, "frame", "view=side&leg=FL")
        page.locator("#dim-link-shank").fill("111")
        page.keyboard.press("Enter")
        self.saved(2)
        lengths = {limb["name"]: limb["links"][2]["length_mm"] for limb in self.project(walker)["walker"]["limbs"]}
        self.assertEqual(set(lengths.values()), {111.0})

    @in_turns
    def test_one_leg_alone_when_mirroring_is_off(self):
        walker = self.new_walker()
        page = self.go(walker, "frame", "leg=R2")
        page.get_by_label("Legs alike").uncheck()
        page.get_by_label("Tibia", exact=True).fill("99")
        page.keyboard.press("Enter")
        self.saved(2)
        changed = [m["name"] for m in self.project(walker)["walker"]["limbs"] if m["links"][2]["length_mm"] == 99.0]
        self.assertEqual(changed, ["R2"])

    @in_turns
    def test_end_stops_bite(self):
        walker = self.new_walker()
        page = self.go(walker, "frame", "leg=L1")
        page.get_by_role("button", name="Joints", exact=True).click()
        page.get_by_label("Hip yaw, highest").fill("5")
        page.keyboard.press("Enter")
        expect(page.get_by_role("button", name=re.compile("Stop: End stop"))).to_be_visible()
        expect(page.locator(".rail-nav a", has_text="Stride").locator(".mark.stop")).to_be_visible()

    @in_turns
    def test_the_knee_bends_the_other_way(self):
        walker = self.new_walker("four_upright")
        page = self.go(walker, "frame", "view=side")
        leg = page.locator('.main-view [data-leg="0"] .m-links').first
        before = leg.get_attribute("d")
        page.get_by_label("Knee", exact=True).select_option(label="knee back")
        self.saved(2)
        self.assertEqual({m["branch"] for m in self.project(walker)["walker"]["limbs"]}, {"knee_back"})
        expect(leg).not_to_have_attribute("d", before)


class Walk(BrowserTest):
    @in_turns
    def test_stride_numbers_and_path_change_the_walk(self):
        walker = self.demo("Fennel")
        page = self.go(walker, "stride", "motion=Forward")
        page.get_by_role("textbox", name="Speed forward").fill("60")
        page.keyboard.press("Enter")
        expect(page.locator(".rail-nav a", has_text="Stride")).to_contain_text("72 mm")
        self.saved(2)
        page.get_by_label("Foot path").select_option(label="Half ellipse")
        expect(page.locator(".figure", has_text="Landing speed").get_by_role("button")).not_to_contain_text("0 mm/s ")
        self.saved(3)
        motion = self.project(walker)["motions"][0]
        self.assertEqual((motion["twist"]["vx_mm_s"], motion["foot_path"]), (60.0, "half_ellipse"))

    @in_turns
    def test_too_much_speed_is_found_before_power_up(self):
        page = self.go(self.demo("Fennel"), "stride", "motion=Forward")
        page.get_by_role("textbox", name="Speed forward").fill("240")
        page.keyboard.press("Enter")
        expect(page.locator(".findings .mark.stop").first).to_be_visible()
        expect(page.locator(".findings")).to_contain_text(re.compile("needs|misses|reaches"))

    @in_turns
    def test_a_leg_is_timed_by_number(self):
        walker = self.demo("Sorrel")
        page = self.go(walker, "timing", "motion=Trot")
        page.get_by_label("FR phase").fill("0,6")
        page.keyboard.press("Enter")
        self.saved(2)
        legs = {leg["limb"]: leg["phase"] for leg in self.project(walker)["motions"][4]["legs"]}
        self.assertEqual(legs["FR"], 0.6)

    @in_turns
    def test_dynamic_is_not_judged_by_margin_and_says_so(self):
        page = self.go(self.demo("Sorrel"), "balance", "motion=Hose+step")
        page.get_by_label("Judged as").select_option("dynamic")
        expect(page.get_by_text("Not judged: whether it falls").first).to_be_visible()
        expect(page.locator(".rail-nav a", has_text="Balance")).to_contain_text("dynamic")

    @in_turns
    def test_where_it_comes_to_rest_when_it_is_halted_is_drawn_beside_its_margin(self):
        walker = self.demo("Fennel")
        page = self.go(walker, "balance", "motion=Forward&t=0.37")
        said = page.locator(".m-halted text")
        expect(said).to_have_text(re.compile(r"^halted \d+ mm$"))
        calm = int(said.text_content().split()[1])
        # In half the time the same steps carry it further on.
        page.get_by_label("Judged as").select_option("dynamic")
        self.saved(2)
        expect(said).to_have_count(0)
        page.get_by_label("Judged as").select_option("static")
        self.saved(3)
        expect(said).to_have_count(1)
        project = self.project(walker)
        walk = project["motions"][0]
        walk["cycle_s"], walk["twist"]["vx_mm_s"] = 0.6, 2 * walk["twist"]["vx_mm_s"]
        quick = self.kept({"project": project})
        page = self.go(quick, "balance", "motion=Forward&t=0.19")
        expect(said).to_have_text(re.compile(r"^halted \d+ mm$"))
        self.assertLess(int(said.text_content().split()[1]), calm)
        page.locator(".figure", has_text="Margin, halted from its pace").locator("dd button").first.click()
        expect(page.get_by_text("capture point of a pendulum whose mass is level").first).to_be_visible()

    @in_turns
    def test_on_a_turn_the_rise_comes_round_with_the_floor(self):
        """To its left it turns, and uphill goes round to its right."""
        project = json.loads((ROOT / "demo" / "fennel.bustle.json").read_bytes())
        project["floor"] |= {"slope_deg": 6.0, "uphill_deg": 0.0}
        walker = self.kept({"project": project})
        turn = next(m for m in project["motions"] if m["name"] == "Turn left")
        turned = {}
        for share in (0.0, 0.9):
            page = self.go(walker, "balance", f"motion=Turn+left&t={share * turn['cycle_s']:.2f}")
            arrow = page.locator(".uphill path")
            expect(arrow).to_have_attribute("transform", re.compile(r"^rotate\("))
            turned[share] = float(arrow.get_attribute("transform").split("(")[1].split()[0])
        self.assertAlmostEqual(turned[0.0], 0.0, delta=0.2)
        by = turn["twist"]["omega_deg_s"] * 0.9 * turn["cycle_s"]
        self.assertAlmostEqual(turned[0.9], by, delta=0.1 * by)

    @in_turns
    def test_a_walk_that_nothing_sets_going_is_marked(self):
        walker = self.demo("Sorrel")
        page = self.go(walker, "balance", "motion=Trot")
        expect(page.get_by_text("leads here from standing: enter and leave at speed")).to_be_visible()
        page.locator("#motion-menu").click()
        expect(page.locator(".dropdown-item", has_text="Trot")).to_contain_text("enter and leave at speed")
        expect(page.locator(".dropdown-item", has_text="Forward")).not_to_contain_text("at speed")
        page.keyboard.press("Escape")
        page.get_by_role("button", name="Make its start and stop").click()
        self.saved(2)
        expect(page.get_by_text("New: Stand, Start trot, Stop trot.")).to_be_visible()
        expect(page.get_by_text("leads here from standing")).to_have_count(0)
        names = [m["name"] for m in self.project(walker)["motions"]]
        self.assertEqual(names[-3:], ["Stand", "Start trot", "Stop trot"])

    @in_turns
    def test_the_body_is_moved_by_its_handle(self):
        walker = self.demo("Fennel")
        page = self.go(walker, "balance", "motion=Forward")
        page.get_by_role("slider", name="Body over its feet").focus()
        page.keyboard.press("ArrowUp")
        self.saved(2)
        page.keyboard.press("Shift+ArrowLeft")
        self.saved(3)
        self.assertEqual(self.project(walker)["motions"][0]["pose"]["shift_mm"], [1.0, 10.0])

    @in_turns
    def test_a_floor_that_slopes_takes_the_margin_and_the_body_leans_into_it(self):
        walker = self.demo("Sorrel")
        page = self.go(walker, "balance", "motion=Forward")
        expect(page.locator(".uphill")).to_have_count(0)
        self.fill("Floor slopes by", 9)
        self.saved(2)
        expect(page.locator(".uphill")).to_contain_text("uphill 9°")
        expect(page.locator(".finding").first).to_contain_text("outside the feet that are down")
        # Downhill the slope is as steep, and its mass falls the other way.
        self.fill("uphill, left of ahead", 180)
        self.saved(3)
        expect(page.locator(".uphill path")).to_have_attribute("transform", re.compile(r"rotate\(-?180"))
        self.fill("uphill, left of ahead", 60)
        self.saved(4)
        page.locator(".small-view", has_text="Side").click()
        expect(page.locator(".main-view .m-plumb text")).to_have_text("level")
        page.get_by_role("button", name=re.compile(r"^Keep: Lean \d+ mm into the slope of 9°")).click()
        self.saved(5)
        self.assertGreater(self.project(walker)["motions"][0]["pose"]["shift_mm"][1], 10.0)
        expect(page.locator(".finding", has_text="Falls over")).to_have_count(0)

    def test_the_margin_to_keep_is_the_builders(self):
        page = self.go(self.demo("Fennel"), "balance", "motion=Forward")
        page.get_by_label("Margin to keep").fill("70")
        page.keyboard.press("Enter")
        expect(page.locator(".finding").first).to_contain_text("keep 70 mm")
        expect(page.locator(".rail-nav a", has_text="Balance").locator(".mark.warn")).to_be_visible()


class Table(BrowserTest):
    @in_turns
    def test_a_cycle_that_is_no_whole_number_of_rows_is_mended(self):
        walker = self.demo("Fennel")
        page = self.go(walker, "timing", "motion=Forward")
        page.get_by_role("textbox", name="Cycle time").fill("1.207")
        page.keyboard.press("Enter")
        self.saved(2)
        page.get_by_role("button", name=re.compile("is 60.35 rows of 20 ms")).click()
        page.get_by_role("button", name=re.compile("^Keep: Cycle time 1.207 → 1.2 s")).click()
        self.saved(3)
        self.assertEqual(self.project(walker)["motions"][0]["cycle_s"], 1.2)

    @in_turns
    def test_a_slower_board_gives_fewer_rows(self):
        page = self.go(self.demo("Fennel"), "table", "motion=Forward")
        page.get_by_label("Row period").fill("40")
        page.keyboard.press("Enter")
        expect(page.locator(".rail-nav a", has_text="Table")).to_contain_text("30 rows")

    @in_turns
    def test_a_long_table_is_scrolled_to_the_playhead(self):
        page = self.go(self.demo("Sorrel"), "table", "motion=Forward&t=2.5")
        expect(page.locator("tr.lit")).to_have_attribute("data-row", "125")
        expect(page.locator("tr.lit")).to_be_in_viewport()
        self.assertLess(page.locator(".rows tbody tr").count(), 60)

    @in_turns
    def test_decimals_of_the_download(self):
        page = self.go(self.demo("Sorrel"), "table", "motion=Forward")
        page.get_by_label("Decimals of a degree").fill("0")
        page.keyboard.press("Enter")
        with page.expect_download() as caught:
            page.get_by_role("button", name="Download Forward").click()
        with open(caught.value.path()) as file:
            row = file.read().splitlines()[1].split(",")
        self.assertTrue(all(re.fullmatch(r"-?\d+", cell) for cell in row[1:]), row)


class Load(BrowserTest):
    @in_turns
    def test_what_its_servos_hold_is_hollow_where_it_is_not_told(self):
        """A frame that bends while it walks: other things of Load are judged, and look no better than they are."""
        page = self.go(self.kept({"project": document(bending())}), "load", "motion=Forward")
        link = page.locator(".rail-nav a", has_text="Load")
        expect(link).to_contain_text("not judged")
        expect(link.locator("i")).to_have_class(re.compile("open"))
        page.goto(page.url.replace("motion=Forward", "motion=Back"))
        expect(link).to_contain_text("% of a stall")
        expect(link.locator("i")).not_to_have_class(re.compile("open"))

    @in_turns
    def test_what_servos_hold_is_seen_found_too_weak_and_held_against(self):
        walker = self.new_walker("four_upright", "Heavy", 200.0)
        page = self.go(walker, "load", "motion=Forward&leg=FR&view=front")
        knee = page.locator(".load-table tr", has_text="knee")
        expect(knee).to_contain_text("%")
        expect(page.locator(".m-load [data-servo]")).to_have_count(3)
        expect(page.locator(".share-trace polyline")).to_have_count(3)
        # The shares on the drawing follow the playhead.
        told = page.locator('.m-load [data-servo="FR knee"] text').first
        before = told.text_content()
        for _ in range(12):
            page.keyboard.press(".")
        expect(told).not_to_have_text(before)
        page.get_by_role("textbox", name="Stall torque").fill("0.3")
        page.keyboard.press("Enter")
        expect(page.locator(".findings")).to_contain_text("it stalls at 0.3 N·m")
        page.get_by_role("button", name=re.compile("^Keep: Stronger servos")).click()
        expect(page.locator(".findings")).not_to_contain_text("it stalls at")
        page.get_by_label("Held against sag").select_option(label="weight alone")
        expect(page.get_by_role("button", name=re.compile("^saved"))).to_be_visible()
        self.assertEqual(self.project(walker)["against_sag"], "static")
        page = self.go(walker, "table", "motion=Forward")
        with page.expect_download() as caught:
            page.get_by_role("button", name="Download").click()
        self.assertIn("_held_static", caught.value.suggested_filename)

    @in_turns
    def test_a_supply_that_is_too_small_is_found_by_what_is_drawn_of_it(self):
        walker = self.new_walker("six_sprawled", "Hungry", 200.0)
        page = self.go(walker, "servos", "motion=Forward&job=supply")
        page.get_by_role("button", name="Add a supply").click()
        page.get_by_role("button", name="Set: Regulator").click()
        page.get_by_role("textbox", name="Pack, Regulator").fill("5")
        page.keyboard.press("Enter")
        expect(page.locator(".findings")).to_contain_text("Pack's regulator gives 5 A; its 18 servos draw")
        page.locator(".rail-nav a", has_text="Load").click()
        page.get_by_role("button", name="Supply", exact=True).click()
        expect(page.get_by_role("img", name=re.compile("What the servos of each supply draw"))).to_be_visible()
        page.get_by_role("button", name=re.compile("^Keep: A regulator of")).click()
        expect(page.locator(".findings")).not_to_contain_text("regulator gives 5 A")
        expect(page.get_by_role("button", name=re.compile("^saved"))).to_be_visible()
        self.assertGreater(self.project(walker)["electrics"]["banks"][0]["regulator_a"], 5)
