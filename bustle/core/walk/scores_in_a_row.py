"""Scores one after another: each begins where the one before it has brought the walker."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from bustle.core.geometry.arrays import Array, Flags, Indices
from bustle.core.geometry.planar_twist import bring_back, carry
from bustle.core.geometry.serial_chain import turns
from bustle.core.machine.sections import AXES
from bustle.core.machine.tracks import BodyTrack, JointTrack, Travel
from bustle.core.project.walker import JointAngle
from bustle.core.walk.score import PHASE_TOLERANCE, Score


@dataclass(frozen=True)
class Piece:
    """A score that begins at start_s, its ground frame at (x, y, θ) of the whole's."""

    score: Score
    start_s: float
    at: tuple[float, float, float]
    name: str


def _end(score: Score) -> tuple[float, float, float]:
    """Where a score brings the travel frame, seen from where it was at its start."""
    x, y, theta = score.travel(np.array([0.0, score.duration_s]))
    dx, dy = bring_back((x[:1], y[:1], theta[:1]), x[1:], y[1:])
    return float(dx[0]), float(dy[0]), float(theta[1] - theta[0])


@dataclass(frozen=True)
class Chained:
    """At a border between pieces the later one counts. Not periodic: it ends where it ends."""

    pieces: tuple[Piece, ...]
    periodic: bool = False

    @cached_property
    def _starts(self) -> Array:
        return np.array([p.start_s for p in self.pieces])

    @property
    def duration_s(self) -> float:
        last = self.pieces[-1]
        return last.start_s + last.score.duration_s

    @property
    def tolerance_s(self) -> float:
        return PHASE_TOLERANCE * self.duration_s

    @cached_property
    def stroke_mm(self) -> Array:
        return np.max([p.score.stroke_mm for p in self.pieces], axis=0)

    @cached_property
    def landing_mm_s(self) -> Array:
        return np.max([p.score.landing_mm_s for p in self.pieces], axis=0)

    @property
    def bends_deg(self) -> Mapping[str, float]:
        return self.pieces[0].score.bends_deg

    @property
    def held(self) -> tuple[JointAngle, ...]:
        return self.pieces[0].score.held

    @property
    def may_rest(self) -> bool:
        return any(p.score.may_rest for p in self.pieces)

    def _each(self, t: Array) -> Iterator[tuple[Piece, Indices, Array]]:
        """Each piece with the samples that are its own, and their times in it."""
        which = np.clip(np.searchsorted(self._starts, t + self.tolerance_s, side="right") - 1, 0, len(self.pieces) - 1)
        order = np.argsort(which, kind="stable")
        borders = np.searchsorted(which[order], np.arange(len(self.pieces) + 1))
        for n, piece in enumerate(self.pieces):
            own = order[borders[n] : borders[n + 1]]
            if len(own):
                yield piece, own, np.maximum(t[own] - piece.start_s, 0.0)

    def _gathered(self, t: Array, ask: Callable[[Score, Array, Indices], Flags]) -> Flags:
        parts = [(own, ask(piece.score, local, own)) for piece, own, local in self._each(t)]
        out = np.zeros((len(parts[0][1]), len(t)), dtype=bool)
        for own, found in parts:
            out[:, own] = found
        return out

    def events(self) -> Array:
        """Those of the pieces, and the borders between them."""
        times = np.sort(np.concatenate([np.append(p.start_s + p.score.events(), p.start_s) for p in self.pieces]))
        apart = np.concatenate([[True], np.diff(times) > self.tolerance_s])
        return times[apart & (times < self.duration_s - self.tolerance_s)]

    def contacts(self, t: Array, before: Flags | bool = False) -> Flags:
        flags = np.broadcast_to(np.asarray(before), t.shape)
        return self._gathered(self._early(t, flags), lambda score, local, own: score.contacts(local, flags[own]))

    def on_floor(self, t: Array, before: Flags | bool = False) -> Flags:
        return self._gathered(self._early(t, before), lambda score, local, own: score.on_floor(local))

    def _early(self, t: Array, before: Flags | bool) -> Array:
        """Just before a border the piece before it counts."""
        found: Array = np.where(before, np.maximum(t - 2 * self.tolerance_s, 0.0), t)
        return found

    def planted(self, t: Array) -> Flags:
        return self._gathered(t, lambda score, local, own: score.planted(local))

    def feet_at(self, t: Array) -> tuple[Array, Array]:
        places, toes = np.zeros((len(self.stroke_mm), len(t), 3)), np.zeros((len(self.stroke_mm), len(t)))
        for piece, own, local in self._each(t):
            found, headings = piece.score.feet_at(local)
            seen = carry(_pose(piece), found[..., 0], found[..., 1])
            places[:, own] = np.stack([*seen, found[..., 2]], axis=-1)
            toes[:, own] = headings + piece.at[2]
        return places, toes

    def body(self, t: Array) -> BodyTrack:
        at, turn = np.zeros((len(t), 3)), np.zeros((len(t), 3, 3))
        travel = np.zeros((3, len(t)))
        for piece, own, local in self._each(t):
            track = piece.score.body(local)
            pose = _pose(piece)
            at[own] = np.stack([*carry(pose, track.at[:, 0], track.at[:, 1]), track.at[:, 2]], axis=-1)
            turn[own] = turns(AXES["yaw"], np.array(piece.at[2])) @ track.turn
            travel[:2, own] = carry(pose, track.travel[0], track.travel[1])
            travel[2, own] = track.travel[2] + piece.at[2]
        return BodyTrack(at, turn, (travel[0], travel[1], travel[2]))

    def travel(self, t: Array) -> Travel:
        return self.body(t).travel

    def joints(self, t: Array) -> JointTrack | None:
        found = [(own, piece.score.joints(local)) for piece, own, local in self._each(t)]
        tracks = [track for _, track in found if track]
        if not tracks:
            return None
        count = tracks[0].values.shape[1]
        values, given = np.zeros((len(t), count)), np.zeros((len(t), count), dtype=bool)
        for own, track in found:
            if track:
                values[own], given[own] = track.values, track.given
        return JointTrack(values, given)

    def led_by_legs(self, t: Array) -> Flags:
        found = np.zeros(len(t), dtype=bool)
        for piece, own, local in self._each(t):
            found[own] = piece.score.led_by_legs(local)
        return found


def _pose(piece: Piece) -> tuple[Array, Array, Array]:
    x, y, theta = piece.at
    return np.array(x), np.array(y), np.array(theta)


def chained(scores: list[tuple[str, Score]]) -> Chained:
    """The scores in a row; those that take no time are left out, but one is kept."""
    pieces: list[Piece] = []
    start, at = 0.0, (0.0, 0.0, 0.0)
    lasting = [s for s in scores if s[1].duration_s > 1e-9] or scores[:1]
    for name, score in lasting:
        # A score that does not begin at its own origin is moved there.
        x, y, theta = (v[0] for v in score.travel(np.zeros(1)))
        ox, oy = bring_back((x, y, theta), 0.0, 0.0)
        place = _then(at, (float(ox), float(oy), -float(theta)))
        pieces.append(Piece(score, start, place, name))
        at = _then(at, _end(score))
        start += score.duration_s
    return Chained(tuple(pieces))


def _then(first: tuple[float, float, float], then: tuple[float, float, float]) -> tuple[float, float, float]:
    pose = (np.array(first[0]), np.array(first[1]), np.array(first[2]))
    x, y = carry(pose, then[0], then[1])
    return float(x), float(y), first[2] + then[2]
