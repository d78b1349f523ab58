"""Machines of anybody's on four or six legs as URDF: upright or sprawled, in frames of their own, on balls."""

from __future__ import annotations

import numpy as np

from tests.formats.written_robot import WrittenRobot

STYLES = ("upright", "upright, bent at zero", "sprawled", "sprawled, in turned frames")
CORNERS = ("front_left", "front_right", "hind_left", "hind_right")
ROWS = ("one_l", "one_r", "two_l", "two_r", "three_l", "three_r")


class ManyLegs(WrittenRobot):
    """Thigh and shank, or femur and tibia, of 60 to 200 mm; the trunk is the root, lies off it or is fixed to it."""

    def __init__(self, random, style):
        super().__init__(random, float(random.uniform(0.06, 0.2)))
        self.style, self.names = style, CORNERS if style.startswith("upright") or random.random() < 0.4 else ROWS
        self.hang, self.ways = self.off(2), random.choice([-1, 1], 3)
        self.foot = self.leg * float(random.uniform(0.04, 0.1))
        long, wide, tall = self.leg * random.uniform([1.3, 0.7, 0.25], [2.2, 1.1, 0.5])
        weight, lies = self.mass(0.4, 1.2), random.choice(["root", "off", "fixed"])
        self.strong = 5.0 * (self.leg / 0.15) ** 2
        self.middle = np.zeros(3) if lies != "off" else self.leg * random.uniform(-0.5, 0.5, 3)
        trunk = self.box((long, wide, tall), self.middle if lies == "off" else (0, 0, 0))
        if lies == "fixed":
            self.link("base", 0.001 * weight)
            self.link("trunk", weight, touch=trunk)
            self.fixed("base", "trunk", (0, 0, 0))
        else:
            self.link("base", weight, self.middle, trunk)
        rows = len(self.names) // 2
        for n, name in enumerate(self.names):
            row, right = divmod(n, 2)
            place = np.array([long / 2 - row * long / (rows - 1), (-1) ** right * wide / 2, 0.0])
            self._leg(name, self.middle + place, place, -1 if right else 1)

    def _leg(self, name, at, place, side):
        last, light = "base", 0.03 * (self.leg / 0.15) ** 2

        def hung(word, where, axis, turned=(0, 0, 0)):
            nonlocal last
            here = f"{name}_{word}_link"
            self.link(here, light)
            self.joint(f"{name}_{word}", last, here, where, axis, self.strong, turned)
            last = here

        (a, b, c), leg = self.ways, self.leg
        if self.style.startswith("upright"):
            bent = 0.7 if "bent" in self.style else 0.0
            hung("hip", at, (a, 0, 0))
            hung("thigh", (self.hang[0, 0], side * 0.25 * leg, self.hang[0, 2]), (0, b, 0), (0, bent, 0))
            hung("shank", (0, side * self.hang[1, 1], -leg), (0, c, 0), (0, -2 * bent, 0))
            end = (0, 0, -leg)
        else:
            middle = len(self.names) == 6 and abs(place[0]) < 1e-9
            out = side * np.pi / 2 if middle else np.arctan2(place[1], 0.8 * place[0])
            flat = "turned" not in self.style
            hung("coxa", at, (0, 0, a), (0, 0, out))
            hung(
                "femur", (0.35 * leg, 0, 0), (0, b, 0) if flat else (0, 0, b), (0, 0, 0) if flat else (np.pi / 2, 0, 0)
            )
            # In a frame that is turned about x, up is y.
            hung(
                "tibia", (0.7 * leg, 0, 0), (0, c, 0) if flat else (0, 0, c), (0, 0, 0) if flat else (0, 0, -np.pi / 2)
            )
            end = (1.1 * leg, 0, 0)
        ball = f"{name}_foot"
        self.link(ball, 0.1 * light, touch=self.ball(self.foot))
        self.fixed(last, ball, end)
