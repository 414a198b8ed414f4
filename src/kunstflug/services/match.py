"""Match: forecast a document, try changes on it; nothing is saved."""

from typing import Any

from kunstflug.core.drive.forecast import forecast
from kunstflug.core.drive.schools import USUAL, Schools
from kunstflug.formats.forecast_document import ForecastOut, forecast_document
from kunstflug.formats.setup_document import setup_of
from kunstflug.services.changes import Change, change_document, differences
from kunstflug.services.views import DraftView


def forecast_of(document: Any, schools: Schools = USUAL) -> ForecastOut:
    """Forecast of a setup document.

    Raises
    ------
    InvalidValue : a value outside its range.
    """
    setup = setup_of(document)
    return forecast_document(setup, forecast(setup, schools=schools))


def draft(document: Any, changes: list[Change], schools: Schools = USUAL) -> DraftView:
    """What a setup would do with some changes; nothing is saved."""
    changed, notes = change_document(document, changes)
    return DraftView(
        document=changed,
        forecast=forecast_of(changed, schools),
        differences=differences(document, changed),
        notes=notes,
    )
