"""How the foot of a chain is to lie, for a search: place and turn, or place and tilt whatever it heads to."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from bustle.core.geometry.arrays import Array, Flags, Indices

# What a chain is asked for: its foot's place; how it is turned too; or how far it tilts too.
PLACE, POSE, LEVEL = range(3)


@dataclass(frozen=True)
class Aim:
    """How a foot is to be turned: turns (S, 3, 3) in the mount's frame; level: as far as it tilts, whatever its
    heading."""

    turns: Array
    level: bool

    def __getitem__(self, rows: slice | Indices | Flags) -> Aim:
        return Aim(self.turns[rows], self.level)

    @property
    def asks(self) -> int:
        return LEVEL if self.level else POSE

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
