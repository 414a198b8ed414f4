"""Run: rows to views, and what of a track or a log is kept beside it."""

from collections.abc import Mapping
from functools import lru_cache
from types import MappingProxyType
from typing import Any, Final

from sqlalchemy import select
from sqlalchemy.orm import Session, joinedload, object_session, selectinload

from kunstflug.core.evidence.display import HeldSpeed, held_speed
from kunstflug.core.evidence.instruments import POSSIBLE, Column
from kunstflug.core.evidence.speed import Peaks, SpeedHeld, TrackSpeeds, speed_held
from kunstflug.core.quantity.errors import InvalidDocument, InvalidValue
from kunstflug.core.quantity.facts import Amount, Between, NumberBetween
from kunstflug.core.quantity.units import Dimension
from kunstflug.core.tracks import TrackAnalysis, TrackSamples, analyse
from kunstflug.core.tracks.align import align, within
from kunstflug.core.tracks.log import ControllerLog, log_numbers
from kunstflug.documents.quantity import QUANTITIES, Quantity, parsed_quantity, si
from kunstflug.documents.run import (
    LogSummary,
    TrackSummary,
    TypedRun,
    held_out,
    kept_log_summary,
    kept_track_summary,
    kept_typed,
    log_summary,
    track_summary,
)
from kunstflug.documents.setup import usual_range
from kunstflug.files.reading import Damage
from kunstflug.services.shared.room import make_room
from kunstflug.services.shared.rows import owned, tag_of
from kunstflug.services.shared.views import DamageView, ReadingView, RunView, utc
from kunstflug.store.acting import may_write
from kunstflug.store.blocks import log_block, log_of, track_block, track_of
from kunstflug.store.tables import ControllerLogRow, ReadingRow, RunRow, SetupRow, TrackRow
from kunstflug.wording.errors import allowed, given

KEPT_DAMAGES: Final = 50
MOST_WORDS, MOST_PLACE = 500, 40  # letters
Reading = tuple[str, dict[str, Any], float]


def save_track(
    session: Session,
    run: RunRow,
    format: str,
    samples: TrackSamples,
    analysis: TrackAnalysis,
    damages: tuple[Damage, ...],
) -> None:
    """Keeps a track as a block with its numbers; what lists show goes to the run."""
    summary = track_summary(analysis)
    held = speed_of(kept_typed(run.typed), summary)
    run.best_mps = held.reading.value if held else None
    run.duration_s = summary.duration_s
    block = track_block(samples)
    make_room(session, run.owner_id, len(block))
    session.add(
        TrackRow(
            owner_id=run.owner_id,
            run_id=run.id,
            format=format,
            samples=len(samples),
            block=block,
            summary=summary.model_dump(mode="json"),
            damages={"places": [{"line": d.line, "reason": d.reason} for d in damages[:KEPT_DAMAGES]]},
        )
    )
    session.flush()


def save_log(session: Session, run: RunRow, log: ControllerLog) -> None:
    """Keeps a controller log as a block with its numbers, in place of one that was there."""
    if run.log is not None:
        session.delete(run.log)
        session.flush()
    block = log_block(log)
    make_room(session, run.owner_id, len(block))
    session.add(
        ControllerLogRow(
            owner_id=run.owner_id,
            run_id=run.id,
            samples=len(log.time_s),
            block=block,
            summary=_beside_track(run, log).model_dump(mode="json"),
        )
    )
    session.flush()


@lru_cache(maxsize=8)
def analysed(block: bytes) -> TrackAnalysis:
    """What a kept track shows: worked out once for its numbers, its drawing, the log beside it and its shore."""
    return analyse(track_of(block))


def track_numbers(row: RunRow) -> TrackSummary | None:
    """Numbers of a run's track as they were kept; of another version, they are worked out again, and kept."""
    if row.track is None:
        return None
    kept = kept_track_summary(row.track.summary)
    if kept is None:
        kept = track_summary(analysed(row.track.block))
        session = object_session(row)
        if session is None or not may_write(session):
            return kept
        row.track.summary = kept.model_dump(mode="json")
        held = speed_of(kept_typed(row.typed), kept)
        row.best_mps = held.reading.value if held else None  # what lists show is of the same reading
    return kept


def log_numbers_of(row: RunRow) -> LogSummary | None:
    """The same of its controller log."""
    if row.log is None or row.log.deleted_at is not None:
        return None
    return kept_log_summary(row.log.summary) or _beside_track(row, log_of(row.log.block))


def _beside_track(row: RunRow, log: ControllerLog) -> LogSummary:
    """Numbers of a log; where it lies on the run's track, what it says of each pass, too."""
    if row.track is None:
        return log_summary(log_numbers(log), None, ())
    analysis = analysed(row.track.block)
    aligned = align(analysis.track, log)
    if aligned is None:
        return log_summary(log_numbers(log), None, ())
    passes = tuple(within(log, aligned.begins_s, p.start_s, p.end_s) for p in analysis.passes)
    return log_summary(log_numbers(log), aligned, passes)


def run_of(session: Session, run_id: int, owner: int, *, lock: bool = False) -> RunRow:
    """A run with all that its view shows, in a fixed number of statements.

    Raises
    ------
    NotFound : no such run.
    """
    owned(session, RunRow, run_id, owner, lock=lock)
    return session.scalars(
        select(RunRow)
        .where(RunRow.id == run_id)
        .options(
            joinedload(RunRow.setup).load_only(SetupRow.name, SetupRow.boat_id),
            joinedload(RunRow.track),
            joinedload(RunRow.log),
            joinedload(RunRow.photo),
            selectinload(RunRow.readings),
            selectinload(RunRow.observations),
        )
        .execution_options(populate_existing=True)
    ).one()


def notes_state(
    conditions: dict[str, Any], note: str, observations: list[str], typed: TypedRun, readings: list[Reading]
) -> dict[str, Any]:
    """What is written by hand on a run, as its tag stands for it.

    Parameters
    ----------
    readings : place, temperature as typed, minutes after landing.
    """
    return {
        "conditions": conditions,
        "note": note,
        "observations": [words[:MOST_WORDS] for words in observations],
        "typed": typed.model_dump(mode="json", exclude_defaults=True),
        "readings": [{"place": p[:MOST_PLACE], "typed": raw, "minutes_after": m} for p, raw, m in readings],
    }


def written_state(row: RunRow) -> dict[str, Any]:
    """The same of a run as it is kept."""
    readings = [(r.place, r.typed, r.minutes_after) for r in row.readings]
    return notes_state(row.conditions, row.note, [o.words for o in row.observations], kept_typed(row.typed), readings)


def run_view(row: RunRow) -> RunView:
    """View of a run row."""
    typed = kept_typed(row.typed)
    return RunView(
        id=row.id,
        setup_id=row.setup_id,
        setup_name=row.setup.name,
        boat_id=row.boat_id,
        started_at=utc(row.started_at),
        source=row.source,
        conditions=row.conditions,
        note=row.note,
        summary=track_numbers(row),
        damages=[DamageView(**d) for d in row.track.damages["places"]] if row.track else [],
        log=log_numbers_of(row),
        readings=[
            ReadingView(place=r.place, typed=r.typed, celsius=r.celsius, minutes_after=r.minutes_after)
            for r in row.readings
        ],
        observations=[o.words for o in row.observations],
        typed=typed,
        held=held_out(_displayed(peaks_of(typed))),
        photo=row.photo is not None,
        odd=odd_conditions(row.conditions),
        tag=tag_of(written_state(row)),
    )


_LABELS: Final = {"water": "the water", "air": "the air", "wind": "the wind"}
FASTEST_WIND_MPS: Final = 30.0  # a storm; nobody launches in half of that
GUN_C: Final = (-20.0, 400.0)
MOST_MINUTES: Final = 240.0


def check_conditions(conditions: dict[str, Any]) -> None:
    """Refuses conditions that cannot be.

    Raises
    ------
    InvalidDocument, InvalidValue : the first that is wrong.
    """
    for key in _LABELS:
        if conditions.get(key) is not None:
            _check(key, conditions[key])


def _check(key: str, raw: Any) -> None:
    dimension = Dimension.SPEED if key == "wind" else Dimension.TEMPERATURE
    quantity = parsed_quantity(dimension, raw, f"conditions.{key}")
    low, high = (0.0, FASTEST_WIND_MPS) if key == "wind" else usual_range("conditions", key)
    value, unit = si(quantity, dimension), quantity.unit
    if not low <= value <= high:
        given = Amount(value=value, dimension=dimension, unit=unit)
        allowed = Between(low=low, high=high, dimension=dimension, unit=unit)
        raise InvalidValue(f"conditions.{key}", given, allowed)


def odd_conditions(conditions: dict[str, Any]) -> list[str]:
    """What is written and cannot be true, in words: old runs may hold it, and are shown all the same."""
    found = []
    for key, label in _LABELS.items():
        if conditions.get(key) is None:
            continue
        try:
            _check(key, conditions[key])
        except InvalidValue as error:
            found.append(f"{label} of {given(error)} is outside {allowed(error)}; it is not used")
        except InvalidDocument as error:
            found.append(f"{label} is not a {'speed' if key == 'wind' else 'temperature'}: {error.fields[0].value}")
    return found


FASTEST_MPS: Final = POSSIBLE[Column.SPEED].high


def peaks_of(typed: TypedRun) -> Peaks:
    """What was typed off displays; one way alone counts as a peak."""
    best = [_mps(peak.speed) for peak in typed.peaks]
    ways = [_mps(way) for way in (typed.there, typed.back) if way is not None]
    return Peaks(
        best=best if len(ways) == 2 else best or ways,
        second=_mps(typed.second) if typed.second else None,
        ways=(ways[0], ways[1]) if len(ways) == 2 else None,
        instrument=next((p.instrument for p in typed.peaks if p.instrument), ""),
    )


def speed_of(
    typed: TypedRun, track: TrackSummary | None, conditions: Mapping[str, Any] = MappingProxyType({})
) -> SpeedHeld | None:
    """The speed of a run that counts: the one that is learnt from, compared and shown in lists."""
    speeds = None
    if track is not None:
        spread = track.best_2s_spread_mps
        speeds = TrackSpeeds(both_ways=track.both_ways_mps, best_2s=track.best_2s_mps, best_2s_spread=spread)
    return speed_held(speeds, peaks_of(typed), wind_mps=_wind(conditions), feathered=bool(typed.feathered))


def _wind(conditions: Mapping[str, Any]) -> float | None:
    raw = conditions.get("wind")
    try:
        return si(QUANTITIES[Dimension.SPEED].model_validate(raw), Dimension.SPEED) if raw else None
    except ValueError:
        return None


def _displayed(peaks: Peaks) -> HeldSpeed | None:
    return held_speed(peaks.best, peaks.second, peaks.ways)


def _mps(speed: Quantity) -> float:
    return si(speed, Dimension.SPEED)


def check_typed(typed: TypedRun) -> None:
    """Refuses speeds that no boat does.

    Raises
    ------
    InvalidValue : the first that cannot be.
    """
    speeds = {f"peaks.{k + 1}": peak.speed for k, peak in enumerate(typed.peaks)}
    speeds |= {name: q for name in ("second", "there", "back") if (q := getattr(typed, name)) is not None}
    for name, quantity in speeds.items():
        value = _mps(quantity)
        if not 0 < value <= FASTEST_MPS:
            typed_speed = Amount(value=value, dimension=Dimension.SPEED, unit=quantity.unit)
            possible = Between(low=0.0, high=FASTEST_MPS, dimension=Dimension.SPEED, unit=quantity.unit)
            raise InvalidValue(f"typed.{name}", typed_speed, possible)


def headline(row: RunRow) -> None:
    """Keeps with a run without a track the speed that lists show: the one held by its displays."""
    if row.track is None:
        held = speed_of(kept_typed(row.typed), None)
        row.best_mps = held.reading.value if held else None


def reading_row(run: RunRow, position: int, place: str, typed: dict[str, Any], minutes: float) -> ReadingRow:
    """A row for a reading of the temperature gun.

    Raises
    ------
    InvalidDocument, InvalidValue : an impossible temperature or time.
    """
    quantity = parsed_quantity(Dimension.TEMPERATURE, typed, f"readings.{place}")
    celsius, unit = si(quantity, Dimension.TEMPERATURE), quantity.unit
    low, high = GUN_C
    if not low <= celsius <= high:
        reading = Amount(value=celsius, dimension=Dimension.TEMPERATURE, unit=unit)
        possible = Between(low=low, high=high, dimension=Dimension.TEMPERATURE, unit=unit)
        raise InvalidValue(f"readings.{place}", reading, possible)
    if not 0 <= minutes <= MOST_MINUTES:
        possible_minutes = NumberBetween(low=0, high=MOST_MINUTES)
        raise InvalidValue(f"readings.{place}.minutes_after", minutes, possible_minutes)
    return ReadingRow(
        owner_id=run.owner_id, run_id=run.id, position=position, place=place[:MOST_PLACE], celsius=celsius, typed=typed,
        minutes_after=minutes,
    )  # fmt: skip
