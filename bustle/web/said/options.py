"""What there is to choose from, as the catalogue lists it: gaits, shapes, families, drives, findings, formats."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel

from bustle.core.project.parts import ServoType
from bustle.web.said.form_fields import FormField


class Option(BaseModel):
    name: str
    label: str
    about: str


class GaitOption(Option):
    legs: int
    duty: float
    balance: Literal["static", "dynamic"]


class PathOption(Option):
    smooth: bool
    points: list[tuple[float, float]]
    most_points: int


class JointOption(Option):
    """turns_over: whether its angles change their sign on the other side of the machine."""

    turns_over: bool


class FamilyOption(Option):
    links: list[Option]
    joints: list[JointOption]
    branches: list[str]
    keeps: list[Option]
    figure: str
    open: bool
    planar: bool
    pose: bool
    takes_hip_offset: bool


class SettingOption(BaseModel):
    name: str
    label: str
    unit: str
    default: float
    low: float
    high: float


class DriveOption(Option):
    servos: int
    joints: int
    settings: list[SettingOption]


class JudgementOption(BaseModel):
    """What is judged, where it is marked, whether it is told while a handle is dragged at any station, and whether all
    is not known to be well where it is not judged."""

    code: str
    label: str
    stations: list[str]
    tier: Literal["drag", "settled"]
    matters: bool
    instead: list[str]
    figures: list[str]


class FigureOption(BaseModel):
    """Where a figure is shown, whether more of it is better, and whether a change that moves it is told."""

    name: str
    stations: list[str]
    unit: str
    better: int
    compared: bool


class LeverOption(BaseModel):
    """low and high are the ends of its slider; what is typed may go as far as the field allows."""

    name: str
    label: str
    unit: str
    low: float
    high: float
    step: float
    typed: tuple[float, float]


class ShapeOption(BaseModel):
    """legs, family and placed: what it begins with where it can be had by one's own numbers, else 0 and nothing."""

    name: str
    label: str
    group: str
    usual_mm: float
    low_mm: float
    high_mm: float
    about: str
    legs: int
    family: str
    placed: str


class FormatOption(Option):
    """beside: a table in it says nothing of itself."""

    beside: bool
    suffix: str
    decimals: int | None


class AskedOption(BaseModel):
    """A number that is read off; each_leg: one for every foot, under the leg's own name."""

    name: str
    label: str
    unit: str
    low: float
    high: float
    usual: float | None
    each_leg: bool


class MeasurementOption(BaseModel):
    name: str
    label: str
    how: str
    care: str
    asked: list[AskedOption]


class SoleOption(BaseModel):
    """What soles of a kind hold on a floor, as a share of their load."""

    name: str
    label: str
    low: float
    high: float


class Catalogue(BaseModel):
    gaits: list[GaitOption]
    foot_paths: list[PathOption]
    families: list[FamilyOption]
    drives: list[DriveOption]
    label_schemes: list[Option]
    judgements: list[JudgementOption]
    figures: list[FigureOption]
    levers: list[LeverOption]
    measurements: list[MeasurementOption]
    soles: list[SoleOption]
    shapes: list[ShapeOption]
    formats: list[FormatOption]
    servo_types: list[ServoType]
    forms: dict[str, list[FormField]]
