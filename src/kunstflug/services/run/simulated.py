"""Runs of the simulated pond."""

from datetime import UTC, datetime
from typing import Any

from kunstflug.core.tracks import analyse
from kunstflug.documents.setup import setup_of
from kunstflug.pond import Weather, boat_seed, run_outing
from kunstflug.services.run.run import made_run, new_run
from kunstflug.services.shared.rows import RequestKey, document_of, owned, racer_of
from kunstflug.services.shared.run_rows import reading_row, save_log, save_track
from kunstflug.services.shared.views import RunView
from kunstflug.store.base import now
from kunstflug.store.database import Store, retried
from kunstflug.store.tables import ObservationRow, SetupRow


def simulate(
    store: Store, setup_id: int, seed: int, passes: int, weather: Weather, request: RequestKey | None = None
) -> RunView:
    """A run on the simulated pond, with track, controller log and gun readings.

    The hidden boat belongs to the boat, not to the run: the same boat stays the same over its outings.
    """
    with store.transaction() as session:
        row = owned(session, SetupRow, setup_id, racer_of(session))
        document, boat_id = document_of(row), row.boat_id
    started = now()
    outing = run_outing(
        setup_of(document),
        seed=seed,
        boat_seed=boat_seed(boat_id),
        passes=passes,
        weather=weather,
        start_unix_s=started.replace(tzinfo=UTC).timestamp(),
    )
    return save_outing(store, setup_id, outing, weather, started, request)


@retried
def save_outing(
    store: Store,
    setup_id: int,
    outing: Any,
    weather: Weather,
    started: datetime,
    request: RequestKey | None = None,
    observations: tuple[str, ...] = (),
) -> RunView:
    """Saves what a simulated outing brought home."""
    analysis = analyse(outing.track)
    conditions = {
        "water": {"value": weather.water_c, "unit": "degC", "source": "measured"},
        "air": {"value": weather.air_c, "unit": "degC", "source": "measured"},
        "wind": {"value": weather.wind_mps, "unit": "m/s", "source": "measured"},
        "wind_from_deg": weather.wind_from_deg,
        "water_state": "ripples" if weather.wind_mps > 1 else "glass",
    }

    def make(setup: SetupRow) -> int:
        run = new_run(session, setup, started, "simulated pond", conditions)
        save_track(session, run, "simulated", outing.track, analysis, ())
        save_log(session, run, outing.controller)
        for k, reading in enumerate(outing.readings):
            typed = {"value": reading.celsius, "unit": "degC", "source": "measured"}
            session.add(reading_row(run, k, reading.place, typed, reading.minutes_after))
        session.add_all(ObservationRow(owner_id=owner, run_id=run.id, words=words) for words in observations)
        session.flush()
        return run.id

    with store.transaction() as session:
        owner = racer_of(session)
        return made_run(session, owner, setup_id, request, make)
