"""What no single field of the electrics can see, each told at its field; and the evening's cards with their numbers."""

from __future__ import annotations

import copy

from bustle.core.document.checked import parse_project
from bustle.core.edits.patches import patched
from bustle.core.evaluate import evaluate
from bustle.core.project.project import document
from bustle.core.servo.bench_cards import bench_cards
from bustle.core.servo.fitted_servos import servos_at
from bustle.core.trials.ten_minutes import taken
from bustle.core.words.problems import InputRefused
from tests.projects import changed, demo, hexapod, start
from tests.seeded import SeededTest

# What is set, and what is said of it: the walker has 18 servos on two boards of 16 channels, one pack, two inputs.
FAULTS = (
    ("electrics/items/0/type", "Nobody's", "electrics.items[0].type: \"Nobody's\" is not among servo_types"),
    ("electrics/items/0/place", "L9 yaw", "electrics.items[0].place: 'L9 yaw' is no servo of this walker"),
    ("electrics/items/1/place", "L1 yaw", "electrics.items[1].place: servo 1 sits in L1 yaw already"),
    ("electrics/items/1/name", "1", "electrics.items[1].name: two servos are called '1'; each needs its own name"),
    ("electrics/items/0/readings/1/horn_deg", -40.0, "the angle -40° was read before"),
    ("electrics/fitted/0/place", "Nose", "electrics.fitted[0].place: 'Nose' is no servo of this walker"),
    ("electrics/fitted/1/place", "L1 yaw", "electrics.fitted[1].place: L1 yaw is listed before"),
    ("electrics/seen/1/place", "L1 yaw", "electrics.seen[1].place: L1 yaw is listed before"),
    ("electrics/seen/0/instead", "Nose", "electrics.seen[0].instead: 'Nose' is no other servo of this walker"),
    ("electrics/seen/0/instead", "L1 yaw", "electrics.seen[0].instead: 'L1 yaw' is no other servo of this walker"),
    ("electrics/boards/1/name", "front BOARD", "boards[1].name: two boards are called 'front BOARD'"),
    ("electrics/boards/1/address", 64, "electrics.boards[1].address: Front board has address 64 already"),
    ("electrics/boards/0/channels", 15, "wires[15].channel: Front board has channels 0 to 14, got 15"),
    ("electrics/boards/0/wires/1/channel", 0, "channel 0 of Front board is L1 yaw's already"),
    ("electrics/boards/0/wires/1/place", "Nose", "boards[0].wires[1].place: 'Nose' is no servo of this walker"),
    ("electrics/boards/0/wires/1/place", "L1 yaw", "L1 yaw is wired to Front board, channel 0 already"),
    ("electrics/boards/0/oscillator_hz", 100_000_000.0, "1e+08 Hz at this rate come to a prescaler of 487"),
    ("electrics/banks/0/empty_v", 8.4, "electrics.banks[0].empty_v: must be below full_v, 8.4, got 8.4"),
    ("electrics/banks/0/places", ["Nose"], "electrics.banks[0].places[0]: 'Nose' is no servo of this walker"),
    ("electrics/signals/0/board", "Back board", "electrics.signals[0].board: 'Back board' is no board of this machine"),
    ("electrics/signals/1/name", "pack VOLTAGE", "two inputs or lamps are called 'pack VOLTAGE'"),
    ("servo_types/0/pulse_low_us", 1500.0, "servo_types[0].pulse_low_us: must be below middle_us, 1500, got 1500"),
    ("servo_types/0/pulse_high_us", 1400.0, "servo_types[0].pulse_high_us: must be above middle_us, 1500, got 1400"),
    ("servo_types/0/most_v", 4.5, "servo_types[0].most_v: must be above least_v, 4.8, got 4.5"),
)  # fmt: skip


class Faults(SeededTest):
    def said(self, values):
        with self.assertRaises(InputRefused) as refused:
            parse_project(values)
        return str(refused.exception)

    def test_each_is_told_at_its_field(self):
        for path, value, said in FAULTS:
            with self.subTest(path=path, value=value):
                values = document(demo("fennel"))
                *way, last = (int(part) if part.isdigit() else part for part in path.split("/"))
                at = values
                for part in way:
                    at = at[part]
                at[last] = value
                self.assertIn(said, self.said(values))

    def test_two_banks_share_the_servos_out(self):
        values = document(demo("fennel"))
        pack = values["electrics"]["banks"][0]
        second = copy.deepcopy(pack) | {"name": "Second", "places": ["L1 yaw"]}
        values["electrics"]["banks"] = [pack | {"places": ["L1 yaw", "L1 femur"]}, second]
        self.assertIn("banks[1].places[0]: L1 yaw hangs on Pack already", self.said(values))
        # One that names none has the rest, and two of those cannot tell which.
        values["electrics"]["banks"] = [pack, second]
        shared = parse_project(values)
        hangs = {s.place: s.bank.name for s in servos_at(shared)}
        self.assertEqual((hangs["L1 yaw"], hangs["L2 yaw"]), ("Second", "Pack"))
        values["electrics"]["banks"] = [pack, copy.deepcopy(pack) | {"name": "Second"}]
        self.assertIn("every servo hangs on another supply", self.said(values))

    def test_servos_of_one_name_cannot_be_wired(self):
        values = document(hexapod())
        name = values["walker"]["drives"][0]["servos"][0]["name"]
        values["walker"]["drives"][1]["servos"][0]["name"] = name
        parse_project(copy.deepcopy(values))
        values["electrics"]["boards"] = [{"name": "Board", "address": 64}]
        self.assertIn(f"two servos are called {name!r}; each needs its own name to be wired", self.said(values))


class Cards(SeededTest):
    def numbers(self, project, step):
        return {card.sentence: card.number for card in bench_cards(project, step)}

    def test_the_meter_reads_what_the_supply_is_told_to_give(self):
        pack = self.numbers(demo("fennel"), "meter")
        self.assertEqual(pack["Measure Pack, full"], "8.4 V")
        self.assertEqual(pack["Pack: set the regulator"], "6 V")
        self.assertEqual(pack["Pack: red to plus"], "+6 V")
        self.assertEqual(pack["Pack: the fuse is in"], "25 A")
        self.assertEqual(pack["Hit the stop switch, red knob on the back"], "0 V")
        bare = changed(demo("fennel"), {
            "electrics/banks/0/regulated_v": None, "electrics/banks/0/fuse_a": None, "electrics/stop_switch": None,
            "electrics/banks/0/chemistry": "mains",
        })  # fmt: skip
        plain = self.numbers(bare, "meter")
        self.assertNotIn("Pack: set the regulator", plain)
        self.assertEqual((plain["Pack: red to plus"], plain["Pack: the fuse is in"]), ("+8.4 V", "none said"))
        self.assertEqual(plain["No stop switch is declared"], "none")
        lithium = [c for p in (demo("fennel"), bare) for c in bench_cards(p, "meter") if "fireproof" in c.about]
        self.assertEqual(len(lithium), 1)

    def test_every_servo_is_plugged_where_the_map_has_it_board_by_board(self):
        project = demo("fennel")
        cards = bench_cards(project, "map")
        wired = {w.place: (b.name, w.channel) for b in project.electrics.boards for w in b.wires}
        boards = [board.name for board in project.electrics.boards]
        in_order = sorted(wired, key=lambda place: (boards.index(wired[place][0]), wired[place][1]))
        self.assertEqual([card.place for card in cards], in_order)
        for card in cards:
            board, channel = wired[card.place]
            self.assertEqual((card.sentence, card.number), (f"{card.place} on {board}", f"channel {channel}"))
        wires = [w.model_dump() for w in project.electrics.boards[0].wires][1:]
        loose = changed(project, {"electrics/boards/0/wires": wires})
        first = bench_cards(loose, "map")[0]
        self.assertEqual((first.sentence, first.number), ("L1 yaw is on no channel", "none"))

    def test_what_is_told_and_read_lies_about_each_servo_s_own_middle(self):
        project = demo("fennel")
        servos = {s.place: s for s in servos_at(project)}
        for card in bench_cards(project, "centre"):
            self.assertEqual(card.number, f"{round(servos[card.place].centre)} µs")
        for card in bench_cards(project, "angles"):
            servo = servos[card.place]
            told = servo.centre + servo.direction * servo.per_deg * card.usual
            self.assertAlmostEqual(card.told, told, delta=0.5)
            self.assertIn(abs(card.usual), (40.0,))

    def test_what_happens_without_a_radio_is_read_as_it_was_decided(self):
        says = {}
        for effect, finish in (("goes_limp", False), ("holds", True)):
            edits = {"electrics/fail_safe/effect": effect, "electrics/fail_safe/finish_step": finish}
            cards = bench_cards(changed(demo("fennel"), edits), "poses")
            says[effect] = next(c for c in cards if "transmitter" in c.sentence)
        self.assertEqual(says["goes_limp"].sentence, "Switch the transmitter off: it goes limp")
        self.assertEqual(says["holds"].sentence, "Switch the transmitter off: it finishes its step, then holds")
        self.assertEqual(says["holds"].number, "500 ms")
        undecided = bench_cards(changed(demo("fennel"), {"electrics/fail_safe": None}), "poses")[-1]
        self.assertEqual((undecided.sentence, undecided.number), ("Radio lost: nothing is decided", "? ms"))

    def test_a_machine_that_folds_is_folded_into_its_box(self):
        project = start("six_sprawled", "Folds", 200.0)
        folded = {"joints": [], "box_mm": [300.0, 200.0, 150.0]}
        cards = bench_cards(changed(project, {"walker/folded": folded}), "poses")
        self.assertIn(("Fold it, joint by joint", "300 × 200 × 150 mm"), [(c.sentence, c.number) for c in cards])
        self.assertNotIn("Fold", " ".join(c.sentence for c in bench_cards(project, "poses")))


class Weighed(SeededTest):
    def legs(self, project, total_g, at=None):
        """What scales show under feet that share a weight alike, or as one foot has it all."""
        names = [limb.name for limb in project.walker.limbs if limb.feet]
        return {n: total_g / len(names) if at is None else total_g * (n == at) for n in names}

    def test_a_machine_without_a_listed_mass_gets_one_that_makes_up_the_weight(self):
        project = changed(hexapod(), {"walker/masses": []})
        planned = 1000 * evaluate(project, "Stand").reading.assembled.total_kg
        found = taken(project, "scales", "Stand", self.legs(project, planned + 400.0))
        (made,) = found.project.walker.masses
        self.assertAlmostEqual(made.mass_g, 400.0, delta=0.5)
        self.assertAlmostEqual(
            1000 * evaluate(found.project, "Stand").reading.assembled.total_kg, planned + 400, delta=1
        )
        with self.assertRaisesRegex(InputRefused, "no mass is listed on the body that could be put right"):
            taken(project, "scales", "Stand", self.legs(project, planned - 100.0))

    def test_what_cannot_be_is_named(self):
        project = hexapod()
        some = self.legs(project, 1000.0)
        missing = dict(list(some.items())[1:])
        with self.assertRaisesRegex(InputRefused, "is missing: what the scale shows under L1; all feet are weighed"):
            taken(project, "scales", "Stand", missing)
        with self.assertRaisesRegex(InputRefused, "the scale has shown nothing under every foot"):
            taken(project, "scales", "Stand", self.legs(project, 0.0))
        with self.assertRaisesRegex(InputRefused, "put servos and links right first"):
            taken(project, "scales", "Stand", self.legs(project, 60.0))

    def test_more_under_one_side_moves_the_heaviest_mass_there(self):
        project = hexapod()
        whole = 1000 * evaluate(project, "Stand").reading.assembled.total_kg
        even = self.legs(project, whole)
        left = {n: g * (1.2 if n.startswith("L") else 0.8) for n, g in even.items()}
        found = taken(project, "scales", "Stand", left)
        com = evaluate(found.project, "Stand").reading.course.com_body_mm[0]
        feet = {m.name: m.neutral_mm[1] for m in project.walker.limbs}
        wanted = sum(g * feet[n] for n, g in left.items()) / whole
        self.assertAlmostEqual(float(com[1]), wanted, delta=1.0)
        self.assertEqual(patched(project, [op for a in found.against for op in a.patch]), found.project)
