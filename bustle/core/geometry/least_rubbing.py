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

from math import sqrt

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.geometry.compiled import Vector, compiled, compiled_for, factored, floats, plus, solved

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


def least_rubbing(slides: Array, where: Array, load: Array, drawn: Array | None = None) -> Array:
    """(N, 3) mm, mm, rad: how the body goes. slides (L, N, 2) mm, how each foot would slide; where (L, N, 2) mm; load
    (L, N), 0 of feet that do not stand; drawn (N, 2): p, none on a level floor."""
    return _least(slides, where, load, np.zeros((load.shape[1], 2)) if drawn is None else drawn)


@compiled_for(floats(3), floats(3), floats(2), floats(2))
def _least(slides: Array, where: Array, load: Array, drawn: Array) -> Array:
    count, rows = load.shape
    # Of each foot that stands: how it would slide, what a turn adds to that, and what it carries.
    feet, square, right, found = np.empty((count, 5)), np.empty((3, 3)), np.empty(3), np.empty((rows, 3))
    for n in range(rows):
        standing, fastest = 0, 0.0
        for k in range(count):
            if load[k, n] > 0:
                feet[standing, 0], feet[standing, 1] = slides[k, n]
                feet[standing, 2], feet[standing, 3] = -where[k, n, 1] / ARM_MM, where[k, n, 0] / ARM_MM
                feet[standing, 4] = load[k, n]
                fastest = max(fastest, slides[k, n, 0] ** 2 + slides[k, n, 1] ** 2)
                standing += 1
        own, soft = feet[:standing], ROUND * sqrt(fastest) + 1e-9
        pull = sqrt(drawn[n, 0] ** 2 + drawn[n, 1] ** 2)
        by = min(1.0, MOST_DRAWN / max(pull, 1e-12))
        px, py = by * drawn[n, 0], by * drawn[n, 1]
        step, blend = (0.0, 0.0, 0.0), FIRST
        here = _rubbed(own, px, py, soft, step)
        for _ in range(TURNS):
            move = _towards(own, px, py, soft, step, blend, square, right)
            there = _rubbed(own, px, py, soft, plus(step, move))
            nearer = there <= here
            if nearer:
                step, here = plus(step, move), there
            blend = min(max(blend * (FALLS if nearer else GROWS), LEAST), 1.0)
            # What went nowhere has arrived.
            if max(abs(move[0]), abs(move[1]), abs(move[2])) <= NEAR_MM:
                break
        found[n, 0], found[n, 1], found[n, 2] = step[0], step[1], step[2] / ARM_MM
    return found


@compiled
def _slide(foot: Array, step: Vector) -> tuple[float, float]:
    """mm: v of a foot after a step."""
    return foot[0] + step[0] + step[2] * foot[2], foot[1] + step[1] + step[2] * foot[3]


@compiled
def _rubbed(feet: Array, px: float, py: float, soft: float, step: Vector) -> float:
    """What a step leaves, feet (L, 5)."""
    found = 0.0
    for foot in feet:
        x, y = _slide(foot, step)
        found += foot[4] * (sqrt(x * x + y * y + soft * soft) - px * x - py * y)
    return found


@compiled
def _towards(
    feet: Array, px: float, py: float, soft: float, step: Vector, blend: float, square: Array, right: Array
) -> Vector:
    """The step that undoes what the feet push, each as stiff as λ has it; square (3, 3) and right (3,) are written."""
    square[:], right[:] = 0.0, 0.0
    for foot in feet:
        (x, y), turn_x, turn_y, carries = _slide(foot, step), foot[2], foot[3], foot[4]
        size = sqrt(x * x + y * y + soft * soft)
        held = carries / size
        rest = (1.0 - blend) * held / (size * size)
        push_x, push_y = held * x - carries * px, held * y - carries * py
        right[0], right[1] = right[0] - push_x, right[1] - push_y
        right[2] -= push_x * turn_x + push_y * turn_y
        # What a turn does along the way that the foot slides, v·∂v.
        along = x * turn_x + y * turn_y
        square[0, 0] += held - rest * x * x
        square[1, 0] -= rest * x * y
        square[1, 1] += held - rest * y * y
        square[2, 0] += held * turn_x - rest * along * x
        square[2, 1] += held * turn_y - rest * along * y
        square[2, 2] += held * (turn_x * turn_x + turn_y * turn_y) - rest * along * along
    firm = FIRM * (square[0, 0] + square[1, 1] + square[2, 2]) + 1e-300
    for k in range(3):
        square[k, k] += firm
    if not factored(square):
        # What is held firmly has a factor, but for rounding: then it is there.
        return 0.0, 0.0, 0.0
    solved(square, right)
    return right[0], right[1], right[2]
