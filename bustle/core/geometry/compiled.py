"""What is stepped through number by number, compiled: vectors as three numbers, turns as three by three, written out.

Where every step is a few dozen numbers, a call on arrays costs more than what it works out: machines that are let go,
who know their next step only after this one, and loads, of many small systems each. All else is done on whole arrays.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager, suppress
from functools import wraps
from hashlib import sha256
from math import atan2, cos, sin, sqrt
from pathlib import Path
from threading import Lock, Timer
from typing import Any, TypeVar, cast

import numba
import numpy as np
from numba import types
from numba.core.caching import FunctionCache
from numba.np.numpy_support import as_dtype

from bustle.core.geometry.arrays import Array

# Machine code is kept for as long as nothing that is compiled has changed: what is kept of one file knows only of that.
_SOURCES = (path.read_bytes() for path in sorted(Path(__file__).parents[1].rglob("*.py")))
_VERSION = sha256(
    b"".join(text for text in _SOURCES if b"geometry.compiled" in text or b"@compiled" in text)
).hexdigest()
_config: Any = numba.config
_config.CACHE_DIR = _config.CACHE_DIR or str(Path(__file__).parent / "__pycache__" / _VERSION)
# For loops as short as a machine's servos it costs more than it saves, in compiling as in running.
_config.LOOP_VECTORIZE = _config.SLP_VECTORIZE = 0

# What takes longer to load, s, is being compiled.
PATIENCE_S = 3.0

F = TypeVar("F", bound=Callable[..., Any])

Vector = tuple[float, float, float]
# By its rows. What is passed about as numbers costs nothing to hold; as a part of an array it is counted each time.
Matrix = tuple[Vector, Vector, Vector]

FLAG, REAL, WHOLE = types.boolean, types.float64, types.intp


def floats(dimensions: int) -> Any:
    """Arrays of any layout, which are only read."""
    return types.Array(types.float64, dimensions, "A", readonly=True)


def flags(dimensions: int) -> Any:
    return types.Array(types.boolean, dimensions, "A", readonly=True)


def indices(dimensions: int) -> Any:
    return types.Array(types.intp, dimensions, "A", readonly=True)


class _Kept(FunctionCache):
    """What cannot be written, on a full disk say, is not kept."""

    @contextmanager
    def _guard_against_spurious_io_errors(self) -> Iterator[None]:
        with suppress(OSError):
            yield


def compiled(function: F) -> F:
    """As machine code, made when it is first called and kept beside its source, else in the user's own folder; made
    anew by each process where neither can be written. Rounding is that of the arithmetic as it is written. Other
    threads go on meanwhile."""
    made = cast(Any, numba.njit(nogil=True, error_model="numpy")(function))
    with suppress(RuntimeError):
        made._cache = _Kept(function)
    return cast(F, made)


def compiled_for(*kinds: Any) -> Callable[[F], F]:
    """Likewise, for arguments of these kinds alone: no other machine makes anybody wait for it again."""

    def once(function: F) -> F:
        made, waits = cast(Any, compiled(function)), True

        @wraps(function)
        def run(*given: Any) -> Any:
            nonlocal waits
            if waits:
                _ready(made, kinds)
                waits = False
            try:
                return made(*given)
            except TypeError:
                # Whole numbers, say, where it wants others.
                return made(*map(_as, kinds, given))

        _kernels.append((made, kinds))
        return cast(F, run)

    return once


# All that was asked for by its kinds.
_kernels: list[tuple[Any, tuple[Any, ...]]] = []


_one_at_a_time = Lock()


def _as(kind: Any, value: Any) -> Any:
    if isinstance(kind, types.Array):
        return np.asarray(value, dtype=as_dtype(kind.dtype))
    return as_dtype(kind).type(value)


def _ready(made: Any, kinds: tuple[Any, ...]) -> None:
    with _one_at_a_time:
        if not made.signatures:
            made.compile(kinds)
            made.disable_compile()


def ready(tell: Callable[[str], None]) -> None:
    """All that has been imported of them, before anybody has to wait for it; told where it has to be compiled first."""
    patience = Timer(PATIENCE_S, tell, ["Compiling what works out loads; this takes a minute, once."])
    patience.start()
    try:
        for made, kinds in _kernels:
            _ready(made, kinds)
    finally:
        patience.cancel()
        patience.join()


@compiled
def vector(values: Array) -> Vector:
    return values[0], values[1], values[2]


@compiled
def on_by(values: Array, on: Array, share: float) -> Vector:
    """values + share·on"""
    return values[0] + share * on[0], values[1] + share * on[1], values[2] + share * on[2]


@compiled
def turn_by(values: Array, on: Array, share: float) -> Array:
    """(3, 3), likewise."""
    found = np.empty((3, 3))
    for i in range(3):
        for k in range(3):
            found[i, k] = values[i, k] + share * on[i, k]
    return found


@compiled
def plus(a: Vector, b: Vector) -> Vector:
    return a[0] + b[0], a[1] + b[1], a[2] + b[2]


@compiled
def minus(a: Vector, b: Vector) -> Vector:
    return a[0] - b[0], a[1] - b[1], a[2] - b[2]


@compiled
def times(a: Vector, by: float) -> Vector:
    return a[0] * by, a[1] * by, a[2] * by


@compiled
def crossed(a: Vector, b: Vector) -> Vector:
    """a × b"""
    return a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]


@compiled
def dot(a: Vector, b: Vector) -> float:
    """a · b"""
    return a[0] * b[0] + a[1] * b[1] + a[2] * b[2]


@compiled
def through(turn: Array, v: Vector) -> Vector:
    """turn·v"""
    return (
        turn[0, 0] * v[0] + turn[0, 1] * v[1] + turn[0, 2] * v[2],
        turn[1, 0] * v[0] + turn[1, 1] * v[1] + turn[1, 2] * v[2],
        turn[2, 0] * v[0] + turn[2, 1] * v[1] + turn[2, 2] * v[2],
    )


@compiled
def matrix(values: Array) -> Matrix:
    return vector(values[0]), vector(values[1]), vector(values[2])


@compiled
def of(m: Matrix, v: Vector) -> Vector:
    """m·v"""
    return dot(m[0], v), dot(m[1], v), dot(m[2], v)


@compiled
def back_of(m: Matrix, v: Vector) -> Vector:
    """mᵀ·v"""
    (a, b, c), (d, e, f), (g, h, i) = m
    x, y, z = v
    return a * x + d * y + g * z, b * x + e * y + h * z, c * x + f * y + i * z


@compiled
def product(a: Array, b: Array) -> Array:
    """a·b, (3, 3)"""
    found = np.empty((3, 3))
    for i in range(3):
        for k in range(3):
            found[i, k] = a[i, 0] * b[0, k] + a[i, 1] * b[1, k] + a[i, 2] * b[2, k]
    return found


@compiled
def rotation(v: Vector) -> Array:
    """About a vector by as many radians as it is long: Rodrigues' formula."""
    x, y, z = v
    angle = sqrt(x * x + y * y + z * z) / 2
    half = sin(angle) / angle if angle > 0 else 1.0
    a, b = half * cos(angle), half * half / 2
    found = np.empty((3, 3))
    found[0, 0], found[0, 1], found[0, 2] = 1 - b * (y * y + z * z), b * x * y - a * z, b * x * z + a * y
    found[1, 0], found[1, 1], found[1, 2] = b * x * y + a * z, 1 - b * (x * x + z * z), b * y * z - a * x
    found[2, 0], found[2, 1], found[2, 2] = b * x * z - a * y, b * y * z + a * x, 1 - b * (x * x + y * y)
    return found


@compiled
def turn_between(one: Matrix, other: Matrix) -> Vector:
    """The turn, a vector along its axis, that takes one frame to another, log(other·oneᵀ): by its unit quaternion, from
    the largest part of that (after Shepperd 1978), so that no digits are lost at any angle."""
    (x, y, z), (a, b, c) = one, other
    xx, yy, zz = dot(a, x), dot(b, y), dot(c, z)
    u, v, w = dot(c, y) - dot(b, z), dot(a, z) - dot(c, x), dot(b, x) - dot(a, y)
    if xx + yy + zz >= max(xx, yy, zz):
        half = 1.0 + xx + yy + zz
    elif xx >= yy and xx >= zz:
        half, u, v, w = u, 1.0 + xx - yy - zz, dot(a, y) + dot(b, x), dot(a, z) + dot(c, x)
    elif yy >= zz:
        half, u, v, w = v, dot(a, y) + dot(b, x), 1.0 + yy - xx - zz, dot(b, z) + dot(c, y)
    else:
        half, u, v, w = w, dot(a, z) + dot(c, x), dot(b, z) + dot(c, y), 1.0 + zz - xx - yy
    if half < 0:
        half, u, v, w = -half, -u, -v, -w
    size = sqrt(u * u + v * v + w * w)
    by = 2 * atan2(size, half) / size if size > 0 else 0.0
    return u * by, v * by, w * by


@compiled
def about(v: Vector, axis: Vector, sine: float, cosine: float) -> Vector:
    """v·R, of a turn R about an axis of length 1 by q:  v·cos q + v × n·sin q + n·(n·v)·(1 − cos q)."""
    x, y, z = axis
    along = (1.0 - cosine) * (x * v[0] + y * v[1] + z * v[2])
    return (
        v[0] * cosine + (v[1] * z - v[2] * y) * sine + x * along,
        v[1] * cosine + (v[2] * x - v[0] * z) * sine + y * along,
        v[2] * cosine + (v[0] * y - v[1] * x) * sine + z * along,
    )


@compiled
def put(into: Array, v: Vector) -> None:
    into[0], into[1], into[2] = v


@compiled
def turn_put(into: Array, turn: Array) -> None:
    """(3, 3)"""
    for i in range(3):
        for k in range(3):
            into[i, k] = turn[i, k]


@compiled
def goes(moves: Array, rate: Array) -> Vector:
    """moves·rate, of moves (3, D)"""
    x, y, z = 0.0, 0.0, 0.0
    for k in range(rate.shape[0]):
        x += moves[0, k] * rate[k]
        y += moves[1, k] * rate[k]
        z += moves[2, k] * rate[k]
    return x, y, z


@compiled
def factored(whole: Array) -> bool:
    """In place, the lower half of a symmetric (D, D) becomes its Cholesky factor; whether there is one. Source: any
    text on matrices."""
    size = len(whole)
    for a in range(size):
        for b in range(a + 1):
            left = whole[a, b]
            for k in range(b):
                left -= whole[a, k] * whole[b, k]
            if a == b and left <= 0:
                return False
            whole[a, b] = sqrt(left) if a == b else left / whole[b, b]
    return True


@compiled
def solved(factor: Array, pushes: Array) -> None:
    """In place, pushes (D,) become x of whole·x = pushes, with the factor of what is whole."""
    size = len(pushes)
    for a in range(size):
        left = pushes[a]
        for k in range(a):
            left -= factor[a, k] * pushes[k]
        pushes[a] = left / factor[a, a]
    for a in range(size - 1, -1, -1):
        left = pushes[a]
        for k in range(a + 1, size):
            left -= factor[k, a] * pushes[k]
        pushes[a] = left / factor[a, a]
