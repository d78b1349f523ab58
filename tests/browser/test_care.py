"""What must never go wrong at the bench: two windows, bad input, keyboard only, contrast, no overflow, deep links."""

from __future__ import annotations

import re
import unittest

from playwright.sync_api import expect

from tests.browser.bench_test import BrowserTest
from tests.long import in_turns
from tests.projects import ROOT


class TwoWindows(BrowserTest):
    def both(self):
        walker = self.new_walker()
        first, second = self.page, self.open_window()
        self.go(walker, "stride", page=first)
        self.go(walker, "stride", page=second)
        return walker, first, second

    def type(self, page, label, value):
        page.get_by_label(label, exact=True).fill(value)
        page.keyboard.press("Enter")

    def test_my_changes_can_be_made_again_on_theirs(self):
        walker, first, second = self.both()
        self.type(first, "Lift", "31")
        self.saved(2, first)
        self.type(second, "Cycle time", "1,6")
        dialog = second.get_by_role("dialog")
        expect(dialog).to_contain_text("Another window saved this walker first")
        expect(dialog.get_by_role("row", name=re.compile("Forward cycle, s"))).to_contain_text("1.6")
        expect(dialog.get_by_role("row", name=re.compile("Forward lift, mm"))).to_contain_text("31")
        self.assertEqual(self.project(walker)["motions"][0]["cycle_s"], 1.2)
        dialog.get_by_role("button", name="Make my changes again on theirs").click()
        self.saved(3, second)
        motion = self.project(walker)["motions"][0]
        self.assertEqual((motion["lift_mm"], motion["cycle_s"]), (31.0, 1.6))

    @in_turns
    def test_theirs_can_be_kept_and_mine_is_still_behind_undo(self):
        walker, first, second = self.both()
        self.type(first, "Lift", "31")
        self.saved(2, first)
        self.type(second, "Lift", "44")
        second.get_by_role("button", name="Keep theirs").click()
        expect(second.get_by_label("Lift", exact=True)).to_have_value("31")
        self.saved(2, second)
        self.assertEqual(self.project(walker)["motions"][0]["lift_mm"], 31.0)
        second.get_by_role("button", name="Undo").click()
        expect(second.get_by_label("Lift", exact=True)).to_have_value("44")


class BadInput(BrowserTest):
    @in_turns
    def test_a_field_says_what_it_takes_and_keeps_what_was_typed(self):
        walker = self.new_walker()
        page = self.go(walker, "stride")
        field = page.get_by_label("Lift", exact=True)
        for typed, words in (("abc", "Lift: type a number"), ("9000", "Lift: from 0 to"), ("-5", "got −5")):
            field.fill(typed)
            page.keyboard.press("Enter")
            expect(page.get_by_role("alert")).to_contain_text(words)
            expect(field).to_have_value(typed)
        page.keyboard.press("Escape")
        expect(page.get_by_role("alert")).to_have_count(0)
        self.saved(1)

    def test_one_bad_number_holds_back_itself_alone(self):
        walker = self.new_walker()
        page = self.go(walker, "frame", "leg=L1")
        was = self.project(walker)["walker"]["limbs"][0]["links"][1]["length_mm"]
        femur = page.get_by_label("Femur", exact=True)
        femur.fill("0")
        femur.press("Enter")
        # Said beside its box, in the builder's words, with what was typed still there.
        expect(page.locator(".number-box.faulty")).to_contain_text("must be above 0, got 0 (leg L1, femur)")
        expect(page.locator(".findings").get_by_role("alert")).to_contain_text("That one is not taken; all else is")
        expect(femur).to_have_value("0")
        # All later work is taken and saved.
        for number, (label, value) in enumerate((("Tibia", 99), ("Coxa", 41), ("Toes to the left", 4)), 2):
            self.fill(label, value)
            self.saved(number)
        expect(page.locator(".findings").get_by_role("alert")).to_have_count(0)
        links = [m["links"] for m in self.project(walker)["walker"]["limbs"]]
        self.assertEqual({k[1]["length_mm"] for k in links}, {was})
        self.assertEqual({(k[0]["length_mm"], k[2]["length_mm"]) for k in links}, {(41.0, 99.0)})

    @in_turns
    def test_what_grew_and_is_refused_in_two_places_is_put_back_whole(self):
        walker = self.new_walker()
        page = self.go(walker, "motions")
        had = len(self.project(walker)["motions"])
        # A draft with a motion more is refused, for the list and for something within it that was there before.
        page.evaluate(
            """(had) => {
                const real = window.fetch, headers = { "Content-Type": "application/json" };
                const problems = [
                    { path: "project.motions", sentence: "are too many" },
                    { path: "project.motions[0].cycle_s", sentence: "is too long" },
                ];
                window.fetch = async (to, how) => {
                    const asked = String(to).includes("/api/evaluate") ? JSON.parse(how.body).project.motions : [];
                    if (asked.length <= had) return real(to, how);
                    return new Response(JSON.stringify({ detail: "", problems }), { status: 422, headers });
                };
            }""",
            had,
        )
        page.get_by_label("Add", exact=True).select_option(label="a pose of joints")
        expect(page.locator(".findings").get_by_role("alert")).to_contain_text("are too many")
        self.fill("Course to walk", 1200)
        self.until(lambda: "1200.0" in str(self.project(walker)), "what was typed then is not saved")
        self.assertEqual(len(self.project(walker)["motions"]), had)

    @in_turns
    def test_an_answer_that_comes_late_saves_no_half_of_what_was_typed_after_it(self):
        walker = self.new_walker()
        page = self.go(walker, "frame", "leg=L1")
        # What the other legs follow by answers after 1.5 s, then after 3.
        page.evaluate(
            """() => {
                const real = window.fetch, waits = [1500, 3000];
                window.fetch = async (to, how) => {
                    const wait = String(to).includes("/api/frame") ? waits.shift() : 0;
                    const answer = await real(to, how);
                    if (wait) await new Promise((done) => setTimeout(done, wait));
                    return answer;
                };
            }"""
        )
        femur = page.get_by_label("Femur", exact=True)
        femur.fill("0")
        femur.press("Enter")
        expect(page.locator(".number-box.faulty")).to_contain_text("must be above 0")
        self.fill("Tibia", 99)
        self.saved(2)
        links = [m["links"] for m in self.project(walker)["walker"]["limbs"]]
        self.assertEqual({k[2]["length_mm"] for k in links}, {99.0})

    def test_undo_right_after_typing_undoes_the_walker(self):
        walker = self.new_walker()
        page = self.go(walker, "stride")
        lift = page.get_by_label("Lift", exact=True)
        lift.fill("31")
        lift.press("Enter")
        self.saved(2)
        lift.press("Control+z")
        self.saved(3)
        expect(lift).to_have_value("24")
        page.get_by_label("Cycle time", exact=True).click()
        page.wait_for_timeout(300)
        self.assertEqual(self.project(walker)["motions"][0]["lift_mm"], 24.0)
        # What is typed and not taken yet goes first, and nothing with it.
        lift.fill("77")
        lift.press("Control+z")
        expect(lift).to_have_value("24")
        self.assertEqual(self.api(f"/api/walkers/{walker}")["number"], 3)

    def test_an_address_that_asks_for_what_is_not_here_says_so(self):
        page = self.go(self.new_walker(), "stride", "motion=Gallop&leg=Z9")
        expect(page.locator(".findings")).to_contain_text("no motion called Gallop, no limb called Z9")
        page.goto(page.url.split("/stride")[0] + "/elsewhere")
        expect(page.locator(".findings")).to_contain_text("There is no station called elsewhere")

    def test_the_page_asks_before_unsaved_work_is_left(self):
        page = self.go(self.new_walker(), "stride")
        page.route("**/revisions", lambda route: route.abort())
        page.get_by_label("Lift", exact=True).fill("30")
        page.keyboard.press("Enter")
        expect(page.get_by_text("not saved")).to_be_visible()
        guarded = "() => !window.dispatchEvent(new Event('beforeunload', { cancelable: true }))"
        self.assertTrue(page.evaluate(guarded))
        page.unroute("**/revisions")
        page.get_by_role("button", name="Save again").click()
        self.saved(2)
        self.assertFalse(page.evaluate(guarded))
        self.errors = [e for e in self.errors if "ERR_FAILED" not in e]

    def test_a_server_that_has_gone_is_said_and_the_draft_is_kept(self):
        page = self.go(self.new_walker(), "stride")
        page.route("**/api/**", lambda route: route.abort())
        page.get_by_label("Lift", exact=True).fill("30")
        page.keyboard.press("Enter")
        expect(page.get_by_text("not saved: Bustle's server does not answer")).to_be_visible()
        expect(page.get_by_label("Lift", exact=True)).to_have_value("30")
        page.unroute("**/api/**")
        page.get_by_role("button", name="Save again").click()
        self.saved(2)
        self.errors = [e for e in self.errors if "ERR_FAILED" not in e]

    def test_a_walker_that_is_not_there(self):
        self.page.goto(f"{self.address}/walkers/987654/balance")
        expect(self.page.get_by_role("heading")).to_have_text("This walker cannot be opened")
        expect(self.page.get_by_text("There is no walker 987654")).to_be_visible()


class KeyboardAlone(BrowserTest):
    @in_turns
    def test_from_the_shelf_to_a_saved_change_without_a_pointer(self):
        walker = self.new_walker(name="Aaron's rod")
        page = self.page
        page.goto(self.address)
        link = page.get_by_role("link", name="Aaron's rod", exact=True)
        expect(link).to_be_visible()
        for _ in range(60):
            page.keyboard.press("Tab")
            if link.evaluate("e => e === document.activeElement"):
                break
        page.keyboard.press("Enter")
        expect(page.get_by_role("heading", name="Findings")).to_be_visible()
        page.keyboard.press("4")
        expect(page).to_have_url(re.compile("/stride"))
        page.keyboard.press("Control+k")
        expect(page.get_by_role("combobox", name="Find a command")).to_be_focused()
        page.keyboard.type("next leg")
        page.keyboard.press("Enter")
        expect(page).to_have_url(re.compile("leg=L2"))
        for _ in range(80):
            page.keyboard.press("Tab")
            if page.evaluate("document.activeElement.closest('[data-lever=lift]') !== null"):
                break
        page.keyboard.press("ArrowUp")
        self.saved(2)
        page.evaluate("document.activeElement.blur()")
        page.keyboard.press("Control+z")
        self.saved(3)
        self.assertEqual(self.project(walker)["motions"][0]["lift_mm"], 24.0)

    @in_turns
    def test_every_station_has_its_number_and_question_mark_lists_the_keys(self):
        page = self.go(self.new_walker(), "balance")
        stations = (
            "frame",
            "servos",
            "leg",
            "stride",
            "timing",
            "motions",
            "balance",
            "load",
            "compare",
            "table",
            "trials",
        )
        for key, station in zip("1234567890-", stations, strict=True):
            page.keyboard.press(key)
            expect(page).to_have_url(re.compile(f"/{station}"))
        page.keyboard.press("?")
        expect(page.get_by_role("dialog", name="Keys")).to_contain_text("Worst instant of the open finding")
        page.keyboard.press("Escape")
        expect(page.get_by_role("dialog")).to_have_count(0)

    @in_turns
    def test_keys_are_off_inside_fields(self):
        page = self.go(self.new_walker(), "stride")
        page.get_by_label("Lift", exact=True).focus()
        page.keyboard.type("25")
        expect(page).to_have_url(re.compile("/stride"))

    @in_turns
    def test_holding_b_ghosts_the_last_named_revision(self):
        walker = self.new_walker()
        self.api(f"/api/walkers/{walker}/revisions/1/name", {"name": "as built"}, method="PUT")
        page = self.go(walker, "stride")
        page.get_by_label("Lift", exact=True).fill("33")
        page.keyboard.press("Enter")
        self.saved(2)
        page.evaluate("document.activeElement.blur()")
        page.keyboard.down("b")
        expect(page.locator(".held")).to_contain_text("revision 1, as built")
        expect(page.locator(".held")).to_contain_text("lift, mm")
        expect(page.locator(".m-ghost").first).to_be_attached()
        page.keyboard.up("b")
        expect(page.locator(".held")).to_have_count(0)
        expect(page.locator(".m-ghost")).to_have_count(0)

    @in_turns
    def test_a_revision_is_named_compared_and_returned_to(self):
        walker = self.new_walker()
        page = self.go(walker, "stride")
        page.get_by_label("Lift", exact=True).fill("33")
        page.keyboard.press("Enter")
        self.saved(2)
        page.get_by_role("button", name=re.compile("saved, revision 2")).click()
        page.get_by_label("Name of revision 1").fill("first fit")
        page.keyboard.press("Enter")
        page.get_by_role("button", name="Compare revision 1 with now").click()
        expect(page.get_by_role("row", name=re.compile("Forward lift, mm"))).to_contain_text("33")
        page.get_by_role("button", name="Return to it revision 1").click()
        self.saved(3)
        self.assertEqual(self.project(walker)["motions"][0]["lift_mm"], 24.0)
        names = [r["name"] for r in self.api(f"/api/walkers/{walker}/revisions")["revisions"]]
        self.assertEqual(names, [None, None, "first fit"])

    @in_turns
    def test_motions_are_copied_renamed_and_removed(self):
        walker = self.new_walker()
        page = self.go(walker, "stride")
        page.get_by_role("button", name="Motion: Forward").click()
        page.get_by_role("button", name="Rename, copy, remove").click()
        page.get_by_role("button", name="Copy Forward").click()
        self.saved(2)
        page.get_by_label("Name of motion 2").fill("Slow")
        page.keyboard.press("Enter")
        self.saved(3)
        page.get_by_role("button", name="Remove Turn left").click()
        self.saved(4)
        self.assertEqual(
            [m["name"] for m in self.project(walker)["motions"]],
            [
                "Forward",
                "Slow",
                "Back",
                "Turn right",
                "Sideways left",
                "Sideways right",
                "Slowly",
                "Stand",
                "Start",
                "Stop",
            ],
        )


class Contrast(unittest.TestCase):
    """Text reaches 4.5:1 and marks 3:1 on what they lie on."""

    def colours(self):
        css = (ROOT / "ui" / "src" / "look" / "bustle.css").read_text()
        return dict(re.findall(r"--([a-z0-9-]+): (#[0-9a-f]{6})", css))

    def ratio(self, a, b):
        def light(colour):
            parts = [int(colour[k : k + 2], 16) / 255 for k in (1, 3, 5)]
            r, g, b_ = (p / 12.92 if p <= 0.03928 else ((p + 0.055) / 1.055) ** 2.4 for p in parts)
            return 0.2126 * r + 0.7152 * g + 0.0722 * b_

        high, low = sorted((light(a), light(b)), reverse=True)
        return (high + 0.05) / (low + 0.05)

    def test_palette(self):
        c = self.colours()
        for text, ground in (
            ("ink", "paper"),
            ("ink-2", "paper"),
            ("ink-2", "paper-2"),
            ("ink-2", "select"),
            ("brick", "paper"),
            ("marigold", "paper-2"),
            ("ochre", "paper"),
            ("lichen", "paper"),
            ("chalk", "mat"),
            ("marigold-mat", "mat"),
            ("brick-mat", "mat"),
        ):
            self.assertGreaterEqual(self.ratio(c[text], c[ground]), 4.5, f"{text} on {ground}")
        for mark, ground in (("marigold", "paper"), ("lichen", "paper-2"), ("ink", "lichen-band")):
            self.assertGreaterEqual(self.ratio(c[mark], c[ground]), 3.0, f"{mark} on {ground}")
