"""Every view of the bench: nothing a reader of screens stumbles over, nothing past the edge, loaded when asked for."""

from __future__ import annotations

import re

import numpy as np
from playwright.sync_api import expect

from tests.browser.bench_test import BrowserTest
from tests.long import in_turns, is_long, share
from tests.projects import ROOT

AXE = ROOT / "ui" / "node_modules" / "axe-core" / "axe.min.js"


# What is chosen in a list or typed in a field, and does not fit: (its label, what it says).
CUT_OFF = """() => {
  const pen = document.createElement('canvas').getContext('2d');
  const named = e => e.labels?.[0]?.textContent || e.getAttribute('aria-label');
  const boxes = [...document.querySelectorAll('select, input[type=text], input:not([type])')];
  return boxes.filter(e => e.offsetParent).flatMap(e => {
    const style = getComputedStyle(e);
    const says = e.selectedOptions ? e.selectedOptions[0]?.textContent ?? '' : e.value;
    pen.font = style.font;
    const room = e.clientWidth - parseFloat(style.paddingLeft) - parseFloat(style.paddingRight);
    return pen.measureText(says.trim()).width > room + 1 ? [[named(e), says]] : [];
  });
}"""


class EveryView(BrowserTest):
    PLACES = (
        ("shelf", None, ""),
        ("frame", "Fennel", "leg=L2"),
        ("frame", "Sorrel", "view=front"),
        ("leg", "Fennel", "leg=L2"),
        ("servos", "Fennel", ""),
        ("servos", "Sorrel", "job=supply"),
        ("servos", "Sorrel", "job=types"),
        ("servos", "Sorrel", "job=horns"),
        ("servos", "Sorrel", "job=check"),
        ("servos", "Sorrel", "job=angles"),
        ("servos", "Sorrel", "job=heights"),
        ("servos", "Sorrel", "job=bench&step=map"),
        ("servos", "Sorrel", "job=bench&step=meter"),
        ("servos", "Sorrel", "job=bench&step=poses"),
        ("servos", "Sorrel", "job=types"),
        ("load", "Sorrel", "motion=Forward&leg=FR"),
        ("compare", "Sorrel", ""),
        ("motions", "Fennel", "job=set"),
        ("motions", "Fennel", "job=drive&motion=Forward"),
        ("motions", "Fennel", "job=power-on"),
        ("motions", "Fennel", "job=controls"),
        ("stride", "Sorrel", "motion=Trot"),
        ("timing", "Fennel", ""),
        ("motions", "Sorrel", "motion=Forward"),
        ("motions", "Fennel", "motion=Aisle+round"),
        ("balance", "Sorrel", "motion=Hose+step"),
        ("balance", "Fennel", "view=orbit"),
        ("table", "Fennel", "motion=Hurry"),
        ("trials", "Fennel", "motion=Forward"),
        ("trials", "Sorrel", "motion=Forward"),
    )

    @is_long
    def test_axe_finds_nothing_serious_on_any_view(self):
        page = self.page
        walkers = {name: self.demo(name) for name in ("Fennel", "Sorrel")}
        for station, name, query in share(np.random.default_rng(), self.PLACES, 4):
            if name:
                self.go(walkers[name], station, query)
            else:
                page.goto(self.address)
                expect(page.locator(".card-walker").first).to_be_visible()
            self.assert_axe(f"{station} {name} {query}")

    @in_turns
    def test_axe_finds_nothing_serious_in_any_dialog(self):
        page = self.page
        page.goto(self.address)
        page.get_by_role("button", name="New walker").click()
        expect(page.get_by_role("dialog")).to_be_visible()
        self.assert_axe("new walker")
        self.go(self.demo("Fennel"), "balance")
        for keys, name in (("?", "keys"), ("Control+k", "palette")):
            page.keyboard.press(keys)
            expect(page.get_by_role("dialog")).to_be_visible()
            self.assert_axe(name)
            page.keyboard.press("Escape")
            expect(page.get_by_role("dialog")).to_have_count(0)
        page.get_by_role("button", name=re.compile("saved, revision")).click()
        expect(page.get_by_role("dialog")).to_be_visible()
        self.assert_axe("revisions")

    def assert_axe(self, where):
        self.page.wait_for_timeout(350)
        # The strict policy refuses injected script tags; evaluating goes round it, as the tool needs.
        self.page.evaluate(AXE.read_text())
        found = self.page.evaluate("axe.run(document, { resultTypes: ['violations'] })")
        serious = [
            (v["id"], [n["html"][:160] for n in v["nodes"][:4]])
            for v in found["violations"]
            if v["impact"] in ("serious", "critical")
        ]
        self.assertEqual(serious, [], where)

    @in_turns
    def test_nothing_runs_over_the_edge_at_any_width(self):
        walker = self.demo("Fennel")
        for station in ("frame", "servos", "stride", "timing", "balance", "table"):
            page = self.go(walker, station)
            for width, height in ((1024, 720), (1280, 800), (1600, 1000)):
                page.set_viewport_size({"width": width, "height": height})
                page.wait_for_timeout(100)
                over = page.evaluate(
                    "[document.documentElement.scrollWidth - innerWidth, document.body.scrollHeight - innerHeight]"
                )
                self.assertLessEqual(max(over), 0, f"{station} at {width}")
                spill = page.evaluate(
                    """() => [...document.querySelectorAll('.right, .rail-nav')].filter(
                    e => e.scrollWidth > e.clientWidth + 1).map(e => e.className)"""
                )
                self.assertEqual(spill, [], f"{station} at {width}")

    @in_turns
    def test_what_is_chosen_and_typed_can_be_read(self):
        page = self.page
        walkers = {name: self.demo(name) for name in ("Fennel", "Sorrel", "Bramble")}
        more = [
            (station, "Bramble", "motion=Forward") for station in ("stride", "timing", "balance", "load", "motions")
        ]
        for width, height in ((1024, 768), (1280, 800)):
            page.set_viewport_size({"width": width, "height": height})
            for station, name, query in (*self.PLACES, *more):
                if name:
                    self.go(walkers[name], station, query)
                    page.wait_for_timeout(400)
                    self.assertEqual(page.evaluate(CUT_OFF), [], f"{station} {name} {query} at {width}")

    @in_turns
    def test_on_a_phone_one_thing_stands_under_the_other(self):
        """Nothing is cut off to the side, the drawing is as wide as the screen, and the walk is set right below it."""
        page, walker = self.page, self.demo("Sorrel")
        self.go(walker, "balance")
        page.set_viewport_size({"width": 390, "height": 780})
        for station in ("frame", "servos", "leg", "stride", "timing", "balance", "load", "table"):
            self.go(walker, station)
            wide = page.evaluate("Math.max(document.documentElement.scrollWidth, document.body.scrollWidth)")
            self.assertLessEqual(wide, 390, station)
            middle, right = (page.locator(part).bounding_box() for part in (".stage", ".right"))
            self.assertGreaterEqual(middle["width"], 380, station)
            self.assertGreaterEqual(right["width"], 380, station)
            self.assertGreaterEqual(right["y"], middle["y"] + middle["height"] - 1, station)
        self.go(walker, "balance")
        page.get_by_label("Body forward").first.fill("6")
        page.keyboard.press("Enter")
        expect(page.get_by_role("button", name=re.compile("saved, revision 2"))).to_be_visible()
        self.go(walker, "motions", "job=drive")
        pad, view = page.locator(".job.beside").bounding_box(), page.locator(".main-view").bounding_box()
        self.assertGreaterEqual(pad["y"], view["y"] + view["height"] - 2)

    @in_turns
    def test_the_orbit_view_is_loaded_only_when_asked_for(self):
        page = self.page
        asked = []
        page.on("request", lambda r: asked.append(r.url))
        self.go(self.demo("Fennel"), "balance")
        page.wait_for_timeout(300)
        self.assertFalse([u for u in asked if "Orbit" in u])
        page.get_by_role("button", name="Make Orbit the main view").click()
        expect(page.locator(".orbit canvas")).to_be_visible()
        self.assertTrue([u for u in asked if "Orbit" in u])
        canvas = page.locator(".orbit canvas")
        self.until(lambda: len(set(canvas.screenshot()[1000:20000])) > 200, "the canvas shows one colour, no picture")

    def test_the_address_says_where_we_are(self):
        walker = self.demo("Sorrel")
        page = self.go(walker, "stride", "motion=Trot&leg=BR&view=front&t=0.4")
        expect(page.get_by_role("group", name=re.compile("^Front view"))).to_be_visible()
        expect(page.get_by_role("button", name="Motion: Trot")).to_be_visible()
        expect(page.locator(".main-view .m-leg.chosen .m-label")).to_have_text("BR")
        expect(page.locator(".play-box b")).to_have_text("0.40 s")

    def test_legs_in_the_air_differ_by_more_than_colour(self):
        page = self.go(self.demo("Fennel"), "balance", "motion=Forward&t=0.3")
        told = """() => [...document.querySelectorAll('.main-view .m-leg')].map(
            g => [g.classList.contains('down'), getComputedStyle(g.querySelector('.m-links')).strokeDasharray])"""
        # Three of its six legs are in the air then.
        self.until(lambda: sum(not down for down, _ in page.evaluate(told)) == 3, "no three legs are in the air")
        dashes = page.evaluate(told)
        self.assertEqual({d for down, d in dashes if down}, {"none"})
        self.assertTrue(all(d != "none" for down, d in dashes if not down))
