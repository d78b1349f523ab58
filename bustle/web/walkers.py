"""Walkers on the shelf and their revisions."""

from __future__ import annotations

import numpy as np
from flask import Response

from bustle.core.document.checked import CheckedProject
from bustle.core.document.differences import differences
from bustle.core.document.file import project_hash
from bustle.core.document.three_way_merge import reapply
from bustle.core.project.motion import PhaseGait
from bustle.core.starting.own_numbers import OwnNumbers
from bustle.core.starting.starting_walkers import start, stopped_at_any_stride, unwalked
from bustle.core.words.problems import InputRefused, refuse
from bustle.formats.machine_lines import machine_lines
from bustle.store import Conflict
from bustle.store.repository import Saved, Shelved
from bustle.web.answer import answer
from bustle.web.blueprint import blueprint
from bustle.web.problem import problem
from bustle.web.said import shapes
from bustle.web.searching import searched
from bustle.web.store_of import store

api = blueprint("walkers", "/api/walkers")


# Verdicts by the hash of what was judged.
_verdicts: dict[str, bytes] = {}
MOST_VERDICTS = 512


def _entry(item: Shelved) -> shapes.ShelfEntry:
    return shapes.ShelfEntry(
        id=item.id,
        archived=item.archived,
        revision=item.number,
        saved_at=item.created_at,
        unreadable=item.unreadable,
        **item.card,
    )


def view(saved: Saved, archived: bool = False) -> shapes.SavedWalker:
    return shapes.SavedWalker(
        id=saved.walker_id,
        archived=archived,
        number=saved.number,
        parent=saved.parent,
        hash=saved.hash,
        name=saved.name,
        note=saved.note,
        created_at=saved.created_at,
        project=saved.project,
    )


# So many fields at most are told of a comparison.
MOST_FIELDS = 500


def _renamed(project: CheckedProject, name: str) -> CheckedProject:
    return project.model_copy(update={"name": name})


@api.get("", responses={200: shapes.Shelf})
def shelf(query: shapes.ShelfQuery) -> Response:
    """The walkers on the shelf, or those put away."""
    return answer(shapes.Shelf(walkers=[_entry(item) for item in store().shelf(query.archived)]))


@api.post("", responses={201: shapes.SavedWalker})
def create(body: shapes.NewWalker) -> Response:
    """A new walker from a starting shape, from one's own numbers, or a project."""
    if body.project is not None:
        project = _renamed(body.project, body.name) if body.name else body.project
    elif body.own is not None:
        made = searched("own_numbers", shapes.Looked(own=body.own))
        project = _renamed(shapes.PassedOn.model_validate_json(made).project, body.name or "New walker")
    elif body.shape is not None:
        if body.leg_length_mm is None:
            raise refuse("leg_length_mm", "is missing")
        project = start(body.shape, body.name or "New walker", body.leg_length_mm)
    else:
        raise refuse("shape", "is missing; give a shape, your own numbers or a project")
    return answer(view(store().create(project)), 201)


@api.post("/drawn", responses={200: shapes.MachineLines})
def drawn(body: shapes.Looked) -> Response:
    """How a walker by one's own numbers would look, and stand. Stores nothing."""
    project = unwalked(OwnNumbers(**body.own.model_dump()), "New walker")
    lines, limbs = machine_lines(project)
    feet = np.array([leg.neutral_mm for leg in project.walker.legs])
    long, wide = (round(float(v), 1) for v in np.ptp(feet, axis=0))
    high = next(m.pose.ride_height_mm for m in project.motions if isinstance(m, PhaseGait))
    against = stopped_at_any_stride(project)
    return answer(
        shapes.MachineLines(
            body=lines,
            limbs=limbs,
            high_mm=high,
            long_mm=long,
            wide_mm=wide,
            frame_g=sum(mass.mass_g for mass in project.walker.masses),
            stall_nm=project.servo_types[0].stall_torque_nm,
            against=against,
        )
    )


@api.get("/<int:walker_id>", responses={200: shapes.SavedWalker})
def read(path: shapes.WalkerPath) -> Response:
    """The newest revision."""
    return answer(view(store().get(path.walker_id), store().is_archived(path.walker_id)))


@api.get("/<int:walker_id>/verdict", responses={200: shapes.Verdict})
def verdict(path: shapes.WalkerPath) -> Response:
    """What all motions of the newest revision come to."""
    # What it is called changes nothing of it: copies are judged once.
    project = store().get(path.walker_id).project.model_copy(update={"name": "Walker", "note": ""})
    key = project_hash(project)
    found = _verdicts.get(key)
    if found is None:
        found = searched("verdict", shapes.PassedOn(project=project))
        while len(_verdicts) >= MOST_VERDICTS:
            _verdicts.pop(next(iter(_verdicts)), None)
        _verdicts[key] = found
    return Response(found, mimetype="application/json")


@api.post("/<int:walker_id>/copies", responses={201: shapes.SavedWalker})
def duplicate(path: shapes.WalkerPath) -> Response:
    """A copy of the newest revision as a walker of its own."""
    source = store().get(path.walker_id).project
    taken = {item.card["name"] for item in store().shelf()}
    stem = source.name[:50]
    name = next(f"{stem} {n}" for n in range(2, 10_000) if f"{stem} {n}" not in taken)
    return answer(view(store().create(_renamed(source, name))), 201)


@api.put("/<int:walker_id>/archive", responses={204: None})
def archive(path: shapes.WalkerPath) -> Response:
    """Put a walker away."""
    store().archive(path.walker_id, True)
    return Response(status=204)


@api.delete("/<int:walker_id>/archive", responses={204: None})
def restore(path: shapes.WalkerPath) -> Response:
    """Put a walker back on the shelf."""
    store().archive(path.walker_id, False)
    return Response(status=204)


@api.get("/<int:walker_id>/revisions", responses={200: shapes.Revisions})
def revisions(path: shapes.WalkerPath) -> Response:
    """Every revision, newest first."""
    lines = store().revisions(path.walker_id)
    return answer(shapes.Revisions(revisions=[shapes.RevisionLine(**vars(line)) for line in lines]))


@api.post(
    "/<int:walker_id>/revisions",
    responses={201: shapes.SavedWalker, 409: shapes.ConflictDetail, 422: shapes.ProblemDetail},
)
def save(path: shapes.WalkerPath, body: shapes.SaveRevision) -> Response:
    """A new revision on top of `parent`; 409 with what differs if another has been saved since."""
    try:
        return answer(view(store().save(path.walker_id, body.parent, body.project, body.note)), 201)
    except Conflict as conflict:
        mine, theirs, base = body.project, conflict.saved.project, conflict.base.project
        return problem(
            409,
            f"Another window saved revision {conflict.saved.number} since you opened {conflict.base.number}.",
            saved=view(conflict.saved).model_dump(mode="json"),
            merged=_merged(base, mine, theirs),
        )


def _merged(base: CheckedProject, mine: CheckedProject, theirs: CheckedProject) -> dict | None:
    try:
        project = reapply(base, mine, theirs)
    except InputRefused:
        return None
    return shapes.Merged(
        project=project, mine=differences(base, mine)[:MOST_FIELDS], theirs=differences(base, theirs)[:MOST_FIELDS]
    ).model_dump(mode="json")


@api.get("/<int:walker_id>/revisions/<int:number>", responses={200: shapes.SavedWalker})
def read_revision(path: shapes.RevisionPath) -> Response:
    """One revision."""
    return answer(view(store().get(path.walker_id, path.number)))


@api.get("/<int:walker_id>/revisions/with/<string:told>", responses={200: shapes.SavedWalker})
def find_revision(path: shapes.HashPath) -> Response:
    """The newest revision with a hash: which one was a table written from?"""
    return answer(view(store().find(path.walker_id, path.told)))


@api.put("/<int:walker_id>/revisions/<int:number>/name", responses={204: None})
def name_revision(path: shapes.RevisionPath, body: shapes.NameRevision) -> Response:
    """Name a revision, or take its name away; and note what it is."""
    store().name_revision(path.walker_id, path.number, body.name, body.note)
    return Response(status=204)


@api.get("/<int:walker_id>/revisions/<int:number>/differences", responses={200: shapes.Differences})
def compare(path: shapes.RevisionPath, query: shapes.SinceQuery) -> Response:
    """The fields that differ from this revision to another."""
    before, after = store().get(path.walker_id, path.number), store().get(path.walker_id, query.to)
    return answer(shapes.Differences(differences=differences(before.project, after.project)[:MOST_FIELDS]))
