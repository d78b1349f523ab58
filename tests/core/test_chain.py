"""The serial chain itself: random hinges and slides against an independent composition, and its Jacobian."""

from __future__ import annotations

import numpy as np
from scipy.optimize import least_squares
from scipy.spatial.transform import Rotation

from bustle.core.geometry.serial_chain import Chain, forward, jacobian, to_mount, turns
from bustle.core.kinds.legs import FAMILIES
from bustle.core.kinds.legs.searched.damped_descent import gap_of
from bustle.core.kinds.legs.searched.damped_least_squares import solve_damped
from bustle.core.kinds.legs.searched.foot_aim import Aim
from bustle.core.machine.limb_groups import build_of
from bustle.core.machine.sections import BODY, mount_place
from bustle.core.machine.shared_servo_legs import Legs, Tie, settle
from bustle.core.project.walker import Limb, Mount
from tests.seeded import SeededTest


class RandomChains(SeededTest):
    def chain(self, limbs=4, joints=5, slides=True):
        axes = self.random.normal(size=(limbs, joints, 3))
        axes /= np.linalg.norm(axes, axis=-1, keepdims=True)
        kinds = self.random.random(joints) < 0.3 if slides else np.zeros(joints, dtype=bool)
        mounts = Rotation.random(limbs, rng=self.random).as_matrix()
        offsets = self.random.normal(0, 60, (limbs, joints, 3))
        return Chain(axes, offsets, self.random.normal(0, 90, (limbs, 3)), mounts, kinds)

    def values(self, chain, samples=6):
        limbs, joints = chain.offsets.shape[:2]
        q = self.random.uniform(-1.5, 1.5, (limbs, samples, joints))
        return np.where(chain.slides, q * 20, q)


class Forward(RandomChains):
    def test_is_the_product_of_its_parts(self):
        """Each limb by hand, turn by turn, with another library's rotations."""
        chain = self.chain()
        q = self.values(chain)
        points, frames = forward(chain, q)
        for limb in range(4):
            for sample in range(6):
                at, turn = chain.mount_at[limb], Rotation.from_matrix(chain.mount_turn[limb])
                for h in range(5):
                    if chain.slides[h]:
                        at = at + turn.apply(chain.axes[limb, h] * q[limb, sample, h])
                    else:
                        turn = turn * Rotation.from_rotvec(chain.axes[limb, h] * q[limb, sample, h])
                    at = at + turn.apply(chain.offsets[limb, h])
                    np.testing.assert_allclose(points[limb, sample, h + 1], at, atol=1e-9, err_msg=f"{self.seed}")
                    np.testing.assert_allclose(frames[limb, sample, h], turn.as_matrix(), atol=1e-12)

    def test_links_keep_their_lengths_and_frames_stay_square(self):
        chain = self.chain(slides=False)
        points, frames = forward(chain, self.values(chain, 40))
        spans = np.linalg.norm(np.diff(points, axis=2), axis=-1)
        wanted = np.linalg.norm(chain.offsets, axis=-1)[:, None]
        np.testing.assert_allclose(spans, np.broadcast_to(wanted, spans.shape), atol=1e-9)
        square = frames @ np.swapaxes(frames, -1, -2)
        np.testing.assert_allclose(square, np.broadcast_to(np.eye(3), square.shape), atol=1e-12)
        np.testing.assert_allclose(np.linalg.det(frames), 1.0, atol=1e-12)

    def test_the_mount_carries_everything(self):
        """Moving the mounts moves all points as one body, and `to_mount` undoes it."""
        chain = self.chain()
        q = self.values(chain)
        level = np.broadcast_to(np.eye(3), (4, 3, 3))
        plain = Chain(chain.axes, chain.offsets, np.zeros((4, 3)), level, chain.slides)
        here, there = forward(plain, q)[0], forward(chain, q)[0]
        np.testing.assert_allclose(to_mount(chain, there[:, :, -1]), here[:, :, -1], atol=1e-9)

    def test_a_turn_is_undone_by_its_reverse_and_adds_up(self):
        axis = self.random.normal(size=3)
        axis /= np.linalg.norm(axis)
        a, b = self.random.uniform(-3, 3, (2, 50))
        np.testing.assert_allclose(turns(axis, a) @ turns(axis, b), turns(axis, a + b), atol=1e-12)
        np.testing.assert_allclose(turns(axis, a) @ axis, np.broadcast_to(axis, (50, 3)), atol=1e-12)

    def test_coupled_hinges_follow_their_joints(self):
        coupling = np.array([[1.0, 0.0], [0.0, 0.0], [-1.0, 1.0]])
        base = self.chain(2, 3, slides=False)
        tied = Chain(base.axes, base.offsets, base.mount_at, base.mount_turn, None, coupling)
        joints = self.random.uniform(-1, 1, (2, 9, 2))
        np.testing.assert_array_equal(forward(tied, joints)[0], forward(base, joints @ coupling.T)[0])
        self.assertEqual([tied.hinge_of_joint(n) for n in range(2)], [0, 2])


class Jacobian(RandomChains):
    def test_is_the_slope_of_forward_kinematics(self):
        chain = self.chain(3, 6)
        q = self.values(chain, 4)
        points, frames = forward(chain, q)
        slope = jacobian(chain, points, frames)
        step = 1e-6
        for j in range(6):
            ahead, behind = q.copy(), q.copy()
            ahead[..., j] += step
            behind[..., j] -= step
            (p1, f1), (p2, f2) = forward(chain, ahead), forward(chain, behind)
            np.testing.assert_allclose(slope[..., :3, j], (p1 - p2)[:, :, -1] / (2 * step), atol=1e-4)
            spin = Rotation.from_matrix(
                (f1[:, :, -1] @ np.swapaxes(f2[:, :, -1], -1, -2)).reshape(-1, 3, 3)
            ).as_rotvec()
            np.testing.assert_allclose(slope[..., 3:, j].reshape(-1, 3), spin / (2 * step), atol=1e-6)

    def test_of_a_coupled_chain_counts_joints_not_hinges(self):
        family = FAMILIES["parallelogram_2"]
        layout = family.layout(np.array([[10.0, 80.0, 70.0, 12.0]]), np.zeros((1, 3)), np.array([False]))
        chain = Chain(layout.axes[None], layout.offsets, np.zeros((1, 3)), np.eye(3)[None], None, layout.coupling)
        q = np.array([[[0.4, -0.3]]])
        slope = jacobian(chain, *forward(chain, q))
        self.assertEqual(slope.shape, (1, 1, 6, 2))
        # The foot stays level whatever turns, and each link moves it by its own length.
        np.testing.assert_allclose(slope[0, 0, 3:], 0.0, atol=1e-12)
        np.testing.assert_allclose(np.linalg.norm(slope[0, 0, :3], axis=0), [80.0, 70.0], atol=1e-9)


class Searching(RandomChains):
    """Damped least squares on chains no family knows."""

    def limb(self, joints):
        return Limb.model_validate(
            {
                "name": "arm",
                "mount": {"at_mm": [0.0, 0.0, 0.0]},
                "family": "serial",
                "branch": "as_near_as_it_gets",
                "joints": joints,
                "links": [
                    {"name": f"l{n}", "length_mm": 60.0, "offset_mm": [float(v) for v in self.random.normal(0, 40, 3)]}
                    for n in range(len(joints))
                ],
                "neutral_mm": [0.0, 0.0],
            }
        )

    def test_six_hinges_reach_their_own_poses(self):
        joints = [
            {
                "name": f"j{n}",
                "min_deg": -170.0,
                "max_deg": 170.0,
                "axis": [float(v) for v in self.random.normal(size=3)],
            }
            for n in range(6)
        ]
        build, chain, _ = build_of([self.limb(joints)], [BODY], {})
        q = 0.6 * np.sin(np.linspace(0, 2 * np.pi, 30))[:, None] * self.random.uniform(0.3, 1, 6)
        points, _frames = forward(chain, q[None])
        solution = solve_damped(build, points[:, :, -1], None)
        self.assertLess(np.linalg.norm(solution.residual[..., :3], axis=-1).max(), 1e-6, f"seed {self.seed}")

    def test_what_is_missing_is_the_turn_that_another_library_tells(self):
        """Of any size: none, next to none, nearly half a turn, and half a turn about any axis."""
        chain = self.chain(1, 4)
        q = self.values(chain, 60)
        points, frames = forward(chain, q)
        axes = self.random.normal(size=(60, 3))
        axes /= np.linalg.norm(axes, axis=-1, keepdims=True)
        axes[:3] = np.eye(3)
        size = self.random.choice([0.0, 1e-9, 1e-4, 0.5, 2.0, 3.1, np.pi - 1e-7, np.pi], 60)[:, None]
        wanted = Rotation.from_rotvec(axes * size).as_matrix() @ frames[0, :, -1]
        target = self.random.normal(0, 50, (60, 3))
        gap = gap_of(chain, q[0], target, Aim(wanted, level=False))
        np.testing.assert_allclose(gap[:, :3], target - points[0, :, -1], atol=1e-9, err_msg=f"seed {self.seed}")
        # Half a turn either way is the same.
        either = np.minimum(np.abs(gap[:, 3:] - axes * size), np.abs(gap[:, 3:] + axes * size * (size > 3.14)))
        np.testing.assert_allclose(either, 0.0, atol=1e-7, err_msg=f"seed {self.seed}")
        tilted = gap_of(chain, q[0], target, Aim(wanted, level=True))[:, 3:]
        turned = Rotation.from_rotvec(tilted).as_matrix() @ frames[0, :, -1]
        np.testing.assert_allclose(turned[..., 2], wanted[..., 2], atol=1e-9, err_msg=f"seed {self.seed}")

    def test_a_level_foot_is_level_wherever_it_heads(self):
        """Five hinges as of a leg without a yaw, in any order of pitch and roll: places that it can have with its sole
        as it was asked for, though not with the heading that it was asked for."""
        words = self.random.permutation(["pitch", "roll", "pitch", "pitch", "roll"])
        while words[0] == words[1] or words[3] == words[4] == "roll":
            words = self.random.permutation(words)
        axes = {"pitch": [0.0, 1.0, 0.0], "roll": [1.0, 0.0, 0.0]}
        joints = [
            {"name": f"j{n}", "min_deg": -110.0, "max_deg": 110.0, "axis": axes[word]} for n, word in enumerate(words)
        ]
        limb = self.limb(joints).model_dump(mode="json") | {"keep": "level"}
        for n, link in enumerate(limb["links"]):
            link["offset_mm"] = [float(v) for v in self.random.uniform(-4, 4, 2)] + [-20.0 if n in (0, 3) else -70.0]
        build, chain, _ = build_of([Limb.model_validate(limb)], [mount_place(BODY, Mount(at_mm=(0.0, 0.0, 0.0)))], {})
        q = 0.35 * np.sin(np.linspace(0, 2 * np.pi, 24)[:, None] + self.random.uniform(0, 6, 5))
        points, frames = forward(chain, q[None])
        # The same tilt with headings of its own.
        away = Rotation.from_rotvec(frames[0, :, -1, :, 2] * self.random.uniform(-0.3, 0.3, (24, 1))).as_matrix()
        solution = solve_damped(build, points[:, :, -1], (away @ frames[0, :, -1])[None])
        found, turned = forward(chain, solution.joints)
        with self.subTest(seed=self.seed, words=words):
            # To what a search leaves over, by place as by tilt; a heading that is not kept counts for nothing.
            np.testing.assert_allclose(found[:, :, -1], points[:, :, -1], atol=1e-9)
            np.testing.assert_allclose(turned[0, :, -1, :, 2], frames[0, :, -1, :, 2], atol=1e-11)
            self.assertLess(solution.short.max(), 1e-9)
            # What it heads aside is told: the whole turn that is missing takes it to what was asked for.
            missing = Rotation.from_rotvec(solution.residual[0, :, 3:]).as_matrix()
            np.testing.assert_allclose(missing @ turned[0, :, -1], away @ frames[0, :, -1], atol=1e-6)

    def test_a_slide_stays_on_its_rail(self):
        joints = [
            {"name": "turn", "min_deg": -90.0, "max_deg": 90.0, "axis": [0.0, 0.0, 1.0]},
            {"name": "out", "kind": "slide", "min_mm": 10.0, "max_mm": 60.0, "axis": [1.0, 0.0, 0.0]},
        ]
        values = self.limb(joints).model_dump(mode="json")
        values["links"][0]["offset_mm"], values["links"][1]["offset_mm"] = [40.0, 0.0, 0.0], [20.0, 0.0, 0.0]
        build, _, _ = build_of([Limb.model_validate(values)], [mount_place(BODY, Mount(at_mm=(0.0, 0.0, 0.0)))], {})
        turn = np.radians(np.linspace(-60, 60, 25))
        for radius, reached in ((100.0, True), (70.0, True), (140.0, False), (50.0, False)):
            target = radius * np.stack([np.cos(turn), np.sin(turn), 0 * turn], axis=-1)[None]
            solution = solve_damped(build, target, None)
            slide = solution.joints[0, :, 1]
            self.assertTrue((slide >= 10 - 1e-9).all() and (slide <= 60 + 1e-9).all())
            self.assertEqual(bool(solution.reached.all()), reached, radius)
            np.testing.assert_allclose(solution.joints[0, :, 0], turn, atol=1e-5)
            np.testing.assert_allclose(slide, np.clip(radius - 60, 10, 60), atol=1e-4)


class Tied(RandomChains):
    def test_shared_servos_split_the_miss_as_least_squares_would(self):
        """Two legs of three joints whose knees share a servo, against a general optimiser."""
        family = FAMILIES["upright_3"]
        layout = family.layout(np.tile([20.0, 80.0, 85.0], (2, 1)), np.zeros((2, 3)), np.array([False, True]))
        chain = Chain(layout.axes[None], layout.offsets, np.zeros((2, 3)), np.tile(np.eye(3), (2, 1, 1)))
        apart = np.array([[0.1, 0.3, -0.9], [-0.1, 0.5, -1.2]])
        target = forward(chain, apart[:, None])[0][:, 0, -1]
        tie = Tie((2, 5), (1.0, 1.0), (0.0, 0.0))
        legs = []
        for k in (0, 1):
            own = Chain(chain.axes, chain.offsets[[k]], chain.mount_at[[k]], chain.mount_turn[[k]])
            legs.append(Legs(k, own, [3 * k, 3 * k + 1, 3 * k + 2], target[[k]]))
        joints = apart.reshape(1, 6).copy()
        missing = settle([tie], legs, joints)
        self.assertAlmostEqual(joints[0, 2], joints[0, 5], places=12)

        def gap(x):
            q = np.array([[x[1], x[2], x[0]], [x[3], x[4], x[0]]])
            return (forward(chain, q[:, None])[0][:, 0, -1] - target).ravel()

        best = least_squares(gap, [-1.05, 0.1, 0.3, -0.1, 0.5]).fun
        found = np.hypot(missing[0][0], missing[1][0])
        self.assertAlmostEqual(found, np.linalg.norm(best), delta=1e-3)
        self.assertGreater(found, 1.0)
