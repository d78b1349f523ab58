"""The sheets for a first evening: one side for all of it, wiring, fitting, a protractor, the supply."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

from reportlab.graphics.shapes import Circle, Drawing, Line, String
from reportlab.lib.units import mm
from reportlab.platypus import Flowable

from bustle.core.document.checked import CheckedProject
from bustle.core.evaluate import evaluate
from bustle.core.falling.fall import fall, fall_told
from bustle.core.servo.fitted_servos import ServoAt, servos_at
from bustle.core.servo.horn_teeth import horns
from bustle.core.servo.joint_check import in_order, must_be_seen
from bustle.core.servo.power_on_order import soft_start
from bustle.core.servo.servo_limits import servo_limits
from bustle.core.walk.motions.made_of import balance_of
from bustle.core.words.wording import number
from bustle.formats.sheets.page import Origin, box, gap, pdf, rows, words

STOP_RULES = (
    "Stop at once when: a servo buzzes or grows hot; a joint runs against its stop; anything moves that was not told "
    "to; the supply dips. Then switch off, find out why, and only then go on."
)


@dataclass(frozen=True)
class Sheet:
    name: str
    title: str
    story: Callable[[CheckedProject], list[Flowable]]


def _where(servo: ServoAt) -> str:
    if servo.board is None:
        return "not wired"
    return f"{servo.board.name} {servo.channel}"


def _told(servo: ServoAt, horn_deg: float = 0.0) -> str:
    return f"{number(servo.told(horn_deg), 0)} {'' if servo.bus else 'µs'}".strip()


def _turns(servo: ServoAt) -> str:
    return "as is" if servo.direction > 0 else "turned round"


def _evening(project: CheckedProject) -> list[Flowable]:
    """Order, channels, directions, neutral pulses, what must be seen, when to stop: one side."""
    body = [
        [
            box(4),
            f"{s.number}",
            s.place,
            _where(s),
            _turns(s),
            _told(s),
            must_be_seen(project, s).upper().split(" GOES ")[-1],
        ]
        for s in in_order(project, None)
    ]
    return [
        words("Machine on a stand, feet in the air. One servo at a time, from the foot up: 3° both ways, then 10°."),
        gap(2),
        rows(("", "No.", "Servo", "Goes to", "Direction", "Middle", "Foot goes"), body, (7, 14, 42, 42, 30, 22, 25)),
        gap(2),
        words(STOP_RULES),
        *_if_it_falls(project),
    ]


def _if_it_falls(project: CheckedProject) -> list[Flowable]:
    """Of the walk that lives by its timing and falls the hardest."""
    readings = [evaluate(project, m.name).reading for m in project.motions if balance_of(project, m) == "dynamic"]
    falls = [(found.energy_j, r) for r in readings if (found := r.of(fall))]
    if not falls:
        return []
    _, hardest = max(falls, key=lambda one: round(one[0], 6))
    return [gap(2), *(words(f"{hardest.motion.name}, later: {line}") for line in fall_told(hardest))]


def _wiring(project: CheckedProject) -> list[Flowable]:
    story: list[Flowable] = []
    ends = servo_limits(project)
    limits = {
        s.place: f"{low:.0f} to {high:.0f} counts"
        for s, (low, high) in zip(servos_at(project), ends.tolist(), strict=True)
    }
    for board in project.electrics.boards:
        at = {w.channel: w.place for w in board.wires}
        address = f", address {board.address}" if board.address is not None else ""
        called = "Address" if board.kind == "bus" else "Channel"
        story.append(words(f"{board.name}{address}: {len(board.wires)} of {board.channels}"))
        numbers = {s.place: s.number for s in servos_at(project)}
        body = [[box(4), str(c), at[c], numbers.get(at[c], "")] for c in sorted(at)]
        head, wide = ["", called, "Servo", "No."], [8.0, 26.0, 90.0, 30.0]
        if board.kind == "bus":
            for row in body:
                row.append(limits.get(str(row[2]), ""))
            head, wide = [*head, "Limits to write in"], [8, 24, 66, 22, 46]
        story += [rows(head, body, wide)]
        free = [str(c) for c in range(board.channels) if c not in at] if board.kind != "bus" else []
        story += [words(f"Free: {', '.join(free)}"), gap()] if free else [gap()]
    pins = [[box(4), s.name, s.board or "controller", str(s.pin), s.at_start] for s in project.electrics.signals]
    if pins:
        story += [rows(("", "Input or lamp", "On", "Pin", "At start"), pins, (8, 60, 50, 20, 30)), gap()]
    if not project.electrics.boards:
        story.append(words("No board is declared yet."))
    return story


def _teeth(tooth: int) -> str:
    """How far round its spline a horn goes on, from where the joint stands at its zero."""
    if tooth == 0:
        return "no tooth off"
    return f"{abs(tooth)} {'tooth' if abs(tooth) == 1 else 'teeth'} {'on' if tooth > 0 else 'back'}"


def _fitting(project: CheckedProject) -> list[Flowable]:
    body = []
    for horn in horns(project):
        tooth = "no spline on its sheet" if horn.tooth is None else _teeth(horn.tooth)
        left = "" if horn.left_deg is None else f"{number(horn.left_deg)}°"
        trim = f"{number(horn.servo.fitted.trim_deg)}°"
        body.append([box(4), horn.servo.place, f"{number(horn.at_deg)}°", tooth, left, trim, _told(horn.servo)])
    how = (
        "Servo centred, power off, then the horn on. The joint is to stand at the angle given; what the tooth leaves "
        f"over is told to the servo, and the trim reaches {number(project.electrics.trim_range_deg)}°."
    )
    head = ("", "Servo", "Joint at", "Tooth", "Left over", "Trim", "Told")
    return [words(how), gap(2), rows(head, body, (8, 48, 24, 34, 26, 20, 22))]


def _protractor(project: CheckedProject) -> list[Flowable]:
    """Full size: the horn's screw goes through the middle."""
    radius, across = 80 * mm, 176 * mm
    drawing = Drawing(across, across)
    middle = across / 2
    drawing.add(Circle(middle, middle, 1.5 * mm, strokeWidth=1, fillColor=None))
    for deg in range(360):
        long = 9 if deg % 10 == 0 else 6 if deg % 5 == 0 else 3.5
        c, s = math.cos(math.radians(deg)), math.sin(math.radians(deg))
        inner = radius - long * mm
        drawing.add(Line(middle + inner * c, middle + inner * s, middle + radius * c, middle + radius * s,
                         strokeWidth=1 if deg % 10 == 0 else 0.5))  # fmt: skip
        if deg % 10 == 0:
            at = radius - 14 * mm
            told = deg if deg <= 180 else deg - 360
            drawing.add(String(middle + at * c, middle + at * s - 4, str(told), fontSize=9, textAnchor="middle"))
    for angle in (0, 90, 180, 270):
        c, s = math.cos(math.radians(angle)), math.sin(math.radians(angle))
        drawing.add(Line(middle + 8 * mm * c, middle + 8 * mm * s, middle + 55 * mm * c, middle + 55 * mm * s,
                         strokeWidth=0.5))  # fmt: skip
    how = "Print at full size: the rule below is 100 mm. Screw the horn through the middle; note what is told and read."
    head = ("Servo", "Told", "Read", "Told", "Read", "Told", "Read")
    empty = rows(head, [[gap(7)] * 7 for _ in range(2)], (34, 24, 24, 24, 24, 24, 24))
    return [words(how), gap(1), drawing, _rule(), gap(1), empty]


def _rule() -> Drawing:
    drawing = Drawing(110 * mm, 8 * mm)
    drawing.add(Line(0, 2 * mm, 100 * mm, 2 * mm, strokeWidth=1))
    for n in range(11):
        drawing.add(Line(n * 10 * mm, 2 * mm, n * 10 * mm, (5 if n % 5 == 0 else 3.5) * mm, strokeWidth=1))
    return drawing


def _supply(project: CheckedProject) -> list[Flowable]:
    electrics = project.electrics
    switch = electrics.stop_switch
    story: list[Flowable] = [
        words(f"Stop switch: {switch.where or 'within reach'}; it cuts {switch.cuts.replace('_', ' ')}." if switch
              else "STOP SWITCH: NONE DECLARED. Do not power up without one."),
        gap(2),
    ]  # fmt: skip
    servos = servos_at(project)
    steps = ["Regulator set with no servo plugged in", "Polarity", "Grounds joined", "Fuse in", "Stop switch tried"]
    for bank in electrics.banks:
        hung = [s for s in servos if s.bank == bank]
        given = f"{number(bank.regulated_v)} V regulated" if bank.regulated_v else "the pack's own voltage"
        story.append(words(f"{bank.name}: {bank.chemistry}, {bank.cells} cells, {number(bank.full_v)} V full, "
                           f"{number(bank.empty_v)} V empty; {given}; {len(hung)} servos; fuse "
                           f"{number(bank.fuse_a) + ' A' if bank.fuse_a else 'not said'}."))  # fmt: skip
        story += [
            rows(("", "Before a servo is plugged in", "Read"), [[box(), step, ""] for step in steps], (10, 100, 60)),
            gap(),
        ]
    if not electrics.banks:
        story.append(words("No supply is declared yet."))
    if project.motions and project.walker.drives:
        start = soft_start(project)
        story.append(
            words(f"At power-on: into {start.pose}, {start.at_once} servos at a time, {number(start.takes_s)} s.")
        )
    safe = electrics.fail_safe
    if safe:
        then = {"goes_limp": "goes limp", "holds": "holds", "pose": "takes its fail-safe pose"}[safe.effect]
        first = "finishes the step, then " if safe.finish_step else ""
        story.append(words(f"Radio silent for {number(safe.after_ms, 0)} ms: {first}{then}."))
    else:
        story.append(words("Radio lost: nothing is decided yet."))
    return story


SHEETS: dict[str, Sheet] = {
    s.name: s
    for s in (
        Sheet("evening", "a first evening", _evening),
        Sheet("wiring", "wiring", _wiring),
        Sheet("fitting", "fitting the horns", _fitting),
        Sheet("protractor", "protractor", _protractor),
        Sheet("supply", "supply and stop", _supply),
    )
}


def write_sheet(project: CheckedProject, name: str, origin: Origin, paper: str = "a4") -> bytes:
    """One sheet as PDF. `name` is one of SHEETS, `paper` "a4" or "letter"."""
    sheet = SHEETS[name]
    warning = "" if project.electrics.stop_switch else "No stop switch is declared."
    return pdf(sheet.title, origin, sheet.story(project), paper, warning)
