"""Edits of the electrics, what the bench is told, the joint check and the sheets."""

from __future__ import annotations

import hashlib
from collections.abc import Callable
from typing import Literal

import numpy as np
from flask import Response, request

from bustle.core.document.checked import CheckedProject, parse_project
from bustle.core.document.file import project_hash
from bustle.core.geometry.arrays import Array
from bustle.core.project.electrics import prescale, real_frequency_hz
from bustle.core.project.project import Project, document
from bustle.core.servo.bench_cards import bench_cards
from bustle.core.servo.calibration import calibrated, numbered, read_at, replaced
from bustle.core.servo.channel_map import limb_wired, wired, wired_in_order, with_board
from bustle.core.servo.first_evening import STEPS
from bustle.core.servo.horn_teeth import fitted_on_nearest_teeth, horns
from bustle.core.servo.joint_check import answered, joint_check, limb_turned, mended, must_be_seen
from bustle.core.servo.rest_heights import height_measured, limp_mm, rests_mm, trimmed, trims
from bustle.core.words.problems import refuse
from bustle.formats import table_format, write_check
from bustle.formats.c_table import identifier
from bustle.formats.servo_types_csv import read_servo_types, write_servo_types
from bustle.formats.sheets.bench_sheets import write_sheet
from bustle.formats.sheets.page import Origin
from bustle.web.answer import answer
from bustle.web.blueprint import blueprint
from bustle.web.files import download
from bustle.web.said.described import file_of, table_in_any_format, taken
from bustle.web.said.shapes import ProblemDetail, WalkerPath
from bustle.web.servos import shapes
from bustle.web.store_of import store

# How high a machine stands over the bench, for what a ruler would find; what it does find is typed.
STAND_MM = 60.0

api = blueprint("servos")

# How far a horn is turned in a drawing, so that it is seen.
DRAWN_DEG = 14.0

Edited = CheckedProject | tuple[CheckedProject, tuple[str, ...]]


def _named(name: str | None, field: str) -> str:
    if name is None:
        raise refuse(field, "is missing")
    return name


def _number(value: float | None, field: str) -> float:
    if value is None:
        raise refuse(field, "is missing")
    return value


def _with_bank(project: CheckedProject) -> CheckedProject:
    values = document(project)
    banks = values["electrics"]["banks"]
    name = next(n for n in ("Pack", *(f"Pack {k}" for k in range(2, 40))) if n not in {b["name"] for b in banks})
    banks.append({"name": name, "full_v": 8.4, "empty_v": 6.6, "regulated_v": 6.0})
    return parse_project(values)


def _forgotten(project: CheckedProject, place: str) -> CheckedProject:
    values = document(project)
    values["electrics"]["seen"] = [s for s in values["electrics"]["seen"] if s["place"] != place]
    return parse_project(values)


def _stepped(project: CheckedProject, step: str) -> CheckedProject:
    if step not in {s.name for s in STEPS}:
        raise refuse("step", f"must be one of {', '.join(s.name for s in STEPS)}")
    values = document(project)
    done = values["electrics"]["done"]
    values["electrics"]["done"] = [d for d in done if d != step] if step in done else [*done, step]
    return parse_project(values)


def _played(project: CheckedProject) -> str:
    """The hash of the joint check that this project writes."""
    return hashlib.sha256(write_check(joint_check(project), project, "csv")).hexdigest()


ACTIONS: dict[str, Callable[[shapes.BenchEdit], Edited]] = {
    "number": lambda b: numbered(b.project),
    "wire": lambda b: wired_in_order(b.project, b.by),
    "put": lambda b: wired(b.project, _named(b.place, "place"), b.board, b.channel),
    "put_limb": lambda b: limb_wired(b.project, _named(b.limb, "limb"), _named(b.board, "board"), b.channel),
    "board": lambda b: with_board(b.project, b.kind),
    "bank": lambda b: _with_bank(b.project),
    "teeth": lambda b: fitted_on_nearest_teeth(b.project, None if b.place is None else [b.place]),
    "calibrate": lambda b: calibrated(b.project, _named(b.item, "item")),
    "replace": lambda b: replaced(b.project, _named(b.item, "item")),
    "seen": lambda b: answered(
        b.project, _named(b.place, "place"), b.saw, b.instead, b.at, b.table or _played(b.project)
    ),
    "mend": lambda b: mended(b.project, _named(b.place, "place")),
    "forget": lambda b: _forgotten(b.project, _named(b.place, "place")),
    "trim": lambda b: trimmed(b.project),
    "reading": lambda b: read_at(
        b.project, _named(b.place, "place"), _number(b.told, "told"), _number(b.read, "read"), b.at
    ),
    "height": lambda b: height_measured(b.project, _named(b.limb, "limb"), _number(b.read, "read")),
    "step": lambda b: _stepped(b.project, b.step),
}


@api.post("/electrics", responses={200: shapes.BenchEdited, 422: ProblemDetail})
def edit_electrics(body: shapes.BenchEdit) -> Response:
    """The draft with its servos numbered, wired, fitted, read, seen or trimmed."""
    done = ACTIONS[body.action](body)
    project, said = done if isinstance(done, tuple) else (done, ())
    return answer(shapes.BenchEdited(project=project, said=list(said)))


@api.post("/bench", responses={200: shapes.BenchView, 422: ProblemDetail})
def bench(body: shapes.BenchDraft) -> Response:
    """Every servo of the draft as it is fitted, its boards, what a ruler showed, and the steps of the evening."""
    project = body.project
    return answer(
        shapes.BenchView(
            servos=_servos(project),
            boards=[
                shapes.BoardView(
                    name=b.name,
                    kind=b.kind,
                    channels=b.channels,
                    address=b.address,
                    places={w.channel: w.place for w in b.wires},
                    prescale=prescale(b, project.controller) if b.kind == "pulse_board" else None,
                    frequency_hz=real_frequency_hz(b, project.controller) if b.kind == "pulse_board" else None,
                )
                for b in project.electrics.boards
            ],
            trims=[
                shapes.TrimView(
                    limb=t.limb,
                    off_mm=t.off_mm,
                    place=t.servo.place if t.servo else None,
                    trim_deg=t.trim_deg,
                    told=t.told,
                    unit=t.unit,
                    rod=t.rod_said,
                )
                for t in trims(project)
            ],
            limp_mm=limp_mm(project),
            steps=_steps(project),
            rests_mm=rests_mm(project, STAND_MM),
        )
    )


@api.post("/bench/cards", responses={200: shapes.Cards, 422: ProblemDetail})
def cards(body: shapes.CardsDraft) -> Response:
    """A step of the evening one thing at a time, to be read from a step away."""
    return answer(shapes.Cards(cards=list(bench_cards(body.project, body.step))))


def _servos(project: Project) -> list[shapes.ServoView]:
    found = []
    for horn in horns(project):
        s = horn.servo
        at, turned = limb_turned(project, s, DRAWN_DEG)
        found.append(
            shapes.ServoView(
                place=s.place,
                joint=s.joint,
                number=s.number,
                item=s.item.name if s.item else None,
                type=s.sheet.name,
                unit="count" if s.bus else "µs",
                board=s.board.name if s.board else None,
                channel=s.channel,
                bank=s.bank.name if s.bank else None,
                centre=s.centre,
                direction=s.direction,
                per_deg=s.per_deg,
                told=s.told(0.0),
                low=s.ends[0],
                high=s.ends[1],
                sees=must_be_seen(project, s),
                assumed=list(s.assumed()),
                saw=s.seen.saw if s.seen else None,
                mended=bool(s.seen and s.seen.mended),
                seen_on=s.seen.seen_on if s.seen else "",
                at_deg=horn.at_deg,
                teeth=horn.teeth,
                tooth=horn.tooth,
                left_deg=horn.left_deg,
                fitted_tooth=s.fitted.tooth,
                tooth_left_deg=s.fitted.tooth_left_deg,
                trim_deg=s.fitted.trim_deg,
                limb_mm=np.round(at, 1).tolist(),
                turned_mm=np.round(turned, 1).tolist(),
                view=_seen_from(turned - at),
            )
        )
    return found


def _seen_from(steps: Array) -> Literal["plan", "side", "front"]:
    """The view that shows most of a movement, by the direction that has least of it."""
    gone = np.abs(steps).sum(axis=0)
    views: tuple[Literal["front", "side", "plan"], ...] = ("front", "side", "plan")
    return views[int(np.argmin(gone))]


def _steps(project: Project) -> list[shapes.EveningStep]:
    found = []
    for step in STEPS:
        left = step.left(project)
        by_hand = step.name in project.electrics.done
        found.append(
            shapes.EveningStep.model_validate(
                {
                    "name": step.name,
                    "label": step.label,
                    "how": step.how,
                    "sheet": step.sheet,
                    "done": left == "" or (by_hand and not left),
                    "left": left or "",
                }
            )
        )
    return found


@api.post("/joint-check", responses={200: table_in_any_format(), 422: ProblemDetail})
def check(body: shapes.CheckDraft) -> Response:
    """A table that moves one servo at a time about its own middle."""
    kind = table_format(body.format)
    found = joint_check(body.project, body.limb, body.values == "ticks")
    name = f"{identifier(body.project.name)}_{identifier(found.table.motion)}{kind.suffix}"
    return download(write_check(found, body.project, body.format), name, kind.media_type)


@api.get("/walkers/<int:walker_id>/sheets/<string:name>", responses={200: file_of("A sheet", "application/pdf")})
def sheet(path: shapes.SheetPath, query: shapes.SheetQuery) -> Response:
    """A sheet for the bench of the newest revision."""
    saved = store().get(path.walker_id)
    origin = Origin(
        saved.project.name, project_hash(saved.project), f"revision {saved.number}", f"{saved.created_at:%Y-%m-%d}"
    )
    data = write_sheet(saved.project, path.name, origin, query.paper)
    return download(data, f"{identifier(saved.project.name)}_{path.name}.pdf", "application/pdf")


@api.get("/walkers/<int:walker_id>/servo-types", responses={200: file_of("The servo types", "text/csv")})
def types_file(path: WalkerPath) -> Response:
    """The servo types of the newest revision as CSV."""
    project = store().get(path.walker_id).project
    return download(write_servo_types(project.servo_types), f"{identifier(project.name)}_servo_types.csv", "text/csv")


@api.post(
    "/servo-types",
    responses={200: shapes.ServoTypes, 422: ProblemDetail},
    openapi_extensions=taken("text/csv"),
)
def read_types() -> Response:
    """Servo types from CSV, as the sheets they come to."""
    return answer(shapes.ServoTypes(servo_types=read_servo_types(request.get_data())))
