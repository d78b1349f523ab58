"""Forces and torques: they balance, and are what an independent library has of the same motion."""

from __future__ import annotations

import numpy as np
import pinocchio
from scipy.spatial.transform import Rotation

from bustle.core.document.checked import parse_project
from bustle.core.edits.patches import patched
from bustle.core.evaluate import evaluate
from bustle.core.loads.at_its_voltage import at_its_voltage
from bustle.core.loads.foot_forces import foot_forces, standing_forces
from bustle.core.loads.held_against_sag import sent_joints
from bustle.core.loads.inertial_wrenches import wrenches
from bustle.core.loads.joint_torques import joint_torques, servo_loads, to_servos
from bustle.core.loads.moving import moving
from bustle.core.loads.told import not_told
from bustle.core.loads.zero_moment_point import pushes_at
from bustle.core.machine.masses import GRAVITY
from bustle.core.machine.slope import against_gravity
from bustle.core.project.project import document
from bustle.core.search.remedies import remedies
from bustle.core.starting.starting_walkers import SHAPES
from bustle.formats.robot_files.urdf_out import write_urdf
from tests.long import in_turns, is_long, share
from tests.projects import changed, hexapod, start
from tests.seeded import SeededTest
from tests.servo.machines import on_boards


def walks(project):
    """A way ahead and a turn, where it has them."""
    gaits = [m.name for m in project.motions if m.kind == "phase_gait" and m.name in ("Forward", "Turn left")]
    return gaits or ["Stand"]


class Balance(SeededTest):
    @is_long
    def test_feet_balance_weight_and_acceleration_wherever_that_is_judged(self):
        for shape in share(self.random, list(SHAPES), 6):
            project = start(shape, "Load", float(self.random.uniform(90, 400)))
            for name in walks(project):
                r = evaluate(project, name).reading
                for feet, taken in ((r.of(foot_forces), r.of(wrenches)),):
                    sound = feet.balanced(taken.kg * GRAVITY)
                    force = feet.forces.sum(axis=0) - taken.force
                    moment = np.cross(feet.points, feet.forces).sum(axis=0) - taken.moment
                    with self.subTest(shape=shape, motion=name, seed=self.seed):
                        self.assertTrue((feet.forces[..., 2] >= 0).all())
                        self.assertLess(np.abs(force[sound, 2]).max(initial=0.0), 1e-6)
                        self.assertLess(np.abs(moment[sound, :2]).max(initial=0.0), 1e-6)
                        # What slides holds what the floor has it hold.
                        if project.walker.held == "free" and r.course.implied is None:
                            self.assertLess(np.abs(force[sound, :2]).max(initial=0.0), 1e-6)
                            self.assertLess(np.abs(moment[sound, 2]).max(initial=0.0), 1e-6)
                still = r.of(standing_forces)
                weight = still.forces[..., 2].sum(axis=0)
                where = still.balanced(taken.kg * GRAVITY)
                np.testing.assert_allclose(weight[where], taken.kg * GRAVITY, rtol=0.0, atol=1e-6)

    def test_a_wheel_holds_along_its_axle_alone(self):
        """Swaying on two legs between two wheels: what they hold lies across the way they roll, and they do hold."""
        project = start("two_wheels", "Wheels", float(self.random.uniform(120, 400)))
        n = next(n for n, m in enumerate(project.motions) if m.name == "Forward")
        turning = changed(project, {f"motions/{n}/twist/omega_deg_s": 4.0})
        r = evaluate(turning, "Forward").reading
        wheels = [i for i, m in enumerate(project.walker.limbs) if m.passive]
        heading = np.arctan2(r.course.body.turn[: r.samples, 1, 0], r.course.body.turn[: r.samples, 0, 0])
        most = 0.0
        for i in wheels:
            force = r.of(foot_forces).of_limb(i)
            along = force[:, 0] * np.cos(heading) + force[:, 1] * np.sin(heading)
            self.assertLess(np.abs(along).max(), 1e-9)
            most = max(most, float(np.abs(force[:, :2]).max()))
        self.assertGreater(most, 1e-4)

    @in_turns
    def test_feet_that_are_dragged_are_held_against_the_way_they_slide(self):
        project = start("four_radial_2", "Drags", float(self.random.uniform(80, 300)))
        across = float(self.random.uniform(0.3, 0.5))
        r = evaluate(changed(project, {"floor/friction": 0.7, "floor/friction_across": across}), "Forward").reading
        feet, slid = r.of(foot_forces), 0
        for n in range(4):
            force, at = feet.of_limb(n), r.course.feet_ground_mm[n, : r.samples, :2]
            way = np.roll(at, -1, axis=0) - at
            down = r.course.contact[n, : r.samples]
            slides = down & np.roll(down, -1) & (np.linalg.norm(way, axis=1) > 5.0 * r.row_s)
            slides[-1] = False
            held = np.hypot(force[:, 0] / 0.7, force[:, 1] / across)
            # Its heading hardly leaves the ground's axes.
            np.testing.assert_allclose(held[slides], force[slides, 2], rtol=0.02)
            self.assertTrue(((force[:, :2] * way).sum(axis=1) <= 1e-12)[slides].all())
            slid += int(slides.sum())
        self.assertGreater(slid, r.samples)
        # Frozen, nothing slides.
        still = r.of(standing_forces)
        push, weight = still.forces[..., :2], still.forces[..., 2].sum(axis=0)
        self.assertLess(np.abs(push).max(), 0.01 * weight.max())

    @in_turns
    def test_servos_too_weak_for_legs_that_drag_are_told_and_mended(self):
        project = start("four_radial_2", "Weak", float(self.random.uniform(100, 300)))
        self.assertNotIn("F07", {f.code for f in evaluate(project, "Forward").findings})
        share = evaluate(project, "Forward").figure("held_share") / 100
        weak = changed(project, {
            f"servo_types/{n}/stall_torque_nm": sheet.stall_torque_nm * share / 1.6
            for n, sheet in enumerate(project.servo_types)
        })  # fmt: skip
        finding = next(f for f in evaluate(weak, "Forward").findings if f.code == "F07")
        self.assertAlmostEqual(finding.value, 160.0, delta=1.0)
        stronger = next(m for m in remedies(weak, "Forward", finding) if "Stronger" in m.title)
        self.assertNotIn("F07", {f.code for f in evaluate(patched(weak, stronger.patch), "Forward").findings})

    def test_three_point_feet_carry_what_levers_say(self):
        """Frozen on three feet, each carries by the area of the triangle across from it."""
        r = evaluate(start("six_sprawled", "Tripod", 200.0), "Forward").reading
        feet, taken = r.of(standing_forces), r.of(wrenches)
        rows = [k for k in range(r.samples) if (feet.forces[:, k, 2] > 0).sum() == 3]
        self.assertGreater(len(rows), r.samples / 3)

        def area(a, b, c):
            return (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0])

        for k in rows[::5]:
            own = np.flatnonzero(feet.forces[:, k, 2] > 0)
            corners, middle = feet.points[own, k, :2], taken.centre[k, :2]
            whole = area(*corners)
            for n in range(3):
                others = [corners[m] if m != n else middle for m in range(3)]
                share = area(*others) / whole
                self.assertAlmostEqual(feet.forces[own[n], k, 2], share * taken.kg * GRAVITY, places=6)


class Independent(SeededTest):
    """pinocchio, on the URDF, told the same joints, rates, accelerations and forces at the feet."""

    @is_long
    def test_torques_centre_of_mass_and_zero_moment_point(self):
        for shape in share(self.random, list(SHAPES), 6):
            slope = {"floor/slope_deg": float(self.random.choice([0.0, 4.0, 11.0]))}
            slope["floor/uphill_deg"] = float(self.random.uniform(-180, 180))
            project = changed(start(shape, "Other", float(self.random.uniform(90, 400))), slope)
            for name in walks(project):
                r = evaluate(project, name).reading
                with self.subTest(shape=shape, motion=name, seed=self.seed, **slope):
                    self.agree(project, r)

    def agree(self, project, r):
        model = pinocchio.buildModelFromXML(write_urdf(project).data.decode(), pinocchio.JointModelFreeFlyer(), True)
        model.gravity.linear = -against_gravity(project.floor)
        data = model.createData()
        m, feet, taken = r.of(moving), r.of(foot_forces), r.of(wrenches)
        ours = r.of(joint_torques)
        for k in self.random.integers(0, r.samples, 4):
            q, v, a = pinocchio.neutral(model), np.zeros(model.nv), np.zeros(model.nv)
            turn = m.turn[k]
            q[:3], q[3:7] = m.at[k], Rotation.from_matrix(turn).as_quat()
            v[:3], v[3:6] = turn.T @ m.speed[k], turn.T @ m.spin[k]
            a[3:6] = turn.T @ m.spinning_up[k]
            a[:3] = turn.T @ m.acceleration[k] - np.cross(v[3:6], v[:3])
            for n, joint in enumerate(r.kit.joints):
                scale = 1000 if joint.slides else 1
                at = model.getJointId(joint.path)
                q[model.idx_qs[at]] = r.angles[k, n] / scale
                v[model.idx_vs[at]] = m.joint_rates[k, n]
                a[model.idx_vs[at]] = m.joint_accelerations[k, n]
            pinocchio.forwardKinematics(model, data, q)
            outside = [pinocchio.Force.Zero() for _ in range(model.njoints)]
            for p, limb, force in zip(feet.points[:, k], feet.limb, feet.forces[:, k], strict=True):
                frame = model.getFrameId(f"{project.walker.limbs[limb].name}/foot", pinocchio.FrameType.BODY)
                joint = model.frames[frame].parentJoint
                placed = data.oMi[joint]
                outside[joint] += placed.actInv(pinocchio.Force(force, np.cross(p, force)))
            tau = pinocchio.rnea(model, data, q, v, a, outside)
            led = r.course.implied is not None
            if (np.abs(feet.unbalanced[k]) < 1e-9).all() and project.walker.held == "free" and not led:
                # What parts without mass borrow in the file turns with them: that is what is left.
                np.testing.assert_allclose(tau[:6], 0.0, atol=1e-6)
            for n, joint in enumerate(r.kit.joints):
                theirs = tau[model.idx_vs[model.getJointId(joint.path)]]
                rotor = 0.0 if joint.slides else r.kit.rotor_inertia[n] * m.joint_accelerations[k, n]
                self.assertAlmostEqual(ours[k, n], theirs + rotor, delta=1e-6, msg=joint.path)
            centre = pinocchio.centerOfMass(model, data, q)
            np.testing.assert_allclose(centre * 1000, taken.centre[k] * 1000, atol=1e-3)
            pinocchio.computeCentroidalMomentumTimeVariation(model, data, q, v, a)
            weight = pinocchio.computeTotalMass(model) * against_gravity(project.floor)
            force = np.asarray(data.dhg.linear) + weight
            moment = np.cross(centre, force) + np.asarray(data.dhg.angular)
            zmp = np.array([-moment[1], moment[0]]) / force[2]
            np.testing.assert_allclose(pushes_at(taken)[k] * 1000, zmp * 1000, atol=1e-3)


class Servos(SeededTest):
    def test_half_the_row_spacing_changes_peaks_by_little_away_from_contacts(self):
        """Rates and accelerations are those of the walk, not of its rows: in mid-swing and mid-stance nothing hangs on
        them."""
        for shape in ("six_sprawled", "four_upright", "four_radial_2"):
            project = start(shape, "Rows", float(self.random.uniform(100, 300)))
            rough = evaluate(project, "Forward").reading
            fine = evaluate(project, "Forward", 2 * rough.samples).reading
            contacts = rough.course.contact[:, : rough.samples]
            changes = (contacts != np.roll(contacts, 1, axis=1)).any(axis=0)
            near = np.zeros(rough.samples, dtype=bool)
            for off in range(-5, 6):
                near |= np.roll(changes, off)
            self.assertGreater((~near).sum(), 4, shape)
            one, other = np.abs(rough.of(joint_torques)[~near]), np.abs(fine.of(joint_torques)[::2][~near])
            self.assertLess(np.abs(other.max(axis=0) - one.max(axis=0)).max(), 0.1 * one.max(), shape)

    def test_a_servo_does_the_work_that_its_joints_take(self):
        """Σ τ_s·ṡ = Σ τ_q·q̇, whatever drives the joints; and shares are of the sheet."""
        values = document(start("six_sprawled", "Geared", 200.0))
        for n, drive in enumerate(values["walker"]["drives"]):
            if n % 3 == 1:
                drive |= {"kind": "gear", "settings": {"ratio": float(self.random.uniform(1.2, 3.0))}}
        r = evaluate(parse_project(values), "Forward").reading
        torques = r.of(joint_torques)
        servos = to_servos(r, torques)
        angles = r.kit.servo_angles(r.angles)
        work_s = (servos[1:-1] * (angles[2:] - angles[:-2])).sum(axis=1)
        work_q = (torques[1:-1] * (r.angles[2:] - r.angles[:-2])).sum(axis=1)
        np.testing.assert_allclose(work_s, work_q, atol=1e-9)
        loads = r.of(servo_loads)
        np.testing.assert_allclose(loads.share * r.of(at_its_voltage).stall_nm, loads.torque_nm)

    def test_a_servo_is_as_strong_as_its_supply_lets_it(self):
        """In proportion to the voltage, or between those that its sheet tells; what it holds is as much more of it."""
        values = document(on_boards(start("six_sprawled", "Fed", 200.0), 2))
        sheet = values["servo_types"][0]
        rated, stall = sheet["rated_v"], sheet["stall_torque_nm"]
        base = evaluate(parse_project(values), "Forward").reading
        bank = {"name": "Pack", "full_v": 8.4, "empty_v": 6.6}
        for volts, more, expected in (
            (rated * 0.8, [], stall * 0.8),
            (rated * 1.1, [(rated * 1.2, stall * 1.5)], stall * 1.25),
            (rated * 1.8, [(rated * 1.2, stall * 1.5)], stall * 1.5 * 1.8 / 1.2),
            (None, [], stall * 7.5 / rated),
        ):
            sheet["at"] = [{"volts": v, "stall_torque_nm": t, "no_load_speed_deg_s": 400.0} for v, t in more]
            values["electrics"]["banks"] = [bank | {"regulated_v": volts}]
            r = evaluate(parse_project(values), "Forward").reading
            np.testing.assert_allclose(r.of(at_its_voltage).stall_nm, expected)
            most, before = (np.abs(one.of(servo_loads).held_share).max() for one in (r, base))
            self.assertAlmostEqual(most / before, stall / expected, delta=0.02 * stall / expected)

    def test_sheets_of_next_to_nothing_and_machines_without_weight_are_not_judged_and_never_infinite(self):
        hardly = {
            f"servo_types/0/{k}": 1e-300 for k in ("stall_torque_nm", "no_load_speed_deg_s", "full_torque_at_deg")
        }
        hardly["walker/drives/2/stiffness_nm_deg"] = 1e-300
        for key, value in hardly.items():
            for how in ("off", "static", "full"):
                plan = evaluate(changed(hexapod(), {key: value, "against_sag": how}), "Forward")
                self.assertIn("next to no", not_told(plan.reading))
                self.assertTrue(np.isfinite(plan.reading.of(sent_joints)).all())
                self.assertTrue(all(np.isfinite(f.value) for f in plan.figures))
                self.assertFalse({"F05", "F07", "F08"} & {f.code for f in plan.findings})
