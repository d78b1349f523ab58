"""How processes hang together: they die with their parent, and are begun again where they end, but not for ever."""

from __future__ import annotations

import ctypes
import signal
import time

PARENT_DIED = 1  # PR_SET_PDEATHSIG
WITHIN_S = 60.0


def die_with_parent(number: signal.Signals = signal.SIGTERM) -> None:
    """This process gets that signal when its parent ends, however it ends."""
    ctypes.CDLL(None).prctl(PARENT_DIED, number)


class Ends:
    """How often something has ended within the last minute."""

    def __init__(self, most: int) -> None:
        self.most = most
        self._at: list[float] = []

    def too_often(self) -> bool:
        """It has ended once more: whether that is more than may be mended by beginning again."""
        now = time.monotonic()
        self._at = [*(t for t in self._at if now - t < WITHIN_S), now]
        return len(self._at) > self.most
