"""Compiles what is compiled at first use, so that no racer waits for it; kept on disk by numba."""

from kunstflug.core.drive.duty import passes_duty
from kunstflug.core.drive.heat_forecast import heat_forecast
from kunstflug.core.drive.schools import USUAL
from kunstflug.core.matching.backward import backward
from kunstflug.formats.setup_document import SetupDocument, setup_of
from kunstflug.services.demo import DIPPER


def main() -> None:
    """Runs each compiled kernel once."""
    setup = setup_of(SetupDocument.model_validate(DIPPER))
    heat_forecast(setup, passes_duty(1, 2, 5), USUAL, samples=1)
    backward(setup, 20.0, frozenset())


if __name__ == "__main__":
    main()
