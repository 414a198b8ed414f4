"""Prove it: the tub test as it runs, what it taught, and a motor that died in it."""

import math
from collections.abc import Sequence
from typing import Any, Final

import numpy as np
from sqlalchemy import select

from kunstflug.core.drive.forecast import forecast
from kunstflug.core.drive.schools import Schools
from kunstflug.core.parts.learnt import Learnt
from kunstflug.core.quantity.errors import InvalidValue
from kunstflug.core.quantity.facts import OneOf
from kunstflug.core.quantity.fields import QuantitySpec, field_key, fields_of
from kunstflug.core.quantity.units import Dimension
from kunstflug.core.setup.knowledge import Knowledge
from kunstflug.core.thermal.tub import FactorShift, TubCurve, TubReading, tub_curve
from kunstflug.documents.quantity import Quantity, parsed_quantity, value_of
from kunstflug.documents.setup import SetupDocument, setup_of
from kunstflug.services.learning.learning import knowledge_of
from kunstflug.services.shared.changes import Change
from kunstflug.services.shared.rows import RequestKey, once, owned, racer_of
from kunstflug.services.shared.views import TaughtView, TubTestView, TubView, utc
from kunstflug.services.shelf.shelf import write_event
from kunstflug.store.database import Store, retried
from kunstflug.store.tables import PartRow, SetupPart, SetupRow, TubTestRow
from kunstflug.wording import METRIC, Tongue, guesses, say
from kunstflug.wording.tongue import SYMBOLS

DRAWN: Final = 241
MOST_LISTED: Final = 100
_FIELDS: Final = {name: (field_key(name, spec), spec) for name, spec in fields_of(Learnt)}
"""Key in the document, and field, of everything that a tub test teaches."""
ENDS: Final = ("levelled off", "stopped at the ceiling", "ended early", "the motor died")


def tub(
    document: SetupDocument,
    readings: Sequence[tuple[float, Quantity]],
    schools: Schools,
    known: Knowledge | None,
    tongue: Tongue = METRIC,
) -> TubView:
    """The model's curve, the readings on it, what they teach, and whether to stop.

    Raises
    ------
    InvalidValue : readings that are out of order or impossible.
    """
    setup = setup_of(document, known)
    seen = tuple(TubReading(seconds=s, celsius=value_of(q, Dimension.TEMPERATURE).value) for s, q in readings)
    running_a = float(forecast(setup, 0).point.current_a)
    return _view(tub_curve(setup, seen, schools.case_ceiling_c, running_a), schools.case_ceiling_c, tongue)


def _view(curve: TubCurve, ceiling_c: float, tongue: Tongue) -> TubView:
    keep = np.linspace(0, len(curve.time_s) - 1, DRAWN).astype(int)

    def row(values: np.ndarray) -> list[float]:
        return [float(v) for v in np.round(values[keep], 2)]

    def sure(value: float) -> float | None:
        return round(value, 2) if math.isfinite(value) else None

    return TubView(
        time_s=row(curve.time_s),
        prior_c=row(curve.prior_c),
        low_c=row(curve.low_c),
        high_c=row(curve.high_c),
        fitted_c=row(curve.fitted_c),
        ceiling_c=ceiling_c,
        end_c=sure(curve.end_c),
        fails_s=curve.fails_s if math.isfinite(curve.fails_s) else None,
        seconds_left=sure(curve.seconds_left),
        stop=curve.stop,
        words=say(curve.advice, tongue),
        held_a=round(curve.held_a, 1),
        kinder=say(curve.kinder, tongue),
        misfit_k=sure(curve.misfit_k),
        taught=[
            TaughtView(
                name=t.name,
                label=guesses.label(t.name),
                unit=_unit(t.name),
                before=t.before,
                before_spread=t.before_spread,
                after=t.after,
                spread=t.spread,
                moved=t.moved,
            )
            for t in curve.taught
        ],
        changes=_changes(curve.taught),
    )


def _unit(name: str) -> str:
    spec = _FIELDS[name][1]
    assert isinstance(spec, QuantitySpec)
    return spec.unit


def _changes(taught: Sequence[FactorShift]) -> list[Change]:
    """What a test taught as changes of the setup document: only what it really moved."""
    return [
        Change(
            path=f"learnt.{_FIELDS[t.name][0]}",
            value={
                "value": float(f"{t.after:.4g}"),
                "unit": _unit(t.name),
                "source": "learnt",
                "spread": round(t.spread, 3),
            },
        )
        for t in taught
        if t.moved
    ]


@retried
def keep_test(
    store: Store,
    setup_id: int,
    document: SetupDocument,
    readings: list[dict[str, Any]],
    schools: Schools,
    end: str,
    note: str,
    request: RequestKey | None = None,
) -> TubTestView:
    """Keeps a test with its curve; a motor that died in it is recorded as dead, with how.

    Raises
    ------
    InvalidValue : an end there is not, or no reading.
    """
    if end not in ENDS:
        raise InvalidValue("end", end, OneOf(words=ENDS))
    if not readings:
        raise InvalidValue("readings", 0, "at least one")
    typed = [
        (float(r["seconds"]), parsed_quantity(Dimension.TEMPERATURE, r["typed"], "readings.typed"))
        for r in readings
        if r.get("place") == "case"
    ]
    with store.transaction() as session:
        boat_id = owned(session, SetupRow, setup_id, racer_of(session)).boat_id
    known = knowledge_of(store, boat_id)
    view, setup = tub(document, typed, schools, known), setup_of(document, known)
    outcome = {
        "end": end,
        "words": view.words,
        "held_a": view.held_a,
        "taught": [
            {"name": t.name, "before": t.before, "after": t.after, "spread": t.spread, "moved": t.moved}
            for t in view.taught
        ],
    }

    def make() -> int:
        row = owned(session, SetupRow, setup_id, owner)
        kept = TubTestRow(
            owner_id=owner,
            setup_id=row.id,
            water_c=setup.conditions.water_c.value,
            air_c=setup.conditions.air_c.value,
            readings=readings,
            outcome=outcome,
            note=note[:1000],
        )
        session.add(kept)
        motor = session.scalar(select(SetupPart.part_id).where(SetupPart.setup_id == row.id, SetupPart.kind == "motor"))
        if end == "the motor died" and motor is not None:
            write_event(session, owned(session, PartRow, motor, owner, lock=True), "died", _death(readings[-1], note))
        session.flush()
        return kept.id

    with store.transaction() as session:
        owner = racer_of(session)
        return _kept(owned(session, TubTestRow, once(session, owner, request, make), owner))


def _death(last: dict[str, Any], note: str) -> str:
    unit = last["typed"]["unit"]
    return (
        f"Died in a tub test after {float(last['seconds']):.0f} s, at {last['typed']['value']:g} "
        f"{SYMBOLS.get(unit, unit)} on the {last.get('place', 'case')}. {note}"
    )


def _kept(row: TubTestRow) -> TubTestView:
    return TubTestView(
        id=row.id, created_at=utc(row.created_at), readings=row.readings, outcome=row.outcome, note=row.note
    )


def tests(store: Store, setup_id: int) -> list[TubTestView]:
    """Tub tests of a setup, newest first."""
    with store.transaction() as session:
        owner = racer_of(session)
        owned(session, SetupRow, setup_id, owner)
        query = (
            select(TubTestRow)
            .where(TubTestRow.setup_id == setup_id, TubTestRow.deleted_at.is_(None))
            .order_by(TubTestRow.id.desc())
            .limit(MOST_LISTED)
        )
        return [_kept(row) for row in session.scalars(query)]
