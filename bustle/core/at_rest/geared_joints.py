"""What a servo's sheet comes to at the joints its drive turns."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from bustle.core.machine.kit import Kit
from bustle.core.project.parts import ServoType

# rad either way from the servo's centre.
STEP = 1e-5


@dataclass(frozen=True)
class Turned:
    """What turns one joint: the servo's sheet, and by how much the servo out-turns the joint at its centre."""

    sheet: ServoType
    ratio: float

    @property
    def stall_nm(self) -> float:
        return self.sheet.stall_torque_nm * self.ratio

    @property
    def rotor_kg_m2(self) -> float | None:
        """As the joint feels it; None where nobody told of it."""
        return self.sheet.rotor.felt_kg_m2 * self.ratio**2 if self.sheet.rotor else None

    @property
    def gives_deg(self) -> float | None:
        """How far the joint is off its place at the stall torque; None where its sheet does not say."""
        told = self.sheet.full_torque_at_deg
        return None if told is None else told / self.ratio

    @property
    def no_load_rad_s(self) -> float:
        return float(np.radians(self.sheet.no_load_speed_deg_s)) / self.ratio


def geared_joints(kit: Kit) -> dict[str, Turned]:
    """By joint path; free joints are left out.

    A drive turns joint k by ∂q_k/∂s per turn of its servo s: its torque is stall/|∂q_k/∂s| and its speed ω₀·|∂q_k/∂s|
    (virtual work). A rod's lever changes with the angle: it is taken where the servo stands at its centre.
    """
    sheets = {s.name: s for s in kit.servo_types}
    found = {}
    for gearing in kit.gearings:
        count = gearing.centres.shape[1]
        for k, columns in enumerate(gearing.columns.T):
            servo = min(k, count - 1)
            ahead = np.zeros((1, len(columns), count))
            ahead[..., servo] = STEP
            turn = (gearing.to_joints(ahead) - gearing.to_joints(-ahead))[0, :, k] / (2 * STEP)
            for drive, column, share in zip(gearing.drives, columns, np.abs(turn), strict=True):
                ratio = 1.0 / float(share) if share > 1e-6 else 1.0
                found[kit.joints[column].path] = Turned(sheets[drive.servos[servo].type], ratio)
    return found
