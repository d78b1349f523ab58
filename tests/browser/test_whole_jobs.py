"""Three whole jobs as somebody new would do them, counted: a press is a click, a key chord or a drag; a typed number is
one, and so is a choice from a list.
"""

from __future__ import annotations

import re
from pathlib import Path

from playwright.sync_api import Locator, expect

from tests.browser.bench_test import BrowserTest
from tests.long import in_turns


class WholeJobs(BrowserTest):
    def setUp(self) -> None:
        super().setUp()
        self.presses = 0
        self.page.goto(self.address)
        self.addCleanup(self.put_away)

    def put_away(self) -> None:
        found = re.search(r"/walkers/(\d+)/", self.page.url)
        if found:
            self.api(f"/api/walkers/{found[1]}/archive", {}, "PUT")

    @property
    def walker(self) -> int:
        return int(re.search(r"/walkers/(\d+)/", self.page.url)[1])

    def press(self, what: Locator) -> None:
        self.presses += 1
        what.click()

    def button(self, name: str, exact: bool = True) -> None:
        self.press(self.page.get_by_role("button", name=name, exact=exact))

    def station(self, name: str) -> None:
        self.press(self.page.get_by_role("link", name=re.compile(f"^{name}")))

    def put(self, label: str, value: str) -> None:
        self.presses += 1
        box = self.page.get_by_label(label, exact=True)
        box.fill(value)
        box.press("Enter")

    def choose(self, label: str, option: str) -> None:
        self.presses += 1
        self.page.get_by_label(label, exact=True).select_option(label=option)

    def switch(self, label: str) -> None:
        self.presses += 1
        self.page.get_by_label(label, exact=True).check()

    @in_turns
    def test_a_six_legged_machine_from_numbers_to_its_table(self):
        self.button("New walker")
        self.put_name("Toadflax")
        self.switch("I have my own numbers")
        for label, value in (("Body, long", "236"), ("Body, wide", "118"), ("Body, high", "38")):
            self.put(label, value)
        for label, value in (("Coxa", "42"), ("Femur", "74"), ("Tibia", "118")):
            self.put(label, value)
        looks = self.page.locator(".looks")
        expect(looks).to_contain_text(re.compile(r"Stands \d+ mm high, its feet \d+ × \d+ mm apart"))
        expect(looks.locator("polyline")).to_have_count(6)
        self.button("Make it")
        expect(self.page.get_by_label("Walker's name")).to_have_value("Toadflax")
        expect(self.page.locator(".findings")).to_contain_text("Sound")
        self.station("Table")
        with self.page.expect_download() as caught:
            self.button("Download Forward")
        rows = Path(caught.value.path()).read_text().splitlines()
        self.assertEqual(len(rows[0].split(",")), 1 + 18)
        limbs = self.project(self.walker)["walker"]["limbs"]
        self.assertEqual({tuple(k["length_mm"] for k in m["links"]) for m in limbs}, {(42.0, 74.0, 118.0)})
        self.assertLess(self.presses, 25, "presses")

    @in_turns
    def test_upright_legs_round_a_round_body_stand_clear_of_it(self):
        self.button("New walker")
        self.switch("Six legs, upright")
        self.put_name("Bryony")
        self.switch("I have my own numbers")
        for choice in ("Evenly round", "Round"):
            self.button(choice)
        self.button("Make it")
        expect(self.page.get_by_label("Walker's name")).to_have_value("Bryony")
        expect(self.page.locator(".findings")).to_contain_text("Sound")
        knees = {m["name"]: m["branch"] for m in self.project(self.walker)["walker"]["limbs"]}
        self.assertEqual(knees, {n: "knee_back" if n[1] == "3" else "knee_forward" for n in knees})
        self.put("Shank", "118")
        expect(self.page.locator(".findings")).to_contain_text("Sound")
        self.assertLess(self.presses, 10, "presses")

    def put_name(self, name: str) -> None:
        self.presses += 1
        self.page.get_by_label("Name", exact=True).fill(name)

    @in_turns
    def test_a_four_legged_caster_box_folds_into_its_envelope(self):
        self.button("New walker")
        self.switch("Four legs and two casters")
        self.button("Make it")
        expect(self.page.locator(".findings")).to_contain_text("Sound")
        self.button("Frame")
        self.button("Fits")
        self.button("Set: folded into a box")
        for label, value in (("long", "240"), ("wide", "215"), ("high", "170")):
            self.put(f"Folded into a box of, {label}", value)
        expect(self.page.locator(".finding.old")).to_have_count(0)
        self.press(self.page.get_by_role("button", name=re.compile("Folded, it is")))
        self.press(self.page.get_by_role("button", name=re.compile("^Keep: ")).first)
        expect(self.page.locator(".findings")).not_to_contain_text("Folded, it is")
        expect(self.page.locator(".m-folding-box")).to_be_visible()
        self.assertLess(self.presses, 40, "presses")

    @in_turns
    def test_whether_two_joints_a_leg_are_enough(self):
        self.button("New walker")
        self.switch("Six two-joint legs, circle")
        self.button("Make it")
        expect(self.page.locator(".main-view .m-leg").first).to_be_visible()
        self.station("Compare")
        self.choose("Machine 1", "Six legs, circle")
        table = self.page.get_by_role("table", name="Machines side by side")
        straight = table.get_by_role("row", name=re.compile("^Straight stroke"))
        expect(straight).to_be_visible()
        two, three = (
            float(re.search(r"−?[\d.]+", cell.inner_text())[0].replace("−", "-"))
            for cell in straight.get_by_role("cell").all()[:2]
        )
        # Its foot keeps to a straight line for a shorter stretch than that of three joints.
        self.assertLess(two, three)
        self.assertLess(self.presses, 15, "presses")


class Rendering(BrowserTest):
    HOOK = """
    window.drawn = [];
    window.__REACT_DEVTOOLS_GLOBAL_HOOK__ = {
      isDisabled: false, supportsFiber: true, renderers: new Map(),
      inject() { return 1; }, onCommitFiberUnmount() {}, onPostCommitFiberRoot() {},
      onCommitFiberRoot(_id, root) {
        if (!window.counting) return;
        const element = (fiber) => {
          // A component that stands for several things is none of them.
          for (let f = fiber.child; f && !f.sibling; f = f.child)
            if (f.stateNode instanceof Element) return f.stateNode;
          return null;
        };
        const visit = (fiber) => {
          for (let f = fiber; f; f = f.sibling) {
            if ((f.tag === 0 || f.tag === 14 || f.tag === 15) && f.alternate && (f.flags & 1)) {
              const at = element(f);
              const box = at && at.closest('.number-box, .pick, .numbers, .form-check, .lever');
              if (box && box === at) window.drawn.push(box.querySelector('label')?.textContent ?? box.className);
            }
            if (f.child && f.child !== f.alternate?.child) visit(f.child);
          }
        };
        visit(root.current.child);
      },
    };
    """

    @in_turns
    def test_a_tick_of_a_slider_draws_what_it_touches(self):
        walker = self.new_walker()
        self.page.add_init_script(self.HOOK)
        page = self.go(walker, "balance")
        # Once every band is swept nothing else is on its way.
        for lever in page.locator(".lever").all():
            expect(lever.locator(".sound").first).to_be_attached(timeout=30_000)
        slider = page.get_by_role("slider", name="Body left, slider")
        slider.focus()
        page.evaluate("() => { window.counting = true }")
        for _ in range(4):
            page.keyboard.press("ArrowRight")
        page.evaluate("() => { window.counting = false }")
        drawn = page.evaluate("() => window.drawn")
        self.assertIn("Body left", drawn)
        self.assertEqual({d for d in drawn if d not in ("Body left", "lever")}, set())
