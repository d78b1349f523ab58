"""From horn angles to what is sent: pulses in µs, ticks of a 12-bit board, counts of a bus, and back.

pulse = centre + direction·us_per_deg·(θ_s + tooth left + trim)
prescale = round(f_osc/(4096·f)) − 1,  f_real = f_osc·(1 + err)/(4096·(prescale + 1))
tick = round(pulse·4096·f_real/10⁶)
count = round(centre + direction·counts_per_turn/360·(θ_s + tooth left + trim))
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from bustle.core.geometry.arrays import Array, Flags, kept
from bustle.core.machine.kit import Kit
from bustle.core.project.electrics import STEPS, real_frequency_hz
from bustle.core.project.project import Project
from bustle.core.servo.fitted_servos import ServoAt, servos_at


@dataclass(frozen=True)
class PulseMap:
    """N servos as arrays. low, high: the ends of what each takes. ticks_per_us: of its board; 0 where it has none that
    counts ticks. bus: which are told counts."""

    servos: tuple[ServoAt, ...]
    centre: Array
    per_deg: Array
    offset_deg: Array
    low: Array
    high: Array
    ticks_per_us: Array
    bus: Flags

    @cached_property
    def unmeasured(self) -> Flags:
        """(N,): of which nobody has read how much they turn for what they are told."""
        said = (s.item is not None and (s.bus or bool(s.item.us_per_deg)) for s in self.servos)
        return kept(~np.fromiter(said, dtype=bool))

    @cached_property
    def dead_us(self) -> Array:
        """(N,) µs within which each does not stir; a bus has none."""
        return kept(np.array([0.0 if s.bus else s.sheet.dead_band_us for s in self.servos]))

    def told(self, servo_rad: Array) -> Array:
        """Horn angles (S, N) rad from the middle → µs or counts, before rounding."""
        return self.centre + self.per_deg * (np.degrees(servo_rad) + self.offset_deg)

    def horn_rad(self, told: Array) -> Array:
        """The way back."""
        return np.radians((told - self.centre) / self.per_deg - self.offset_deg)

    def sent(self, told: Array) -> Array:
        """(S, N): what leaves the controller: ticks where a board counts them, whole counts on a bus, else whole µs."""
        return np.rint(np.where(self.ticks_per_us > 0, told * self.ticks_per_us, told))

    def arrives(self, sent: Array) -> Array:
        """(S, N): the µs or counts that what is sent comes to at the servo."""
        return np.where(self.ticks_per_us > 0, sent / np.where(self.ticks_per_us > 0, self.ticks_per_us, 1.0), sent)

    def beyond(self, told: Array) -> Flags:
        """(S, N): what a servo does not take."""
        return np.asarray((told < self.low - 1e-6) | (told > self.high + 1e-6), dtype=bool)


def pulse_map(project: Project, kit: Kit | None = None) -> PulseMap:
    return map_of(servos_at(project, kit), project)


def map_of(servos: Sequence[ServoAt], project: Project) -> PulseMap:
    ends = np.array([s.ends for s in servos]).reshape(-1, 2)
    ticks = [
        STEPS * real_frequency_hz(s.board, project.controller) / 1e6
        if s.board and s.board.kind == "pulse_board" and not s.bus
        else 0.0
        for s in servos
    ]
    return PulseMap(
        tuple(servos),
        np.array([s.centre for s in servos]),
        np.array([s.direction * s.per_deg for s in servos]),
        np.array([s.offset_deg for s in servos]),
        ends[:, 0],
        ends[:, 1],
        np.array(ticks),
        np.array([s.bus for s in servos], dtype=bool),
    )
