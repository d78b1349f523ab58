"""MJCF out: the walker as a physics engine plays it, with servos, friction, wheels, soles and what holds it.

Metres, kilograms, radians. Every driven joint `<leg>/<joint>` has an actuator of the same name, which takes the table's
column of that name in radians (metres where it slides). One key a motion, named for it, has its first row: the pose
and what the actuators are told.

A servo holds its joint like a spring that reaches the stall torque τ₀ at full_torque_deg, or as far off its place as
its own sheet says, never beyond τ₀, against a drag of τ₀/ω₀ times its speed: at full torque that is the straight line
from stall to no-load speed ω₀. Its rotor has the inertia of a motor that comes up to ω₀ within TAU_S under τ₀, assumed.
Soles hold on the floor as the project says, and what touches is firm.

Limbs touch the floor and not each other: collisions are judged in the plan.
"""

from __future__ import annotations

from collections.abc import Sequence
from xml.etree import ElementTree as ET

import numpy as np
from scipy.spatial.transform import Rotation

from bustle.core.document.checked import CheckedProject
from bustle.core.evaluate import evaluate
from bustle.core.geometry.arrays import Array
from bustle.core.loads.held_against_sag import sent_joints
from bustle.core.machine.kit import TAU_S
from bustle.core.machine.masses import GRAVITY
from bustle.core.machine.slope import against_gravity
from bustle.core.machine.tracks import to_ground
from bustle.core.walk.motions.made_of import upside_down
from bustle.core.walk.reading import Reading
from bustle.core.words.problems import refuse
from bustle.formats.robot_files.bodies import Body, Robot, robot_of
from bustle.formats.robot_files.robot_file import Written, number, numbers, written
from bustle.formats.robot_files.shapes import Shape

FULL_TORQUE_DEG = 4.0
LIMITS_DEG = (0.1, 90.0)

# Sole on floor, where nobody has said; a skid slides at a quarter of what soles hold.
FRICTION, SKID = 0.8, 0.25
TURNING, ROLLING = 0.005, 0.0001
# How long what touches takes to come to rest, s, and how it is damped: a hard tip on a hard floor, as firm as in a dry
# run (its whole weight sinks by 0.3 mm: √(0.3 mm/g)). An engine's own may be three times that, a floor like a carpet,
# on which trots of tall machines rock up.
FIRM = "0.006 1"
# What a joint without a servo still has, so that none is without inertia and friction of its own.
BARE_INERTIA, BARE_DRAG = 1e-5, 1e-4
# What holds a frame's hinge where the motion bends it, at least, and how many times what hangs on it.
HINGE_NM, HINGE_HOLDS = 20.0, 20.0

KINDS = {"box": "box", "rod": "cylinder", "ball": "sphere", "dome": "ellipsoid"}
COLOURS = {"frame": "0.96 0.95 0.89 1", "link": "0.94 0.64 0.23 1"}
SOLE = "0.56 0.66 0.5 1"


def write_mjcf(project: CheckedProject, full_torque_deg: float | None = None) -> Written:
    """The design of a walker. full_torque_deg: of every servo; None: as its sheet says, else 4. Raises InputRefused for
    one outside 0.1 … 90."""
    low, high = LIMITS_DEG
    if full_torque_deg is not None and not low <= full_torque_deg <= high:
        raise refuse("full_torque_deg", f"must be from {low:g} to {high:g}, got {full_torque_deg:g}")
    robot = robot_of(project)
    without = _without_key(project)
    readings = [evaluate(project, m.name).reading for m in project.motions if m.name not in without]
    root = ET.Element("mujoco", model=robot.name)
    ET.SubElement(root, "compiler", angle="radian", autolimits="true")
    option = ET.SubElement(root, "option", timestep="0.001", integrator="implicitfast", cone="elliptic", impratio="10")
    if project.floor.slope_deg:
        option.set("gravity", numbers(-against_gravity(project.floor)))
    ET.SubElement(ET.SubElement(root, "default"), "geom", solref=FIRM)
    world = ET.SubElement(root, "worldbody")
    holds = project.floor.friction or FRICTION
    ET.SubElement(world, "light", pos="0 0 3", dir="0 0 -1", directional="true")
    ET.SubElement(
        world, "geom", name="floor", type="plane", size="0 0 0.05", rgba="0.12 0.29 0.26 1", contype="0",
        conaffinity="1", friction=_friction(holds),
    )  # fmt: skip
    held = project.walker.held != "free"
    height = _place(readings[0])[0][2] if readings else 0.3
    order = _bodies(world, robot, held, height, holds)
    _follows(root, robot)
    _actuators(root, robot, order, full_torque_deg)
    keys = ET.SubElement(root, "keyframe")
    for r in readings:
        _key(keys, robot, order, r, held, height)
    return written(root, [*robot.lost, *_lost(project)])


def _without_key(project: CheckedProject) -> list[str]:
    """What is held in one plane, never turned over."""
    held = project.walker.held != "free"
    return [motion.name for motion in project.motions if held and upside_down(project, motion)]


def _lost(project: CheckedProject) -> list[str]:
    lost = [f"{name}: walked upside down on a {project.walker.held}; it has no key." for name in _without_key(project)]
    if project.walker.held != "free":
        lost.append(f"The {project.walker.held}'s circle; in the file it keeps to one upright plane.")
    if any((s.full_torque_at_deg or LIMITS_DEG[0]) < LIMITS_DEG[0] for s in project.servo_types):
        lost.append(f"Servos that give less than {LIMITS_DEG[0]:g}°; in the file they give that.")
    lost.append("Limbs against each other; in the file they touch the floor only.")
    return lost


def _friction(sliding: float) -> str:
    return numbers((sliding, TURNING, ROLLING))


def _bodies(world: ET.Element, robot: Robot, held: bool, height: float, holds: float) -> list[int]:
    """The bodies nested in each other. Returns their order in the file, which is the order of its coordinates."""
    elements: dict[int, ET.Element] = {}
    order: list[int] = []

    def lay(n: int) -> None:
        body = robot.bodies[n]
        order.append(n)
        parent = world if body.parent < 0 else elements[body.parent]
        at = body.at if body.parent >= 0 else np.array([0.0, 0.0, height])
        element = elements[n] = ET.SubElement(parent, "body", name=body.name, pos=numbers(at))
        if not np.array_equal(body.turn, np.eye(3)):
            element.set("quat", numbers(_quaternion(body.turn)))
        if body.parent < 0:
            _root(element, held)
        if body.joint:
            _joint(element, body)
        if body.kg:
            i = body.inertia
            full = (i[0, 0], i[1, 1], i[2, 2], i[0, 1], i[0, 2], i[1, 2])
            ET.SubElement(
                element, "inertial", pos=numbers(body.centre), mass=number(body.kg), fullinertia=numbers(full)
            )
        for shape in body.shapes:
            _geom(element, shape, holds)
        for child, other in enumerate(robot.bodies):
            if other.parent == n:
                lay(child)

    lay(next(n for n, body in enumerate(robot.bodies) if body.parent < 0))
    return order


def _root(element: ET.Element, held: bool) -> None:
    if not held:
        ET.SubElement(element, "freejoint", name="root")
        return
    for name, kind, axis in (("ahead", "slide", "1 0 0"), ("up", "slide", "0 0 1"), ("pitch", "hinge", "0 1 0")):
        ET.SubElement(element, "joint", name=f"root/{name}", type=kind, axis=axis)


def _joint(element: ET.Element, body: Body) -> None:
    joint = body.joint
    assert joint
    made = ET.SubElement(
        element, "joint", name=joint.name, type="slide" if joint.slides else "hinge", axis=numbers(joint.axis)
    )
    if joint.ends and not joint.follows:
        made.set("range", numbers((joint.low, joint.high)))
    inertia, drag = BARE_INERTIA, BARE_DRAG
    if joint.turned and not joint.follows:
        drag = joint.turned.stall_nm / joint.turned.no_load_rad_s
        inertia = joint.turned.rotor_kg_m2 or drag * TAU_S
    made.set("armature", number(inertia))
    made.set("damping", number(drag))
    if joint.friction_nm:
        made.set("frictionloss", number(joint.friction_nm))


def _geom(element: ET.Element, shape: Shape, holds: float) -> None:
    size = shape.size / 2 if shape.kind == "box" else shape.size
    if shape.kind == "rod":
        size = np.array([shape.size[0], shape.size[1] / 2])
    geom = ET.SubElement(
        element, "geom", type=KINDS[shape.kind], size=numbers(size), pos=numbers(shape.at),
        quat=numbers(_quaternion(shape.turn)), rgba=COLOURS.get(shape.grip, SOLE), contype="1", conaffinity="0",
        friction=_friction(SKID * holds if shape.grip == "skid" else holds),
    )  # fmt: skip
    if shape.grip in ("caster", "skid"):
        # Its own word counts, not the floor's.
        geom.set("priority", "1")
    if shape.grip == "caster":
        geom.set("condim", "1")


def _follows(root: ET.Element, robot: Robot) -> None:
    tied = [body.joint for body in robot.bodies if body.joint and body.joint.follows]
    if not tied:
        return
    equality = ET.SubElement(root, "equality")
    for joint in tied:
        assert joint.follows
        leader, factor = joint.follows
        ET.SubElement(
            equality, "joint", joint1=joint.name, joint2=leader, polycoef=numbers((0.0, factor, 0.0, 0.0, 0.0)),
            solref="0.004 1", solimp="0.99 0.9999 0.0001",
        )  # fmt: skip


def _hangs_nm(robot: Robot, pivot: int) -> float:
    """What the weight of all that a hinge carries turns it by, at most."""
    far = {pivot: 0.0}
    for n, body in enumerate(robot.bodies):
        # Parents come before children.
        if n != pivot and body.parent in far:
            far[n] = far[body.parent] + float(np.linalg.norm(body.at))
    carried = [(robot.bodies[n], at) for n, at in far.items()]
    return GRAVITY * sum(body.kg * (at + float(np.linalg.norm(body.centre))) for body, at in carried)


def _actuators(root: ET.Element, robot: Robot, order: Sequence[int], full_torque_deg: float | None) -> None:
    actuators = ET.SubElement(root, "actuator")
    for n in order:
        joint = robot.bodies[n].joint
        if joint is None or joint.follows or not joint.ends:
            continue
        gives = full_torque_deg or FULL_TORQUE_DEG
        if joint.turned:
            torque, own = joint.turned.stall_nm, joint.turned.gives_deg
            gives = full_torque_deg or max(own or FULL_TORQUE_DEG, LIMITS_DEG[0])
        elif robot.bodies[n].name.endswith("/pivot"):
            torque = max(HINGE_NM, HINGE_HOLDS * _hangs_nm(robot, n))
        else:
            continue
        ET.SubElement(
            actuators, "position", name=joint.name, joint=joint.name, kp=number(torque / np.radians(gives)),
            forcerange=numbers((-torque, torque)), ctrlrange=numbers((joint.low, joint.high)),
        )  # fmt: skip


def _place(r: Reading) -> tuple[Array, Array]:
    """Where the body's origin is on the ground at the first row, m, and its turn (3, 3)."""
    body = r.course.body
    shape = (len(body.at), 3)
    origin = to_ground(body, np.zeros((1, *shape)))[0, 0]
    axes = [to_ground(body, np.broadcast_to(axis, (1, *shape)))[0, 0] - origin for axis in np.eye(3)]
    return origin / 1000, np.stack(axes, axis=1)


def _key(keys: ET.Element, robot: Robot, order: Sequence[int], r: Reading, held: bool, height: float) -> None:
    """The first row of a motion as the engine's coordinates."""
    at, turn = _place(r)
    values, sent = (
        {j.called: j.sign * joints[0, n] / (1000 if j.slides else 1) for n, j in enumerate(r.kit.joints)}
        for joints in (r.angles, r.of(sent_joints))
    )
    values |= {f"{name}/hinge": float(np.radians(bend)) for name, bend in r.score.bends_deg.items()}
    upright = float(np.arctan2(-turn[2, 0], turn[0, 0]))
    pose = [at[0], at[2] - height, upright] if held else [*at, *_quaternion(turn)]
    told = []
    for n in order:
        joint = robot.bodies[n].joint
        if joint is None:
            continue
        leader, factor = joint.follows or (joint.name, 1.0)
        value = factor * float(values.get(leader, 0.0))
        pose.append(value)
        if not joint.follows and (joint.turned or robot.bodies[n].name.endswith("/pivot")):
            told.append(float(sent.get(joint.name, value)))
    ET.SubElement(keys, "key", name=r.motion.name, qpos=numbers(pose), ctrl=numbers(told))


def _quaternion(turn: Array) -> Array:
    """w, x, y, z."""
    found: Array = Rotation.from_matrix(turn).as_quat(scalar_first=True)
    return found
