"""What servos draw of their supplies, and what comes of too small a one."""

from __future__ import annotations

import unittest

from bustle.core.document.checked import parse_project
from bustle.core.edits.patches import patched
from bustle.core.evaluate import evaluate
from bustle.core.loads.joint_torques import servo_loads, servo_speeds
from bustle.core.loads.supply_current import amperes, drawn
from bustle.core.project.project import document
from bustle.core.search.remedies import remedies
from tests.long import in_turns
from tests.projects import fault, start
from tests.seeded import SeededTest

PACK = {"name": "Pack", "full_v": 8.4, "empty_v": 6.6, "regulated_v": 6.0}


def fed(project, banks, **sheet):
    """The project with these supplies, and its servo's sheet so."""
    values = document(project)
    values["electrics"]["banks"] = banks
    values["servo_types"][0].update(sheet)
    return parse_project(values)


def told(project, motion, code="F04"):
    return [f for f in evaluate(project, motion).findings if f.code == code]


def figure(project, motion, name):
    return next((f.value for f in evaluate(project, motion).figures if f.name == name), None)


class WhatTheyDraw(SeededTest):
    @in_turns
    def test_it_gives_the_work_that_is_done_and_its_sheet_at_the_ends(self):
        """By the energy of it: at η·U·I a motor gives no less than the work it does on what it moves."""
        for shape in ("six_sprawled", "four_upright", "two_full"):
            length = float(self.random.uniform(120, 400))
            r = evaluate(fed(start(shape, "Fed", length), [PACK]), "Forward").reading
            loads, current = r.of(servo_loads), r.of(amperes)
            work = (loads.torque_nm * r.of(servo_speeds)).clip(min=0)
            self.assertTrue((current * 6.0 >= work).all(), f"{shape} {length}")
            self.assertLess(0.0, current.sum())

    def test_the_same_torque_takes_the_same_current_at_any_voltage(self):
        """Torque is in proportion to current, whatever turns the motor."""
        four = start("four_upright", "Fed", 200.0)
        sheet = {"stall_current_a": 4.0, "running_current_a": 1e-6, "idle_current_a": 1e-6}
        fed_at = [fed(four, [{**PACK, "regulated_v": volts}], **sheet) for volts in (5.0, 6.0)]
        at = [figure(project, "Stand", "current_most") for project in fed_at]
        self.assertAlmostEqual(at[0], at[1], places=3)

    def test_each_supply_carries_its_own(self):
        six = start("six_sprawled", "Fed", 200.0)
        left = [s.name for d in six.walker.drives for s in d.servos if s.name.startswith("L")]
        two = fed(six, [{**PACK, "name": "Left", "places": left}, {**PACK, "name": "Right"}])
        one = evaluate(fed(six, [PACK]), "Forward").reading.of(drawn)[0].amperes
        own = evaluate(two, "Forward").reading.of(drawn)
        self.assertEqual([len(d.of) for d in own], [9, 9])
        self.assertLess(abs(own[0].amperes + own[1].amperes - one).max(), 1e-9)
        self.assertLess(max(d.amperes.max() for d in own), one.max())

    def test_a_machine_without_a_supply_tells_what_to_buy_and_finds_no_fault(self):
        six = start("six_sprawled", "Fed", 200.0)
        self.assertAlmostEqual(
            figure(six, "Forward", "current_most"), figure(fed(six, [PACK]), "Forward", "current_most")
        )
        self.assertEqual(told(six, "Forward"), [])
        self.assertIsNone(figure(six, "Forward", "pack_lasts"))

    def test_a_pack_of_half_the_size_lasts_half_as_long(self):
        six = start("six_sprawled", "Fed", 200.0)
        full, half = (
            figure(fed(six, [{**PACK, "capacity_mah": mah}]), "Forward", "pack_lasts") for mah in (3000.0, 1500.0)
        )
        self.assertAlmostEqual(full, 2 * half)


class WhatGivesOut(unittest.TestCase):
    def mended(self, project, motion, finding):
        """Titles of the remedies, each seen to clear it."""
        found = remedies(project, motion, finding)
        for remedy in found:
            left = told(patched(project, remedy.patch), motion, finding.code)
            self.assertNotIn((finding.severity, finding.subject), [(f.severity, f.subject) for f in left], remedy.title)
        return [remedy.title for remedy in found]

    def test_a_regulator_that_gives_less_than_is_drawn(self):
        project, sound = fault("F04"), fault("F04", sound=True)
        found = told(project, "Forward")[0]
        self.assertEqual((found.severity, found.title), ("stop", "The supply gives out"))
        titles = self.mended(project, "Forward", found)
        self.assertTrue(any("regulator of" in t for t in titles), titles)
        self.assertTrue(any("slower" in t.lower() for t in titles), titles)
        self.assertEqual(told(sound, "Forward"), [])

    def test_little_left_in_a_regulator_warns(self):
        found = told(fed(start("six_sprawled", "Fed", 200.0), [{**PACK, "regulator_a": 7.5}]), "Forward")
        self.assertEqual([f.severity for f in found], ["warn"])

    def test_thin_leads_take_what_servos_need(self):
        six, bare = start("six_sprawled", "Fed", 200.0), {k: v for k, v in PACK.items() if k != "regulated_v"}
        thin, stout = (fed(six, [{**bare, "resistance_mohm": mohm}], least_v=4.8) for mohm in (600.0, 60.0))
        found = told(thin, "Forward")
        self.assertEqual([(f.severity, f.title) for f in found], [("stop", "The supply sags")])
        self.assertNotIn("assumed", found[0].message)
        self.assertEqual(told(stout, "Forward"), [])
        self.mended(thin, "Forward", found[0])

    def test_a_fuse_by_what_warms_it(self):
        six = start("six_sprawled", "Fed", 200.0)
        carried = figure(fed(six, [PACK]), "Forward", "current_mean")
        for share, severities in ((0.8, ["stop"]), (1.2, ["warn"]), (1.6, [])):
            found = told(fed(six, [{**PACK, "fuse_a": round(share * carried, 2)}]), "Forward")
            self.assertEqual([f.severity for f in found], severities, share)

    def test_servos_that_start_together_draw_more_than_is_given(self):
        six = start("six_sprawled", "Fed", 200.0)
        weak = fed(six, [{**PACK, "regulator_a": 10.0}], stall_current_a=4.0)
        found = told(weak, "Stand", "F43")
        self.assertEqual([(f.severity, f.value, f.limit) for f in found], [("warn", 12.0, 10.0)])
        self.assertEqual(self.mended(weak, "Stand", found[0]), ["Start 2 servos at a time, not 3"])
        self.assertEqual(told(fed(six, [{**PACK, "regulator_a": 12.5}], stall_current_a=4.0), "Stand", "F43"), [])


if __name__ == "__main__":
    unittest.main()
