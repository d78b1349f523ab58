"""What was measured, wired, seen and said of a limb goes with it: under another name, off again, at another size."""

from __future__ import annotations

import re

import numpy as np

from bustle.core.document.checked import parse_project
from bustle.core.edits.chain_joints import jointed, unjointed
from bustle.core.edits.limb_edits import copied, mirrored, relabelled, removed, renamed
from bustle.core.edits.mirroring import mirror_image
from bustle.core.edits.new_limbs import added, refitted
from bustle.core.edits.scaling import scaled
from bustle.core.evaluate import evaluate
from bustle.core.project.project import document
from bustle.core.servo.bench_cards import bench_cards
from bustle.core.servo.channel_map import unwired
from bustle.core.servo.first_evening import STEPS
from bustle.core.servo.fitted_servos import servos_at
from bustle.core.words.problems import InputRefused
from bustle.core.words.wording import number
from tests.projects import changed, hexapod, quadruped
from tests.seeded import SeededTest
from tests.servo.machines import on_boards


def said_of_everything(random):
    """A hexapod on the bench of which all is told that can be told of its places, limbs, joints and links."""
    values = document(on_boards(hexapod(), 2))
    limbs = [limb["name"] for limb in values["walker"]["limbs"]]
    places = [servo["name"] for drive in values["walker"]["drives"] for servo in drive["servos"]]
    electrics = values["electrics"]
    electrics["fitted"] = [{"place": p, "tooth": int(random.integers(-2, 3)), "trim_deg": 1.5} for p in places]
    electrics["seen"] = [
        {"place": p, "saw": "another", "instead": places[n - 1], "mended": True} for n, p in enumerate(places)
    ]
    electrics["rest_heights"] = [{"limb": name, "height_mm": float(random.uniform(40, 90))} for name in limbs]
    pack = {"chemistry": "lithium", "cells": 2, "full_v": 8.4, "empty_v": 6.4}
    electrics["banks"] = [
        {"name": "Fore", "places": places[:9], "regulated_v": 6.0, "fuse_a": 8.0, **pack},
        {"name": "Aft", "places": places[9:], **pack},
    ]
    walker = values["walker"]
    walker["as_built"]["limbs"] = [
        {
            "limb": name,
            "link_length_mm": {"femur": float(random.uniform(60, 80))},
            "joint_zero_deg": {"yaw": float(random.uniform(-3, 3)), "femur": float(random.uniform(-3, 3))},
            "joint_play_deg": {"tibia": 1.0},
        }
        for name in limbs
    ]
    for drive in walker["drives"]:
        limb, joint = drive["joints"][0].split("/")
        if joint == "tibia":
            drive["servos"][0]["sits_on"] = f"{limb}/femur"
    walker["folded"] = {
        "box_mm": [400.0, 400.0, 200.0],
        "joints": [{"limb": name, "joint": "yaw", "value": 10.0} for name in limbs],
    }
    walker["leads"] = [
        {"name": f"Lead {name}", "length_mm": 500.0, "path": [{"on": "body"}, {"on": f"{name}/femur"}]}
        for name in limbs
    ]
    walker["masses"] += [{"name": f"Clamp {n}", "mass_g": 4.0, "on": f"{name}/tibia"} for n, name in enumerate(limbs)]
    return parse_project(values)


def with_names(value, names):
    """The document with a limb's name, alone or before a joint, a link or a servo of it, put in another's place."""
    if isinstance(value, dict):
        return {key: with_names(v, names) for key, v in value.items()}
    if isinstance(value, list):
        return [with_names(v, names) for v in value]
    if isinstance(value, str):
        head = re.match(r"[A-Za-z0-9_]+", value)
        if head and head[0] in names and value[head.end() :][:1] in ("", "/", " "):
            return names[head[0]] + value[head.end() :]
    return value


class Said(SeededTest):
    def test_under_another_name_all_else_is_as_it_was(self):
        project = said_of_everything(self.random)
        names = {"L2": "Amber", "R3": "Birch"}
        new = renamed(project, names)
        self.assertEqual(document(new), with_names(document(project), names))
        self.assertEqual(renamed(new, {v: k for k, v in names.items()}), project)
        # Two that swap names do so at once.
        swapped = renamed(project, {"L1": "L3", "L3": "L1"})
        self.assertEqual(document(swapped), with_names(document(project), {"L1": "L3", "L3": "L1"}))
        self.assertEqual(unwired(swapped), [])

    def test_taken_off_it_is_named_nowhere_and_its_servos_are_spares(self):
        project = said_of_everything(self.random)
        gone = str(self.random.choice([limb.name for limb in project.walker.limbs]))
        less = removed(project, gone)
        text = repr(document(less)["electrics"]) + repr(document(less)["walker"])
        for mention in (f"'{gone}'", f"'{gone}/", f"'{gone} "):
            self.assertNotIn(mention, text)
        self.assertEqual(sum(item.place is None for item in less.electrics.items), 3)
        self.assertEqual(len(less.electrics.seen), len(project.electrics.seen) - 3)
        # What was seen to move in place of one that is gone is not known any more, and the rest is.
        self.assertEqual(sum(seen.instead is None for seen in less.electrics.seen), 1)
        self.assertEqual(sum(len(bank.places) for bank in less.electrics.banks), 15)
        evaluate(less, "Stand")

    def test_a_mirror_image_twice_is_the_machine_with_what_was_measured_of_it(self):
        project = said_of_everything(self.random)
        once = mirror_image(project)
        zero = {t.limb: t.joint_zero_deg for t in project.walker.as_built.limbs}
        other = {t.limb: t.joint_zero_deg for t in once.walker.as_built.limbs}
        for name, told in zero.items():
            # A yaw that was off to one side is off to the other; what lifts too high still does.
            self.assertAlmostEqual(abs(other[name]["yaw"]), abs(told["yaw"]), places=9)
            self.assertAlmostEqual(other[name]["femur"], told["femur"], places=9)
        again = mirror_image(once)
        self.assertEqual(again.walker.as_built, project.walker.as_built)
        r, twice = (evaluate(p, "Forward").reading for p in (project, again))
        np.testing.assert_allclose(twice.angles, r.angles, atol=1e-9)

    def test_at_another_size_and_back_again_its_angles_are_the_same(self):
        project = said_of_everything(self.random)
        factor = float(self.random.uniform(1.2, 1.8))
        larger = scaled(project, factor)
        told = {t.limb: t.link_length_mm["femur"] for t in project.walker.as_built.limbs}
        for truth in larger.walker.as_built.limbs:
            self.assertAlmostEqual(truth.link_length_mm["femur"] / told[truth.limb], factor, delta=0.01)
            self.assertEqual(truth.joint_zero_deg, project.walker.as_built.limbs[0].joint_zero_deg
                             if truth.limb == project.walker.limbs[0].name else truth.joint_zero_deg)  # fmt: skip
        back = scaled(larger, 1 / factor)
        one, two = (evaluate(p, "Forward").reading for p in (project, back))
        np.testing.assert_allclose(np.degrees(two.angles[0]), np.degrees(one.angles[0]), atol=0.5)

    def test_a_chain_s_joint_goes_with_what_was_said_of_it(self):
        project = jointed(added(hexapod(), "arm", "serial"), "arm1")
        arm = project.walker.limbs[-1]
        last, link = arm.joints[-1].name, arm.links[-1].name
        values = document(project)
        values["walker"]["as_built"]["limbs"] = [
            {
                "limb": arm.name, "link_length_mm": {k.name: 41.0 for k in arm.links},
                "joint_zero_deg": {j.name: 1.0 for j in arm.joints},
                "joint_play_deg": {j.name: 0.5 for j in arm.joints},
            }
        ]  # fmt: skip
        values["walker"]["masses"].append({"name": "Lamp", "mass_g": 20.0, "on": f"{arm.name}/{link}"})
        first = next(d for d in values["walker"]["drives"] if d["joints"] == [f"{arm.name}/{arm.joints[0].name}"])
        first["servos"][0]["sits_on"] = f"{arm.name}/{link}"
        less = unjointed(parse_project(values), arm.name, last)
        (truth,) = less.walker.as_built.limbs
        self.assertEqual({*truth.joint_zero_deg, *truth.joint_play_deg}, {j.name for j in arm.joints[:-1]})
        self.assertNotIn(link, truth.link_length_mm)
        self.assertNotIn(f"'{arm.name}/{link}'", repr(document(less)))
        # The lamp was not thrown away: it lies where the arm is fixed.
        (lamp,) = [m for m in less.walker.masses if m.name == "Lamp"]
        self.assertEqual((lamp.on, lamp.at_mm), (arm.section, arm.mount.at_mm))

    def test_what_cannot_be_done_says_with_what(self):
        project = added(hexapod(), "arm", "serial")
        for edit, words in (
            (lambda: unjointed(project, "arm1", "elbow"), "arm1 has turn, nod, and no 'elbow'"),
            (lambda: unjointed(project, "L1", "yaw"), "'L1' is no free chain"),
            (lambda: jointed(project, "wing"), "'wing' is no free chain"),
            (lambda: refitted(project, "wing", "upright_3", False), "no limb is called 'wing'"),
            (lambda: mirrored(project, "wing"), "no limb is called 'wing'"),
            (lambda: relabelled(renamed(project, {"arm1": "B"}), "round"), "B is the name of another limb"),
            (lambda: relabelled(copied(copied(project, "L1"), "R1"), "corners"), "three rows"),
        ):
            with self.subTest(words=words), self.assertRaisesRegex(InputRefused, words):
                edit()


class Cards(SeededTest):
    """Every step of the first evening, of a machine that is wired and one that is not."""

    def test_a_meter_s_cards_ask_for_what_each_supply_is_to_give(self):
        project = said_of_everything(self.random)
        cards = bench_cards(project, "meter")
        for bank in project.electrics.banks:
            own = {c.sentence: c.number for c in cards if bank.name in c.sentence}
            self.assertEqual(own[f"Measure {bank.name}, full"], f"{number(bank.full_v)} V")
            given = bank.regulated_v or bank.full_v
            self.assertEqual(own[f"{bank.name}: red to plus"], f"+{number(given)} V")
            self.assertEqual(f"{bank.name}: set the regulator" in own, bank.regulated_v is not None)
            self.assertEqual(own[f"{bank.name}: the fuse is in"], "8 A" if bank.fuse_a else "none said")
        self.assertTrue(all("fireproof" in c.about for c in cards if c.sentence.startswith("Measure")))
        self.assertIn("No stop switch is declared", {c.sentence for c in cards})

    def test_a_servo_on_no_channel_is_a_card_of_its_own(self):
        project = on_boards(quadruped(), 1)
        wires = document(project)["electrics"]["boards"][0]["wires"]
        cut = changed(project, {"electrics/boards/0/wires": wires[1:]})
        (loose,) = [c for c in bench_cards(cut, "map") if c.number == "none"]
        self.assertEqual(loose.sentence, f"{wires[0]['place']} is on no channel")
        self.assertEqual(len(servos_at(cut)), len([*bench_cards(cut, "map")]))

    def test_the_last_cards_fold_it_and_tell_what_it_does_without_its_radio(self):
        project = said_of_everything(self.random)
        safe = {"after_ms": 400, "finish_step": True, "effect": "pose"}
        project = changed(project, {"electrics/fail_safe": safe})
        cards = {c.sentence: c for c in bench_cards(project, "poses")}
        self.assertEqual(cards["Fold it, joint by joint"].number, "400 × 400 × 200 mm")
        (off,) = [c for do, c in cards.items() if do.startswith("Switch the transmitter off")]
        self.assertIn("finishes its step, then goes into", off.sentence)

    def test_every_step_has_cards_and_none_says_nothing(self):
        project = said_of_everything(self.random)
        for step in (s.name for s in STEPS):
            for card in bench_cards(project, step):
                self.assertTrue(card.sentence and card.about and card.number, step)
