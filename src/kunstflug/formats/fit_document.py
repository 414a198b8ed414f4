"""Joints, section and build list as JSON; lengths in millimetres, as they are drawn."""

import dataclasses

from pydantic import Field

from kunstflug.core.fit.build import Step
from kunstflug.core.fit.joints import Fit, Joint
from kunstflug.core.fit.section import Section
from kunstflug.formats.forecast_document import Out


class JointOut(Out):
    """One joint with its verdict and its remedy."""

    key: str
    title: str
    fit: Fit
    off_mm: float
    sentence: str
    remedy: str
    caution: str
    ask: list[str]
    numbers: dict[str, float] = Field(description="lengths in mm, the rest as its name says")


class ShapeOut(Out):
    """One rectangle of the section [mm]."""

    kind: str
    part: str
    label: str
    x: float
    y: float
    w: float
    h: float
    guess: bool


class MeasureOut(Out):
    """A size written on the drawing [mm]."""

    x1: float
    y1: float
    x2: float
    y2: float
    text: str
    guess: bool


class SectionOut(Out):
    """The section through the drive, to scale."""

    shapes: list[ShapeOut]
    measures: list[MeasureOut]
    left: float
    right: float
    bottom: float
    top: float


class FitStepOut(Out):
    """One step of a list."""

    key: str
    part: str
    title: str
    inspect: str
    caution: str
    done: bool


class FitOut(Out):
    """Does it go together."""

    joints: list[JointOut]
    section: SectionOut
    build: list[FitStepOut]
    swap: list[FitStepOut] = Field(description="steps of what changed from the parent; empty without a parent")
    changed: list[str]
    first_power: list[FitStepOut]
    clashes: int
    needs: int
    unknown: int


_NO_LENGTH = ("squeeze", "critical_rpm")


def joint_out(j: Joint) -> JointOut:
    """Document of a joint."""
    numbers = {k: round(v if k in _NO_LENGTH else v * 1e3, 4) for k, v in j.numbers.items()}
    return JointOut(
        key=j.key,
        title=j.title,
        fit=j.fit,
        off_mm=round(j.off_m * 1e3, 3),
        sentence=j.sentence,
        remedy=j.remedy,
        caution=j.caution,
        ask=list(j.ask),
        numbers=numbers,
    )


def section_out(s: Section) -> SectionOut:
    """Document of a section."""
    return SectionOut(
        shapes=[ShapeOut(**dataclasses.asdict(x)) for x in s.shapes],
        measures=[MeasureOut(**dataclasses.asdict(x)) for x in s.measures],
        left=s.left,
        right=s.right,
        bottom=s.bottom,
        top=s.top,
    )


def step_out(step: Step, ticks: dict[str, bool]) -> FitStepOut:
    """Document of a step."""
    return FitStepOut(**dataclasses.asdict(step), done=ticks.get(step.key, False))
