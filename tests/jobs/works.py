"""Works that end in every way a work can."""

from __future__ import annotations

import os
import signal
import time

from bustle.core.words.problems import refuse


def echo(asked, tell):
    return str(asked).encode()


def sleep(asked, tell):
    for n in range(int(asked * 20)):
        tell(n, int(asked * 20), "sleeping")
        time.sleep(0.05)
    return b"slept"


def die(asked, tell):
    os.kill(os.getpid(), signal.SIGKILL)


def who(asked, tell):
    return str(os.getpid()).encode()


def eat(asked, tell):
    return bytes(asked)


def refuse_it(asked, tell):
    raise refuse("motion", "is no motion")


def break_down(asked, tell):
    raise ZeroDivisionError("one over nothing")


WORKS = {"echo": echo, "sleep": sleep, "die": die, "eat": eat, "refuse": refuse_it, "break": break_down, "who": who}
