"""Tables of any machine: whatever the format, they say the same; and an engine that is told their rows, reading nothing
but the files, has the feet where they were planned."""

from __future__ import annotations

import csv
import io
import json
import re
from typing import Any

import numpy as np

from bustle.core.document.checked import CheckedProject
from bustle.core.evaluate import evaluate
from bustle.core.starting.own_numbers import OwnNumbers
from bustle.core.starting.starting_walkers import SHAPES, start_from
from bustle.formats import write_table
from bustle.formats.robot_files.urdf_out import write_urdf
from tests.formats.posed import Engine
from tests.long import in_turns
from tests.projects import changed, start
from tests.seeded import SeededTest

MACHINES = 2


def from_csv(data: bytes) -> tuple[list[str], np.ndarray]:
    rows = list(csv.reader(io.StringIO(data.decode())))
    return [name.rsplit("_", 1)[0] for name in rows[0][1:]], np.array(rows[1:], dtype=float)[:, 1:]


def from_json(data: bytes) -> tuple[list[str], np.ndarray]:
    told = json.loads(data)
    return [c["name"] for c in told["columns"]], np.array(told["rows"], dtype=float)


def from_c(data: bytes) -> tuple[list[str], np.ndarray]:
    text = data.decode()
    per_unit = float(re.search(r"_PER_UNIT (\d+)", text)[1])
    rows = re.findall(r"^    \{([-\d, ]+)\},?$", text, re.M)
    return re.findall(r"^ \* +\d+  (\S+)$", text, re.M), np.array([r.split(",") for r in rows], dtype=float) / per_unit


def from_python(data: bytes) -> tuple[list[str], np.ndarray]:
    module: dict[str, Any] = {}
    exec(data.decode(), module)
    rows = []
    for n in range(module["ROWS"]):
        into = [0] * module["COLUMNS"]
        module["row"](n, into)
        rows.append(into)
    return list(module["NAMES"]), np.array(rows, dtype=float) / module["PER_UNIT"]


READERS = {"csv": from_csv, "json": from_json, "c": from_c, "python": from_python}


class AnyMachine(SeededTest):
    def machine(self) -> CheckedProject:
        """A starting shape of any size, or legs by one's own numbers; planned as it is, nothing held against."""
        if self.random.random() < 0.6:
            project = start(str(self.random.choice(list(SHAPES))), "Any", float(self.random.integers(70, 500)))
        else:
            leg = float(self.random.uniform(80, 300))
            legs, family = int(self.random.choice([4, 6, 8])), str(self.random.choice(["sprawled_3", "upright_3"]))
            body = (legs * leg * 0.24, leg * 0.6, leg * 0.2)
            project = start_from(
                OwnNumbers(family, legs, "sides", body, "box", (0.2 * leg, 0.5 * leg, 0.5 * leg)), "Own"
            )
        return changed(project, {"against_sag": "off"})

    @in_turns
    def test_every_format_holds_the_same_rows_of_the_same_joints(self):
        for _ in range(MACHINES):
            project = self.machine()
            motion = str(self.random.choice([m.name for m in project.motions]))
            plan = evaluate(project, motion)
            wanted = plan.reading.angles * plan.reading.kit.scale
            names = [joint.path.replace("/", ".") for joint in plan.reading.kit.joints]
            for kind, read in READERS.items():
                with self.subTest(project=project.name, motion=motion, kind=kind, seed=self.seed):
                    columns, rows = read(write_table(plan, kind, 3, anyway=True))
                    self.assertEqual(rows.shape, wanted.shape)
                    self.assertEqual(columns, names)
                    # Whole tenths where a row is two bytes a joint.
                    step = 0.1 if kind in ("c", "python") else 0.001
                    self.assertLessEqual(np.abs(rows - wanted).max(), 0.5 * step + 1e-9)

    def test_an_engine_told_the_rows_has_the_feet_where_they_were_planned(self):
        for _ in range(MACHINES):
            project = self.machine()
            motion = str(self.random.choice([m.name for m in project.motions]))
            plan = evaluate(project, motion)
            r = plan.reading
            columns, rows = from_csv(write_table(plan, "csv", 4, anyway=True))
            engine = Engine(write_urdf(project).data, afloat=True)
            reach = sum(link.length_mm for limb in project.walker.legs for link in limb.links)
            for row in self.random.integers(0, len(rows), 5):
                for column, value in zip(columns, rows[row], strict=True):
                    joint = next(j for j in r.kit.joints if j.path.replace("/", ".") == column)
                    engine.tell(joint.path, value / 1000 if joint.slides else np.radians(value))
                engine.follow()
                root = engine.data.body(project.walker.sections[0].name)
                turn = root.xmat.reshape(3, 3)
                for n, limb in enumerate(project.walker.limbs):
                    if limb.feet and limb.joints:
                        seen = (engine.at(f"{limb.name}/foot") - root.xpos * 1000) @ turn
                        planned = r.course.solved.points[n][row, -1]
                        with self.subTest(project=project.name, motion=motion, limb=limb.name, seed=self.seed):
                            # A ten-thousandth of a degree, at every joint of a leg.
                            self.assertLess(np.linalg.norm(seen - planned), 1e-3 + 1e-5 * reach)
