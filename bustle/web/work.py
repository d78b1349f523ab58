"""What is done in worker processes: each work takes a request's body and gives the answer's, as bytes."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

import numpy as np
from pydantic import BaseModel

from bustle.core.document.checked import CheckedProject
from bustle.core.dry_run.dry_run import DryRun, as_its_sheets_say, dry_run, wanted, why_none
from bustle.core.dry_run.ladder import ladder
from bustle.core.dry_run.mends import mends
from bustle.core.edits.levers import LEVERS
from bustle.core.edits.patches import only_motions, patched
from bustle.core.evaluate import Plan, evaluate
from bustle.core.judge.playing import told
from bustle.core.project.motion import FreeWalk, PhaseGait, Swings
from bustle.core.project.project import fresh_name, gait_of
from bustle.core.search.machines_side_by_side import rival
from bustle.core.search.motion_set import motion_set, usual
from bustle.core.search.progress import Tell
from bustle.core.search.remedies import remedies
from bustle.core.search.sound_band import sound_band
from bustle.core.search.stick_to_walk import Stick, StickAt, driven_by_rule, steered
from bustle.core.starting.fresh_set import renewed
from bustle.core.starting.own_numbers import OwnNumbers
from bustle.core.starting.starting_walkers import start_from
from bustle.core.starting.timed_walks import with_rungs
from bustle.core.walk.motions.own_ends import in_order
from bustle.core.words.problems import refuse
from bustle.jobs.job import Work
from bustle.web.drawn.picture import picture
from bustle.web.said import leg_shapes, motion_shapes, shapes
from bustle.web.tried import shapes as tried


def _bytes(value: BaseModel) -> bytes:
    return value.model_dump_json().encode()


def mend(body: shapes.RemedyDraft, tell: Tell) -> bytes:
    plan = evaluate(body.project, body.motion)
    same = (f for f in plan.findings if (f.code, f.subject) == (body.finding.code, body.finding.subject))
    finding = next(same, None)
    if finding is None:
        raise refuse("finding", f"{body.finding.code} is not among this motion's findings")
    found = remedies(body.project, body.motion, finding, tell)
    views = [
        shapes.RemedyView(
            title=r.title,
            patch=r.patch,
            changes=r.changes,
            project=patched(body.project, r.patch),
        )
        for r in found
    ]
    return _bytes(shapes.Remedies(finding=body.finding, remedies=views))


def band(body: shapes.BandDraft, tell: Tell) -> bytes:
    ranges = sound_band(body.project, body.motion, LEVERS[body.lever], body.low, body.high, tell)
    return _bytes(shapes.Band(ranges=ranges))


def _unjudged(plan: Plan) -> str | None:
    return next(iter(told(plan.reading).unjudged.values()), None)


def _walked(project: CheckedProject, motion: str, tell: Callable[[str], object]) -> DryRun | None:
    """Nothing of what is stopped anyhow."""
    tell(f"{motion}, dry run")
    if not evaluate(project, motion).sound or why_none(project, motion):
        return None
    return as_its_sheets_say(project, motion)


def make_set(body: motion_shapes.SetDraft, tell: Tell) -> bytes:
    found = motion_set(body.project, body.gait or usual(body.project), body.mixture, tell, body.one_order)
    kept = found.kept_in(body.project)
    made = [
        motion_shapes.MadeView(
            name=m.motion.name,
            gait=m.motion.gait,
            cycle_s=m.motion.cycle_s,
            stroke_mm=m.stroke_mm,
            step_mm=m.step_mm,
            speed_mm_s=float(np.hypot(m.motion.twist.vx_mm_s, m.motion.twist.vy_mm_s)),
            turn_deg_s=m.motion.twist.omega_deg_s,
            code=m.code,
            limited_by=m.limited_by,
            unjudged=_unjudged(evaluate(kept, m.motion.name)),
            run=_walked(kept, m.motion.name, partial(tell, n, len(found.made))),
        )
        for n, m in enumerate(found.made)
    ]
    return _bytes(motion_shapes.SetView(gait=found.gait, made=made, left_out=found.left_out, project=kept))


def start_over(body: motion_shapes.ProjectDraft, tell: Tell) -> bytes:
    """Its walks from the machine alone. What is warned of as it stands is of the machine, and told in full there."""
    project = renewed(body.project, tell)
    made: list[motion_shapes.FreshWalk] = []
    stand = next((m.name for m in project.motions if isinstance(m, PhaseGait) and m.stands), None)
    still = {(f.code, f.subject) for f in evaluate(project, stand).findings} if stand else set()
    for motion in project.motions:
        plan = evaluate(project, motion.name)
        on = plan.reading.goes_on
        told_of = [f for f in plan.findings if f.severity in ("stop", "warn")]
        elsewhere = still if motion.name != stand else set()
        own = [f for f in told_of if f.severity == "stop" or (f.code, f.subject) not in elsewhere]
        worst = next(iter(own or told_of), None)
        against = f"{worst.code} {worst.message}" if worst and own else f"{worst.code}, as {stand}" if worst else None
        made.append(
            motion_shapes.FreshWalk(
                name=motion.name,
                stride_mm=float(np.hypot(*on[:2])) if plan.reading.score.periodic else None,
                turn_deg=float(np.degrees(on[2])) if plan.reading.score.periodic else None,
                cycle_s=plan.reading.score.duration_s,
                severity=worst.severity if worst else None,
                against=against,
                unjudged=_unjudged(plan),
                run=_walked(project, motion.name, partial(tell, len(made), len(project.motions))),
            )
        )
    return _bytes(motion_shapes.FreshSet(made=made, project=project))


def climb(body: shapes.Draft, tell: Tell) -> bytes:
    """The rungs of a walk, each with its start and stop, and the draft with all of them."""
    swings = body.project.motion(body.motion)
    walk = swings if isinstance(swings, Swings) else gait_of(body.project, body.motion)
    rungs = ladder(body.project, walk, tell)
    project = with_rungs(body.project, rungs)
    views = [
        tried.RungView(
            name=r.motion.name,
            seen=r.seen,
            severity=r.against.severity if r.against else None,
            against=f"{r.against.code} {r.against.message}" if r.against else None,
            run=r.run,
            felled_by=r.felled_by,
        )
        for r in rungs
    ]
    return _bytes(tried.Ladder(rungs=views, project=project))


def run_dry(body: shapes.Draft, tell: Tell) -> bytes:
    """What becomes of a motion on the floor as its servos give, and what would have it go well where it goes badly."""
    runs = dry_run(body.project, body.motion, tell)
    found = mends(body.project, body.motion, tell) if runs[0].goes_badly else ()
    return _bytes(
        tried.DryRunView(
            in_order=list(in_order(body.project, body.motion)),
            wanted=wanted(evaluate(body.project, body.motion).reading),
            runs=list(runs),
            mends=[tried.MendView(title=m.title, project=patched(body.project, m.patch), run=m.run) for m in found],
        )
    )


def run_alone(body: shapes.Draft, tell: Tell) -> bytes:
    why = why_none(body.project, body.motion)
    run = None if why else as_its_sheets_say(body.project, body.motion, tell)
    return _bytes(tried.DryRunAlone(run=run, why=why))


def drive(body: motion_shapes.StickDraft, tell: Tell) -> bytes:
    walk = steered(body.project, Stick(body.ahead, body.left, body.turn), body.school)
    if body.lift_mm is not None:
        walk = walk.model_copy(update={"lift_mm": body.lift_mm})
    if body.ride_height_mm is not None:
        walk = walk.model_copy(update={"pose": walk.pose.model_copy(update={"ride_height_mm": body.ride_height_mm})})
    return picture(evaluate(only_motions(body.project, walk), walk.name))


def drive_by_rule(body: motion_shapes.FreeDraft, tell: Tell) -> bytes:
    walk = driven(body, "Drive")
    alone = only_motions(body.project, body.project.motion(walk.like), walk)
    return picture(evaluate(alone, walk.name))


def keep_driven(body: motion_shapes.FreeDraft, tell: Tell) -> bytes:
    walk = driven(body, fresh_name(body.project, "Driven"))
    add = {"op": "add", "path": "/motions/-", "value": walk.model_dump(mode="json")}
    return _bytes(motion_shapes.AddedView(name=walk.name, project=patched(body.project, [add])))


def driven(body: motion_shapes.FreeDraft, name: str) -> FreeWalk:
    sticks = [StickAt(at.from_s, Stick(at.ahead, at.left, at.turn)) for at in body.sticks]
    return driven_by_rule(body.project, sticks, body.takes_s, name)


def verdict(body: shapes.PassedOn, tell: Tell) -> bytes:
    """Stops and warnings over all motions, and the worst in words."""
    project, plans = body.project, []
    for n, motion in enumerate(project.motions):
        tell(n, len(project.motions), motion.name)
        plans.append((motion.name, evaluate(project, motion.name)))
    stops = [(name, f) for name, plan in plans for f in plan.findings if f.severity == "stop"]
    warns = [(name, f) for name, plan in plans for f in plan.findings if f.severity == "warn"]
    unjudged = [(name, why) for name, plan in plans if (why := _unjudged(plan))]
    worst = (stops or warns)[:1]
    words = "No motion yet" if not plans else "Nothing stands against it"
    if worst:
        words = f"{worst[0][0]}: {worst[0][1].title.lower()}"
    elif unjudged:
        words = f"{unjudged[0][0]}, not judged: {unjudged[0][1]}"
    return _bytes(shapes.Verdict(stops=len(stops), warns=len(warns), unjudged=len(unjudged), verdict=words))


def side_by_side(body: leg_shapes.Machines, tell: Tell) -> bytes:
    found = []
    for n, machine in enumerate(body.machines):
        tell(n, len(body.machines), machine.name)
        found.append(rival(machine.project, machine.name))
    return _bytes(leg_shapes.Rivals(rivals=found))


def by_own_numbers(body: shapes.Looked, tell: Tell) -> bytes:
    """A walker by the builder's own numbers."""
    return _bytes(shapes.PassedOn(project=start_from(OwnNumbers(**body.own.model_dump()), "New walker", tell)))


WORKS: dict[str, Work] = {
    "own_numbers": by_own_numbers,
    "remedies": mend,
    "sound_band": band,
    "motion_set": make_set,
    "fresh_set": start_over,
    "ladder": climb,
    "dry_run": run_dry,
    "dry_run_alone": run_alone,
    "drive": drive,
    "drive_by_rule": drive_by_rule,
    "keep_driven": keep_driven,
    "verdict": verdict,
    "side_by_side": side_by_side,
}

# How long each may work, s.
DEADLINES = {
    "own_numbers": 240.0,
    "motion_set": 180.0,
    "fresh_set": 180.0,
    "ladder": 120.0,
    "dry_run": 120.0,
    "dry_run_alone": 60.0,
    "remedies": 60.0,
    "verdict": 60.0,
    "side_by_side": 60.0,
}
USUAL_DEADLINE_S = 20.0
