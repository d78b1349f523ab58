"""Robot files of anybody's: a trunk, and limbs of hinges that end in a ball, a hand or a sole."""

from __future__ import annotations


class Anybodys:
    def limb(self, name, across, links, end):
        """A chain of links (axis, offset) and what its last link touches with."""
        last, text = "trunk", ""
        for n, (axis, offset) in enumerate(links):
            here = f"{name}_{n}"
            touch = end if n == len(links) - 1 else ""
            text += (
                f"<link name='{here}'><inertial><mass value='0.05'/>{self.ROUND}</inertial>{touch}</link>"
                f"<joint name='{here}_joint' type='revolute'><parent link='{last}'/><child link='{here}'/>"
                f"<origin xyz='{offset}'/><axis xyz='{axis}'/><limit lower='-1.5' upper='1.5' effort='2'"
                " velocity='6'/></joint>"
            ).replace("ACROSS", str(across))
            last = here
        return text

    ROUND = "<inertia ixx='1e-5' iyy='1e-5' izz='1e-5' ixy='0' ixz='0' iyz='0'/>"
    TRUNK = (
        f"<link name='trunk'><inertial><mass value='0.6'/>{ROUND}</inertial><collision><geometry>"
        "<box size='0.2 0.1 0.05'/></geometry></collision></link>"
    )
    BALL = "<collision><origin xyz='0 0 -0.12'/><geometry><sphere radius='0.01'/></geometry></collision>"
    HAND = "<collision><origin xyz='0 0 -0.06'/><geometry><sphere radius='0.02'/></geometry></collision>"
    SOLE = "<collision><origin xyz='0.01 0 -0.03'/><geometry><box size='0.1 0.05 0.01'/></geometry></collision>"

    def four_legs(self):
        links = [("1 0 0", "X ACROSS 0"), ("0 1 0", "0 0 0"), ("0 1 0", "0 0 -0.1")]
        return "".join(
            self.limb(f"leg{n}", side * 0.05, [(a, o.replace("X", str(ahead))) for a, o in links], self.BALL)
            for n, (ahead, side) in enumerate(((0.08, 1), (0.08, -1), (-0.08, 1), (-0.08, -1)))
        )
