"""A URDF written link by link, as somebody's own program would write it."""

from __future__ import annotations

import numpy as np


def told(values):
    return " ".join(f"{v:.9g}" for v in values)


class WrittenRobot:
    """Drawn from a generator. size: a link's length, m, by which all else goes."""

    def __init__(self, random, size):
        self.random, self.leg, self.links = random, size, []

    @property
    def file(self):
        return f"<robot name='anybodys'>{''.join(self.links)}</robot>"

    def mass(self, low, high):
        """Kilograms, as such machines weigh at 0.15 m."""
        return float(self.random.uniform(low, high)) * (self.leg / 0.15) ** 2

    def link(self, name, kg, at=(0, 0, 0), touch=""):
        turns = kg * (0.2 * self.leg) ** 2 / 6
        self.links.append(
            f"<link name='{name}'><inertial><origin xyz='{told(at)}'/><mass value='{kg:.6g}'/><inertia"
            f" ixx='{turns:.4g}' iyy='{turns:.4g}' izz='{turns:.4g}' ixy='0' ixz='0' iyz='0'/></inertial>{touch}</link>"
        )

    def joint(self, name, parent, child, at, axis, strong, turned=(0, 0, 0)):
        self.links.append(
            f"<joint name='{name}' type='revolute'><parent link='{parent}'/><child link='{child}'/><origin"
            f" xyz='{told(at)}' rpy='{told(turned)}'/><axis xyz='{told(axis)}'/><limit lower='-2.2' upper='2.2'"
            f" effort='{strong:.4g}' velocity='9'/></joint>"
        )

    def fixed(self, parent, child, at):
        self.links.append(
            f"<joint name='{child}_fixed' type='fixed'><parent link='{parent}'/><child link='{child}'/><origin"
            f" xyz='{told(at)}'/></joint>"
        )

    def box(self, size, at=(0, 0, 0)):
        return f"<collision><origin xyz='{told(at)}'/><geometry><box size='{told(size)}'/></geometry></collision>"

    def ball(self, radius):
        return f"<collision><geometry><sphere radius='{radius:.6g}'/></geometry></collision>"

    def off(self, rows):
        """Where joints lie beside a drawing's places, some of them."""
        random, far = self.random, 0.08 * self.leg
        return np.where(random.random((rows, 3)) < 0.5, random.uniform(-far, far, (rows, 3)), 0.0)
