"""Compare: setups in their order, what changed between them, forecast against measured."""

from typing import Any

from kunstflug.core.units import Dimension
from kunstflug.formats.forecast_document import Banded, ForecastOut
from kunstflug.formats.setup_document import QUANTITIES
from kunstflug.services.changes import differences
from kunstflug.services.match import forecast_of
from kunstflug.services.rows import document_of, local_racer, owned
from kunstflug.services.views import ComparedRun, MeasuredView, TrailSetup, TrailView
from kunstflug.store.database import Store
from kunstflug.store.tables import Boat, RunRow, SetupRow


def trail(store: Store, boat_id: int) -> TrailView:
    """The trail of a boat.

    Speed forecasts are made anew for each run's own water and air; wind is taken out by comparing with the
    both-ways average where the run has one. The forecast of a setup itself is the one stored with it.
    """
    with store.transaction() as session:
        boat = owned(session, Boat, boat_id, local_racer(session))
        by_id = {row.id: row for row in boat.setups}
        return TrailView(
            boat_id=boat.id,
            boat_name=boat.name,
            setups=[_trail_setup(row, by_id.get(row.parent_id or 0)) for row in boat.setups],
        )


def _trail_setup(row: SetupRow, parent: SetupRow | None) -> TrailSetup:
    stored = ForecastOut.model_validate(row.forecasts[-1].result)
    speed = stored.point.speed_mps
    document = document_of(row)
    return TrailSetup(
        setup_id=row.id,
        parent_id=row.parent_id,
        name=row.name,
        created_at=row.created_at,
        changes=differences(document_of(parent), document) if parent is not None else [],
        model_version=stored.model_version,
        forecast_mps=speed.value,
        low_mps=speed.low,
        high_mps=speed.high,
        verdict=stored.verdict,
        runs=[_compared(run, document) for run in sorted(row.runs, key=lambda r: r.started_at)],
    )


def _for_conditions(document: Any, conditions: dict[str, Any]) -> Any:
    """The document with the run's own water and air, and no wind."""
    update = {
        key: QUANTITIES[Dimension.TEMPERATURE].model_validate(conditions[key])
        for key in ("water", "air")
        if conditions.get(key)
    }
    return document.model_copy(update={"conditions": document.conditions.model_copy(update=update)})


def _compared(run: RunRow, document: Any) -> ComparedRun:
    point = forecast_of(_for_conditions(document, run.conditions)).point
    found = []
    if run.track is not None:
        summary = run.track.summary
        if summary.get("both_ways_mps"):
            found.append(_measured("Speed, both ways", "speed", point.speed_mps, summary["both_ways_mps"]))
        elif summary.get("best_2s_mps"):
            found.append(_measured("Speed, best 2 s", "speed", point.speed_mps, summary["best_2s_mps"]))
    if run.log is not None:
        log = run.log.summary
        found.append(_measured("Current", "current", point.current_a, log.get("current_a")))
        found.append(_measured("Rpm", "rotation", point.rpm, log.get("rpm")))
        found.append(_measured("Pack under load", "voltage", point.pack_voltage_v, log.get("voltage_v")))
    return ComparedRun(run_id=run.id, started_at=run.started_at, measured=[m for m in found if m.measured is not None])


def _measured(label: str, dimension: str, banded: Banded, measured: float | None) -> MeasuredView:
    inside = None
    if measured is not None and banded.low is not None and banded.high is not None:
        inside = banded.low <= measured <= banded.high
    return MeasuredView(
        label=label,
        dimension=dimension,
        forecast=banded.value,
        low=banded.low,
        high=banded.high,
        measured=measured,
        inside=inside,
    )
