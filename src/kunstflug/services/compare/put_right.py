"""A slip of the pen, put right with one tap: what was meant is written in place of what was typed."""

from typing import Final

from kunstflug.core.evidence.readings import HEAT, What
from kunstflug.core.learning.causes import Cause, SlipOfThisRun, Suspicion, odd_run
from kunstflug.core.learning.slips import fahrenheit
from kunstflug.core.quantity.errors import InvalidValue
from kunstflug.documents.run import kept_typed
from kunstflug.services.learning.learning import forget, judgements
from kunstflug.services.shared.rows import racer_of
from kunstflug.services.shared.run_rows import headline, run_of, run_view
from kunstflug.services.shared.views import RunView
from kunstflug.store.database import Store, retried
from kunstflug.store.tables import RunRow

TYPED: Final = {What.CURRENT: "current_a", What.RPM: "rpm", What.VOLTAGE: "voltage_v", What.CHARGE: "mah_back"}
"""Where a number off a display is kept; speeds and temperatures are quantities."""
CAUSES: Final = (Cause.UNIT, Cause.DIGIT, Cause.OTHER_SETUP)


@retried
def put_right(store: Store, run_id: int, cause: Cause) -> RunView:
    """Writes what a run's likeliest slip of a kind leaves: a number in its unit, or the setup that it ran with.

    Raises
    ------
    NotFound : no such run.
    InvalidValue : the run has no such slip, or what does not fit came from a file.
    """
    with store.transaction() as session:
        run_of(session, run_id, racer_of(session))
    runs = judgements(store)
    one = runs.get(run_id)
    odd = None if one is None else odd_run(one, list(runs.values()))
    found = next((s for s in odd.suspicions if s.cause is cause), None) if odd else None
    if one is None or found is None or cause not in CAUSES:
        raise InvalidValue("cause", cause.value, SlipOfThisRun())
    with store.transaction() as session:
        row = run_of(session, run_id, racer_of(session), lock=True)
        if cause is Cause.OTHER_SETUP:
            row.setup_id = run_of(session, int(found.other), racer_of(session)).setup_id
        elif found.what is not None and found.what in HEAT:
            _in_fahrenheit(row)
        else:
            _scaled(row, found)
        headline(row)
        session.flush()
        view = run_view(row)
    forget(store)
    return view


def _in_fahrenheit(row: RunRow) -> None:
    """A gun reads all of a run in one unit."""
    for reading in row.readings:
        if reading.typed.get("unit") != "degF":
            reading.typed = {**reading.typed, "unit": "degF"}
            reading.celsius = fahrenheit(reading.celsius)


def _scaled(row: RunRow, found: Suspicion) -> None:
    typed, factor = kept_typed(row.typed).model_dump(mode="json", exclude_defaults=True), found.factor
    if found.what is What.SPEED:
        speeds = [peak["speed"] for peak in typed.get("peaks", ())]
        speeds += [typed[key] for key in ("second", "there", "back") if typed.get(key)]
    else:
        speeds = []
        key = TYPED.get(found.what, "") if found.what else ""
        if not typed.get(key):
            raise InvalidValue("cause", found.cause.value, SlipOfThisRun())
        typed[key] = typed[key] / factor
    for speed in speeds:
        speed["value"] = float(f"{speed['value'] / factor:.4g}")
    if found.what is What.SPEED and not speeds:
        raise InvalidValue("cause", found.cause.value, SlipOfThisRun())
    row.typed = typed
