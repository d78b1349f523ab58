"""Edits of the frame that touch many fields, the parts list, and URDF in and out."""

from __future__ import annotations

from collections.abc import Callable

from flask import Response, request

from bustle.core.at_rest.parts_list import parts, totals
from bustle.core.document.checked import CheckedProject
from bustle.core.document.differences import differences
from bustle.core.edits import chain_joints
from bustle.core.edits import limb_edits as assembly
from bustle.core.edits import new_limbs as fitting
from bustle.core.edits.alike import followed
from bustle.core.edits.as_measured import sagging
from bustle.core.edits.frame_sections import hinged, hung
from bustle.core.edits.hinge_drives import hinge_driven
from bustle.core.edits.scaling import scaled
from bustle.core.edits.upside_down import turned_with_its_own
from bustle.core.starting.leg_that_stands import leg_that_stands
from bustle.formats.c_table import identifier
from bustle.formats.parts_csv import write_parts
from bustle.formats.robot_files.mjcf_out import write_mjcf
from bustle.formats.robot_files.robot_file import Written
from bustle.formats.robot_files.urdf_in import read_urdf
from bustle.formats.robot_files.urdf_out import write_urdf
from bustle.web.answer import answer
from bustle.web.blueprint import blueprint
from bustle.web.files import download
from bustle.web.said import leg_shapes, shapes
from bustle.web.said.described import file_of, taken
from bustle.web.store_of import store

api = blueprint("machine")

ACTIONS = {
    "mirror": lambda b: assembly.mirrored(b.project, b.limb),
    "copy": lambda b: assembly.copied(b.project, b.limb),
    "behind": lambda b: assembly.at_the_other_end(b.project, b.limb),
    "remove": lambda b: assembly.removed(b.project, b.limb),
    "repeat": lambda b: assembly.repeated(b.project, b.limb, b.count),
    "relabel": lambda b: assembly.relabelled(b.project, b.scheme),
    "add": lambda b: (
        leg_that_stands(b.project, b.family, b.at_mm)
        if b.role == "leg"
        else fitting.added(b.project, b.role, b.family, b.at_mm)
    ),
    "refit": lambda b: fitting.refitted(b.project, b.limb, b.family, b.alike),
    "section": lambda b: hinged(b.project, b.axis),
    "hang": lambda b: hung(b.project, b.limb, b.section, b.alike),
    "hinge": lambda b: hinge_driven(b.project, b.section),
    "joint": lambda b: chain_joints.jointed(b.project, b.limb, b.alike, b.joint),
    "unjoint": lambda b: chain_joints.unjointed(b.project, b.limb, b.joint, b.alike),
    "call_joint": lambda b: chain_joints.joint_called(b.project, b.limb, b.joint, b.called, b.alike),
    "call_link": lambda b: chain_joints.link_called(b.project, b.limb, b.link, b.called, b.alike),
    "follow": lambda b: followed(b.before or b.project, b.project, b.limb),
    "turn_over": lambda b: turned_with_its_own(b.project, b.motion),
    "sag": lambda b: sagging(b.project, b.factor),
    "scale": lambda b: scaled(b.project, b.factor, b.all_weights),
}


@api.post("/frame", responses={200: leg_shapes.EditedProject, 422: shapes.ProblemDetail})
def edit_frame(body: leg_shapes.FrameEdit) -> Response:
    """The draft with a limb mirrored, copied, repeated or removed, or its legs relabelled."""
    project = ACTIONS[body.action](body)
    found = differences(body.project, project)[:200]
    return answer(leg_shapes.EditedProject(project=project, differences=found))


@api.post("/parts", responses={200: leg_shapes.Parts, 422: shapes.ProblemDetail})
def list_parts(body: leg_shapes.PartsDraft) -> Response:
    """Every part of the draft, and the totals against their budgets."""
    return answer(leg_shapes.Parts(parts=parts(body.project), totals=totals(body.project)))


@api.get("/walkers/<int:walker_id>/parts", responses={200: file_of("The parts list", "text/csv")})
def parts_file(path: shapes.WalkerPath) -> Response:
    """The parts list of the newest revision as CSV."""
    project = store().get(path.walker_id).project
    return download(write_parts(project), f"{identifier(project.name)}_parts.csv", "text/csv")


@api.get("/walkers/<int:walker_id>/urdf", responses={200: leg_shapes.Written})
def urdf_out(path: shapes.WalkerPath) -> Response:
    """The newest revision as a URDF, and what it could not hold."""
    return _model(path, write_urdf, ".urdf")


@api.get("/walkers/<int:walker_id>/mjcf", responses={200: leg_shapes.Written})
def mjcf_out(path: shapes.WalkerPath) -> Response:
    """The newest revision as an MJCF with a key for each motion, and what it could not hold."""
    return _model(path, write_mjcf, ".mjcf.xml")


def _model(path: shapes.WalkerPath, write: Callable[[CheckedProject], Written], suffix: str) -> Response:
    project = store().get(path.walker_id).project
    written = write(project)
    name = f"{identifier(project.name)}{suffix}"
    return answer(leg_shapes.Written(file_name=name, text=written.data.decode(), lost=list(written.lost)))


@api.post(
    "/urdf",
    responses={201: leg_shapes.ReadUrdf, 422: shapes.ProblemDetail},
    openapi_extensions=taken("application/xml"),
)
def urdf_in(query: leg_shapes.UrdfQuery) -> Response:
    """A URDF, as it is, becomes a walker on the shelf."""
    read = read_urdf(request.get_data(), query.name)
    saved = store().create(read.project)
    return answer(leg_shapes.ReadUrdf(id=saved.walker_id, unused=list(read.unused), called=list(read.called)), 201)
