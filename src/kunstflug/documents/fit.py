"""Joints, section and build list as JSON; lengths in millimetres, as they are drawn."""

from collections.abc import Mapping

from pydantic import Field

from kunstflug.core.fit.build import Step
from kunstflug.core.fit.joint import Fit, Joint, JointKey
from kunstflug.core.fit.section import Section, ShapeKind
from kunstflug.documents.base import Out
from kunstflug.wording import Tongue, build, fit, say, sentence


class JointOut(Out):
    """One joint with its verdict and its remedy."""

    key: JointKey
    title: str
    fit: Fit
    off_mm: float
    sentence: str
    remedy: str
    caution: str
    ask: list[str]


class ShapeOut(Out):
    """One rectangle of the section [mm]."""

    kind: ShapeKind
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


def joint_out(j: Joint, tongue: Tongue) -> JointOut:
    """Document of a joint."""
    return JointOut(
        key=j.key,
        title=fit.TITLES[j.key],
        fit=j.fit,
        off_mm=round(j.off_m * 1e3, 3),
        sentence=sentence(say(j.finding, tongue)),
        remedy=sentence(say(j.remedy, tongue)) if j.remedy else "",
        caution=fit.caution(j),
        ask=list(j.ask),
    )


def section_out(s: Section, tongue: Tongue) -> SectionOut:
    """Document of a section."""
    return SectionOut(
        shapes=[
            ShapeOut(kind=x.kind, part=x.part, label=fit.shape(x, tongue), x=x.x, y=x.y, w=x.w, h=x.h, guess=x.guess)
            for x in s.shapes
        ],
        measures=[
            MeasureOut(x1=x.x1, y1=x.y1, x2=x.x2, y2=x.y2, text=fit.measure(x, tongue), guess=x.guess)
            for x in s.measures
        ],
        left=s.left,
        right=s.right,
        bottom=s.bottom,
        top=s.top,
    )


def step_out(step: Step, ticks: Mapping[str, bool], tongue: Tongue) -> FitStepOut:
    """Document of a step."""
    return FitStepOut(
        key=step.key,
        part=step.part,
        title=sentence(build.title(step, tongue)),
        inspect=sentence(build.inspect(step, tongue)),
        caution=build.caution(step),
        done=ticks.get(step.key, False),
    )
