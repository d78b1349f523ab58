"""How the foot of a chain is to lie, for a search: place and turn, or place and tilt whatever it heads to."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from bustle.core.geometry.arrays import Array, Flags, Indices, cross


@dataclass(frozen=True)
class Aim:
    """How a foot is to be turned: turns (S, 3, 3) in the mount's frame; level: as far as it tilts, whatever its
    heading."""

    turns: Array
    level: bool

    def __getitem__(self, rows: slice | Indices | Flags) -> Aim:
        return Aim(self.turns[rows], self.level)

    def missing(self, frames: Array) -> Array:
        """(S, 3): the turn, a vector along its axis, that takes feet (S, 3, 3) to where they are to be."""
        if not self.level:
            return _turn_vector(self.turns @ np.swapaxes(frames, -1, -2))
        normals = self.turns[..., 2]
        axis = cross(frames[..., 2], normals)
        sine = np.linalg.norm(axis, axis=-1)
        angle = np.arctan2(sine, (frames[..., 2] * normals).sum(axis=-1))
        # Upside down it may turn back about any axis that lies level.
        axis = np.where(sine[:, None] > 1e-9, axis, frames[..., 0])
        return np.asarray(axis * (angle / np.maximum(sine, 1e-9))[:, None])

    def columns(self, turning: Array) -> Array:
        """How it turns (S, 3, J) as joints do, of which that counts."""
        if not self.level:
            return turning
        normals = self.turns[..., 2]
        return turning - normals[..., None] * np.einsum("sr,srj->sj", normals, turning)[:, None]

    def angles(self, frames: Array) -> Array:
        """(S, G) rad: how far each foot (G, 3, 3) is from each that is wanted."""
        if self.level:
            cosine = self.turns[..., 2] @ frames[..., 2].T
        else:
            # tr(AᵀB) = 1 + 2·cos of the angle between them.
            cosine = (np.einsum("sab,gab->sg", self.turns, frames) - 1) / 2
        return np.asarray(np.arccos(np.clip(cosine, -1.0, 1.0)))

    def change(self, by: int) -> Array:
        """(S,) rad: from what was wanted so many samples before."""
        before = np.roll(self.turns, by, axis=0)
        if self.level:
            cosine = (self.turns[..., 2] * before[..., 2]).sum(axis=-1)
        else:
            cosine = (np.einsum("sab,sab->s", self.turns, before) - 1) / 2
        return np.asarray(np.arccos(np.clip(cosine, -1.0, 1.0)))


def _turn_vector(turn: Array) -> Array:
    from scipy.spatial.transform import Rotation

    vector: Array = Rotation.from_matrix(turn).as_rotvec()
    return vector
