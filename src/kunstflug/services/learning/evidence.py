"""A kept run as what it showed: from rows or from a boat document, the same way."""

import zlib
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any, Final

from kunstflug.core.cooling.table import CoolingTable
from kunstflug.core.drive.family import parts_of
from kunstflug.core.evidence.instruments import SPREADS, By
from kunstflug.core.evidence.readings import Reading, What
from kunstflug.core.learning.run_evidence import DutyFrom, RunEvidence
from kunstflug.core.learning.told import LONGEST_COOL_S, MOST_PASSES, told_duty
from kunstflug.core.quantity.errors import InvalidDocument, InvalidValue
from kunstflug.core.quantity.units import Dimension
from kunstflug.core.setup.knowledge import Owner
from kunstflug.core.setup.setup import Setup
from kunstflug.core.thermal.duty import COOL_LEVEL as COOL
from kunstflug.core.thermal.duty import SOAK, WARM_UP, Duty, Kind, Mode, Phase, PhaseKind
from kunstflug.documents.quantity import QUANTITIES
from kunstflug.documents.run import GUN_NODES, LogSummary, TrackSummary, TypedRun
from kunstflug.documents.setup import SetupDocument, setup_of
from kunstflug.services.shared.run_rows import odd_conditions, speed_of

PLACES: Final = {place: What(node) for place, node in GUN_NODES.items()}
LONGEST_WARM_UP_S: Final = 60.0


@dataclass(frozen=True, slots=True, kw_only=True)
class StoredRun:
    """What is kept of a run.

    Parameters
    ----------
    links : key of the part of the shelf at each place of the setup.
    readings : place, degC, minutes after landing.
    """

    key: str
    boat: str
    document: SetupDocument
    started_at: datetime
    outing: str
    conditions: Mapping[str, Any]
    typed: TypedRun
    track: TrackSummary | None
    log: LogSummary | None
    readings: Sequence[tuple[str, float, float]]
    links: Mapping[str, str]
    cooling: CoolingTable | None = None


def seen_of(kept: StoredRun) -> RunEvidence | None:
    """What a run showed; None for one that says nothing, that was set aside or in which the boat stopped."""
    if kept.typed.set_aside or kept.typed.stopped is not None:
        return None
    try:
        setup = setup_of(in_conditions(kept.document, kept.conditions))
    except (InvalidValue, InvalidDocument):
        setup = setup_of(kept.document)
    readings = (*_speed(kept), *drive_readings(kept.typed, kept.log), *_heat(kept))
    if not readings:
        return None
    duty, duty_from = _driven(kept.track), DutyFrom.TRACKED
    if duty is None:
        duty, duty_from = told_duty(kept.typed.passes, kept.typed.minutes, kept.typed.held_s)
    return RunEvidence(
        key=kept.key,
        boat=kept.boat,
        setup=setup,
        things=things_of(setup, kept.boat, kept.links),
        outing=kept.outing,
        duty=duty,
        readings=readings,
        duty_from=duty_from,
        cooling=kept.cooling,
    )


def in_conditions(document: SetupDocument, conditions: Mapping[str, Any]) -> SetupDocument:
    """The document with a run's own water and air, and no wind.

    Raises
    ------
    InvalidValue : water or air that cannot be.
    """
    odd = odd_conditions({key: conditions.get(key) for key in ("water", "air")})
    if odd:
        raise InvalidValue("conditions", odd[0], "water and air that can be")
    update = {
        key: QUANTITIES[Dimension.TEMPERATURE].model_validate(conditions[key])
        for key in ("water", "air")
        if conditions.get(key)
    }
    return document.model_copy(update={"conditions": document.conditions.model_copy(update=update)})


def things_of(setup: Setup, boat: str, links: Mapping[str, str]) -> dict[Owner, str]:
    """Keys of a setup's parts: one of the shelf is the same in every boat, any other is its boat's own.

    A part whose numbers were changed is another one: what runs said of the old numbers does not hold for the new. The
    condition of a propeller is none of them, see ``parts_of``.
    """
    return {
        owner: f"{links.get(owner.value) or boat}/{owner}/{zlib.crc32(repr(part).encode()):08x}"
        for owner, part in parts_of(setup).items()
    }


def _speed(kept: StoredRun) -> list[Reading]:
    held = speed_of(kept.typed, kept.track, kept.conditions)
    return [] if held is None else [held.reading]


def drive_readings(typed: TypedRun, log: LogSummary | None) -> list[Reading]:
    """Current, rpm, voltage and charge: of the controller's log, else as typed."""
    if typed.feathered:
        return []
    logged = log is not None and log.current_a is not None
    source, by = (log, By.LOG) if logged else (typed, By.TYPED)
    found = [
        Reading(what=what, value=value, spread=SPREADS[by, what])
        for what, name in ((What.CURRENT, "current_a"), (What.RPM, "rpm"), (What.VOLTAGE, "voltage_v"))
        if (value := getattr(source, name)) is not None and value > 0
    ]
    charge, by = (typed.mah_back, By.TYPED) if typed.mah_back else (log.mah if log is not None else None, By.LOG)
    if charge:
        found.append(Reading(what=What.CHARGE, value=charge / 1000.0, spread=SPREADS[by, What.CHARGE]))
    return found


def _heat(kept: StoredRun) -> list[Reading]:
    """Temperatures in gun order, both ends of the motor as one."""
    places: dict[What, list[tuple[float, float]]] = {}
    for place, celsius, minutes in kept.readings:
        what = PLACES.get(place)
        if what is not None:
            places.setdefault(what, []).append((celsius, minutes))
    return [
        Reading(
            what=what,
            value=sum(c for c, _ in rows) / len(rows),
            spread=SPREADS[By.GUN, what],
            minutes=min(sum(m for _, m in rows) / len(rows), 30.0),
        )
        for what, rows in places.items()
    ]


def _driven(track: TrackSummary | None) -> Duty | None:
    """The duty that a track shows; None where it has no passes."""
    if track is None or not 0 < len(track.passes) <= MOST_PASSES:
        return None
    passes = sorted(track.passes, key=lambda p: p.start_s)
    warm = min(max(passes[0].start_s, WARM_UP.seconds), LONGEST_WARM_UP_S)
    phases = [Phase(kind=PhaseKind.WARM_UP, mode=Mode.HOLD, seconds=round(warm, 1), level=WARM_UP.level)]
    for k, one in enumerate(passes, start=1):
        seconds = min(max(one.end_s - one.start_s, 0.5), 120.0)
        phases.append(Phase(kind=PhaseKind.PASS, number=k, mode=Mode.FULL, seconds=round(seconds, 1)))
        rest = passes[k].start_s - one.end_s if k < len(passes) else track.duration_s - one.end_s
        cool = min(max(rest, 1.0), LONGEST_COOL_S)
        phases.append(Phase(kind=PhaseKind.COOL_DOWN, number=k, mode=Mode.HOLD, seconds=round(cool, 1), level=COOL))
    return Duty(kind=Kind.PASSES, phases=(*phases, SOAK))
