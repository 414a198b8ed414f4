"""The forecast of a setup document: what every page, the sheet, the file and the command show."""

from kunstflug.core.drive.dangers import dangers_of
from kunstflug.core.drive.forecast import forecast
from kunstflug.core.drive.schools import USUAL, Schools
from kunstflug.core.setup.knowledge import Knowledge
from kunstflug.documents.forecast import ForecastOut, forecast_out
from kunstflug.documents.setup import SetupDocument, setup_of
from kunstflug.wording import METRIC, Tongue


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
