"""The motion studio: sets, driving, starting, what changes. Stores nothing but the record of an export."""

from __future__ import annotations

import math
from urllib.parse import quote

from flask import Response

from bustle.core.document.checked import CheckedProject
from bustle.core.edits.patches import patched
from bustle.core.evaluate import evaluate
from bustle.core.judge.measures.margins.next_leg_ranking import candidates
from bustle.core.project.motion import Keyframes, Motion, PhaseGait
from bustle.core.search.attempt import changes
from bustle.core.search.motion_set import fitting, usual
from bustle.core.servo.power_on_order import soft_start
from bustle.core.walk.motions.lifting_rule import RULE, WALKING_BY_IT
from bustle.core.walk.motions.retold import as_gait, as_keyframes
from bustle.core.words.problems import refuse
from bustle.formats import table_format
from bustle.formats.c_table import identifier
from bustle.formats.contacts_svg import write_contacts
from bustle.formats.set_zip import write_set
from bustle.web.answer import answer
from bustle.web.bench import MEDIA_TYPE, PICTURE
from bustle.web.blueprint import blueprint
from bustle.web.files import download
from bustle.web.said import motion_shapes, shapes
from bustle.web.said.described import file_of
from bustle.web.searching import searched, told
from bustle.web.store_of import store

api = blueprint("motions")


@api.post("/motion-set", responses={200: motion_shapes.SetView, 422: shapes.ProblemDetail})
def make_set(body: motion_shapes.SetDraft) -> Response:
    """Every motion of the set for a gait, as long as it may be, and what is left out with the reason."""
    if not body.project.motions:
        raise refuse("motions", "needs one gait or standing pose, from which it takes ride height, lift and pace")
    return told("motion_set", body)


@api.post("/fresh-set", responses={200: motion_shapes.FreshSet, 422: shapes.ProblemDetail})
def start_over(body: motion_shapes.ProjectDraft) -> Response:
    """The motions of a machine made from the machine alone, each walk ahead with a start and a stop."""
    return told("fresh_set", body)


@api.post("/fitting-gaits", responses={200: motion_shapes.FittingGaits, 422: shapes.ProblemDetail})
def fitting_gaits(body: motion_shapes.ProjectDraft) -> Response:
    """The named gaits that the draft's legs can be timed by."""
    gaits = [g.name for g in fitting(body.project)]
    return answer(motion_shapes.FittingGaits(usual=usual(body.project), gaits=gaits))


@api.post("/drive", responses={200: PICTURE, 422: shapes.ProblemDetail})
def drive(body: motion_shapes.StickDraft) -> Response:
    """The plan of the walk that a stick asks for, as one buffer (see `picture`)."""
    return Response(searched("drive", body), mimetype=MEDIA_TYPE)


@api.post("/drive-by-rule", responses={200: PICTURE, 422: shapes.ProblemDetail})
def drive_by_rule(body: motion_shapes.FreeDraft) -> Response:
    """The plan of a walk that follows the stick with its legs lifting by the rule, as one buffer (see `picture`)."""
    return Response(searched("drive_by_rule", body), mimetype=MEDIA_TYPE)


@api.post("/driven", responses={200: motion_shapes.AddedView, 422: shapes.ProblemDetail})
def keep_driven(body: motion_shapes.FreeDraft) -> Response:
    """The draft with what was driven as a motion of its own."""
    return told("keep_driven", body)


def _added(project: CheckedProject, motion: Motion) -> motion_shapes.AddedView:
    add = {"op": "add", "path": "/motions/-", "value": motion.model_dump(mode="json")}
    return motion_shapes.AddedView(name=motion.name, project=patched(project, [add]))


@api.post("/soft-start", responses={200: motion_shapes.StartView, 422: shapes.ProblemDetail})
def start(body: motion_shapes.ProjectDraft) -> Response:
    """The order in which the draft's servos are switched on, with the travel each may make."""
    return answer(motion_shapes.StartView(soft_start(body.project)))


@api.post("/next-leg", responses={200: motion_shapes.NextLeg, 422: shapes.ProblemDetail})
def next_leg(body: motion_shapes.NextLegDraft) -> Response:
    """Which leg should lift next at an instant, for the way it walks or a new one."""
    e = evaluate(body.project, body.motion).reading
    if e.gait is None:
        raise refuse("motion", f"{body.motion} is no gait, so its legs lift when it says")
    sample = int(body.time_s / e.row_s) % e.samples
    way = (body.vx_mm_s, body.vy_mm_s, body.omega_deg_s)
    twist = None
    if any(v is not None for v in way):
        vx, vy, omega = (v or 0.0 for v in way)
        twist = (vx, vy, math.radians(omega))
    keep = body.project.limits.margin_mm
    return answer(
        motion_shapes.NextLeg(
            rule=[*RULE, *WALKING_BY_IT],
            legs=[
                motion_shapes.CandidateView(
                    leg=c.leg,
                    left_s=c.left_s if math.isfinite(c.left_s) else None,
                    margin_mm=c.margin_mm if math.isfinite(c.margin_mm) else None,
                    beside_air=c.beside_air,
                    may=c.may(keep),
                )
                for c in candidates(e, sample, twist)
            ],
        )
    )


@api.get("/lifting-rule", responses={200: motion_shapes.Rule})
def lifting_rule() -> Response:
    """The rule of which leg lifts next, and what walking by it adds."""
    return answer(motion_shapes.Rule(rule=[*RULE, *WALKING_BY_IT]))


@api.post("/retold", responses={200: motion_shapes.AddedView, 422: shapes.ProblemDetail})
def retold(body: motion_shapes.MotionDraft) -> Response:
    """A gait as keyframes, or keyframes as a gait, added to the draft."""
    motion = body.project.motion(body.motion)
    if motion.kind == "phase_gait":
        other: Keyframes | PhaseGait = as_keyframes(body.project, body.motion)
    elif motion.kind == "keyframes":
        other = as_gait(body.project, body.motion)
    else:
        raise refuse("motion", f"{body.motion} is neither a gait nor a set of keyframes")
    return answer(_added(body.project, other))


@api.post("/changes", responses={200: motion_shapes.Changes, 422: shapes.ProblemDetail})
def compare(body: motion_shapes.ChangesDraft) -> Response:
    """The figures that differ between two states of a project, or two motions; findings that are new or gone."""
    before, after = evaluate(body.before, body.before_motion), evaluate(body.project, body.motion)
    old, new = ({(f.code, f.title) for f in plan.findings} for plan in (before, after))
    return answer(
        motion_shapes.Changes(
            changes=list(changes(before, after)),
            new=[f"{code} {title}" for code, title in sorted(new - old)],
            gone=[f"{code} {title}" for code, title in sorted(old - new)],
        )
    )


@api.post("/contacts", responses={200: file_of("The picture", "image/svg+xml")})
def contacts(body: motion_shapes.MotionDraft) -> Response:
    """The picture of who is on the ground when, as SVG to print."""
    data = write_contacts(evaluate(body.project, body.motion))
    return download(data, f"{identifier(body.project.name)}_{identifier(body.motion)}_contacts.svg", "image/svg+xml")


@api.post(
    "/walkers/<int:walker_id>/sets",
    responses={200: file_of("The archive", "application/zip"), 409: shapes.ProblemDetail, 422: shapes.ProblemDetail},
)
def export_set(path: shapes.WalkerPath, body: motion_shapes.SetExport) -> Response:
    """Every motion of a saved revision as a table, with what belongs together, in one archive; recorded as written."""
    kind = table_format(body.format)
    saved = store().get(path.walker_id, body.revision)
    if not saved.project.motions:
        raise refuse("motions", "this walker has no motion yet")
    data, out = write_set(saved.project, kind, body.decimals, body.anyway)
    name = f"{identifier(saved.project.name)}_set_r{saved.number}.zip"
    line = store().record_export(path.walker_id, saved.number, "All motions", f"{kind.name} set", name, data)
    response = download(data, name, "application/zip")
    response.headers["X-Content-SHA256"] = line.sha256
    if out:
        response.headers["X-Left-Out"] = quote(", ".join(one.motion for one in out))
    return response
