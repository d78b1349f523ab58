"""Jobs of building at the Frame station: feet, drives, sections, limbs and free chains, and what they change."""

from __future__ import annotations

import math
import re
from itertools import pairwise

from playwright.sync_api import expect

from tests.browser.bench_test import BrowserTest
from tests.long import in_turns


class Building(BrowserTest):
    def figure(self, label):
        return self.page.locator(".figure", has_text=label).locator("dd button").first

    @in_turns
    def test_feet_get_soles_and_one_knee_turns_about(self):
        walker = self.new_walker("four_upright")
        page = self.go(walker, "frame", "leg=FL")
        page.get_by_label("Knee", exact=True).select_option("knee_back")
        self.saved(2)
        self.assertEqual({m["branch"] for m in self.project(walker)["walker"]["limbs"]}, {"knee_back"})
        page.get_by_label("Legs alike: others of its kind follow, mirrored").uncheck()
        page.get_by_label("Knee", exact=True).select_option("knee_forward")
        self.saved(3)
        limbs = self.project(walker)["walker"]["limbs"]
        self.assertEqual([m["branch"] for m in limbs if m["name"] == "FL"], ["knee_forward"])
        self.assertEqual({m["branch"] for m in limbs if m["name"] != "FL"}, {"knee_back"})
        page.get_by_role("button", name="Foot", exact=True).click()
        page.get_by_label("Sole").select_option(label="ball")
        self.saved(4)
        self.fill("FL, Radius", 12)
        self.saved(5)
        page.get_by_label("A second foot, to walk upside down").check()
        self.saved(6)
        # It is placed where it really is, from the end of the last link.
        self.fill("Second foot, From the end of the last link, up", 35)
        self.saved(7)
        feet = {m["name"]: m["feet"] for m in self.project(walker)["walker"]["limbs"]}
        self.assertEqual(feet["FL"][0]["sole"], {"kind": "ball", "radius_mm": 12.0})
        self.assertEqual([f["side"] for f in feet["FL"]], ["under", "upper"])
        self.assertEqual(feet["FL"][1]["at_mm"], [0.0, 0.0, 35.0])
        self.assertEqual({len(f) for n, f in feet.items() if n != "FL"}, {1})
        self.assertEqual({f[0]["sole"]["kind"] for n, f in feet.items() if n != "FL"}, {"point"})

    @in_turns
    def test_a_cable_that_pulls_it_round_is_told_and_hung_on_the_middle_line(self):
        walker = self.new_walker()
        page = self.go(walker, "frame")
        page.get_by_role("button", name="Frame", exact=True).click()
        page.get_by_role("button", name="Drags").click()
        page.get_by_role("button", name="Add what drags").click()
        self.fill("Drag 1, Pulls back with", 9)
        grip = page.locator("[data-grip=drag-0]")
        grip.focus()
        for _ in range(15):
            page.keyboard.press("Shift+ArrowLeft")
        page.get_by_role("link", name=re.compile("^Stride")).click()
        page.get_by_text("Drag 1 pulls it round").click()
        page.get_by_role("button", name="Keep: Hang Drag 1 on the middle line").click()
        expect(page.get_by_text("Drag 1 pulls it round")).to_have_count(0)
        expect(page.get_by_role("button", name=re.compile("^saved, revision"))).to_be_visible()
        (drag,) = self.project(walker)["walker"]["drags"]
        self.assertEqual((drag["pull_n"], drag["at_mm"][1]), (9, 0))

    @in_turns
    def test_a_geared_knee_with_a_sprung_horn(self):
        walker = self.new_walker()
        page = self.go(walker, "frame", "leg=L2")
        page.get_by_role("button", name="Servos", exact=True).click()
        page.get_by_label("Legs alike: others of its kind follow, mirrored").uncheck()
        knee = page.get_by_role("group", name="L2 tibia", exact=True)
        knee.get_by_label("Driven by").select_option(label="Gear")
        self.saved(2)
        self.fill("L2 tibia, Servo turns per joint turn", 6)
        # Six turns of the servo for one of the knee: it wants more travel than it has.
        expect(page.locator(".findings")).to_contain_text("travel")
        self.saved(3)
        self.fill("L2 tibia, Servo turns per joint turn", 1)
        expect(page.locator(".findings")).not_to_contain_text("travel")
        self.saved(4)
        knee.get_by_role("button", name="Set: Horn stiffness").click()
        stiffness = knee.get_by_label("L2 tibia, Horn stiffness", exact=True)
        stiffness.fill("0.05")
        stiffness.press("Enter")
        self.saved(5)
        page.get_by_role("link", name=re.compile("^Leg")).click()
        expect(page.get_by_text("Sprung horns: each newton up on the foot moves it")).to_be_visible()
        page.get_by_role("button", name="L1", exact=True).click()
        expect(page.locator(".joint-table")).to_contain_text("short of straight")
        expect(page.get_by_text("Sprung horns:")).to_have_count(0)

    @in_turns
    def test_one_servo_for_two_legs(self):
        walker = self.new_walker()
        page = self.go(walker, "frame", "leg=L2")
        before = len([s for d in self.project(walker)["walker"]["drives"] for s in d["servos"]])
        page.get_by_role("button", name="Servos", exact=True).click()
        page.get_by_label("Tie two joints").select_option(label="L2 yaw and R2 yaw on one servo, mirrored")
        expect(page.get_by_role("group", name="L2 yaw and R2 yaw")).to_be_visible()
        self.saved(2)
        drives = self.project(walker)["walker"]["drives"]
        self.assertEqual(len([s for d in drives for s in d["servos"]]), before - 1)
        page.get_by_role("button", name="Undo").click()
        expect(page.get_by_role("group", name="L2 yaw and R2 yaw")).to_have_count(0)
        expect(page.get_by_role("group", name="L2 yaw", exact=True)).to_be_visible()

    @in_turns
    def test_a_rod_to_one_knee_is_a_rod_to_every_knee_until_they_are_untied(self):
        walker = self.new_walker("four_upright_2")
        page = self.go(walker, "frame", "leg=FL")
        page.get_by_role("button", name="Servos", exact=True).click()
        page.get_by_label("Tie two joints").select_option(label="FL knee by a parallel rod from beside FL pitch")
        self.saved(2)
        self.assertEqual({d["kind"] for d in self.project(walker)["walker"]["drives"]}, {"parallel_rod"})
        page.get_by_role("button", name="Untie: a servo each").click()
        self.saved(3)
        self.assertEqual([d["kind"] for d in self.project(walker)["walker"]["drives"]], ["direct"] * 8)

    @in_turns
    def test_the_hind_legs_go_on_to_a_new_section_and_one_pair_comes_back(self):
        walker = self.new_walker("four_sprawled")
        page = self.go(walker, "frame", "leg=FL")
        page.get_by_role("button", name="Frame", exact=True).click()
        page.get_by_label("Add a section").select_option(label="that bends left and right (yaw)")
        self.saved(2)
        page.get_by_role("button", name="Hang BL and BR on it").click()
        self.saved(3)
        expect(page.get_by_role("button", name="Hang BL and BR on it")).to_have_count(0)
        project = self.project(walker)["walker"]
        self.assertEqual([m["section"] for m in project["limbs"]], ["body", "body", "back", "back"])
        long = project["sections"][1]["size_mm"][0]
        self.assertAlmostEqual(project["limbs"][2]["mount"]["at_mm"][0], -long / 2, delta=1.0)
        page.get_by_role("button", name="BR", exact=True).click()
        page.get_by_label("Hangs on").select_option("body")
        self.saved(4)
        self.assertEqual({m["section"] for m in self.project(walker)["walker"]["limbs"]}, {"body"})

    @in_turns
    def test_a_section_behind_a_head_and_a_caster(self):
        walker = self.new_walker("four_upright")
        page = self.go(walker, "frame", "leg=FL")
        page.get_by_role("button", name="Frame", exact=True).click()
        page.get_by_label("Add a section").select_option(label="that bends left and right (yaw)")
        self.saved(2)
        for number, kind in ((3, "caster"), (4, "head or arm")):
            page.get_by_role("button", name="Add a limb").click()
            page.get_by_role("button", name=re.compile(f"^{kind}")).click()
            self.saved(number)
        expect(page.locator(".rail-nav")).to_contain_text("4 legs")
        project = self.project(walker)["walker"]
        self.assertEqual(len(project["sections"]), 2)
        self.assertEqual(len(project["limbs"]), 6)
        # What is put on weighs something, for its size.
        self.assertGreater(sum(m["mass_g"] for m in project["masses"] if m["on"] == project["sections"][1]["name"]), 0)
        section = project["sections"][1]["name"]
        page.get_by_role("button", name="BL", exact=True).click()
        page.get_by_label("Legs alike: others of its kind follow, mirrored").uncheck()
        page.get_by_label("Hangs on").select_option(section)
        self.saved(5)
        page.get_by_role("button", name="Frame", exact=True).click()
        page.get_by_label("Section", exact=True).select_option(label=section)
        self.fill("Bent in Forward", 20)
        self.saved(6)
        saved = self.project(walker)
        self.assertEqual([m["section"] for m in saved["walker"]["limbs"] if m["name"] == "BL"], [section])
        self.assertEqual(saved["motions"][0]["pose"]["bends"], [{"section": section, "angle_deg": 20.0}])
        page.get_by_label("Held sideways by").select_option("boom")
        self.saved(7)
        self.assertEqual(self.project(walker)["walker"]["held"], "boom")
        # Where it hangs can be typed.
        self.fill(f"{section}, Hinge, from the middle of what it hangs on, forward", -95)
        self.saved(8)
        self.fill(f"{section}, Middle, from the hinge, up", 12)
        self.saved(9)
        placed = self.project(walker)["walker"]["sections"][1]["hinge"]
        self.assertEqual((placed["at_mm"][0], placed["to_mm"][2]), (-95.0, 12.0))

    @in_turns
    def test_legs_round_a_circle_and_another_family(self):
        walker = self.new_walker("six_two_radial")
        first, *others = [m["name"] for m in self.project(walker)["walker"]["limbs"]]
        page = self.go(walker, "frame", f"leg={first}")
        for left, name in zip((5, 4, 3, 2), others[:-1], strict=True):
            page.get_by_role("button", name=name, exact=True).click()
            page.get_by_role("button", name=f"Remove {name}").click()
            expect(page.locator(".rail-nav")).to_contain_text(f"{left} legs")
            self.saved(7 - left)
        page.get_by_role("button", name=others[-1], exact=True).click()
        page.get_by_role("button", name=f"Remove {others[-1]}").click()
        expect(page.get_by_role("alert")).to_contain_text("a walker has 2 to 12 legs that step")
        page.get_by_role("button", name=first, exact=True).click()
        self.fill("Round the middle, in all", 8)
        page.get_by_role("button", name=f"Set {first} round").click()
        expect(page.locator(".rail-nav")).to_contain_text("8 legs")
        self.saved(6)
        mounts = [m["mount"] for m in self.project(walker)["walker"]["limbs"]]
        radii = {round(math.hypot(*m["at_mm"][:2]), 1) for m in mounts}
        self.assertEqual(len(radii), 1)
        turns = sorted(m["yaw_deg"] % 360 for m in mounts)
        self.assertEqual([round(b - a, 6) for a, b in pairwise(turns)], [45.0] * 7)
        page.get_by_role("button", name="Frame", exact=True).click()
        page.get_by_label("Name legs by").select_option(index=1)
        self.saved(7)
        names = [m["name"] for m in self.project(walker)["walker"]["limbs"]]
        self.assertEqual(len(set(names)), 8)

    @in_turns
    def test_legs_become_chains_and_get_a_joint_more_all_alike(self):
        walker = self.new_walker("four_sprawled")
        page = self.go(walker, "frame", "leg=FL")
        mass = page.locator(".rail-nav a", has_text="Frame")
        weighs = mass.inner_text()
        page.get_by_label("Kind", exact=True).select_option(label="free chain")
        self.saved(2)
        # As long and as heavy as it was.
        expect(mass).to_have_text(re.compile(re.escape(weighs.splitlines()[1])))
        page.get_by_role("button", name="Joints", exact=True).click()
        page.get_by_role("button", name="Add a joint at its end").click()
        self.saved(3)
        limbs = self.project(walker)["walker"]["limbs"]
        self.assertEqual([len(m["joints"]) for m in limbs], [4] * 4)
        expect(page.locator(".rail-nav a", has_text="Servos")).to_contain_text("of 16 checked")
        # The way to the next joint has to be told: nothing takes it away.
        expect(page.get_by_role("button", name=re.compile("to the next joint"))).to_have_count(0)
        page.get_by_role("button", name=f"Remove {limbs[0]['joints'][-1]['name']}").click()
        self.saved(4)
        self.assertEqual([len(m["joints"]) for m in self.project(walker)["walker"]["limbs"]], [3] * 4)
        # They are called what the builder calls them, on all four, and their servos with them.
        first = page.get_by_label(f"Name of the joint {limbs[0]['joints'][0]['name']}")
        first.fill(limbs[0]["joints"][1]["name"])
        first.press("Enter")
        expect(page.get_by_role("alert")).to_contain_text("FL has another joint that is called")
        first.fill("hip yaw")
        first.press("Enter")
        self.saved(5)
        expect(page.get_by_role("alert")).to_have_count(0)
        walker_now = self.project(walker)["walker"]
        self.assertEqual([m["joints"][0]["name"] for m in walker_now["limbs"]], ["hip_yaw"] * 4)
        self.assertIn("BR hip_yaw", {s["name"] for d in walker_now["drives"] for s in d["servos"]})
        # One more goes in where the femur turns, and nothing else moves.
        page.get_by_role("button", name="A joint behind hip_yaw").click()
        self.saved(6)
        longer = self.project(walker)["walker"]["limbs"]
        self.assertEqual([len(m["joints"]) for m in longer], [4] * 4)
        self.assertEqual([k["offset_mm"] for k in longer[3]["links"] if k["length_mm"]],
                         [k["offset_mm"] for k in walker_now["limbs"][3]["links"]])  # fmt: skip
        page.get_by_label(f"Axis of {longer[0]['joints'][1]['name']}").select_option(label="forward")
        self.saved(7)
        axes = [m["joints"][1]["axis"] for m in self.project(walker)["walker"]["limbs"]]
        self.assertEqual({abs(axis[0]) for axis in axes}, {1.0})

    @in_turns
    def test_a_leg_is_mirrored_on_to_one_of_another_kind(self):
        walker = self.new_walker("four_upright")
        page = self.go(walker, "frame", "leg=FL")
        shank = page.get_by_label(re.compile("^Shank"))
        length = shank.input_value()
        page.get_by_label("Legs alike").uncheck()
        page.get_by_label("Kind", exact=True).select_option(label="upright, two joints")
        self.saved(2)
        # Its links are as they were measured.
        expect(shank).to_have_value(length)
        page.get_by_role("button", name="Mirror FL").click()
        self.saved(3)
        kinds = [m["family"] for m in self.project(walker)["walker"]["limbs"]]
        self.assertEqual(sorted(kinds), ["upright_2"] * 2 + ["upright_3"] * 2)
        expect(page.locator(".rail-nav a", has_text="Servos")).to_contain_text("of 10 checked")

    @in_turns
    def test_a_lead_is_measured_and_prices_carry_their_currency(self):
        walker = self.new_walker()
        page = self.go(walker, "frame", "leg=L1")
        page.get_by_role("button", name="Frame", exact=True).click()
        page.get_by_role("button", name="Leads", exact=True).click()
        page.get_by_label("Add a lead to").select_option(index=3)
        self.saved(2)
        lead = self.project(walker)["walker"]["leads"][0]["name"]
        self.fill(lead, 40)
        expect(page.locator(".findings")).to_contain_text(re.compile("[Ll]ead"))
        self.fill(lead, 600)
        expect(page.locator(".findings")).not_to_contain_text(re.compile("[Ll]ead"))
        page.get_by_role("button", name="Body", exact=True).click()
        page.get_by_label("Prices in").fill("crowns")
        page.get_by_label("Prices in").blur()
        expect(page.locator(".ledger-row", has_text="Price")).to_contain_text("crowns")

    @in_turns
    def test_the_bench_stays_put_while_its_controls_scroll(self):
        walker = self.new_walker()
        for station in ("frame", "leg", "stride", "timing", "balance", "compare", "table", "trials"):
            page = self.go(walker, station)
            over = page.evaluate("document.scrollingElement.scrollHeight - window.innerHeight")
            self.assertLessEqual(over, 0, station)

    @in_turns
    def test_a_walker_without_a_motion_is_stood_up(self):
        project = self.project(self.new_walker("four_sprawled"))
        walker = self.kept({"project": {**project, "name": "Bare", "motions": []}})
        page = self.page
        page.goto(f"{self.address}/walkers/{walker}/frame")
        page.get_by_role("button", name="Let it stand").click()
        self.saved(2)
        expect(page.locator(".main-view .m-leg").first).to_be_visible()
        stand = self.project(walker)["motions"]
        self.assertEqual([(m["name"], len(m["legs"])) for m in stand], [("Stand", 4)])

    @in_turns
    def test_what_is_pointed_at_is_what_the_column_shows(self):
        walker = self.new_walker("four_upright")
        page = self.go(walker, "frame", "leg=FL")
        column = page.get_by_role("region", name="Frame controls")
        foot = page.locator('.main-view [data-leg="1"] .m-foot')
        foot.dispatch_event("pointerdown")
        expect(column.get_by_label("FR, Sole")).to_be_visible()
        page.locator('.main-view [data-leg="2"] .m-joint').nth(1).dispatch_event("pointerdown")
        expect(column.get_by_text("End stops")).to_be_visible()
        expect(column.get_by_role("button", name="BL", exact=True)).to_have_attribute("aria-pressed", "true")
        page.locator(".main-view .m-frame").first.dispatch_event("pointerdown")
        expect(column.get_by_label("Long", exact=True)).to_be_visible()
        page.locator('[data-grip="mass-1"]').dispatch_event("pointerdown", {"pointerId": 1})
        expect(column.get_by_label("Battery, Weight", exact=True)).to_be_visible()

    @in_turns
    def test_servos_and_leads_are_on_the_drawing_and_picked_there(self):
        walker = self.new_walker("four_sprawled", "Leads", 180.0)
        project = self.project(walker)
        way = [{"on": "body"}, {"on": "BL/coxa"}, {"on": "BL/femur"}]
        project["walker"]["leads"] = [{"name": n, "length_mm": 300.0, "path": way} for n in ("One lead", "BL lead")]
        self.api(f"/api/walkers/{walker}/revisions", {"parent": 1, "project": project})
        page = self.go(walker, "frame", "leg=FL")
        page.locator(".m-carried rect", has_text="FR femur").click()
        expect(page.get_by_role("button", name="Servos", exact=True)).to_have_attribute("aria-pressed", "true")
        expect(page.get_by_role("group", name="FR femur", exact=True)).to_be_visible()
        lead = page.locator(".m-carried polyline", has_text="BL lead")
        lead.dispatch_event("pointerdown")
        expect(page.locator(".picked-lead")).to_contain_text("BL lead")

    def test_edits_quicker_than_their_answers_are_all_made(self):
        walker = self.new_walker("four_sprawled", "Quick", 180.0)
        page = self.go(walker, "frame", "leg=FL")
        copy = page.get_by_role("button", name="Copy FL")
        copy.evaluate("button => { button.click(); button.click(); button.click(); }")
        expect(page.get_by_role("link", name=re.compile("^Frame"))).to_contain_text("7 legs")

    @in_turns
    def test_a_plus_on_the_edge_adds_a_leg_there(self):
        walker = self.new_walker("four_sprawled")
        page = self.go(walker, "frame", "leg=FL")
        expect(page.locator(".m-edge-plus path").first).to_be_attached()
        frame = page.locator(".main-view .m-frame").first.bounding_box()
        x, y = frame["x"] + 2, frame["y"] + 0.35 * frame["height"]
        page.mouse.move(x, y)
        page.mouse.move(x + 1, y)
        expect(page.locator(".m-edge-plus .plus")).to_be_visible()
        page.mouse.click(x + 1, y)
        page.get_by_role("button", name=re.compile("^sprawled Hip yaw, femur")).click()
        self.saved(2)
        leg = self.project(walker)["walker"]["limbs"][-1]
        long, wide, _ = self.project(walker)["walker"]["sections"][0]["size_mm"]
        self.assertAlmostEqual(leg["mount"]["at_mm"][1], wide / 2, delta=1.0)
        self.assertAlmostEqual(leg["mount"]["at_mm"][0], 0.15 * long, delta=3.0)

    @in_turns
    def test_the_machine_is_scaled_with_its_figures_told_first(self):
        walker = self.new_walker()
        page = self.go(walker, "frame", "leg=L1")
        page.get_by_role("button", name="Frame", exact=True).click()
        self.fill("Times", 2)
        page.get_by_role("button", name="Try it").click()
        expect(page.locator(".scale .figures")).to_contain_text("→")
        page.get_by_role("button", name="Keep this size").click()
        self.saved(2)
        links = self.project(walker)["walker"]["limbs"][0]["links"]
        self.assertEqual([k["length_mm"] for k in links], [88.0, 120.0, 192.0])

    @in_turns
    def test_a_sole_typed_on_one_leg_is_every_legs(self):
        walker = self.new_walker("four_upright")
        page = self.go(walker, "frame", "leg=BR")
        page.get_by_role("button", name="Foot", exact=True).click()
        page.get_by_label("BR, Sole").select_option(label="straight edge or blade")
        self.saved(2)
        self.fill("BR, heading", 20)
        self.saved(3)
        soles = {m["name"]: m["feet"][0]["sole"] for m in self.project(walker)["walker"]["limbs"]}
        self.assertEqual({n: s["heading_deg"] for n, s in soles.items()}, {"BR": 20, "FR": 20, "BL": -20, "FL": -20})
