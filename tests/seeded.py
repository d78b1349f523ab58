"""Random geometry with a seed that is printed when a test that uses it fails."""

from __future__ import annotations

import os
import unittest

import numpy as np


class SeededTest(unittest.TestCase):
    """`self.random` draws from a fresh seed, or from BUSTLE_SEED to repeat a failure."""

    def setUp(self) -> None:
        self.seed = int(os.environ.get("BUSTLE_SEED", np.random.SeedSequence().entropy % 2**32))
        self.random = np.random.default_rng(self.seed)

    def run(self, result: unittest.TestResult | None = None) -> unittest.TestResult | None:
        before = 0 if result is None else len(result.failures) + len(result.errors)
        outcome = super().run(result)
        if result is not None and len(result.failures) + len(result.errors) > before:
            print(f"{self.id()}: repeat with BUSTLE_SEED={self.seed}")
        return outcome
