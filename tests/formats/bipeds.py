"""Two-legged machines of anybody's as URDF: hips in any order, joints off each other's axes, soles on the last."""

from __future__ import annotations

import numpy as np

from tests.formats.written_robot import WrittenRobot

AXES = {"yaw": (0, 0, 1), "roll": (1, 0, 0), "pitch": (0, 1, 0)}
HIPS = (("yaw", "roll", "pitch"), ("roll", "yaw", "pitch"), ("pitch", "roll", "yaw"), ("yaw", "pitch", "roll"))
WITHOUT_YAW = (("roll", "pitch"), ("pitch", "roll"))
ANKLES = (("pitch", "roll"), ("roll", "pitch"))


class Biped(WrittenRobot):
    """Thigh and shank of 80 to 200 mm each, the root in the middle of the torso or under it."""

    def __init__(self, random, yaw=True):
        super().__init__(random, float(random.uniform(0.08, 0.2)))
        hips = HIPS if yaw else WITHOUT_YAW
        self.hip, self.ankle = hips[random.integers(len(hips))], ANKLES[random.integers(2)]
        self.apart, self.hang = self.leg * random.uniform(0.22, 0.4), self.off(5)
        weight, tall = self.mass(0.5, 1.2), self.leg * float(random.uniform(0.6, 1.2))
        middle = (0.0, 0.0, float(random.choice([0.0, tall / 2])))
        self.strong, self.under = 5.0 * (self.leg / 0.15) * weight, middle[2] - tall / 2
        size = (self.leg * 0.5, 2 * self.apart + 0.2 * self.leg, tall)
        self.link("torso", weight, middle, self.box(size, middle))
        for side, leg in ((1, "left"), (-1, "right")):
            self._leg(side, leg)

    def _leg(self, side, leg):
        last, light = "torso", 0.04 * (self.leg / 0.15) ** 2

        def hung(word, at, axis, touch=""):
            nonlocal last
            here = f"{leg}_{word}_link"
            self.link(here, light, touch=touch)
            self.joint(f"{leg}_{word}", last, here, np.array(at) * (1, side, 1), axis, self.strong)
            last = here

        for n, word in enumerate(self.hip):
            at = (0.0, self.apart, self.under - 0.1 * self.leg - 0.01) if n == 0 else self.hang[n - 1] * (1, 1, 0.5)
            hung(f"hip_{word}", at, AXES[word])
        hung("knee", (0.0, self.hang[2, 1], -self.leg), AXES["pitch"])
        hung(f"ankle_{self.ankle[0]}", (0.0, self.hang[3, 1], -self.leg), AXES[self.ankle[0]])
        size = (0.9 * self.leg, min(0.5 * self.leg, 2 * self.apart - 0.01), 0.05 * self.leg)
        sole = self.box(size, (0.05 * self.leg, 0.0, -0.12 * self.leg))
        hung(f"ankle_{self.ankle[1]}", self.hang[4] * (1, 0, 0.5), AXES[self.ankle[1]], sole)
