"""The log of trials as a builder keeps it: written down, read, acted on, left out, taken away."""

from __future__ import annotations

from playwright.sync_api import expect

from tests.browser.bench_test import BrowserTest
from tests.long import in_turns


class Trials(BrowserTest):
    def put(self, label, text):
        box = self.page.get_by_label(label, exact=True)
        box.fill(text)
        box.press("Enter")

    def log_it(self, number):
        self.page.get_by_role("button", name="Log it").click()
        expect(self.page.get_by_text(f"Trial {number} is in the log.")).to_be_visible()

    @in_turns
    def test_a_walk_that_drifts_is_logged_steered_and_tried_again(self):
        walker = self.new_walker()
        page = self.go(walker, "trials", "motion=Forward")
        expect(page.get_by_role("heading", name="No trial yet")).to_be_visible()
        page.get_by_role("button", name="Log it").click()
        expect(page.get_by_text("Say what it walked on first.")).to_be_visible()
        self.put("Walked on", "Hall floor")
        self.put("For", "12")
        # What was measured is what is set; it begins with what is told.
        page.get_by_role("button", name="Set: Along its way").click()
        told = float(page.get_by_label("Along its way", exact=True).input_value())
        self.assertGreater(told, 300)
        page.get_by_role("button", name="Set: Beside it, to the left").click()
        beside = round(0.1 * told * told / 1000)
        drift = round(beside * (1000 / told) ** 2)
        self.put("Beside it, to the left", str(beside))
        page.get_by_role("button", name="R2", exact=True).click()
        self.put("Note", "a screw was loose")
        self.log_it(1)
        row = page.get_by_role("row", name="a screw was loose")
        expect(row).to_contain_text("Hall floor")
        expect(row).to_contain_text("100 %")
        expect(row).to_contain_text("R2")
        expect(page.locator(".what", has_text="It drifts on the floor")).to_contain_text(f"{drift} mm to the left")
        page.get_by_role("button", name=f"Steer {drift} mm to the right each metre").click()
        self.saved(2)
        self.assertEqual(self.project(walker)["motions"][0]["steer_mm_m"], -drift)
        expect(page.locator(".what", has_text="It drifts on the floor")).to_have_count(0)
        # The floor stays for the next trial; the rest is blank again.
        expect(page.get_by_label("Walked on", exact=True)).to_have_value("Hall floor")
        expect(page.get_by_role("button", name="Set: Along its way")).to_be_visible()
        self.log_it(2)
        expect(page.get_by_role("row", name="Forward").first).to_contain_text("steer_mm_m")
        page.get_by_role("button", name="Leave out trial 1").click()
        expect(page.get_by_role("button", name="Put back trial 1")).to_be_visible()
        expect(page.locator(".what")).to_have_count(0)
        with page.expect_download() as download:
            page.get_by_role("link", name="The log as CSV").click()
        text = download.value.path().read_text()
        self.assertEqual([line.split(",")[0] for line in text.splitlines()], ["trial", "2"])
        # On another shelf it is taken in again.
        page = self.go(self.new_walker(), "trials", "motion=Forward")
        page.get_by_label("A log as CSV", exact=True).set_input_files(download.value.path())
        expect(page.get_by_role("row", name="Hall floor").first).to_contain_text("Forward")

    @in_turns
    def test_the_demo_s_log_says_that_grip_fades(self):
        (fennel,) = [w["id"] for w in self.api("/api/walkers")["walkers"] if w["name"] == "Fennel"]
        page = self.go(fennel, "trials", "motion=Forward")
        expect(page.locator(".what", has_text="Its grip fades")).to_contain_text("Aisle boards")
        expect(page.get_by_role("img", name="How far Forward got, trial by trial")).to_be_visible()
        page.get_by_label("Walked on", exact=True).fill("")
        page.get_by_role("button", name="Aisle boards", exact=True).click()
        expect(page.get_by_label("Walked on", exact=True)).to_have_value("Aisle boards")

    @in_turns
    def test_what_cannot_be_logged_is_said_and_nothing_typed_is_lost(self):
        page = self.go(self.new_walker(), "trials", "motion=Forward")
        self.put("Walked on", "Hall floor")
        self.put("For", "0")
        expect(page.get_by_text("For: from 0.1 to 3600 s, got 0.")).to_be_visible()
        self.put("For", "5")
        self.put("Note", "<b>bold</b>")
        page.get_by_role("button", name="Log it").click()
        expect(page.get_by_role("status").filter(has_text="markup")).to_be_visible()
        expect(page.get_by_label("Walked on", exact=True)).to_have_value("Hall floor")
        expect(page.get_by_role("heading", name="No trial yet")).to_be_visible()

    @in_turns
    def test_a_trace_is_brought_in_read_beside_its_plan_and_one_that_is_none_is_said(self):
        walker = self.new_walker()
        page = self.go(walker, "trials", "motion=Forward")
        self.put("Walked on", "Hall floor")
        self.log_it(1)
        box = page.get_by_label("Trace of trial 1 as CSV", exact=True)
        box.set_input_files({"name": "notes.csv", "mimeType": "text/csv", "buffer": b"time_s,L1\n0,1\n1,x\n"})
        expect(page.get_by_role("alert")).to_contain_text("Line 3, L1")
        with page.expect_download() as download:
            page.get_by_role("link", name="A made-up one of trial 1").click()
        lines = download.value.path().read_text().splitlines()
        limb = lines[0].split(",")[-1]
        # Its last foot's sensor has come off.
        broken = [lines[0], *(f"{line.rsplit(',', 1)[0]},{60 + n % 7}" for n, line in enumerate(lines[1:]))]
        box.set_input_files({"name": "t.csv", "mimeType": "text/csv", "buffer": "\n".join(broken).encode()})
        panel = page.get_by_role("region", name="Trace of trial 1")
        expect(panel.locator(".what")).to_contain_text(f"{limb}: loaded reads like unloaded")
        expect(page.get_by_role("alert")).to_have_count(0)
        panel.get_by_role("button", name="Set: Full scale").click()
        expect(panel.get_by_label("Full scale", exact=True)).to_have_value("1023")
        panel.get_by_role("button", name="Close").click()
        expect(page.get_by_role("heading", name="What they tell")).to_be_visible()
        page.get_by_role("button", name="Open the trace of trial 1").click()
        expect(panel.get_by_role("img", name="What the feet read over one cycle")).to_be_visible()
        with page.expect_download() as download:
            panel.get_by_role("link", name="The file").click()
        self.assertEqual(download.value.path().read_text(), "\n".join(broken))
