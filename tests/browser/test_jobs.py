"""Jobs a builder does, from end to end."""

from __future__ import annotations

import csv
import io
import json
import re
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path

from playwright.sync_api import expect

from tests.browser.bench_test import BrowserTest
from tests.long import in_turns
from tests.projects import ROOT


class FromTapeMeasureToTable(BrowserTest):
    def test_a_new_walker_is_measured_made_to_walk_mended_and_written(self):
        page = self.page
        page.goto(self.address)
        page.get_by_role("button", name="New walker").click()
        page.get_by_label("Four legs, upright", exact=True).check()
        page.get_by_label("Leg length").fill("180,5")
        page.get_by_label("Name").fill("Teasel")
        page.get_by_role("button", name="Make it").click()
        expect(page.get_by_label("Walker's name")).to_have_value("Teasel")
        # Measure: type the thigh that was really cut; every leg gets it.
        page.get_by_label("Thigh", exact=True).fill("92,5")
        page.keyboard.press("Enter")
        self.saved(2)
        walker = int(re.search(r"/walkers/(\d+)/", page.url)[1])
        links = [limb["links"][1]["length_mm"] for limb in self.project(walker)["walker"]["limbs"]]
        self.assertEqual(links, [92.5] * 4)
        # Walk: take the sway away, and it falls over.
        page.keyboard.press("Escape")
        page.get_by_role("link", name="Balance").click()
        page.get_by_role("button", name="No sway").click()
        expect(page.get_by_text("Falls over")).to_be_visible()
        self.saved(3)
        expect(page.locator(".rail-nav a", has_text="Balance").locator(".mark.stop")).to_be_visible()
        # Mend: try it as a ghost, then keep it.
        page.get_by_role("button", name=re.compile("^Try: Sway")).click()
        expect(page.locator(".m-ghost .m-frame").first).to_be_attached()
        expect(page.get_by_text("dashed: sway")).to_be_visible()
        page.get_by_role("button", name=re.compile("^Keep: Sway")).click()
        expect(page.get_by_text("Sound. May stop anywhere")).to_be_visible()
        self.saved(4)
        # Write the table, and find it recorded.
        page.get_by_role("link", name="Table").click()
        with page.expect_download() as caught:
            page.get_by_role("button", name="Download Forward").click()
        expect(page.get_by_text("from revision 4")).to_be_visible()
        data = Path(caught.value.path()).read_text()
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder) / "t.bustle.json"
            file.write_text(json.dumps(self.project(walker)))
            tool = Path(sys.executable).parent / "bustle"
            told = subprocess.run(
                [tool, "table", file, "--motion", "Forward"], capture_output=True, text=True, cwd=ROOT
            )
        self.assertEqual(data, told.stdout)
        self.assertEqual(len(list(csv.reader(io.StringIO(data)))), 151)

    def test_the_c_header_is_written_too(self):
        walker = self.demo("Fennel")
        page = self.go(walker, "table", "motion=Turn+left")
        page.get_by_label("Format").select_option(label="C header")
        with page.expect_download() as caught:
            page.get_by_role("button", name="Download Turn left").click()
        self.assertTrue(caught.value.suggested_filename.endswith("_turn_left_r1.h"))
        self.assertIn("static const int16_t", Path(caught.value.path()).read_text())

    @in_turns
    def test_what_a_stop_stands_against_is_written_only_when_asked_for_again(self):
        page = self.go(self.demo("Fennel"), "table", "motion=Hurry")
        page.get_by_label("What it is, as # lines after the last row").check()
        page.get_by_role("button", name="Download Hurry").click()
        asked = page.get_by_role("dialog", name="This should not be played")
        expect(asked).to_contain_text("F06")
        asked.get_by_role("button", name="Leave it").click()
        expect(page.locator(".exports")).to_have_count(0)
        page.get_by_role("button", name="Download Hurry").click()
        with page.expect_download() as caught:
            asked.get_by_role("button", name="Write it all the same").click()
        self.assertIn("# STOP F06: ", Path(caught.value.path()).read_text())
        expect(page.get_by_text("from revision 1")).to_be_visible()

    @in_turns
    def test_a_gait_that_goes_as_its_legs_walk_is_told_by_it(self):
        """Two-joint legs in a circle cover half of what is asked of them."""
        walker = self.new_walker("six_two_radial")
        page = self.go(walker, "stride", "motion=Forward")
        page.get_by_label("The body goes").select_option(label="as asked")
        expect(page.locator(".findings")).to_contain_text("By its feet on the floor it goes")
        asked = page.locator(".rail-nav a", has_text="Stride").inner_text()
        page.get_by_role("button", name="Keep: Plan the way its legs walk").click()
        expect(page.locator(".findings")).not_to_contain_text("By its feet on the floor")
        expect(page.get_by_label("The body goes")).to_have_value("implied")
        self.assertNotEqual(page.locator(".rail-nav a", has_text="Stride").inner_text(), asked)


class OnTheDrawing(BrowserTest):
    def test_a_foot_is_dragged_and_its_mirror_follows(self):
        walker = self.new_walker()
        page = self.go(walker, "frame", "leg=L2")
        before = self.project(walker)["walker"]["limbs"]
        self.drag(page.locator('[data-grip="neutral"]'), 0, -30)
        self.saved(2)
        after = self.project(walker)["walker"]["limbs"]
        moved = {a["name"]: (a["neutral_mm"][0] - b["neutral_mm"][0]) for a, b in zip(after, before, strict=True)}
        self.assertGreater(moved["L2"], 10)
        self.assertEqual(moved["L2"], moved["R2"])
        self.assertEqual(moved["L1"], 0)
        page.get_by_role("button", name="Undo").click()
        self.saved(3)
        self.assertEqual(self.project(walker)["walker"]["limbs"], before)
        page.get_by_role("button", name="Redo").click()
        self.saved(4)
        self.assertEqual(self.project(walker)["walker"]["limbs"], after)
        page.reload()
        self.saved(4)

    @in_turns
    def test_arrow_keys_nudge_the_focused_handle(self):
        walker = self.new_walker()
        page = self.go(walker, "stride", "view=side&leg=L1")
        ride = self.project(walker)["motions"][0]["pose"]["ride_height_mm"]
        handle = page.get_by_role("slider", name="Ride height on the drawing")
        handle.focus()
        page.keyboard.press("ArrowUp")
        self.saved(2)
        page.keyboard.press("Shift+ArrowDown")
        self.saved(3)
        self.assertEqual(self.project(walker)["motions"][0]["pose"]["ride_height_mm"], ride + 1 - 10)

    @in_turns
    def test_a_dimension_line_is_typed_into_in_measuring_order(self):
        walker = self.new_walker()
        page = self.go(walker, "frame", "leg=L1")
        page.get_by_label("Body length").fill("244,5")
        order = []
        for _ in range(5):
            order.append(page.evaluate("document.activeElement.id"))
            page.keyboard.press("Tab")
        self.assertEqual(order, ["dim-length", "dim-width", "dim-mount-x", "dim-mount-y", "dim-stance"])
        self.saved(2)
        self.assertEqual(self.project(walker)["walker"]["sections"][0]["size_mm"][0], 244.5)

    @in_turns
    def test_a_mass_is_dragged_and_the_margin_follows(self):
        walker = self.demo("Fennel")
        page = self.go(walker, "balance", "motion=Forward")
        before = page.locator(".rail-nav a", has_text="Balance").inner_text()
        battery = page.get_by_role("slider", name=re.compile("^Battery"))
        self.drag(battery, -40, 40)
        self.saved(2)
        self.assertNotEqual(page.locator(".rail-nav a", has_text="Balance").inner_text(), before)
        self.assertNotEqual(self.project(walker)["walker"]["masses"][2]["at_mm"], [-22.0, 0.0, -14.0])

    @in_turns
    def test_a_leg_is_chosen_by_a_click_on_it_and_by_keys(self):
        page = self.go(self.new_walker(), "balance", "leg=L1")
        page.locator('[data-leg="4"] .m-foot').first.click(force=True)
        expect(page).to_have_url(re.compile("leg=R2"))
        page.keyboard.press("PageDown")
        expect(page).to_have_url(re.compile("leg=R3"))

    @in_turns
    def test_a_small_view_becomes_the_main_one(self):
        page = self.go(self.new_walker(), "balance")
        page.get_by_role("button", name="Make Side the main view").click()
        expect(page.get_by_role("group", name=re.compile("^Side view"))).to_be_visible()
        expect(page).to_have_url(re.compile("view=side"))


class TheCycle(BrowserTest):
    @in_turns
    def test_a_bar_is_dragged_and_the_margin_is_read(self):
        walker = self.demo("Fennel")
        page = self.go(walker, "timing", "motion=Forward")
        trace = page.locator(".s-margin").get_attribute("d")
        self.drag(page.get_by_role("slider", name="R2 touchdown").locator("rect").first, 90, 0)
        self.saved(2)
        motion = self.project(walker)["motions"][0]
        self.assertEqual(motion["gait"], "custom")
        self.assertNotEqual(motion["legs"][4]["phase"], 0)
        self.assertNotEqual(page.locator(".s-margin").get_attribute("d"), trace)
        expect(page.get_by_label("Gait")).to_have_value("custom")

    def test_an_end_of_a_bar_is_moved_with_keys(self):
        walker = self.demo("Fennel")
        page = self.go(walker, "timing", "motion=Forward")
        page.get_by_role("slider", name="L2 lift-off").focus()
        page.keyboard.press("ArrowRight")
        self.saved(2)
        duties = [leg["duty"] for leg in self.project(walker)["motions"][0]["legs"]]
        self.assertEqual(duties, [0.56, 0.57, 0.56, 0.56, 0.56, 0.56])

    @in_turns
    def test_a_named_gait_sets_every_leg(self):
        walker = self.demo("Fennel")
        page = self.go(walker, "timing", "motion=Forward")
        page.get_by_label("Gait").select_option("wave")
        self.saved(2)
        legs = self.project(walker)["motions"][0]["legs"]
        self.assertEqual(sorted(round(leg["phase"] * 6) for leg in legs), [0, 1, 2, 3, 4, 5])
        expect(page.get_by_text("One leg at a time")).to_be_visible()

    @in_turns
    def test_one_playhead_drives_the_drawing_the_clock_and_the_table(self):
        page = self.go(self.demo("Fennel"), "table", "motion=Forward")
        expect(page.locator("tr.lit")).to_have_attribute("data-row", "0")
        page.keyboard.press(".")
        page.keyboard.press(".")
        expect(page.locator("tr.lit")).to_have_attribute("data-row", "2")
        expect(page.locator(".play-box b")).to_have_text("0.04 s")
        leg = page.locator('.small-view [data-leg="0"] .m-links').first
        before = leg.get_attribute("d")
        page.keyboard.press("Space")
        expect(page.get_by_role("button", name="Stop", exact=True)).to_be_visible()
        expect(leg).not_to_have_attribute("d", before)
        page.keyboard.press("Escape")
        expect(page.get_by_role("button", name="Play", exact=True)).to_be_visible()

    @in_turns
    def test_nothing_re_renders_while_playing(self):
        """React writes no text and makes no element while the playhead runs: only attributes move."""
        page = self.go(self.demo("Fennel"), "balance", "motion=Forward")
        page.evaluate(
            """() => { window.made = 0; new MutationObserver((records) => {
            for (const r of records)
              if (r.type === 'childList' && !r.target.closest('.play-box button')) window.made++; })
            .observe(document.body, { childList: true, subtree: true }); }"""
        )
        # The sound bands are still being swept: wait until all are, and nothing has changed for a while.
        for lever in page.locator(".lever").all():
            expect(lever.locator(".sound").first).to_be_attached(timeout=30_000)
        still = 0
        for _ in range(40):
            page.evaluate("window.made = 0")
            page.wait_for_timeout(800)
            still = still + 1 if page.evaluate("window.made") == 0 else 0
            if still == 3:
                break
        page.keyboard.press("Space")
        page.wait_for_timeout(700)
        self.assertLessEqual(page.evaluate("window.made"), 1)

    @in_turns
    def test_w_jumps_to_the_worst_instant(self):
        page = self.go(self.demo("Sorrel"), "balance", "motion=Hose+step")
        expect(page.get_by_text("Falls over")).to_be_visible()
        page.keyboard.press("w")
        margin = page.locator(".main-view .m-com")
        expect(margin).to_have_class(re.compile("outside"))
        expect(page).to_have_url(re.compile(r"t=1\.\d+"))
        page.reload()
        expect(page.locator(".main-view .m-com")).to_have_class(re.compile("outside"))

    @in_turns
    def test_the_sound_band_is_swept_when_idle(self):
        page = self.go(self.demo("Fennel"), "stride", "motion=Forward")
        lift = page.locator('[data-lever="lift"]')
        expect(lift.locator(".sound").first).to_be_attached()
        expect(lift.get_by_role("slider")).to_have_attribute("aria-valuetext", re.compile("sound"))

    @in_turns
    def test_a_slider_draft_is_saved_on_letting_go(self):
        walker = self.demo("Fennel")
        page = self.go(walker, "stride", "motion=Forward")
        slider = page.locator('[data-lever="lift"]').get_by_role("slider")
        slider.focus()
        for _ in range(3):
            page.keyboard.press("ArrowRight")
        expect(page.get_by_role("button", name=re.compile(r"saved, revision \d"))).to_be_visible()
        expect(page.get_by_role("textbox", name="Lift", exact=True)).to_have_value("29")
        self.until(lambda: self.project(walker)["motions"][0]["lift_mm"] == 29.0, "it is not saved")

    @in_turns
    def test_a_figure_shows_its_working(self):
        page = self.go(self.demo("Fennel"), "stride", "motion=Forward")
        page.get_by_role("button", name=re.compile("^106 mm")).click()
        expect(page.get_by_text("= 88 mm/s × 1.2 s = 106 mm")).to_be_visible()


class TheShelf(BrowserTest):
    @in_turns
    def test_duplicate_put_away_and_put_back(self):
        self.new_walker(name="Bracken")
        page = self.page
        page.goto(self.address)
        page.get_by_role("button", name="Duplicate Bracken", exact=True).click()
        # The first look at the shelf judges every walker on it.
        expect(page.get_by_role("heading", name="Bracken 2")).to_be_visible(timeout=45_000)
        page.get_by_role("button", name="Put away Bracken 2").click()
        expect(page.get_by_role("heading", name="Bracken 2")).to_have_count(0)
        page.get_by_label("Put away", exact=True).check()
        page.get_by_role("button", name="Put back Bracken 2").click()
        page.get_by_label("Put away", exact=True).uncheck()
        expect(page.get_by_role("heading", name="Bracken 2")).to_be_visible(timeout=45_000)

    @in_turns
    def test_what_is_made_by_own_numbers_says_how_far_it_is_and_is_not_made_when_left(self):
        page, name = self.page, "Left alone"
        page.goto(self.address)
        for ends in ("Stop", "Leave it"):
            page.get_by_role("button", name="New walker").click()
            page.get_by_label("Four legs, upright", exact=True).check()
            page.get_by_label("Name", exact=True).fill(name)
            page.get_by_label("I have my own numbers").check()
            page.get_by_role("button", name="Make it").click()
            expect(page.get_by_role("status").filter(has_text=re.compile(r"Trot, dry runs, \d of \d"))).to_be_visible()
            page.get_by_role("button", name=ends).click()
            if ends == "Stop":
                expect(page.get_by_role("dialog")).to_contain_text("It was stopped.")
                page.get_by_role("button", name="Leave it").click()
            expect(page.get_by_role("dialog")).to_have_count(0)
        page.wait_for_timeout(500)
        expect(page).to_have_url(re.compile(r"/$"))
        self.assertNotIn(name, [w["name"] for w in page.request.get(f"{self.address}/api/walkers").json()["walkers"]])

    @in_turns
    def test_a_shelf_being_judged_leaves_connections_for_what_the_hand_asks_for(self):
        """A browser holds six to a server; every walker on the shelf would like to be judged at once."""
        for n in range(4):
            self.new_walker(name=f"Waits {n}")
        page, judged = self.page, []
        page.route("**/verdict", lambda route: judged.append(route))
        page.goto(self.address)
        expect(page.get_by_text("Judging …").nth(3)).to_be_visible()
        self.comes_to(2, judged)
        # A walker that leaves the shelf leaves its turn to the next.
        page.get_by_role("button", name="Put away Waits 3").click()
        expect(page.get_by_role("heading", name="Waits 3")).to_have_count(0)
        self.comes_to(3, judged)
        page.goto("about:blank")
        for asked in judged:
            asked.abort()

    def comes_to(self, many: int, of: list) -> None:
        """So many in the end, and no more: a request reaches the test a while after the page has sent it."""
        self.until(lambda: len(of) >= many, f"{len(of)} of {many}")
        self.page.wait_for_timeout(300)
        self.assertEqual(len(of), many)

    def test_a_project_file_goes_out_and_comes_back(self):
        walker = self.new_walker(name="Sedge")
        page = self.page
        page.goto(self.address)
        with page.expect_download() as caught:
            page.get_by_role("button", name="Save as file Sedge").click()
        self.assertEqual(caught.value.suggested_filename, "sedge.bustle.json")
        page.get_by_label("Project file", exact=True).set_input_files(caught.value.path())
        expect(page.get_by_label("Walker's name")).to_have_value("Sedge")
        self.assertNotEqual(int(re.search(r"/walkers/(\d+)/", page.url)[1]), walker)

    @in_turns
    def test_a_file_that_is_none_is_refused_with_its_reason(self):
        page = self.page
        page.goto(self.address)
        whole = (ROOT / "demo" / "fennel.bustle.json").read_bytes()
        for name, data, words in (
            ("cut.json", whole[:3000], "cut short"),
            ("old.json", whole.replace(b'"version": 12', b'"version": 13'), "this Bustle reads versions 1 to 12"),
            ("big.json", b" " * 7_000_000, "7 MB"),
        ):
            page.get_by_label("Project file", exact=True).set_input_files(
                {"name": name, "mimeType": "application/json", "buffer": data}
            )
            expect(page.get_by_role("alert")).to_contain_text(words)
        self.assertEqual(page.url.rstrip("/"), self.address)

    @in_turns
    def test_the_drawings_walk_when_looked_at(self):
        page = self.page
        page.goto(self.address)
        card = page.locator(".card-walker", has_text="Fennel").first
        leg = card.locator('[data-leg="0"] .m-links').first
        expect(leg).to_have_attribute("d", re.compile("^M"))
        before = leg.get_attribute("d")
        card.hover()
        expect(leg).not_to_have_attribute("d", before)


if __name__ == "__main__":
    unittest.main()
