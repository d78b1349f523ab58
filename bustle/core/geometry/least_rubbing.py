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

import numpy as np

from bustle.core.geometry.arrays import Array

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
    x, y = where[..., 0] / ARM_MM, where[..., 1] / ARM_MM
    found, rows = np.zeros((slides.shape[1], 3)), np.arange(slides.shape[1])
    soft = ROUND * np.linalg.norm(slides * (load > 0)[..., None], axis=-1).max(axis=0, initial=0.0) + 1e-9
    pull = np.zeros((2, len(rows))) if drawn is None else _no_more(drawn).T
    parts, step, blend = (slides, x, y, load, pull), found.copy(), np.full(len(rows), FIRST)
    rubbed = _rubbed(*parts, step, soft)
    for _ in range(TURNS):
        move = _move(*parts, step, soft, blend)
        tried = _rubbed(*parts, step + move, soft)
        nearer = tried <= rubbed
        step[nearer] += move[nearer]
        rubbed = np.where(nearer, tried, rubbed)
        blend = np.clip(blend * np.where(nearer, FALLS, GROWS), LEAST, 1.0)
        # What went nowhere has arrived.
        going = np.abs(move).max(axis=1) > NEAR_MM
        if not going.all():
            found[rows[~going]] = step[~going]
            rows, step, blend, rubbed, soft = (part[going] for part in (rows, step, blend, rubbed, soft))
            parts = tuple(part[:, going] for part in parts)  # type: ignore[assignment]
            if not len(rows):
                break
    found[rows] = step
    return found / [1.0, 1.0, ARM_MM]


def _no_more(drawn: Array) -> Array:
    size = np.linalg.norm(drawn, axis=-1, keepdims=True)
    found: Array = drawn * np.minimum(1.0, MOST_DRAWN / np.maximum(size, 1e-12))
    return found


def _sliding(slides: Array, x: Array, y: Array, step: Array, soft: Array) -> tuple[Array, Array, Array]:
    """v_x, v_y and √(|v|² + ε²), (L, N) each."""
    vx, vy = slides[..., 0] + step[:, 0] - step[:, 2] * y, slides[..., 1] + step[:, 1] + step[:, 2] * x
    return vx, vy, np.sqrt(vx * vx + vy * vy + soft * soft)


def _rubbed(slides: Array, x: Array, y: Array, load: Array, pull: Array, step: Array, soft: Array) -> Array:
    vx, vy, size = _sliding(slides, x, y, step, soft)
    found: Array = (load * (size - pull[0] * vx - pull[1] * vy)).sum(axis=0)
    return found


def _move(slides: Array, x: Array, y: Array, load: Array, pull: Array, step: Array, soft: Array, blend: Array) -> Array:
    vx, vy, size = _sliding(slides, x, y, step, soft)
    held, rest = load / size, 1.0 - blend
    nx, ny = vx / size, vy / size
    stiff = (held * (1 - rest * nx * nx), -held * rest * nx * ny, held * (1 - rest * ny * ny))
    return _solved((held * vx - load * pull[0], held * vy - load * pull[1]), stiff, x, y)


def _solved(push: tuple[Array, Array], stiff: tuple[Array, Array, Array], x: Array, y: Array) -> Array:
    """(N, 3): the step that undoes what the feet push (L, N), each as stiff as xx, xy, yy."""
    (px, py), (xx, xy, yy) = push, stiff
    right = np.stack([px.sum(axis=0), py.sum(axis=0), (x * py - y * px).sum(axis=0)], axis=-1)
    ahead, aside = x * xy - y * xx, x * yy - y * xy
    a, b, c = xx.sum(axis=0), xy.sum(axis=0), yy.sum(axis=0)
    d, e, f = ahead.sum(axis=0), aside.sum(axis=0), (x * aside - y * ahead).sum(axis=0)
    square = np.stack([a, b, d, b, c, e, d, e, f], axis=-1).reshape(-1, 3, 3)
    firm = FIRM * (a + c + f) + 1e-300
    square[:, [0, 1, 2], [0, 1, 2]] += firm[:, None]
    found: Array = -np.linalg.solve(square, right[..., None])[..., 0]
    return found
