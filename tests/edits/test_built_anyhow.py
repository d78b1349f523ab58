"""Machines that nobody thought of: edits of a walker in any order, each refused in a sentence or giving a machine that
is drawn, judged, written as tables and stands in a physics engine as it is planned."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from bustle.core.document.checked import CheckedProject, parse_project
from bustle.core.document.file import load_project, save_project
from bustle.core.edits.alike import followed
from bustle.core.edits.chain_joints import jointed, unjointed
from bustle.core.edits.frame_sections import hinged
from bustle.core.edits.hinge_drives import hinge_driven
from bustle.core.edits.limb_edits import at_the_other_end, copied, mirrored, relabelled, removed, renamed, repeated
from bustle.core.edits.mirroring import mirror_image
from bustle.core.edits.new_limbs import added, refitted
from bustle.core.edits.scaling import scaled
from bustle.core.evaluate import evaluate
from bustle.core.kinds.legs import FAMILIES
from bustle.core.project.project import document
from bustle.core.starting.leg_that_stands import leg_that_stands
from bustle.core.starting.starting_walkers import SHAPES
from bustle.core.words.problems import InputRefused
from bustle.formats import write_table
from bustle.web.drawn.picture import picture
from tests.formats.posed import Posed
from tests.long import in_turns, is_long, times
from tests.projects import changed, start

EDITS = 6

Edit = Callable[[np.random.Generator, CheckedProject], CheckedProject]


def limb(random: np.random.Generator, project: CheckedProject) -> str:
    return str(random.choice([m.name for m in project.walker.limbs]))


def _a_joint(random: np.random.Generator, project: CheckedProject, own: str) -> str:
    joints = next(m for m in project.walker.limbs if m.name == own).joints
    return str(random.choice([j.name for j in joints])) if joints else "none"


def _joint_taken_off(random: np.random.Generator, project: CheckedProject) -> CheckedProject:
    own = limb(random, project)
    return unjointed(project, own, _a_joint(random, project, own), bool(random.random() < 0.5))


def _joint_put_in(random: np.random.Generator, project: CheckedProject) -> CheckedProject:
    own = limb(random, project)
    behind = _a_joint(random, project, own) if random.random() < 0.7 else ""
    return jointed(project, own, bool(random.random() < 0.5), behind)


def _weightless(random: np.random.Generator, project: CheckedProject) -> CheckedProject:
    """All its links, all its servos, or all that it carries weigh nothing."""
    values = document(project)
    links = [link for limb in values["walker"]["limbs"] for link in limb["links"]]
    every = [links, values["servo_types"], values["walker"]["masses"]]
    for part in every[int(random.integers(3))]:
        part["mass_g"] = 0.0
    return parse_project(values)


def _link(random: np.random.Generator, project: CheckedProject) -> CheckedProject:
    """A link typed anew, and the legs that are alike after it."""
    n = int(random.integers(len(project.walker.limbs)))
    own = project.walker.limbs[n]
    if not own.links:
        return project
    k = int(random.integers(len(own.links)))
    length = round(own.links[k].length_mm * float(random.uniform(0.8, 1.25)), 1)
    return followed(project, changed(project, {f"walker/limbs/{n}/links/{k}/length_mm": length}), own.name)


def _section(random: np.random.Generator, project: CheckedProject) -> CheckedProject:
    return hinge_driven(project, str(random.choice([s.name for s in project.walker.sections])))


def _refitted(random: np.random.Generator, project: CheckedProject) -> CheckedProject:
    return refitted(project, limb(random, project), str(random.choice(sorted(FAMILIES))), bool(random.random() < 0.7))


def _added(random: np.random.Generator, project: CheckedProject) -> CheckedProject:
    at = tuple(float(v) for v in random.uniform(-90, 90, 2).round(1)) if random.random() < 0.7 else None
    role = str(random.choice(["leg", "arm", "support"]))
    family = str(random.choice(sorted(FAMILIES)))
    return leg_that_stands(project, family, at) if role == "leg" else added(project, role, family, at)


EDITS_BY_HAND: dict[str, Edit] = {
    "copy a limb": lambda random, p: copied(p, limb(random, p)),
    "the same at the other end": lambda random, p: at_the_other_end(p, limb(random, p)),
    "mirror a limb": lambda random, p: mirrored(p, limb(random, p)),
    "set it round": lambda random, p: repeated(p, limb(random, p), int(random.integers(3, 9))),
    "take a limb off": lambda random, p: removed(p, limb(random, p)),
    "rename": lambda random, p: renamed(p, {limb(random, p): "Renamed"}),
    "label": lambda random, p: relabelled(p, str(random.choice(["sides", "corners", "circle"]))),
    "add a limb": _added,
    "a joint more": _joint_put_in,
    "as free chains": lambda random, p: refitted(p, limb(random, p), "serial", bool(random.random() < 0.7)),
    "a joint less": _joint_taken_off,
    "another kind of leg": _refitted,
    "a section more": lambda random, p: hinged(p, str(random.choice(["yaw", "pitch", "roll"]))),
    "a servo in the frame": _section,
    "scale": lambda random, p: scaled(p, float(random.uniform(0.6, 1.7)), bool(random.random() < 0.5)),
    "mirror it all": lambda random, p: mirror_image(p),
    "a link": _link,
    "weighs nothing": _weightless,
}


class BuiltAnyhow(Posed):
    def built(self) -> tuple[list[str], CheckedProject]:
        shape = str(self.random.choice(list(SHAPES)))
        project = start(shape, "Anyhow", float(self.random.choice([90.0, 200.0, 400.0])))
        done = [shape]
        for name in self.random.choice(list(EDITS_BY_HAND), EDITS):
            try:
                project = EDITS_BY_HAND[str(name)](self.random, project)
                done.append(str(name))
            except InputRefused as refused:
                self.assertTrue(all(problem.sentence for problem in refused.problems), done)
        return done, project

    @in_turns
    @is_long
    def test_each_edit_is_refused_in_a_sentence_or_gives_a_machine_that_can_be_used(self):
        for _ in range(times(80)):
            done, project = self.built()
            with self.subTest(done=done, seed=self.seed):
                self.assertEqual(load_project(save_project(project)), project)
                with np.errstate(over="raise", invalid="raise", divide="raise"):
                    self.used(project)

    def used(self, project: CheckedProject) -> None:
        for motion in project.motions:
            plan = evaluate(project, motion.name)
            self.assertTrue(np.isfinite(plan.reading.angles).all(), motion.name)
            for figure in plan.figures:
                self.assertTrue(np.isfinite(figure.value), f"{motion.name} {figure.name}")
            for finding in plan.findings:
                self.assertNotRegex(finding.message, r"\bnan\b|\binf\b|None")
            picture(plan)
            table = write_table(plan, "csv", anyway=True).decode()
            self.assertNotRegex(table, r"nan|inf")
            self.assertEqual(len({line.count(",") for line in table.splitlines() if not line.startswith("#")}), 1)
        if project.motions:
            self.agree(project, project.motions[0].name)
