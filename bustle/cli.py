"""The front door from a terminal: tables, plans and formats of a project file."""

from __future__ import annotations

import argparse
import json
import sys
from dataclasses import asdict
from functools import partial
from pathlib import Path

from bustle.core.document.checked import CheckedProject
from bustle.core.document.file import MAX_BYTES, load_project, project_hash
from bustle.core.dry_run.dry_run import dry_run
from bustle.core.evaluate import evaluate
from bustle.core.geometry.compiled import ready
from bustle.core.judge.playing import CannotBePlayed, told
from bustle.core.servo.joint_check import joint_check
from bustle.core.servo.servo_table import VALUES, table_of
from bustle.core.starting.fresh_set import fresh_set
from bustle.core.walk.motions.own_ends import in_order
from bustle.core.words.problems import InputRefused
from bustle.formats import TABLE_FORMATS, write_check, write_table
from bustle.formats.about_json import write_about
from bustle.formats.plan_json import plan_values
from bustle.formats.robot_files.mjcf_out import FULL_TORQUE_DEG, write_mjcf
from bustle.formats.robot_files.robot_file import Written
from bustle.formats.robot_files.urdf_out import write_urdf
from bustle.formats.set_zip import write_set
from bustle.formats.sheets.bench_sheets import SHEETS, write_sheet
from bustle.formats.sheets.page import PAPERS, Origin


class Refused(Exception):
    """Something about the call is wrong; the message is what the user reads."""


def _read(path: str) -> CheckedProject:
    try:
        with Path(path).open("rb") as file:
            data = file.read(MAX_BYTES + 1)
    except OSError as error:
        raise Refused(f"{path}: {(error.strerror or 'cannot be read').lower()}") from error
    if len(data) > MAX_BYTES:
        raise Refused(f"{path}: a project file has at most {MAX_BYTES / 1e6:g} MB, and this is larger")
    try:
        return load_project(data)
    except InputRefused as refused:
        raise Refused("\n".join(f"{path}: {problem}" for problem in refused.problems)) from refused


def _against_sag(project: CheckedProject, how: str | None) -> CheckedProject:
    """The project as it is, or held against sag otherwise."""
    return project if how is None else project.model_copy(update={"against_sag": how})


def _table(args: argparse.Namespace) -> None:
    plan = evaluate(_against_sag(_read(args.project), args.against_sag), args.motion)
    data = write_table(plan, args.format, args.decimals, args.anyway, args.facts, args.values, args.cut)
    _deliver(args.out, data)
    if args.out and TABLE_FORMATS[args.format].beside:
        beside = Path(args.out).with_suffix(".about.json")
        _deliver(str(beside), write_about(plan, table_of(plan.reading, args.values, args.decimals, args.cut)))
    known = told(plan.reading)
    for finding in (*known.bench, *known.stops):
        print(f"bustle: {finding.code}: {finding.message}", file=sys.stderr)
    for code, why in known.unjudged.items():
        print(f"bustle: {code} is not judged: {why}", file=sys.stderr)


def _plan(args: argparse.Namespace) -> None:
    plan = evaluate(_against_sag(_read(args.project), args.against_sag), args.motion, args.samples)
    json.dump(plan_values(plan), sys.stdout, allow_nan=False)
    sys.stdout.write("\n")


def _dry_run(args: argparse.Namespace) -> None:
    project = _against_sag(_read(args.project), args.against_sag)
    runs = dry_run(project, args.motion)
    if args.json:
        json.dump([asdict(run) for run in runs], sys.stdout, allow_nan=False)
        sys.stdout.write("\n")
        return
    print(", ".join(in_order(project, args.motion)))
    for run in runs:
        print(f"{run.machine}: {run.sentence}")


def _urdf(args: argparse.Namespace) -> None:
    _deliver_robot(args.out, write_urdf(_read(args.project)))


def _mjcf(args: argparse.Namespace) -> None:
    _deliver_robot(args.out, write_mjcf(_read(args.project), args.full_torque_deg))


def _deliver_robot(out: str | None, written: Written) -> None:
    _deliver(out, written.data)
    for line in written.lost:
        print(f"bustle: not in the file: {line}", file=sys.stderr)


def _set(args: argparse.Namespace) -> None:
    project = _read(args.project)
    if args.fresh:
        project = fresh_set(project)
    data, out = write_set(project, TABLE_FORMATS[args.format], anyway=args.anyway, values=args.values)
    _deliver(args.out, data)
    for one in out:
        print(f"bustle: left out: {one.motion}: {one.code} {one.sentence}", file=sys.stderr)


def _joint_check(args: argparse.Namespace) -> None:
    project = _read(args.project)
    check = joint_check(project, args.limb, args.values == "ticks")
    data = write_check(check, project, args.format)
    _deliver(args.out, data)
    for one in check.checks:
        print(f"bustle: {one.servo.place}: {one.sees}", file=sys.stderr)


def _sheets(args: argparse.Namespace) -> None:
    project = _read(args.project)
    origin = Origin(project.name, project_hash(project))
    try:
        Path(args.out).mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise Refused(f"{args.out}: {(error.strerror or 'cannot be made').lower()}") from error
    for name in SHEETS:
        for paper in PAPERS if args.paper == "both" else (args.paper,):
            path = Path(args.out) / f"{name}{'_letter' if paper == 'letter' else ''}.pdf"
            _deliver(str(path), write_sheet(project, name, origin, paper))


def _deliver(out: str | None, data: bytes) -> None:
    if not out:
        sys.stdout.buffer.write(data)
        return
    try:
        Path(out).write_bytes(data)
    except OSError as error:
        raise Refused(f"{out}: {(error.strerror or 'cannot be written').lower()}") from error


def _formats(args: argparse.Namespace) -> None:
    for kind in TABLE_FORMATS.values():
        print(f"{kind.name}\t{kind.suffix}\t{kind.label}: {kind.about}")


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="bustle", description="Plans how a small legged robot walks.")
    commands = parser.add_subparsers(required=True, metavar="COMMAND")
    table = commands.add_parser("table", help="write the joint angle table of a motion")
    table.add_argument("--format", choices=list(TABLE_FORMATS), default="csv")
    table.add_argument(
        "--decimals", type=int, default=2, metavar="N", help="of a degree, 0 to 4, where the format allows"
    )
    table.add_argument("--out", metavar="FILE", help="where to write; standard output otherwise")
    table.set_defaults(run=_table)
    values = "joint angles, pulses in microseconds, or ticks and counts"
    table.add_argument("--values", choices=VALUES, default="angles", help=values)
    table.add_argument("--cut", action="store_true", help="hold what is beyond a limit there, and say where")
    table.add_argument("--facts", action="store_true", help="in a CSV, what it is as # lines after the last row")
    plan = commands.add_parser("plan", help="everything about a motion as JSON on standard output")
    plan.add_argument("--samples", type=int, metavar="N", help="how many instants; the table's rows otherwise")
    plan.set_defaults(run=_plan)
    dry = commands.add_parser(
        "dry-run", help="walk a motion on the floor as its servos give, and tell what becomes of it"
    )
    dry.add_argument("--json", action="store_true", help="as JSON")
    dry.set_defaults(run=_dry_run)
    for command in (table, plan, dry):
        command.add_argument("project", metavar="PROJECT", help="a .bustle.json file")
        command.add_argument("--motion", required=True, metavar="NAME")
        command.add_argument(
            "--against-sag", choices=("off", "static", "full"),
            help="whether what is sent makes up for how far the servos give; as the project says otherwise",
        )  # fmt: skip
    urdf = commands.add_parser("urdf", help="write the walker as a URDF")
    urdf.set_defaults(run=_urdf)
    mjcf = commands.add_parser("mjcf", help="write the walker as an MJCF, with servos, soles and a key for each motion")
    mjcf.add_argument(
        "--full-torque-deg", type=float, metavar="X",
        help=f"how far servos are off their place at stall torque, degrees; else by the sheets or {FULL_TORQUE_DEG:g}",
    )  # fmt: skip
    mjcf.set_defaults(run=_mjcf)
    for command in (urdf, mjcf):
        command.add_argument("project", metavar="PROJECT", help="a .bustle.json file")
        command.add_argument("--out", metavar="FILE", help="where to write; standard output otherwise")
    whole = commands.add_parser("set", help="write every motion as a table, with what belongs together, as a zip")
    whole.add_argument("project", metavar="PROJECT", help="a .bustle.json file")
    whole.add_argument("--format", choices=list(TABLE_FORMATS), default="csv")
    whole.add_argument("--out", metavar="FILE", help="where to write; standard output otherwise")
    whole.add_argument("--values", choices=VALUES, default="angles", help=values)
    whole.add_argument("--fresh", action="store_true", help="of motions made from the machine alone, not of its own")
    whole.set_defaults(run=_set)
    for command in (table, whole):
        command.add_argument("--anyway", action="store_true", help="write what cannot be played too, and say so")
    check = commands.add_parser("joint-check", help="write a table that moves one servo at a time about its middle")
    check.add_argument("project", metavar="PROJECT", help="a .bustle.json file")
    check.add_argument("--limb", metavar="L", help="of that limb alone")
    check.add_argument("--format", choices=list(TABLE_FORMATS), default="csv")
    check.add_argument("--values", choices=("pulses", "ticks"), default="pulses")
    check.add_argument("--out", metavar="FILE", help="where to write; standard output otherwise")
    check.set_defaults(run=_joint_check)
    sheets = commands.add_parser("sheets", help="write the sheets for the bench as PDF")
    sheets.add_argument("project", metavar="PROJECT", help="a .bustle.json file")
    sheets.add_argument("--out", metavar="FOLDER", required=True, help="the folder to write them into")
    sheets.add_argument("--paper", choices=(*PAPERS, "both"), default="a4")
    sheets.set_defaults(run=_sheets)
    formats = commands.add_parser("formats", help="list the formats of the table")
    formats.set_defaults(run=_formats)
    return parser


def main(argv: list[str] | None = None) -> int:
    """Run one command. Exit code 0; 2 with one sentence per problem on standard error; 3 where a table cannot be
    played."""
    args = _parser().parse_args(argv)
    try:
        ready(partial(print, file=sys.stderr))
        args.run(args)
        sys.stdout.flush()
    except (Refused, InputRefused) as refused:
        print(f"bustle: {refused}", file=sys.stderr)
        return 2
    except CannotBePlayed as refused:
        print(f"bustle: {refused} Write it all the same with --anyway.", file=sys.stderr)
        return 3
    except BrokenPipeError:
        sys.stderr.close()
        return 1
    return 0


if __name__ == "__main__":
    sys.exit(main())
