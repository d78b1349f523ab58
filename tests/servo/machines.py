"""A machine on the bench that is not as its project says: what its servos really do when a table is played."""

from __future__ import annotations

import numpy as np

from bustle.core.document.checked import parse_project
from bustle.core.project.project import document
from bustle.core.servo.calibration import numbered
from bustle.core.servo.channel_map import wired_in_order
from bustle.core.servo.fitted_servos import servos_at
from bustle.core.servo.joint_check import answered, mended


def on_boards(project, count=1, **more):
    """The project with numbered servos wired in order to so many pulse boards."""
    values = document(project)
    values["electrics"] |= {
        "boards": [{"name": f"Board {n}", "address": 64 + n, "enable_off_at_start": True} for n in range(count)],
        **more,
    }
    return wired_in_order(numbered(parse_project(values)), "leg")


class Bench:
    """truth: the project as the machine is really put together."""

    def __init__(self, truth):
        self.servos = {(s.board.name, s.channel): s for s in servos_at(truth)}

    def moves(self, wired_as, told_deg):
        """Which place answers when a servo of a project is told to turn its horn so far about its middle, and how far
        its horn turns: what is sent goes by channel, and the servo there turns by its own direction."""
        servo = self.servos.get((wired_as.board.name, wired_as.channel))
        if servo is None:
            return None, 0.0
        sent = wired_as.centre + wired_as.direction * wired_as.per_deg * told_deg
        return servo.place, (sent - servo.centre) / (servo.direction * servo.per_deg)

    def check(self, project, place):
        """What a builder who looks would press."""
        told = next(s for s in servos_at(project) if s.place == place)
        moved, by = self.moves(told, 3.0)
        if moved is None:
            return "nothing", None
        if moved != place:
            return "another", moved
        return ("as_told", None) if by > 0 else ("other_way", None)

    def evening(self, project):
        """The joint check until everything answers: the project then, how many looks, and what was found."""
        found, looks = [], 0
        for _ in range(4):
            left = [s.place for s in servos_at(project) if s.seen is None or s.seen.saw != "as_told"]
            if not left:
                break
            for place in left:
                saw, instead = self.check(project, place)
                looks += 1
                project = answered(project, place, saw, instead, "2026-11-26", "0" * 64)
                if saw != "as_told":
                    found.append((place, saw))
                    project = mended(project, place)
        return project, looks, found


def swapped(values, one, other):
    """Two places on each other's channels."""
    wires = {w["place"]: w for b in values["electrics"]["boards"] for w in b["wires"]}
    wires[one]["place"], wires[other]["place"] = other, one


def directed(values, place):
    item = next(i for i in values["electrics"]["items"] if i["place"] == place)
    item["direction"] = -item["direction"]


def angles_of(project, sent_by, servo_rad):
    """(S, N): the horns of a machine put together as `project`, told what `sent_by` sends, by channel."""
    there = {(s.board.name, s.channel): n for n, s in enumerate(servos_at(project))}
    own = servos_at(project)
    found = np.full((len(servo_rad), len(own)), np.nan)
    for n, servo in enumerate(servos_at(sent_by)):
        at = there.get((servo.board.name, servo.channel))
        if at is not None:
            sent = [servo.told(float(np.degrees(a))) for a in servo_rad[:, n]]
            found[:, at] = [
                (s - own[at].centre) / (own[at].direction * own[at].per_deg) - own[at].offset_deg for s in sent
            ]
    return np.radians(found)
