"""Match: forecast a document, try changes on it; nothing is saved."""

from kunstflug.core.drive.dangers import dangers_of
from kunstflug.core.drive.forecast import forecast
from kunstflug.core.drive.schools import USUAL, Schools
from kunstflug.core.setup.knowledge import Knowledge
from kunstflug.documents.forecast import ForecastOut, forecast_out
from kunstflug.documents.setup import SetupDocument, setup_of
from kunstflug.services.changes import Change, change_document, differences
from kunstflug.services.views import DraftView
from kunstflug.wording import METRIC, Tongue, say


def forecast_of(
    document: SetupDocument,
    known: Knowledge | None,
    schools: Schools = USUAL,
    tongue: Tongue = METRIC,
    *,
    explained: bool = True,
) -> ForecastOut:
    """Forecast of a setup document; unexplained without guesses, doubts, caveats and dangers.

    Parameters
    ----------
    known : what runs taught of its boat; None for the boat as bought.

    Raises
    ------
    InvalidValue : a value outside its range.
    """
    setup = setup_of(document, known)
    found = forecast(setup, schools=schools, explained=explained)
    dangers = dangers_of(setup, found.point, found.curves) if found.runs and explained else ()
    return forecast_out(setup, found, dangers, tongue)


def draft(
    document: SetupDocument,
    changes: list[Change],
    known: Knowledge | None,
    schools: Schools = USUAL,
    tongue: Tongue = METRIC,
    *,
    explained: bool = True,
) -> DraftView:
    """What a setup would do with some changes; nothing is saved. Unexplained it is what a hand on a knob needs."""
    changed = change_document(document, changes)
    return DraftView(
        document=changed.document,
        forecast=forecast_of(changed.document, known, schools, tongue, explained=explained),
        differences=differences(document, changed.document) if explained else [],
        notes=[say(note, tongue) for note in changed.notes],
    )
