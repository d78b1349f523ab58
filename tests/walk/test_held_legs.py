"""Legs that take no part while others walk, the way between two sets of walking legs, and wheels that are steered."""

from __future__ import annotations

import numpy as np

from bustle.core.document.checked import parse_project
from bustle.core.edits.limb_edits import mirrored, removed, renamed
from bustle.core.evaluate import evaluate
from bustle.core.judge.measures.belly_clearance import belly
from bustle.core.judge.measures.feet.foot_slip import scrub_mm
from bustle.core.project.project import document
from bustle.core.words.problems import InputRefused
from tests.projects import changed, hexapod, start
from tests.seeded import SeededTest

FOLDED = (("yaw", 0.0), ("femur", 60.0), ("tibia", -110.0))


def on_four(femur_deg=60.0):
    """A walker of six legs with a creep on its corners, the middle pair held; and the ways there and back."""
    values = document(hexapod())
    walk = dict(next(m for m in values["motions"] if m["name"] == "Forward"))
    order = {"L1": 0.0, "R3": 0.25, "R1": 0.5, "L3": 0.75}
    walk |= {
        "name": "On four", "gait": "custom", "cycle_s": 2.0, "twist": {"vx_mm_s": 15.0},
        "legs": [{**leg, "phase": order[leg["limb"]], "duty": 0.85} for leg in walk["legs"] if leg["limb"] in order],
        "held": [{"limb": "L2"}, {"limb": "R2"}],
        "joints": [
            {"limb": limb, "joint": joint, "value": femur_deg if joint == "femur" else value}
            for limb in ("L2", "R2") for joint, value in FOLDED
        ],
    }  # fmt: skip
    ways = [
        {"kind": "transition", "name": name, "start": {"motion": a}, "end": {"motion": b}}
        for name, a, b in (("To four", "Forward", "On four"), ("To six", "On four", "Forward"))
    ]
    row = {"kind": "programme", "name": "Both", "parts": [{"motion": m} for m in ("Forward", "On four", "Stand")]}
    values["motions"] += [walk, *ways, row]
    return parse_project(values)


def steered():
    """Two legs and two wheels, each wheel on a fork that a servo turns."""
    values = document(start("two_wheels", "Steers", 220.0))
    walker = values["walker"]
    for limb in walker["limbs"]:
        if limb["name"] in ("WL", "WR"):
            limb |= {
                "family": "serial", "branch": "as_near_as_it_gets",
                "joints": [{"name": "steer", "min_deg": -90.0, "max_deg": 90.0, "axis": [0.0, 0.0, 1.0]}],
                "links": [{"name": "fork", "length_mm": 20.0, "offset_mm": [0.0, 0.0, -20.0], "mass_g": 5.0}],
            }  # fmt: skip
            limb["mount"]["at_mm"][2] += 20.0
            limb["feet"][0]["contact"]["steered"] = True
            servo = {"name": f"{limb['name']} steer", "type": values["servo_types"][0]["name"], "centre_deg": 0.0}
            walker["drives"].append({"kind": "direct", "joints": [f"{limb['name']}/steer"], "servos": [servo]})
    arc = {**next(m for m in values["motions"] if m["name"] == "Forward"), "name": "Arc"}
    values["motions"] += [
        arc, {"kind": "transition", "name": "Into arc", "start": {"motion": "Stand"}, "end": {"motion": "Arc"}},
    ]  # fmt: skip
    return parse_project(values)


class HeldLegs(SeededTest):
    def test_they_stay_where_they_are_held_and_count_for_mass(self):
        project = on_four()
        r = evaluate(project, "On four").reading
        columns = [n for n, j in enumerate(r.kit.joints) if j.limb.name in ("L2", "R2")]
        np.testing.assert_allclose(np.degrees(r.angles[:, columns]), [[v for _, v in FOLDED * 2]] * r.samples)
        held = [n for n, limb in enumerate(project.walker.limbs) if limb.name in ("L2", "R2")]
        self.assertFalse(r.course.contact[held].any())
        out = evaluate(on_four(0.0), "On four").reading
        # Legs put out instead of folded carry their masses out and down.
        self.assertGreater(r.course.com_body_mm[0, 2], out.course.com_body_mm[0, 2] + 1.0)

    def test_a_leg_held_too_low_grounds_and_two_held_into_each_other_collide(self):
        low = evaluate(on_four(-35.0), "On four")
        self.assertIn("F46", {f.code for f in low.findings})
        self.assertIn(low.reading.of(belly)[2], ("L2", "R2"))
        self.assertNotIn("F46", {f.code for f in evaluate(on_four(), "On four").findings})
        n = next(n for n, m in enumerate(on_four().motions) if m.name == "On four")
        swung = changed(on_four(20.0), {f"motions/{n}/joints/0/value": 55.0, f"motions/{n}/joints/2/value": -60.0})
        self.assertIn("F16", {f.code for f in evaluate(swung, "On four").findings})
        self.assertNotIn("F16", {f.code for f in evaluate(on_four(), "On four").findings})

    def test_from_one_set_of_legs_to_another_it_goes_through_a_stand(self):
        project = on_four()
        for name, pieces in (("To four", "Legs up"), ("To six", "Legs down"), ("Both", "Legs up")):
            r = evaluate(project, name).reading
            self.assertIn(pieces, [piece.name for piece in r.score.pieces])
            self.assertLess(np.degrees(np.abs(np.diff(r.angles, axis=0)).max()), 10.0)
            begins = next(p.start_s for p in r.score.pieces if p.name == pieces)
            row = round((begins if pieces == "Legs up" else begins + 1.0) / r.row_s)
            legs = [n for n, limb in enumerate(project.walker.limbs) if limb.steps]
            np.testing.assert_allclose(r.course.feet_ground_mm[legs, row, 2], 0.0, atol=0.05)

    def test_they_are_renamed_taken_away_and_mirrored_with_the_rest(self):
        project = on_four()
        walk = renamed(project, {"L2": "Boom"}).motion("On four")
        self.assertEqual({h.limb for h in walk.held}, {"Boom", "R2"})
        self.assertEqual({h.limb for h in removed(project, "L2").motion("On four").held}, {"R2"})
        odd = changed(project, {"walker/limbs/1/mount/yaw_deg": 80.0})
        self.assertEqual({h.limb for h in mirrored(odd, "L2").motion("On four").held}, {"L2", "R2"})

    def test_what_does_not_fit_is_named(self):
        values = document(on_four())
        walk = next(m for m in values["motions"] if m["name"] == "On four")
        every = [{"limb": m["name"]} for m in values["walker"]["limbs"]]
        for edit, said in (
            ({"held": [{"limb": "L2"}]}, "leg R2 has no phase and duty"),
            ({"held": [{"limb": "L2"}, {"limb": "R2"}, {"limb": "L1"}]}, "held and has a phase"),
            ({"held": [{"limb": "L2"}, {"limb": "R2"}, {"limb": "L2"}]}, "held twice"),
            ({"held": [{"limb": "L2"}, {"limb": "R2"}, {"limb": "Q"}]}, "no leg of this walker"),
            ({"held": every, "legs": []}, "no feet are down"),
        ):
            with self.subTest(said=said), self.assertRaisesRegex(InputRefused, said):
                parse_project({**values, "motions": [{**walk, **edit}]})


class Steering(SeededTest):
    def test_steered_wheels_roll_where_the_body_takes_them(self):
        """On any arc none is dragged across its way, but for what a row's straight step leaves."""
        project = steered()
        n = next(n for n, m in enumerate(project.motions) if m.name == "Arc")
        twist = {"vx_mm_s": float(self.random.uniform(-30, 30)), "vy_mm_s": 0.0,
                 "omega_deg_s": float(self.random.uniform(3, 9))}  # fmt: skip
        arc = changed(project, {f"motions/{n}/twist": twist})
        r = evaluate(arc, "Arc").reading
        way = float(np.hypot(*np.diff(np.stack(r.course.body.travel[:2])[:, : r.samples], axis=1)).sum())
        with self.subTest(twist=twist, seed=self.seed):
            self.assertLess(r.of(scrub_mm).max(), 0.01 * way + 0.3)

    def test_an_unsteered_wheel_on_the_same_arc_is_dragged_and_told_for_each_metre(self):
        project = start("two_wheels", "Plain", 220.0)
        arc = changed(project, {"motions/0/twist/omega_deg_s": 6.0})
        found = [f.message for f in evaluate(arc, "Forward").findings if f.title == "Wheels dragged sideways"]
        r = evaluate(arc, "Forward").reading
        if r.of(scrub_mm).max() > project.limits.slip_mm:
            self.assertIn("for each metre", found[0])
        else:
            self.assertFalse(found)

    def test_they_are_turned_before_the_walk_begins(self):
        project = steered()
        n = next(n for n, m in enumerate(project.motions) if m.name == "Arc")
        arc = changed(project, {f"motions/{n}/twist/omega_deg_s": 8.0})
        r = evaluate(arc, "Into arc").reading
        self.assertIn("Wheels turn", [piece.name for piece in r.score.pieces])
        own = [n for n, j in enumerate(r.kit.joints) if j.name == "steer"]
        self.assertLess(np.degrees(np.abs(np.diff(r.angles[:, own], axis=0)).max()), 5.0)
        np.testing.assert_allclose(r.angles[0, own], 0.0)
        np.testing.assert_allclose(r.angles[-1, own], evaluate(arc, "Arc").reading.angles[0, own])

    def test_a_wheel_that_cannot_be_steered_is_named(self):
        project = steered()
        wheel = next(n for n, m in enumerate(project.walker.limbs) if m.name == "WL")
        for field, value in (("joints/0/axis", [0.0, 1.0, 0.0]), ("feet/0/contact/any_way", True)):
            with self.subTest(field=field), self.assertRaisesRegex(InputRefused, "steer"):
                changed(project, {f"walker/limbs/{wheel}/{field}": value})
