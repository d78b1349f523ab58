"""Robot files with something in them spoilt: a sentence, or a machine all of whose figures are numbers."""

from __future__ import annotations

import re

import numpy as np

from bustle.core.evaluate import evaluate
from bustle.core.words.problems import InputRefused
from bustle.formats.robot_files.urdf_in import read_urdf
from tests.formats.bipeds import Biped
from tests.formats.many_legs import STYLES, ManyLegs
from tests.long import is_long, times
from tests.seeded import SeededTest

NUMBERS = ("0", "-1", "1e9", "nan", "inf", "1e-12", "abc", "", "-0.0", "99", "1 2", "3.0")
KINDS = ("continuous", "prismatic", "floating", "planar", "fixed", "bogus")
SHAPES = (
    "<box size='0 0 0'/>", "<box size='2.9 2.9 2.9'/>", "<box size='1e-9 1 1'/>", "<cylinder radius='0' length='0'/>",
    "<sphere radius='0.2'/>", "<mesh filename='trunk'/>",
)  # fmt: skip


class Spoilt(SeededTest):
    def a_number(self, text):
        return self.put(text, r"-?\d+\.?\d*(e-?\d+)?", self.random.choice(NUMBERS))

    def an_element(self, text):
        return self.put(text, r"<(limit|axis|origin)[^>]*/>", "")

    def a_kind(self, text):
        return self.put(text, r"(?<=type=')revolute", self.random.choice(KINDS))

    def a_shape(self, text):
        return self.put(text, r"<box size='[^']*'/>", self.random.choice(SHAPES))

    def a_name(self, text):
        """As another's: a link twice, a joint on nothing, a ring."""
        names = re.findall(r"name='(\w+)'", text)
        return self.put(text, r"(?<==')[a-z]+_\w+(?=')", self.random.choice(names))

    def put(self, text, pattern, instead):
        spans = [found.span() for found in re.finditer(pattern, text)]
        if not spans:
            return text
        begin, end = spans[self.random.integers(len(spans))]
        return text[:begin] + str(instead) + text[end:]

    @is_long
    def test_whatever_stands_in_it(self):
        spoil = (self.a_number, self.a_number, self.an_element, self.a_kind, self.a_shape, self.a_name)
        read = 0
        for _ in range(max(40, times(800))):
            styled = self.random.random() < 0.5
            robot = Biped(self.random) if styled else ManyLegs(self.random, str(self.random.choice(STYLES)))
            text = robot.file
            for _ in range(int(self.random.integers(1, 4))):
                text = spoil[self.random.integers(len(spoil))](text)
            with self.subTest(text=text, seed=self.seed):
                try:
                    project = read_urdf(text.encode()).project
                except InputRefused as refused:
                    self.assertTrue(all(problem.sentence.strip() for problem in refused.problems))
                    continue
                read += 1
                plan = evaluate(project, project.motions[0].name)
                self.assertTrue(np.isfinite([figure.value for figure in plan.figures]).all())
                self.assertTrue(all(finding.message for finding in plan.findings))
        self.assertGreater(read, 0)
