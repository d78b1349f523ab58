"""A static walk halted from its pace: where it is said to rock, and a physics engine that holds a row where it is."""

from __future__ import annotations

import mujoco
import numpy as np

from bustle.core.edits.patches import patched
from bustle.core.evaluate import evaluate
from bustle.core.judge.measures.margins.halted import half_play_mm, halted_as_it_gives, halted_margin, rests_mm
from bustle.core.judge.measures.margins.worst_margin import worst_margin
from bustle.core.loads.held_against_sag import sent_joints
from bustle.core.search.remedies import remedies
from bustle.core.walk.plumb import over_floor
from bustle.core.walk.standing_polygon import standing
from bustle.formats.robot_files.mjcf_out import write_mjcf
from tests.long import in_turns
from tests.projects import changed, hexapod, start
from tests.seeded import SeededTest

FULL_DEG = 4.0


def hurried(project, share):
    """The first walk with the same steps in a share of its time."""
    walk, row = project.motions[0], project.controller.frame_period_ms / 1000
    cycle = round(round(walk.cycle_s * share / row) * row, 4)
    return changed(
        project,
        {
            "motions/0/cycle_s": cycle,
            "motions/0/twist/vx_mm_s": round(walk.twist.vx_mm_s * walk.cycle_s / cycle, 3),
        },
    )


def halted_there(project, row):
    """How far it leans, degrees, most and at last, held for 2 s at a row of its second cycle."""
    motion = project.motions[0].name
    model = mujoco.MjSpec.from_string(write_mjcf(project, FULL_DEG).data.decode()).compile()
    data = mujoco.MjData(model)
    mujoco.mj_resetDataKeyframe(model, data, model.key(motion).id)
    r = evaluate(project, motion).reading
    own, sent = [model.actuator(joint.path).id for joint in r.kit.joints], r.of(sent_joints)
    body, leans = data.body(project.walker.sections[0].name), []
    for k in [*range(r.samples), *range(row + 1), *[row] * round(2.0 / r.row_s)]:
        data.ctrl[own] = sent[k]
        for _ in range(round(r.row_s / model.opt.timestep)):
            mujoco.mj_step(model, data)
        leans.append(float(np.degrees(np.arccos(np.clip(body.xmat[8], -1.0, 1.0)))))
    return max(leans[r.samples + row :]), leans[-1]


class Halted(SeededTest):
    def test_it_goes_on_by_its_pace_times_the_pendulum_s_time(self):
        r = evaluate(hexapod(), "Forward").reading
        way, n = r.goes_on[0] / r.score.duration_s, r.samples
        high = r.course.com_ground_mm[:n, 2]
        on = (r.of(rests_mm) - r.of(over_floor))[:n, 0]
        np.testing.assert_allclose(on[5:-5].mean(), way * np.sqrt(high.mean() / 1000 / 9.80665), rtol=0.05)

    def test_play_and_sag_are_taken_off(self):
        loose = [{**t.model_dump(mode="json"), "play_deg": 2.0} for t in hexapod().servo_types]
        r = evaluate(changed(hexapod(), {"servo_types": loose, "against_sag": "off"}), "Forward").reading
        self.assertGreater(r.of(half_play_mm), 1.0)
        left = r.of(halted_margin) - r.of(halted_as_it_gives)
        self.assertGreater(float(left.min()), 0.5 * r.of(half_play_mm))

    @in_turns
    def test_a_walk_in_no_hurry_says_nothing_and_one_in_a_hurry_is_warned_and_slowed(self):
        project = start("four_upright_2", "Halts", 200.0)
        calm = [f for f in evaluate(project, "Forward").findings if f.code == "F18"]
        self.assertEqual(calm, [])
        quick = hurried(project, 0.5)
        rocks = next(f for f in evaluate(quick, "Forward").findings if f.subject == "halted")
        self.assertEqual((rocks.code, rocks.severity), ("F18", "warn"))
        self.assertGreater(evaluate(quick, "Forward").reading.of(worst_margin)[0], 0.0)
        slower = next(r for r in remedies(quick, "Forward", rocks) if r.title.startswith("Slower"))
        after = evaluate(patched(quick, slower.patch), "Forward")
        self.assertNotIn("halted", {f.subject for f in after.findings if f.code == "F18"})

    def test_what_stands_or_lives_by_its_timing_is_not_halted(self):
        for motion in ("Stand", "Trot"):
            found = evaluate(start("four_upright", "Halts", 200.0), motion).findings
            self.assertNotIn("halted", {f.subject for f in found})

    @in_turns
    def test_in_an_engine_it_rocks_and_comes_back_where_it_is_said_to(self):
        base = start("four_upright_2", "Rocks", float(self.random.uniform(170, 230)))
        leans = []
        for share in (1.0, 0.5):
            project = hurried(base, share)
            r = evaluate(project, "Forward").reading
            left = r.of(halted_margin)[: r.samples]
            most, last = halted_there(project, int(np.argmin(np.round(left, 6))))
            leans.append(most)
            with self.subTest(share=share, seed=self.seed):
                self.assertEqual(float(left.min()) < 0, share < 1)
                self.assertTrue(r.of(standing).supported.all())
                self.assertLess(last, 4.0)
                self.assertLess(most, 8.0)
        self.assertLess(leans[0], 1.0)
        self.assertGreater(leans[1], 1.5)
