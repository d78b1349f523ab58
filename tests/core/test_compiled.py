"""What is compiled: for the kinds it names and no others, whatever the disk, whoever calls first."""

from __future__ import annotations

import errno
import unittest
from concurrent.futures import ThreadPoolExecutor
from unittest.mock import patch

import numpy as np
from numba.core.caching import IndexDataCacheFile

from bustle.core.geometry.arrays import Array
from bustle.core.geometry.compiled import REAL, compiled_for, floats


def summed() -> object:
    """A fresh one: the sum of squares, times by."""

    @compiled_for(floats(2), REAL)
    def found(values: Array, by: float) -> float:
        whole = 0.0
        for row in values:
            for value in row:
                whole += value * value
        return whole * by

    return found


class Compiled(unittest.TestCase):
    def test_arrays_of_any_layout_and_kind_go_in(self):
        """Across, in strides, read-only, backwards, of whole numbers or flags: one version takes them all."""
        run, values = summed(), np.arange(24.0).reshape(4, 6)
        fixed = values.copy()
        fixed.setflags(write=False)
        given = (values, values.T, values[::2, 1::2], fixed, values[::-1], values.astype(int), values > 4, values[:0])
        for array in given:
            with self.subTest(dtype=array.dtype, strides=array.strides):
                self.assertEqual(run(array, 2), 2 * float((array.astype(float) ** 2).sum()))

    def test_a_full_disk_keeps_nothing_and_stops_nothing(self):
        full = OSError(errno.ENOSPC, "No space left on device")
        kept = patch.object(IndexDataCacheFile, "load", return_value=None)
        with kept, patch.object(IndexDataCacheFile, "save", side_effect=full) as save:
            self.assertEqual(summed()(np.ones((2, 3)), 1.0), 6.0)
        save.assert_called()

    def test_several_at_once_wait_for_the_first(self):
        run = summed()
        with ThreadPoolExecutor(8) as pool:
            found = list(pool.map(lambda k: run(np.full((1, 2), float(k)), 1.0), range(8)))
        self.assertEqual(found, [2.0 * k * k for k in range(8)])
