"""The set of a machine that was changed: nothing stops any motion of it, or it says why it does not walk."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from bustle.core.document.checked import CheckedProject, parse_project
from bustle.core.evaluate import evaluate
from bustle.core.project.project import document
from bustle.core.search.stride import DIRECTIONS
from bustle.core.starting.fresh_set import fresh_set
from bustle.core.starting.starting_walkers import SHAPES
from bustle.core.words.problems import InputRefused
from tests.long import ALL, in_turns, is_long, share
from tests.projects import changed, start
from tests.seeded import SeededTest

Values = dict[str, Any]


def slower(values: Values, by: float) -> None:
    values["servo_types"][0]["no_load_speed_deg_s"] *= by


def weaker(values: Values, by: float) -> None:
    values["servo_types"][0]["stall_torque_nm"] *= by


def stopped_sooner(values: Values, by: float) -> None:
    for joint in (joint for limb in values["walker"]["limbs"] for joint in limb["joints"]):
        middle, half = (joint["min_deg"] + joint["max_deg"]) / 2, (joint["max_deg"] - joint["min_deg"]) / 2
        joint["min_deg"], joint["max_deg"] = middle - by * half, middle + by * half


def heavier(values: Values, by: float) -> None:
    for mass in values["walker"]["masses"]:
        mass["mass_g"] /= by


def shorter_body(values: Values, by: float) -> None:
    values["walker"]["sections"][0]["size_mm"][0] *= by
    for limb in values["walker"]["limbs"]:
        mount = limb["mount"]["at_mm"]
        if limb["neutral_mm"]:
            limb["neutral_mm"][0] -= mount[0] * (1 - by)
        mount[0] *= by


CHANGES: tuple[Callable[[Values, float], None], ...] = (slower, weaker, stopped_sooner, heavier, shorter_body)


class ChangedMachines(SeededTest):
    def sound(self, project: CheckedProject) -> None:
        for motion in project.motions:
            self.assertFalse(evaluate(project, motion.name).stops, motion.name)

    @in_turns
    @is_long
    def test_nothing_stops_what_is_made_of_it(self):
        asked = [(shape.name, change) for shape in SHAPES.values() for change in CHANGES]
        walked = 0
        for name, change in share(self.random, asked, 2):
            by = float(self.random.uniform(0.2, 0.9))
            values = document(start(name, "Changed", SHAPES[name].usual_mm))
            change(values, by)
            with self.subTest(shape=name, change=change.__name__, by=by, seed=self.seed):
                try:
                    project = fresh_set(parse_project(values))
                except InputRefused as refused:
                    # Each says what stands against it, with its number.
                    self.assertRegex(str(refused), r"\d")
                    continue
                self.sound(project)
                walked += 1
        if ALL:
            self.assertGreater(walked, 40)

    @in_turns
    def test_strides_are_as_short_as_the_start_and_the_stop_need_them(self):
        """Feet that set out reach further than on the way; with these end stops, too far."""
        values = document(start("six_sprawled", "Narrow", SHAPES["six_sprawled"].usual_mm))
        stopped_sooner(values, 0.6)
        made = fresh_set(parse_project(values))
        self.assertLessEqual({"Forward", "Start", "Stop"}, {m.name for m in made.motions})
        self.sound(made)

    @in_turns
    def test_slow_servos_walk_slowly(self):
        """Servos that its usual pace is far too fast for, on the spot and on every way."""
        for shape in share(self.random, ["four_upright", "four_sprawled", "six_sprawled", "six_radial"], 1):
            speed = float(self.random.uniform(90, 130))
            usual_pace = start(shape, "Slow", SHAPES[shape].usual_mm)
            slow = changed(usual_pace, {"servo_types/0/no_load_speed_deg_s": speed})
            with self.subTest(shape=shape, speed=speed, seed=self.seed):
                project = fresh_set(slow)
                self.assertLessEqual({*DIRECTIONS, "Start", "Stop"}, {m.name for m in project.motions})
                walk, usual_walk = (p.motion("Forward") for p in (project, usual_pace))
                self.assertGreater(walk.cycle_s, usual_walk.cycle_s)
                reach = max(sum(link.length_mm for link in leg.links) for leg in project.walker.legs)
                self.assertGreater(walk.twist.vx_mm_s * walk.cycle_s, 0.06 * reach)
                self.sound(project)

    @in_turns
    def test_yaws_that_are_too_slow_swing_less_far(self):
        usual = start("two_servo", "Slow", SHAPES["two_servo"].usual_mm)
        values = document(usual)
        slower(values, 0.3)
        project = fresh_set(parse_project(values))
        self.sound(project)
        far, less = (max(j.swing for j in p.motion("Forward").joints if j.joint == "yaw") for p in (usual, project))
        self.assertLess(less, far)
