"""Run: rows to views, and what of a track or a log is kept beside it."""

import dataclasses
from typing import Any, Final

import numpy as np
from sqlalchemy import select
from sqlalchemy.orm import Session, joinedload, selectinload

from kunstflug.core.errors import InvalidDocument, InvalidValue
from kunstflug.core.tracks import TrackAnalysis, TrackSamples
from kunstflug.core.units import Dimension, number_in, si_from
from kunstflug.formats.controller_csv import ControllerLog
from kunstflug.formats.reading import Damage
from kunstflug.formats.setup_document import parsed_quantity, usual_range
from kunstflug.services.rows import owned, tag_of
from kunstflug.services.views import (
    DamageView,
    LogSummaryView,
    PassView,
    ReadingView,
    RunView,
    SummaryView,
    number,
    utc,
)
from kunstflug.store.blocks import log_block, track_block
from kunstflug.store.tables import ControllerLogRow, ReadingRow, RunRow, SetupRow, TrackRow

FULL_THROTTLE: Final = 97.0  # percent
LOG_HOLE_S: Final = 5.0  # a log that is silent for longer says nothing about the charge
KEPT_DAMAGES: Final = 50


def save_track(
    session: Session,
    run: RunRow,
    format: str,
    samples: TrackSamples,
    analysis: TrackAnalysis,
    damages: tuple[Damage, ...],
) -> None:
    """Keeps a track as a block with its numbers; what lists show goes to the run."""
    summary = summary_view(analysis)
    run.best_mps = summary.both_ways_mps or summary.best_2s_mps
    run.duration_s = summary.duration_s
    session.add(
        TrackRow(
            owner_id=run.owner_id,
            run_id=run.id,
            format=format,
            samples=len(samples),
            block=track_block(samples),
            summary=dataclasses.asdict(summary),
            damages={"places": [{"line": d.line, "reason": d.reason} for d in damages[:KEPT_DAMAGES]]},
        )
    )
    session.flush()


def summary_view(analysis: TrackAnalysis) -> SummaryView:
    """Numbers of an analysis."""
    track = analysis.track
    return SummaryView(
        peak_mps=number(analysis.peak_mps),
        best_1s_mps=number(analysis.best_1s_mps),
        best_2s_mps=number(analysis.best_2s_mps),
        both_ways_mps=number(analysis.both_ways_mps),
        raw_peak_mps=number(analysis.raw_peak_mps),
        distance_m=analysis.distance_m,
        duration_s=analysis.duration_s,
        spikes=track.spikes,
        gaps_s=track.gaps_s.tolist(),
        speed_source=track.speed_source,
        rate_hz=round(1 / track.step_s, 2),
        passes=[
            PassView(
                start_s=round(p.start_s, 2),
                end_s=round(p.end_s, 2),
                heading_deg=round(p.heading_deg, 1),
                peak_mps=p.peak_mps,
                best_1s_mps=number(p.best_1s_mps),
                best_2s_mps=number(p.best_2s_mps),
                distance_m=round(p.distance_m, 1),
            )
            for p in analysis.passes
        ],
    )


def save_log(session: Session, run: RunRow, log: ControllerLog) -> None:
    """Keeps a controller log as a block with its numbers, in place of one that was there."""
    if run.log is not None:
        session.delete(run.log)
        session.flush()
    session.add(
        ControllerLogRow(
            owner_id=run.owner_id,
            run_id=run.id,
            samples=len(log.time_s),
            block=log_block(log),
            summary=dataclasses.asdict(log_summary(log)),
        )
    )
    session.flush()


def log_summary(log: ControllerLog) -> LogSummaryView:
    """What a controller log says of full throttle held: the median of its fastest-turning quarter.

    Full throttle is throttle above 97 % where the log has a throttle, else current above 80 % of its highest.
    """
    columns = log.columns
    nothing = np.full(len(log.time_s), np.nan)
    current, rpm = columns.get("current_a", nothing), columns.get("rpm", nothing)
    if "throttle_percent" in columns:
        full = columns["throttle_percent"] >= FULL_THROTTLE
    else:
        full = current >= 0.8 * np.nanmax(current) if np.isfinite(current).any() else np.isfinite(rpm)
    held = full & (rpm >= np.nanpercentile(rpm[full], 60)) if np.isfinite(rpm[full]).any() else full

    def median(name: str) -> float | None:
        values = columns.get(name, nothing)[held]
        return number(float(np.median(values[np.isfinite(values)]))) if np.isfinite(values).any() else None

    charge = _charge_mah(log.time_s, current)
    hot = columns.get("controller_degc", nothing)
    return LogSummaryView(
        samples=len(log.time_s),
        current_a=median("current_a"),
        rpm=median("rpm"),
        voltage_v=median("voltage_v"),
        controller_c=number(float(np.nanmax(hot))) if np.isfinite(hot).any() else None,
        mah=charge,
    )


def _charge_mah(time_s: np.ndarray, current_a: np.ndarray) -> float | None:
    """Charge that a log shows [mAh]; None where it has holes or no current flowed out on the whole."""
    if not np.isfinite(current_a).all() or len(current_a) < 2 or np.max(np.diff(time_s)) > LOG_HOLE_S:
        return None
    charge = float(np.trapezoid(current_a, time_s) / 3.6)
    return number(charge, 4) if charge > 0 else None


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
            selectinload(RunRow.readings),
            selectinload(RunRow.observations),
        )
        .execution_options(populate_existing=True)
    ).one()


def written_state(row: RunRow) -> dict[str, Any]:
    """What is written by hand on a run: the state that its tag stands for."""
    return {
        "conditions": row.conditions,
        "note": row.note,
        "observations": [o.words for o in row.observations],
        "readings": [{"place": r.place, "typed": r.typed, "minutes_after": r.minutes_after} for r in row.readings],
    }


def run_view(row: RunRow) -> RunView:
    """View of a run row."""
    summary = None
    if row.track is not None:
        stored = dict(row.track.summary)
        passes = [PassView(**p) for p in stored.pop("passes")]
        summary = SummaryView(**stored, passes=passes)
    log = row.log if row.log is not None and row.log.deleted_at is None else None
    return RunView(
        id=row.id,
        setup_id=row.setup_id,
        setup_name=row.setup.name,
        boat_id=row.boat_id,
        started_at=utc(row.started_at),
        source=row.source,
        conditions=row.conditions,
        note=row.note,
        summary=summary,
        damages=[DamageView(**d) for d in row.track.damages["places"]] if row.track else [],
        log=LogSummaryView(**log.summary) if log else None,
        readings=[
            ReadingView(place=r.place, typed=r.typed, celsius=r.celsius, minutes_after=r.minutes_after)
            for r in row.readings
        ],
        observations=[o.words for o in row.observations],
        odd=odd_conditions(row.conditions),
        tag=tag_of(written_state(row)),
    )


_LABELS: Final = {"water": "the water", "air": "the air", "wind": "the wind"}
FASTEST_WIND_MPS: Final = 30.0  # a storm; nobody launches in half of that


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
    value = si_from(quantity.value, quantity.unit, dimension)
    if not low <= value <= high:
        unit = quantity.unit
        allowed = f"{number_in(low, unit, dimension):.3g} to {number_in(high, unit, dimension):.3g} {unit}"
        raise InvalidValue(f"conditions.{key}", f"{quantity.value:g} {unit}", allowed)


def odd_conditions(conditions: dict[str, Any]) -> list[str]:
    """What is written and cannot be true, in words: old runs may hold it, and are shown all the same."""
    found = []
    for key, label in _LABELS.items():
        if conditions.get(key) is None:
            continue
        try:
            _check(key, conditions[key])
        except InvalidValue as error:
            found.append(f"{label} of {error.value} is outside {error.allowed}; it is not used")
        except InvalidDocument as error:
            found.append(f"{label} is not a {'speed' if key == 'wind' else 'temperature'}: {error.fields[0].value}")
    return found


def reading_row(run: RunRow, position: int, place: str, typed: dict[str, Any], minutes: float) -> ReadingRow:
    """A row for a reading of the temperature gun.

    Raises
    ------
    InvalidDocument, InvalidValue : an impossible temperature or time.
    """
    quantity = parsed_quantity(Dimension.TEMPERATURE, typed, f"readings.{place}")
    celsius = si_from(quantity.value, quantity.unit, Dimension.TEMPERATURE)
    if not -20 <= celsius <= 400:
        unit = quantity.unit
        low, high = (number_in(edge, unit, Dimension.TEMPERATURE) for edge in (-20, 400))
        raise InvalidValue(f"readings.{place}", f"{quantity.value:g} {unit}", f"{low:g} to {high:g} {unit}")
    if not 0 <= minutes <= 240:
        raise InvalidValue(f"readings.{place}.minutes_after", minutes, "0 to 240 minutes")
    return ReadingRow(
        owner_id=run.owner_id, run_id=run.id, position=position, place=place[:40], celsius=celsius, typed=typed,
        minutes_after=minutes,
    )  # fmt: skip
