"""The bench's own frame: the strip's height, the command list, the menu of motions, and leaving and coming back."""

from __future__ import annotations

import re

from playwright.sync_api import expect

from tests.browser.bench_test import BrowserTest
from tests.long import in_turns


class TheFrame(BrowserTest):
    @in_turns
    def test_the_strip_is_made_higher_with_keys_and_pointer_within_bounds(self):
        page = self.go(self.demo("Fennel"), "balance")
        edge = page.get_by_role("separator", name="Height of the cycle strip")
        edge.focus()
        for _ in range(30):
            page.keyboard.press("ArrowUp")
        self.assertEqual(edge.get_attribute("aria-valuenow"), "420")
        self.drag(edge, 0, 400)
        self.assertEqual(edge.get_attribute("aria-valuenow"), "96")
        bar = page.locator(".s-swing").first.bounding_box()
        self.assertGreaterEqual(bar["height"], 8)

    @in_turns
    def test_nothing_but_the_numbers_moves_when_a_finding_opens(self):
        page = self.go(self.demo("Fennel"), "stride", "motion=Hurry")
        heading = page.locator(".controls h2").bounding_box()
        page.get_by_role("button", name=re.compile("Too fast")).click()
        expect(page.locator(".finding.open")).to_have_count(0)
        self.assertEqual(page.locator(".controls h2").bounding_box(), heading)

    @in_turns
    def test_a_motion_is_chosen_from_the_menu_and_by_command(self):
        page = self.go(self.demo("Fennel"), "balance", "motion=Forward")
        page.get_by_role("button", name="Motion: Forward").click()
        page.get_by_role("button", name="Turn left", exact=True).click()
        expect(page).to_have_url(re.compile(r"motion=Turn\+left"))
        page.get_by_role("button", name="Find", exact=True).click()
        page.keyboard.type("motion side")
        page.keyboard.press("Enter")
        expect(page.get_by_role("button", name="Motion: Sideways left")).to_be_visible()

    @in_turns
    def test_undo_goes_back_through_several_changes_and_forward_again(self):
        walker = self.new_walker()
        page = self.go(walker, "stride")
        lift = page.get_by_role("textbox", name="Lift", exact=True)
        for n, value in enumerate(("26", "28", "30")):
            lift.fill(value)
            page.keyboard.press("Enter")
            self.saved(n + 2)
        undo, redo = (page.get_by_role("button", name=name, exact=True) for name in ("Undo", "Redo"))
        for value in ("28", "26", "24"):
            undo.click()
            expect(lift).to_have_value(value)
        expect(undo).to_be_disabled()
        for value in ("26", "28", "30"):
            redo.click()
            expect(lift).to_have_value(value)
        expect(redo).to_be_disabled()

    @in_turns
    def test_leaving_to_the_shelf_and_coming_back_finds_what_was_saved(self):
        walker = self.new_walker(name="Yarrow")
        page = self.go(walker, "stride")
        page.get_by_role("textbox", name="Lift", exact=True).fill("27")
        page.keyboard.press("Enter")
        self.saved(2)
        page.get_by_role("link", name="Bustle").click()
        page.get_by_role("link", name="Yarrow", exact=True).click()
        self.saved(2)
        page.keyboard.press("4")
        expect(page.get_by_role("textbox", name="Lift", exact=True)).to_have_value("27")

    @in_turns
    def test_the_ghost_of_a_trial_goes_with_escape(self):
        page = self.go(self.demo("Sorrel"), "balance", "motion=Hose+step")
        page.get_by_role("button", name=re.compile("^Try: Sway")).click()
        expect(page.locator(".m-ghost")).to_have_count(1)
        page.keyboard.press("Escape")
        expect(page.locator(".m-ghost")).to_have_count(0)
        self.assertEqual(page.get_by_role("button", name=re.compile("saved, revision 1")).count(), 1)

    @in_turns
    def test_orbit_turns_under_the_pointer(self):
        page = self.go(self.demo("Fennel"), "balance", "view=orbit")
        page.wait_for_timeout(800)
        canvas = page.locator(".orbit canvas")
        before = canvas.screenshot()
        self.drag(canvas, 120, -30)
        self.until(lambda: canvas.screenshot() != before, "it has not turned")
