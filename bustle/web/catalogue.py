"""What there is to choose from: everything the registries list, so that screens need no change when they grow."""

from __future__ import annotations

from flask import Response

from bustle.core.edits.levers import LEVERS
from bustle.core.edits.limb_edits import SCHEMES
from bustle.core.edits.mirroring import joint_turns_over
from bustle.core.judge.registry import FIGURES, JUDGEMENTS
from bustle.core.kinds.drives import DRIVES
from bustle.core.kinds.foot_paths import FOOT_PATHS
from bustle.core.kinds.gaits import GAITS
from bustle.core.kinds.legs import FAMILIES
from bustle.core.loads.friction import SOLES
from bustle.core.starting.servo_types import SERVO_TYPES
from bustle.core.starting.starting_walkers import LEG_LENGTH_MM, SHAPES
from bustle.core.trials.ten_minutes import MEASUREMENTS
from bustle.formats import TABLE_FORMATS
from bustle.web.answer import answer
from bustle.web.blueprint import blueprint
from bustle.web.problem import problem
from bustle.web.said import options, shapes
from bustle.web.said.form_fields import forms
from bustle.web.store_of import store

api = blueprint("catalogue")


@api.get("/health", responses={200: shapes.Health})
def health() -> Response:
    """Whether the server and its database answer."""
    return Response('{"ok": true}', mimetype="application/json") if store().alive() else problem(503, "No database.")


@api.get("/catalogue", responses={200: options.Catalogue})
def catalogue() -> Response:
    """Gaits, foot paths, leg families, levers, starting shapes and formats."""
    low, high = LEG_LENGTH_MM
    return answer(
        options.Catalogue(
            gaits=[
                options.GaitOption(
                    name=g.name, label=g.label, about=g.about, legs=g.legs, duty=g.duty, balance=g.balance
                )
                for g in GAITS.values()
            ],
            foot_paths=[
                options.PathOption(
                    name=p.name,
                    label=p.label,
                    about=p.about,
                    smooth=p.smooth,
                    points=list(p.points),
                    most_points=p.most_points,
                )
                for p in FOOT_PATHS.values()
            ],
            families=[
                options.FamilyOption(
                    name=f.name,
                    label=f.label,
                    about=f.about,
                    links=[options.Option(name=k.name, label=k.label, about="") for k in f.links],
                    joints=[
                        options.JointOption(
                            name=j.name, label=j.label, about=j.positive, turns_over=joint_turns_over(f, j.name)
                        )
                        for j in f.joints
                    ],
                    branches=list(f.branches),
                    keeps=[options.Option(name=k.name, label=k.label, about="") for k in f.keeps],
                    figure=f.figure.strip("\n"),
                    open=f.open,
                    planar=f.planar,
                    pose=f.pose,
                    takes_hip_offset=f.takes_hip_offset,
                )
                for f in FAMILIES.values()
            ],
            drives=[
                options.DriveOption(
                    name=d.name,
                    label=d.label,
                    about=d.about,
                    servos=d.servos,
                    joints=d.joints,
                    settings=[options.SettingOption(**vars(s)) for s in d.settings],
                )
                for d in DRIVES.values()
            ],
            label_schemes=[options.Option(name=n, label=n, about=about) for n, about in SCHEMES.items()],
            measurements=[
                options.MeasurementOption(
                    name=m.name,
                    label=m.label,
                    how=m.how,
                    care=m.care,
                    asked=[options.AskedOption(**vars(a)) for a in m.asked],
                )
                for m in MEASUREMENTS.values()
            ],
            soles=[
                options.SoleOption(name=s.name, label=f"{s.sole} on {s.floor}", low=s.low, high=s.high) for s in SOLES
            ],
            judgements=[
                options.JudgementOption(
                    code=j.code,
                    label=j.label,
                    stations=list(j.stations),
                    tier=j.tier,
                    matters=j.matters,
                    instead=list(j.instead),
                    figures=[f.name for f in j.figures],
                )
                for j in JUDGEMENTS.values()
            ],
            figures=[
                options.FigureOption(
                    name=f.name, stations=list(f.stations), unit=f.unit, better=f.better, compared=f.compared
                )
                for f in FIGURES.values()
            ],
            levers=[
                options.LeverOption(
                    name=v.name, label=v.label, unit=v.unit, low=v.low, high=v.high, step=v.step, typed=v.typed
                )
                for v in LEVERS.values()
                if not v.relative
            ],
            shapes=[
                options.ShapeOption(
                    name=s.name,
                    label=s.label,
                    group=s.group,
                    usual_mm=s.usual_mm,
                    low_mm=low,
                    high_mm=high,
                    about=s.about,
                    legs=s.legs,
                    family=s.family,
                    placed=s.placed,
                )
                for s in SHAPES.values()
            ],
            formats=[
                options.FormatOption(
                    name=f.name, label=f.label, about=f.about, suffix=f.suffix, decimals=f.decimals, beside=f.beside
                )
                for f in TABLE_FORMATS.values()
            ],
            forms=forms(),
            servo_types=list(SERVO_TYPES),
        )
    )
