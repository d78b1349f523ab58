"""What does not fit is refused with a sentence that names the field; what fits is kept as it is."""

from __future__ import annotations

import numpy as np

from bustle.core.document.checked import parse_project
from bustle.core.document.file import load_project, save_project
from bustle.core.evaluate import evaluate
from bustle.core.project.project import document
from bustle.core.servo.joint_table import joint_table
from bustle.core.starting.starting_walkers import SHAPES
from bustle.core.words.problems import InputRefused
from bustle.formats import write_table
from bustle.formats.plan_json import plan_values
from tests.long import in_turns
from tests.projects import changed, hexapod, quadruped, start, telescoping
from tests.seeded import SeededTest

BODY = {"name": "body", "size_mm": [190.0, 100.0, 40.0]}
TAIL = {
    "name": "tail", "size_mm": [60.0, 40.0, 20.0],
    "hinge": {"on": "body", "at_mm": [-95.0, 0.0, 0.0], "to_mm": [-30.0, 0.0, 0.0]},
}  # fmt: skip
DRIVE = {"servos": [{"name": "L1 yaw", "type": "Metal-gear servo"}], "joints": ["L1/yaw"]}

REFUSED = (
    # limbs
    ("walker/limbs/0/keep", "forward", "limbs[0].keep: a sprawled leg has nothing to choose"),
    ("walker/limbs/0/mount/pitch_deg", 900.0, "mount.pitch_deg: must be at most 360"),
    (
        "walker/limbs/0/joints/0/axis", [0.0, 0.0, 1.0],
        "joints[0].axis: only a free chain names its axes",
    ),
    (
        "walker/limbs/0/links/0/offset_mm", [1.0, 0.0, 0.0],
        "links[0].offset_mm: only a free chain has offsets",
    ),
    ("walker/limbs/0/feet", [], "neutral_mm: L1 does not step; remove its neutral foot"),
    ("walker/limbs/0/neutral_mm", None, "neutral_mm: is missing: where the foot of leg L1 stands"),
    (
        "walker/limbs/0/feet/0/at_mm", [1.0, 0.0, 0.0],
        "feet[0].at_mm: the first foot of L1 is at the end",
    ),
    (
        "walker/limbs/0/feet/0/side", "upper",
        "feet[0].side: the first foot of L1 is the one it stands on",
    ),
    ("walker/limbs/0/feet/0/sole", {"kind": "star"}, "sole: must have a kind that Bustle knows"),
    (
        "walker/limbs/0/feet/0/sole", {"kind": "ball", "radius_mm": -1.0},
        "sole.radius_mm: must be at least 0",
    ),
    ("walker/limbs/0/feet/0/sole", {"kind": "ball"}, "sole.radius_mm: is missing"),
    ("walker/limbs/0/feet/0/contact", {"kind": "sticks"}, "contact: must have a kind"),
    (
        "walker/limbs/0/joints/0", {"name": "yaw", "kind": "slide", "min_mm": 0.0, "max_mm": 9.0},
        "has hinges only",
    ),
    ("walker/limbs/0/joints/0/min_deg", 70.0, "joints[0].max_deg: must be above min_deg, 70"),
    ("walker/limbs/0/section", "tail", "limbs[0].section: leg L1 sits on 'tail'"),
    ("walker/limbs/0/family", "serial", "needs a direction that is not 0, 0, 0"),
    # frame, masses, drives, leads
    (
        "walker/sections/0/hinge", {"on": "body", "at_mm": [0.0] * 3, "to_mm": [0.0] * 3},
        "which hangs on nothing",
    ),
    ("walker/masses/0/price", -1.0, "masses[0].price: must be at least 0"),
    ("walker/drives/0/kind", "worm", "drives[0].kind: must be one of direct, riding, gear"),
    ("walker/drives/0/settings", {"ratio": "two"}, "settings.ratio: must be a number"),
    (
        "walker/leads", [{"name": "a", "length_mm": 9.0, "path": [{"on": "body"}]}],
        "leads[0].path: must have at least 2",
    ),
    (
        "walker/leads", [{"name": "a", "length_mm": 9.0, "path": [{"on": "x"}, {}]}],
        "'x' is no section or link",
    ),
    ("walker/held", "magnets", "walker.held: must be 'free', 'boom' or 'rail'"),
    ("walker/lifted_n", 5.0, "walker.lifted_n: is what a boom's counterweight lifts, and free is none; put 0"),
    (
        "walker/sections", [BODY, {**TAIL, "hinge": {**TAIL["hinge"], "on": "wing"}}],
        "hinge.on: must be a section listed before tail, got 'wing'",
    ),
    (
        "walker/sections", [BODY, {**TAIL, "hinge": {**TAIL["hinge"], "min_deg": 50.0}}],
        "hinge.max_deg: must be above min_deg, 50, got 45",
    ),
    (
        "walker/sections", [BODY, {**TAIL, "hinge": {**TAIL["hinge"], "turned_by": "spine/bend"}}],
        "hinge.turned_by: 'spine/bend' is no joint of this walker",
    ),
    (
        "walker/sections", [BODY, {**TAIL, "hinge": {**TAIL["hinge"], "turned_by": "L1/yaw"}}],
        "L1 cannot turn a section; that takes a limb of one hinge and no foot",
    ),
    (
        "walker/masses/0", {"name": "Shell", "mass_g": 5.0, "on": "L1/femur", "fills": True},
        "masses[0].fills: only a section can be filled, and L1/femur is a link",
    ),
    ("walker/drives/0/joints", ["L1/toe"], "drives[0].joints[0]: 'L1/toe' is no joint of this walker"),
    ("walker/drives/1/joints", ["L1/yaw"], "L1/yaw has a drive already"),
    ("walker/drives/0/settings", {"ratio": 2.0}, "settings.ratio: a direct drive has no settings"),
    (
        "walker/drives/0", {**DRIVE, "kind": "gear", "settings": {"ratio": 0.0}},
        "drives[0].settings.ratio: must not be 0",
    ),
    (
        "walker/drives/0", {**DRIVE, "kind": "gear", "settings": {"ratio": 1e6}},
        "drives[0].settings.ratio: must be from",
    ),
    # what servos are
    (
        "servo_types/0/rotor", {"mass_g": 4000.0, "radius_mm": 5.0, "ratio": 200.0},
        "servo_types[0].rotor.mass_g: a rotor is lighter than its servo",
    ),
    ("servo_types/0/pulse_low_us", 1600.0, "servo_types[0].pulse_low_us: must be below middle_us, 1500, got 1600"),
    ("servo_types/0/pulse_high_us", 1400.0, "servo_types[0].pulse_high_us: must be above middle_us, 1500, got 1400"),
    # measured, folded, motions
    ("walker/as_built/limbs", [{"limb": "Q"}], "as_built.limbs[0].limb: 'Q' is no leg of this walker"),
    (
        "walker/as_built/limbs", [{"limb": "L1", "link_length_mm": {"shin": 90.0}}],
        "link_length_mm.shin: leg L1 has no link 'shin'",
    ),
    (
        "walker/as_built/limbs", [{"limb": "L1", "joint_zero_deg": {"toe": 1.0}}],
        "joint_zero_deg.toe: leg L1 has no joint 'toe'",
    ),
    (
        "walker/as_built/limbs", [{"limb": "L1", "joint_play_deg": {"toe": 1.0}}],
        "leg L1 has no joint 'toe'",
    ),
    (
        "walker/as_built/limbs", [{"limb": "L1", "joint_play_deg": {"yaw": 90.0}}],
        "joint_play_deg.yaw: must be at most 20",
    ),
    (
        "walker/folded", {"box_mm": [1.0, 1.0, 1.0], "joints": [{"limb": "Q", "joint": "a", "value": 1.0}]},
        "'Q' is no limb",
    ),
    (
        "motions/0/joints", [{"limb": "L1", "joint": "yaw", "value": 0.0}],
        "L1 steps, so its joints follow from its foot",
    ),
    (
        "motions/0/pose/bends", [{"section": "tail", "angle_deg": 1.0}],
        "'tail' is no hinged section",
    ),
    ("motions/0/pose/sway", [{"harmonic": 13}], "harmonic: must be at most 12"),
    ("limits/slip_mm", 0.0, "limits.slip_mm: must be above 0"),
    ("limits/step_height_mm", -4.0, "limits.step_height_mm: must be above 0"),
    ("budget/mass_g", "light", "budget.mass_g: must be a number"),
)  # fmt: skip


class Refusals(SeededTest):
    def test_each_names_its_field(self):
        for path, value, words in REFUSED:
            with self.subTest(path=path, words=words):
                with self.assertRaises(InputRefused) as caught:
                    changed(hexapod(), {path: value})
                found = [str(p) for p in caught.exception.problems]
                self.assertTrue(any(words in line for line in found), found)

    def test_a_free_chain_says_what_it_lacks(self):
        values = document(start("two_moving_mass", "Arm", 200.0))
        for path, value, words in (
            (("joints", 0, "axis"), None, "needs a direction that is not 0, 0, 0"),
            (("joints", 0, "axis"), [0.0, 0.0, 0.0], "needs a direction that is not 0, 0, 0"),
            (("links", 0, "offset_mm"), None, "links[0].offset_mm: is missing"),
            (("links",), [], "one link per joint, got 0 links and 1 joints"),
            (("hip_offset_mm",), [1.0, 0.0, 0.0], "has its hip axes in one place"),
        ):
            trial = document(parse_project(values))
            target = trial["walker"]["limbs"][2]
            for part in path[:-1]:
                target = target[part]
            target[path[-1]] = value
            with self.assertRaises(InputRefused) as caught:
                parse_project(trial)
            self.assertIn(words, str(caught.exception))


class Kept(SeededTest):
    @in_turns
    def test_every_shape_survives_saving_with_everything_in_it(self):
        for shape in SHAPES:
            project = start(shape, "Kept", 210.0)
            data = save_project(project)
            self.assertEqual(save_project(load_project(data)), data, shape)

    @in_turns
    def test_changes_of_any_number_are_kept_or_refused_never_bent(self):
        """A random number anywhere: what comes back is what went in, or a sentence."""
        base = document(quadruped())
        leaves = [p for p, v in _numbers(base) if p[0] in ("walker", "motions", "limits", "servo_types")]
        kept = 0
        for k in self.random.choice(len(leaves), 160, replace=False):
            values = document(parse_project(base))
            value = float(self.random.choice([-1e9, -7.25, 0.0, 0.125, 33.5, 1e4, 1e12]))
            target = values
            for part in leaves[k][:-1]:
                target = target[part]
            if isinstance(target[leaves[k][-1]], (bool, int)):
                continue
            target[leaves[k][-1]] = value
            try:
                project = parse_project(values)
            except InputRefused as refused:
                self.assertTrue(all(p.sentence for p in refused.problems))
                continue
            kept += 1
            self.assertEqual(document(project), values, f"seed {self.seed} {leaves[k]}")
            plan = evaluate(project, "Forward", 24)
            self.assertTrue(np.isfinite(plan.reading.angles).all(), f"seed {self.seed} {leaves[k]}")
            self.assertTrue(all(np.isfinite(f.value) for f in plan.figures))
        self.assertGreater(kept, 20)


def _numbers(value, path=()):
    if isinstance(value, dict):
        for key, inner in value.items():
            yield from _numbers(inner, (*path, key))
    elif isinstance(value, list):
        for n, inner in enumerate(value):
            yield from _numbers(inner, (*path, n))
    elif isinstance(value, (int, float)) and not isinstance(value, bool):
        yield path, value


class Slides(SeededTest):
    def test_feet_stay_put_and_the_table_is_in_millimetres_where_it_slides(self):
        project = telescoping()
        plan = evaluate(project, "Forward")
        e = plan.reading
        self.assertEqual([f.code for f in plan.findings if f.code == "F17"], [])
        standing = e.course.contact
        self.assertLess(np.abs(e.course.feet_ground_mm[standing] - e.course.target_ground_mm[standing]).max(), 1e-6)
        table = joint_table(plan.reading)
        self.assertEqual(table.units[:3], ("deg", "deg", "mm"))
        header = write_table(plan, "csv").decode().splitlines()[0]
        self.assertIn("L1.lift_deg,L1.reach_mm,", header)
        self.assertIn("tenths of a millimetre where marked mm", write_table(plan, "c").decode())
        values = plan_values(plan)["samples"]
        self.assertEqual(list(values["joints_mm"]["L1"]), ["reach"])
        self.assertEqual(list(values["joints_deg"]["L1"]), ["turn", "lift"])
        slide = np.array(values["joints_mm"]["L1"]["reach"])
        self.assertTrue((slide >= 0).all() and (slide <= 90).all())
