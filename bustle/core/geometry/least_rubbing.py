"""Where a body goes whose feet slide: so that least is rubbed away.

Dry friction holds a foot that carries z by µ·z against the way it slides, whatever its speed. A body that is neither
sped up nor held goes where these balance, which is where the friction takes least power: with u_i how foot i at r_i
would slide if the body went no otherwise,

    min Σ z_i·(√(|v_i|² + ε²) − p·v_i),   v_i = u_i + δ_v + δ_ω·ẑ × r_i,

convex in δ; p what draws the body along, as on a slope, as a share of what the floor holds. ε rounds off the corner
where a foot stands still: a share of how fast the fastest would slide then, as what feet stand on and hang from gives
before they slide. Without it a foot that carries half the weight would go where it likes and drag all others.
A turn solves for what the feet push with a stiffness of

    z/|v|·(1 − (1 − λ)·n·nᵀ),   n = v/|v|:

λ = 0 is Newton's method, which is quick near the end, λ = 1 least squares weighed by z/|v|, which always comes nearer
(Weiszfeld); λ falls where a turn comes nearer and grows where it does not (Levenberg). With no p, µ drops out.
Sources: Coulomb's dry friction; Peshkin & Sanderson, Minimization of energy in quasi-static manipulation, IEEE
Transactions on Robotics and Automation 5 (1989).
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from bustle.core.geometry.arrays import Array, Flags

# ε, as a share of the fastest slide, and how near a turn has to come, mm.
ROUND, NEAR_MM = 0.1, 1e-4
TURNS = 60
# λ at first and at least, and how it falls and grows.
FIRST, LEAST, FALLS, GROWS = 0.1, 1e-3, 0.2, 8.0
# Turns are counted at so many mm, so that they are of the size of ways.
ARM_MM = 100.0
# What goes nowhere at all is held by so small a share of the rest.
FIRM = 1e-9
# What would draw it on and on is told as so large a share of what holds it.
MOST_DRAWN = 0.9
ONE = np.eye(3)


def least_rubbing(slides: Array, where: Array, load: Array, drawn: Array | None = None) -> Array:
    """(N, 3) mm, mm, rad: how the body goes. slides (L, N, 2) mm, how each foot would slide; where (L, N, 2) mm; load
    (L, N), 0 of feet that do not stand; drawn (N, 2): p, none on a level floor."""
    feet, rows = _Feet.of(slides, where, load, drawn), np.arange(slides.shape[1])
    found, step, blend = np.zeros((len(rows), 3)), np.zeros((len(rows), 3)), np.full(len(rows), FIRST)
    here = feet.gone(step)
    for _ in range(TURNS):
        move = feet.towards(here, blend)
        there = feet.gone(step + move)
        nearer = there.rubbed <= here.rubbed
        step[nearer] += move[nearer]
        here = there if nearer.all() else there.where(nearer, here)
        blend = np.clip(blend * np.where(nearer, FALLS, GROWS), LEAST, 1.0)
        # What went nowhere has arrived.
        going = np.abs(move).max(axis=1) > NEAR_MM
        if not going.all():
            found[rows[~going]] = step[~going]
            rows, step, blend, feet, here = rows[going], step[going], blend[going], feet.only(going), here.only(going)
            if not len(rows):
                break
    found[rows] = step
    return found / [1.0, 1.0, ARM_MM]


@dataclass(frozen=True)
class _Gone:
    """slide (N, 2L) mm: v of every foot along x, then along y; size (N, L) of √(|v|² + ε²); rubbed (N,)."""

    slide: Array
    size: Array
    rubbed: Array

    def only(self, rows: Flags) -> _Gone:
        return _Gone(self.slide[rows], self.size[rows], self.rubbed[rows])

    def where(self, rows: Flags, other: _Gone) -> _Gone:
        """At these rows as it is here, at the rest as there."""
        of = rows[:, None]
        return _Gone(
            np.where(of, self.slide, other.slide),
            np.where(of, self.size, other.size),
            np.where(rows, self.rubbed, other.rubbed),
        )


@dataclass(frozen=True)
class _Feet:
    """Of N rows with L feet: unmoved (N, 2L) as `slide`; by_step (N, 2L, 3), what a step does to it; load (N, L);
    drawn (N, 2L), load · p; soft (N, 1): ε."""

    unmoved: Array
    by_step: Array
    load: Array
    drawn: Array
    soft: Array

    @classmethod
    def of(cls, slides: Array, where: Array, load: Array, drawn: Array | None) -> _Feet:
        count, n = load.shape
        by_step = np.zeros((n, 2 * count, 3))
        by_step[:, :count, 0] = by_step[:, count:, 1] = 1.0
        by_step[:, :count, 2], by_step[:, count:, 2] = -where[..., 1].T / ARM_MM, where[..., 0].T / ARM_MM
        carry = load.T
        unmoved = np.concatenate([slides[..., 0].T, slides[..., 1].T], axis=1)
        fastest = np.sqrt((np.square(slides).sum(axis=-1) * (load > 0)).max(axis=0, initial=0.0))
        pull = np.zeros((n, 2)) if drawn is None else _no_more(drawn)
        return cls(unmoved, by_step, carry, np.concatenate([carry * pull[:, :1], carry * pull[:, 1:]], axis=1),
                   (ROUND * fastest + 1e-9)[:, None])  # fmt: skip

    def only(self, rows: Flags) -> _Feet:
        return _Feet(self.unmoved[rows], self.by_step[rows], self.load[rows], self.drawn[rows], self.soft[rows])

    def gone(self, step: Array) -> _Gone:
        """After a step (N, 3)."""
        slide = self.unmoved + (self.by_step @ step[..., None])[..., 0]
        count = self.load.shape[1]
        x, y = slide[:, :count], slide[:, count:]
        size = np.sqrt(x * x + y * y + self.soft * self.soft)
        return _Gone(slide, size, (self.load * size).sum(axis=1) - (self.drawn * slide).sum(axis=1))

    def towards(self, here: _Gone, blend: Array) -> Array:
        """(N, 3): the step that undoes what the feet push, each as stiff as λ has it."""
        count, held = self.load.shape[1], self.load / here.size
        both = np.concatenate([held, held], axis=1)
        right = ((both * here.slide - self.drawn)[:, None] @ self.by_step)[:, 0]
        # What a step does to each foot along the way that it slides, v·∂v.
        x, y = here.slide[:, :count, None], here.slide[:, count:, None]
        along = x * self.by_step[:, :count] + y * self.by_step[:, count:]
        rest = (1.0 - blend[:, None]) * held / (here.size * here.size)
        square = self.by_step.swapaxes(1, 2) @ (both[..., None] * self.by_step)
        square -= along.swapaxes(1, 2) @ (rest[..., None] * along)
        firm = FIRM * np.trace(square, axis1=1, axis2=2) + 1e-300
        square += firm[:, None, None] * ONE
        return np.asarray(-np.linalg.solve(square, right[..., None])[..., 0], dtype=np.float64)


def _no_more(drawn: Array) -> Array:
    size = np.linalg.norm(drawn, axis=-1, keepdims=True)
    found: Array = drawn * np.minimum(1.0, MOST_DRAWN / np.maximum(size, 1e-12))
    return found
