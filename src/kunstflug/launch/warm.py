"""Compiles what is compiled at first use, so that no racer waits for it; kept on disk by numba."""

from kunstflug.core.choose.backward import Wish, backward
from kunstflug.core.drive.schools import USUAL
from kunstflug.core.setup.setup import Setup
from kunstflug.core.thermal.duty import passes_duty
from kunstflug.core.thermal.heat_forecast import heat_forecast
from kunstflug.core.tracks import analyse
from kunstflug.documents.setup import SetupDocument, setup_of
from kunstflug.pond import run_outing
from kunstflug.services.demo import DIPPER


def forecast_once() -> Setup:
    """Runs the kernels of a forecast once, so that they are loaded; the demo's setup."""
    setup = setup_of(SetupDocument.model_validate(DIPPER))
    heat_forecast(setup, passes_duty(1, 2, 5), USUAL, samples=1)
    return setup


def main() -> None:
    """Runs each compiled kernel once."""
    setup = forecast_once()
    backward(setup, Wish(speed_mps=20.0))
    analyse(run_outing(setup, seed=1, start_unix_s=0.0, passes=1).track)


if __name__ == "__main__":
    main()
