"""The sway that keeps the pushing point of a machine on soles where it belongs: in the middle of the sole it stands on.

Taken as a pendulum whose mass moves level at the height h, the mass c and the point p at which it pushes on the floor
(zero-moment point) go by
    c̈ = (g/h)·(c − p).
Both repeat with the cycle as seen from the travel frame. With complex places about the turning centre, ω the cycle's
frequency and Ω the turning rate (0 straight), each harmonic k is solved alone:
    c_k = p_k/(1 + (h/g)·(k·ω + Ω)²).
What the whole machine's own pushing point then differs from the path, by legs that swing and parts that turn, is solved
for again and added while it shrinks. Source: the linear inverted pendulum of any text on walking on two legs; solved by
Fourier series since a walk repeats.

The path: the middle of the sole in single support, straight across from one to the next while both are down; where both
are down for less than a twelfth of the cycle, drawn out over that.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from bustle.core.document.checked import CheckedProject
from bustle.core.edits.patches import only_motions
from bustle.core.evaluate import evaluate
from bustle.core.falling.pushing_point import sole_width_mm
from bustle.core.falling.sole_middles import sole_middles
from bustle.core.geometry.arrays import Array, Flags
from bustle.core.geometry.planar_twist import bring_back
from bustle.core.loads.inertial_wrenches import wrenches
from bustle.core.loads.zero_moment_point import zero_moment_point
from bustle.core.project.motion import PhaseGait, SwayTerm
from bustle.core.walk.motions.pace import velocity
from bustle.core.walk.plumb import upright
from bustle.core.walk.reading import Reading

Complex = NDArray[np.complex128]

HARMONICS, TURNS = 12, 6
# A turn that leaves more than this share of what was left before is the last.
SHRINKS = 0.9
# A pushing point within such a share of a sole's width of its path keeps to it.
NEAR = 0.1
# Both feet are taken to be down for so much of the cycle at least.
LEAST_BOTH = 1 / 12


@dataclass(frozen=True)
class PendulumSway:
    """terms, shift_mm: of the pose. residual_mm: the furthest its pushing point is still off the path; near_mm: what is
    near enough, a share of a sole's width."""

    terms: tuple[SwayTerm, ...]
    shift_mm: tuple[float, float]
    residual_mm: float
    near_mm: float


def pendulum_sway(project: CheckedProject, gait: PhaseGait) -> PendulumSway:
    """Of a gait of two legs on soles, in place of its own sway; see `swaying` for the gait with it."""
    best = gait.model_copy(update={"pose": gait.pose.model_copy(update={"sway": (), "shift_mm": (0.0, 0.0)})})
    asked = np.zeros(2 * HARMONICS + 1, dtype=complex)
    found, last = None, np.inf
    for _ in range(TURNS):
        trial = swaying(best, asked)
        r = evaluate(only_motions(project, trial), trial.name).reading
        off = wanted(r) - pushed(r)
        if project.walker.held != "free":
            # What holds it sideways takes that part.
            off = np.asarray(off.real, dtype=complex)
        worst = float(np.abs(off).max())
        if found is None or worst < found.residual_mm:
            pose = trial.pose
            found = PendulumSway(pose.sway, pose.shift_mm, worst, NEAR * sole_width_mm(r))
        if worst > SHRINKS * last:
            break
        last = worst
        asked = asked + solved(r, off)
    assert found
    return found


def wanted(r: Reading) -> Complex:
    """(N,) complex mm, in the travel frame: the path of the pushing point."""
    middles = sole_middles(r)
    down = np.array([r.course.contact[limb, : r.samples] for limb in middles])
    places = np.array([_in_travel(r, at.middle) for at in middles.values()])
    n = r.samples
    share = np.full(n, 0.5)
    single = down.sum(axis=0) == 1
    share[single] = down[1, single]
    share = _straight_across(share, single)
    return places[0] + share * (places[1] - places[0])


def _straight_across(share: Array, single: Flags) -> Array:
    """The share of the second foot over the rows: told where one foot stands, evenly from one to the next between."""
    n = len(share)
    if not single.any():
        return share
    rows = np.flatnonzero(single)
    around = np.concatenate([rows - n, rows, rows + n])
    found = np.interp(np.arange(n), around, np.tile(share[rows], 3))
    least = int(np.ceil(LEAST_BOTH * n))
    both = int((~single).sum()) / max(1, int((np.diff(np.concatenate([share[rows], share[rows[:1]]])) != 0).sum()))
    if both >= least:
        return found
    kernel = np.ones(least) / least
    twice = np.concatenate([found, found, found])
    return np.convolve(twice, kernel, mode="same")[n : 2 * n]


def pushed(r: Reading) -> Complex:
    """(N,) complex mm, in the travel frame: where the whole machine pushes, as it is planned to move."""
    zmp = 1000 * r.of(zero_moment_point)
    return _in_travel(r, zmp)


def _in_travel(r: Reading, at: Array) -> Complex:
    x, y, theta = (v[: r.samples] for v in r.course.body.travel)
    x, y = bring_back((x, y, theta), at[:, 0], at[:, 1])
    return np.asarray(x + 1j * y)


def solved(r: Reading, path: Complex) -> Complex:
    """(2H + 1,) complex mm, harmonics −H … H: how the mass goes for its pushing point to go so, about the turning
    centre."""
    assert r.gait
    spectrum = np.fft.fft(path) / len(path)
    k = np.arange(-HARMONICS, HARMONICS + 1)
    high = float(r.of(wrenches).centre[:, 2].mean())
    turning = velocity(r.gait)[2]
    rate = 2 * np.pi * k / r.score.duration_s + turning
    found = spectrum[k % len(path)] / (1 + high / r.of(upright)[2] * rate**2)
    return np.where(np.abs(k) < len(path) / 2, found, 0.0)


def swaying(gait: PhaseGait, harmonics: Complex) -> PhaseGait:
    """The gait with the sway of complex harmonics −H … H: s(t) = Σ c_k·exp(i·k·2π·t/T)."""
    terms = []
    for k in range(1, HARMONICS + 1):
        plus, minus = harmonics[HARMONICS + k], harmonics[HARMONICS - k]
        both, apart = plus + minus, 1j * (plus - minus)
        values = {"x_cos_mm": both.real, "y_cos_mm": both.imag, "x_sin_mm": apart.real, "y_sin_mm": apart.imag}
        rounded = {name: round(float(value), 2) + 0.0 for name, value in values.items()}
        if any(rounded.values()):
            terms.append(SwayTerm(harmonic=k, **rounded))
    middle = harmonics[HARMONICS]
    shift = (round(float(middle.real), 2) + 0.0, round(float(middle.imag), 2) + 0.0)
    return gait.model_copy(update={"pose": gait.pose.model_copy(update={"sway": tuple(terms), "shift_mm": shift})})
