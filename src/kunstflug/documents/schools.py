"""Schools and duty as JSON: what a racer chooses once and keeps with the boat."""

import dataclasses
from typing import Any

from pydantic import Field, ValidationError

from kunstflug.core.drive.schools import ControllerSchool, PackSchool, RpmSchool, Schools, TemperatureSchool
from kunstflug.core.thermal.duty import Duty, Kind, lap_race_duty, passes_duty, tub_duty
from kunstflug.documents.base import Strict
from kunstflug.documents.versions import aim_today


class SchoolsIn(Strict):
    """The chosen school of each question."""

    temperature: TemperatureSchool = TemperatureSchool.CAUTIOUS
    controller: ControllerSchool = ControllerSchool.SUSTAINED
    rpm: RpmSchool = RpmSchool.LOW
    pack: PackSchool = PackSchool.DOUBTING
    risk: float = Field(default=0.1, ge=0.01, le=0.5, description="chance of passing a limit up to which it *holds*")

    def core(self) -> Schools:
        """The core's schools."""
        return Schools(**dict(self))


class DutyIn(Strict):
    """What the boat is to do."""

    kind: Kind = Kind.PASSES
    passes: int = Field(default=4, ge=1, le=30)
    pass_s: float = Field(default=6.0, ge=0.5, le=120)
    cool_s: float = Field(default=25.0, ge=0, le=300)
    minutes: float = Field(default=4.0, ge=0.2, le=30)
    pond_m: float | None = Field(default=None, ge=5, le=2000, description="straight water there is for a pass")

    def core(self) -> Duty:
        """The core's duty."""
        if self.kind is Kind.PASSES:
            return passes_duty(self.passes, self.pass_s, self.cool_s)
        if self.kind is Kind.LAP_RACE:
            return lap_race_duty(max(self.minutes, 0.5))
        return tub_duty(min(self.minutes, 15.0))


def judging(schools: SchoolsIn, duty: DutyIn) -> Schools:
    """What a boat is judged by: the schools, and the stint of the duty that they are held against."""
    return dataclasses.replace(schools.core(), stint=duty.core().stint)


def judging_in(aim: dict[str, Any] | None) -> Schools:
    """The same, of what a boat is for, as it is kept and as it stands in a boat document."""
    return judging(schools_in(aim), duty_in(aim))


def duty_in(aim: dict[str, Any] | None) -> DutyIn:
    """The duty of what a boat is for; the usual one where nobody chose."""
    try:
        return DutyIn.model_validate(aim_today(aim or {}).get("duty") or {})
    except ValidationError:
        return DutyIn()


def schools_in(aim: dict[str, Any] | None) -> SchoolsIn:
    """The schools of what a boat is for; the usual ones where nobody chose."""
    try:
        return SchoolsIn.model_validate((aim or {}).get("schools") or {})
    except ValidationError:
        return SchoolsIn()
