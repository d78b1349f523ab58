"""Two-legged machines of anybody's as URDF: hips in any order, joints off each other's axes, soles on the last."""

from __future__ import annotations

import numpy as np

AXES = {"yaw": (0, 0, 1), "roll": (1, 0, 0), "pitch": (0, 1, 0)}
HIPS = (("yaw", "roll", "pitch"), ("roll", "yaw", "pitch"), ("pitch", "roll", "yaw"), ("yaw", "pitch", "roll"))
WITHOUT_YAW = (("roll", "pitch"), ("pitch", "roll"))
ANKLES = (("pitch", "roll"), ("roll", "pitch"))


def _told(values):
    return " ".join(f"{v:.9g}" for v in values)


class Biped:
    """Drawn from a generator: thigh and shank of 80 to 200 mm each, the root in the middle of the torso or under it,
    and joints up to an offset of 8 % of a link beside where a drawing would have them."""

    def __init__(self, random, yaw=True):
        self.random, self.links = random, []
        self.leg = float(random.uniform(0.08, 0.2))
        hips = HIPS if yaw else WITHOUT_YAW
        self.hip, self.ankle = hips[random.integers(len(hips))], ANKLES[random.integers(2)]
        self.apart = self.leg * random.uniform(0.22, 0.4)
        self.off = self.leg * random.uniform(-0.08, 0.08, (5, 3)) * random.choice([0, 1], (5, 3))
        self.size = self.leg * (self.leg / 0.15) ** 2
        self._torso()
        for side, leg in ((1, "left"), (-1, "right")):
            self._leg(side, leg)

    @property
    def file(self):
        return f"<robot name='biped'>{''.join(self.links)}</robot>"

    def _link(self, name, kg, at=(0, 0, 0), touch=""):
        turns = kg * (0.2 * self.leg) ** 2 / 6
        self.links.append(
            f"<link name='{name}'><inertial><origin xyz='{_told(at)}'/><mass value='{kg:.6g}'/><inertia"
            f" ixx='{turns:.4g}' iyy='{turns:.4g}' izz='{turns:.4g}' ixy='0' ixz='0' iyz='0'/></inertial>{touch}</link>"
        )

    def _torso(self):
        weight = float(self.random.uniform(0.5, 1.2)) * (self.leg / 0.15) ** 2
        tall = self.leg * float(self.random.uniform(0.6, 1.2))
        middle = (0.0, 0.0, float(self.random.choice([0.0, tall / 2])))
        self.strong = 5.0 * (self.leg / 0.15) * weight
        size = (self.leg * 0.5, 2 * self.apart + 0.2 * self.leg, tall)
        box = f"<collision><origin xyz='{_told(middle)}'/><geometry><box size='{_told(size)}'/></geometry></collision>"
        self._link("torso", weight, middle, box)
        self.under = middle[2] - tall / 2

    def _leg(self, side, leg):
        last, light = "torso", 0.04 * (self.leg / 0.15) ** 2

        def joint(word, at, axis, touch=""):
            nonlocal last
            here = f"{leg}_{word}_link"
            self._link(here, light, touch=touch)
            self.links.append(
                f"<joint name='{leg}_{word}' type='revolute'><parent link='{last}'/><child link='{here}'/><origin"
                f" xyz='{_told(np.array(at) * (1, side, 1))}'/><axis xyz='{_told(axis)}'/><limit lower='-2.2'"
                f" upper='2.2' effort='{self.strong:.4g}' velocity='9'/></joint>"
            )
            last = here

        for n, word in enumerate(self.hip):
            at = (0.0, self.apart, self.under - 0.1 * self.leg - 0.01) if n == 0 else self.off[n - 1] * (1, 1, 0.5)
            joint(f"hip_{word}", at, AXES[word])
        joint("knee", (0.0, self.off[2, 1], -self.leg), AXES["pitch"])
        wide = min(0.5 * self.leg, 2 * self.apart - 0.01)
        sole = (
            f"<collision><origin xyz='{_told((0.05 * self.leg, 0.0, -0.12 * self.leg))}'/><geometry><box"
            f" size='{_told((0.9 * self.leg, wide, 0.05 * self.leg))}'/></geometry></collision>"
        )
        joint(f"ankle_{self.ankle[0]}", (0.0, self.off[3, 1], -self.leg), AXES[self.ankle[0]])
        joint(f"ankle_{self.ankle[1]}", self.off[4] * (1, 0, 0.5), AXES[self.ankle[1]], sole)
