"""How far along its way a body is while its walk gathers pace, keeps it, changes its twist and loses it.

With a twist ξ the travel frame is at exp(ξσ(t)), σ the time for which it has walked at full pace: σ = t while steady,
and while it gathers or loses pace over a time r, dσ/dt rises or falls as s(x) = 3x² − 2x³, which takes r and comes to
σ = r/2. Where one twist follows another, the first loses its pace while the second gathers it:
exp(ξ₁σ₁(t))·exp(ξ₂σ₂(t))·…, so that the whole way is the composition of its twists.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from bustle.core.geometry.arrays import Array, Flags, Indices
from bustle.core.geometry.easing import eased
from bustle.core.geometry.planar_twist import carry, displacement
from bustle.core.project.motion import PhaseGait

# After which a drift and what steers against it are told.
METRE_MM = 1000.0

Travel = tuple[Array, Array, Array]


@dataclass(frozen=True)
class Pace:
    """Rests until gather_s, gathers pace over gather_over_s, keeps it until lose_s, loses it over lose_over_s.

    gather_s None: at full pace from the start; lose_s None: at full pace to the end.
    """

    gather_s: float | None = None
    lose_s: float | None = None
    gather_over_s: float = 1.0
    lose_over_s: float = 1.0


@dataclass(frozen=True)
class Stretch:
    """A gait's twist, at a pace."""

    gait: PhaseGait
    pace: Pace = Pace()


@dataclass(frozen=True)
class Journey:
    """Stretches one after another: each gathers pace while the one before it loses it. Only the first may have been at
    full pace before, only the last may stay so."""

    stretches: tuple[Stretch, ...]

    @property
    def last(self) -> Pace:
        return self.stretches[-1].pace

    @property
    def stopped_s(self) -> float:
        """When the last stretch has lost its pace."""
        return float(self._lose[-1] + self._lose_over[-1])

    def known_at(self, t: Array) -> Indices:
        """(S,): the last stretch that has begun by then, of which nobody knows yet that it will end."""
        return np.searchsorted(self._lose - 1e-9, t, side="right")

    def at(self, t: Array, known: Indices | None = None) -> Travel:
        """The travel frame at t (S,): x, y in mm and θ in rad. known: as if nothing came after that stretch, and it
        stayed at its pace; len(stretches): as it all comes."""
        count = len(self.stretches)
        if count == 1 and self.stretches[0].pace == Pace():
            return displacement(*velocity(self.stretches[0].gait), t)
        upto = np.broadcast_to(np.asarray(count if known is None else known), t.shape)
        k = np.minimum(np.searchsorted(self._lose + self._lose_over, t, side="right"), np.minimum(upto, count - 1))
        there = self._then(tuple(v[k] for v in self._before), k, self._sigma(k, t, k < upto))
        if count == 1:
            return there
        following = np.minimum(k + 1, count - 1)
        sigma = np.where((following > k) & (following <= upto), self._sigma(following, t, following < upto), 0.0)
        return self._then(there, following, sigma)

    def shares(self, t: Array) -> Iterator[tuple[Stretch, Array]]:
        """How much of what belongs to each stretch there is at t, (S,); together always 1."""
        for n, stretch in enumerate(self.stretches):
            pace, share = stretch.pace, np.ones(t.shape)
            if n:
                share = eased(t, float(self._gather[n]), pace.gather_over_s)
            if n < len(self.stretches) - 1:
                share -= eased(t, float(self._lose[n]), pace.lose_over_s)
            yield stretch, share

    def _then(self, there: Travel, k: Indices, sigma: Array) -> Travel:
        vx, vy, omega = (v[k] for v in self._velocities)
        x, y, theta = displacement(vx, vy, omega, sigma)
        return *carry(there, x, y), there[2] + theta

    def _sigma(self, k: Indices, t: Array, ends: Flags) -> Array:
        """σ of stretch k (S,) at t (S,), as if it never ended where not `ends`."""
        gathering = _gathered(t - self._gather[k], self._gather_over[k])
        kept = np.where(np.isnan(self._gather[k]), t, gathering)
        # Losing pace is gathering it, seen backwards from the end of the ramp.
        left = _gathered(self._lose[k] + self._lose_over[k] - t, self._lose_over[k])
        return np.where(ends & (t >= self._lose[k]), self._whole[k] - left, kept)

    @cached_property
    def _velocities(self) -> tuple[Array, Array, Array]:
        vx, vy, omega = np.array([velocity(s.gait) for s in self.stretches]).T
        return vx, vy, omega

    @cached_property
    def _gather(self) -> Array:
        """(N,) s; not a number where the pace was there from the start."""
        return np.array([np.nan if s.pace.gather_s is None else s.pace.gather_s for s in self.stretches])

    @cached_property
    def _lose(self) -> Array:
        """(N,) s; infinite where the pace stays."""
        return np.array([np.inf if s.pace.lose_s is None else s.pace.lose_s for s in self.stretches])

    @cached_property
    def _gather_over(self) -> Array:
        return np.array([s.pace.gather_over_s for s in self.stretches])

    @cached_property
    def _lose_over(self) -> Array:
        return np.array([s.pace.lose_over_s for s in self.stretches])

    @cached_property
    def _whole(self) -> Array:
        """(N,): σ of each stretch when it is over; 0 where it never is."""
        lose = np.where(np.isinf(self._lose), -self._lose_over / 2, self._lose)
        kept = np.where(np.isnan(self._gather), lose, lose - self._gather - self._gather_over / 2)
        return kept + self._lose_over / 2

    @cached_property
    def _before(self) -> Travel:
        """(N,) each: where the stretches before it have brought the frame."""
        there = [(np.zeros(()), np.zeros(()), np.zeros(()))]
        for n in range(len(self.stretches) - 1):
            there.append(self._then(there[-1], np.array(n), self._whole[n]))
        x, y, theta = (np.array(v) for v in zip(*there, strict=True))
        return x, y, theta


def _gathered(t: Array, ramp_s: Array) -> Array:
    """∫ s from rest at 0: r·(x³ − x⁴/2) up to x = t/r = 1, then t − r/2."""
    x = np.clip(t / ramp_s, 0.0, 1.0)
    sigma: Array = ramp_s * x**3 * (1 - x / 2) + np.maximum(t - ramp_s, 0.0)
    return sigma


def velocity(gait: PhaseGait) -> tuple[float, float, float]:
    """By which its legs are led, mm/s, mm/s, rad/s: the twist asked, and the steering against a drift. An arc of
    curvature κ lies d = κ·s²/2 beside its tangent after a way s, so that ω + κ·√(vx² + vy²), κ = 2·d/s²."""
    vx, vy, omega_deg_s = gait.twist.vx_mm_s, gait.twist.vy_mm_s, gait.twist.omega_deg_s
    curvature = 2 * gait.steer_mm_m / METRE_MM**2
    return vx, vy, float(np.radians(omega_deg_s) + curvature * np.hypot(vx, vy))
