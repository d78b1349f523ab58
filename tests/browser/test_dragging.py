"""While a hand moves the bench asks for what is open, and says what it has not looked at; searches can be stopped."""

from __future__ import annotations

import json
import re

from playwright.sync_api import expect

from bustle.core.project.project import document
from tests.browser.bench_test import BrowserTest
from tests.long import in_turns
from tests.projects import telescoping

# Every mark that a station of the rail has had since.
WATCH = """() => {
  const nav = document.querySelector('.rail-nav');
  window.seen = {};
  const look = () => nav.querySelectorAll('a').forEach(a => {
    const name = a.querySelector('b').textContent;
    (window.seen[name] ??= new Set()).add(a.querySelector('.mark').className);
  });
  new MutationObserver(look).observe(nav, { subtree: true, attributes: true, childList: true });
}"""


# Of every answer the second part is held back until somebody lets it go, and `instead` comes in its place.
HELD_BACK = """() => {
  const asked = window.fetch;
  window.fetch = async (to, how) => {
    const answer = await asked(to, how);
    if (!String(to).includes("/api/evaluate")) return answer;
    const whole = new Uint8Array(await answer.arrayBuffer());
    const first = 4 + new DataView(whole.buffer).getUint32(0, true);
    const body = new ReadableStream({ async start(out) {
      // In pieces as a network would have it.
      out.enqueue(whole.slice(0, 3)); out.enqueue(whole.slice(3, 5000)); out.enqueue(whole.slice(5000, first));
      await new Promise((go) => { window.release = go; });
      window.release = null;
      const second = window.instead ?? whole.slice(first);
      out.enqueue(second.slice(0, 2)); out.enqueue(second.slice(2)); out.close();
    } });
    return new Response(body, { status: answer.status });
  };
}"""


class Dragging(BrowserTest):
    def test_what_a_hand_moves_is_drawn_before_it_is_judged(self):
        page = self.go(self.demo("Fennel"), "stride", "motion=Forward&view=side")
        expect(page.locator(".mark.old, .mark.checking")).to_have_count(0)
        page.evaluate(HELD_BACK)
        legs = page.locator(".main-view .m-leg.chosen .m-links")
        figure = page.locator(".figures dd").first
        was, told = legs.get_attribute("d"), page.locator(".figures").first.inner_text()
        box = page.get_by_label("Ride height, slider").bounding_box()
        page.mouse.click(box["x"] + box["width"] * 0.4, box["y"] + box["height"] / 2)
        expect(legs).not_to_have_attribute("d", was)
        expect(figure).to_be_visible()
        self.assertEqual(page.locator(".figures").first.inner_text(), told)
        self.assertTrue(page.evaluate("() => !!window.release"))
        # All of what waits is let go, one after the other.
        page.evaluate("() => { window.letting = setInterval(() => window.release?.(), 20); }")
        expect(page.locator(".mark.old, .mark.checking")).to_have_count(0)
        expect(page.locator(".figures").first).not_to_have_text(told)

    @in_turns
    def test_a_fault_after_the_drawing_is_told_and_the_drawing_is_of_what_was_judged(self):
        page = self.go(self.demo("Fennel"), "stride", "motion=Forward&view=side")
        expect(page.locator(".mark.old, .mark.checking")).to_have_count(0)
        page.evaluate(HELD_BACK)
        legs = page.locator(".main-view .m-leg.chosen .m-links")
        was = legs.get_attribute("d")
        page.evaluate(
            """() => {
              const text = new TextEncoder().encode('{"detail": "It went wrong.", "status": 500}');
              window.instead = new Uint8Array(4 + text.length);
              new DataView(window.instead.buffer).setUint32(0, text.length, true);
              window.instead.set(text, 4);
            }"""
        )
        box = page.get_by_label("Ride height, slider").bounding_box()
        page.mouse.click(box["x"] + box["width"] * 0.4, box["y"] + box["height"] / 2)
        expect(legs).not_to_have_attribute("d", was)
        page.evaluate("() => { window.letting = setInterval(() => window.release?.(), 20); }")
        expect(page.get_by_role("alert")).to_contain_text("It went wrong.")
        expect(legs).to_have_attribute("d", was)

    def test_a_drag_asks_for_what_the_station_shows_and_a_rest_for_all(self):
        page = self.go(self.demo("Fennel"), "stride", "motion=Forward")
        expect(page.locator(".rail-nav a", has_text="Motions").locator(".mark.well")).to_be_visible()
        asked = []
        page.on("request", lambda r: asked.append(json.loads(r.post_data)) if r.url.endswith("/api/evaluate") else None)
        page.evaluate(WATCH)
        box = page.get_by_label("Lift, slider").bounding_box()
        x, y = box["x"] + box["width"] * 0.3, box["y"] + box["height"] / 2
        page.mouse.move(x, y)
        page.mouse.down()
        for k in range(1, 12):
            page.mouse.move(x + 2 * k, y)
            page.wait_for_timeout(25)
        page.mouse.up()
        # All of it again once the hand rests; on a busy machine the first of the drag is still being answered by then.
        self.until(lambda: asked and asked[-1]["station"] is None, "everything was not asked for")
        expect(page.locator(".mark.old, .mark.checking")).to_have_count(0)
        expect(page.locator(".rail-nav a", has_text="Motions").locator(".mark.well")).to_be_visible()
        stations = [draft["station"] for draft in asked]
        self.assertIn("stride", stations)
        seen = page.evaluate("() => Object.fromEntries(Object.entries(window.seen).map(([k, v]) => [k, [...v]]))")
        # What was not looked at did not look well meanwhile; what the drag shows was looked at all along.
        self.assertTrue(any("checking" in mark for mark in seen["Motions"]), seen)
        self.assertFalse(any("checking" in mark or "old" in mark for mark in seen["Balance"]), seen)

    def test_a_working_is_fetched_when_it_is_opened(self):
        page = self.go(self.demo("Fennel"), "balance", "motion=Forward")
        asked = []
        page.on("request", lambda r: asked.append(r.url))
        page.get_by_role("button", name=re.compile("mm show the working")).first.click()
        expect(page.locator(".working span").first).to_contain_text("on the ground")
        self.assertEqual(len([a for a in asked if a.endswith("/api/working")]), 1)

    def long_sought(self) -> int:
        """A walker whose strides take long enough to be found that a hand is in time to stop it."""
        return self.kept({"project": document(telescoping())})

    @in_turns
    def test_finding_the_strides_shows_how_far_it_is_and_stops(self):
        page = self.go(self.long_sought(), "motions", "motion=Forward")
        page.get_by_role("link", name="Make the set").click()
        page.get_by_role("button", name="Find the strides").click()
        expect(page.locator(".working-on")).to_contain_text(re.compile(r", \d of 8"))
        page.get_by_role("main", name="Make the set").get_by_role("button", name="Stop").click()
        expect(page.get_by_role("status").filter(has_text="It was stopped.")).to_be_visible()
        expect(page.get_by_role("button", name="Find the strides")).to_be_enabled()

    @in_turns
    def test_an_edit_ends_the_search_for_the_draft_before(self):
        page = self.go(self.long_sought(), "motions", "motion=Forward")
        page.get_by_role("link", name="Make the set").click()
        page.get_by_role("button", name="Find the strides").click()
        expect(page.locator(".working-on")).to_contain_text(re.compile(r"\d of 8"))
        self.fill("Course to walk", 1400)
        expect(page.get_by_role("status").filter(has_text="It was stopped.")).to_be_visible()

    @in_turns
    def test_a_search_that_fails_says_so_and_can_be_asked_again(self):
        page = self.page
        failing = {"on": True}

        def answer(route):
            if failing["on"]:
                detail = "The worker that was on it ended; nothing was changed, try again."
                route.fulfill(status=503, content_type="application/problem+json", body=json.dumps({"detail": detail}))
            else:
                route.continue_()

        page.route("**/api/remedies", answer)
        self.go(self.demo("Sorrel"), "balance", "motion=Hose+step")
        expect(page.get_by_role("alert").filter(has_text="The worker that was on it ended")).to_be_visible()
        failing["on"] = False
        page.get_by_role("button", name="Look again").click()
        expect(page.get_by_role("button", name=re.compile("^Try: ")).first).to_be_visible()
        self.errors[:] = [e for e in self.errors if "503" not in e]

    @in_turns
    def test_end_stops_typed_on_one_side_are_mirrored_on_the_other(self):
        walker = self.new_walker("four_upright")
        self.go(walker, "frame", "leg=FL")
        self.page.get_by_role("button", name="Joints", exact=True).click()
        roll = self.page.get_by_label(re.compile(r"roll, lowest", re.I)).first
        roll.fill("-21")
        roll.press("Enter")
        self.saved(2)
        limbs = {m["name"]: m for m in self.project(walker)["walker"]["limbs"]}
        ends = {name: (m["joints"][0]["min_deg"], m["joints"][0]["max_deg"]) for name, m in limbs.items()}
        self.assertEqual(ends["FL"], ends["BL"])
        self.assertEqual(ends["FL"][0], -21)
        self.assertEqual(ends["FR"], (-ends["FL"][1], 21))
