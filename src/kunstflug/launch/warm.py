"""Compiles what is compiled at first use, so that no racer waits for it; kept on disk by numba."""

import sys

from kunstflug.core.laws.jit import COMPLETE


def compile_once() -> None:
    """Compiles all kernels where that was never done on this machine, and says so on standard error."""
    if COMPLETE.exists():
        return
    print(
        "kunstflug: compiling the computation for this machine, once; about half a minute", file=sys.stderr, flush=True
    )
    main()


def forecast_once() -> None:
    """Runs the kernels of a forecast once, so that they are loaded; the demo's setup."""
    from kunstflug.core.drive.schools import USUAL
    from kunstflug.core.thermal.duty import passes_duty
    from kunstflug.core.thermal.heat_forecast import heat_forecast
    from kunstflug.documents.setup import SetupDocument, setup_of
    from kunstflug.services.data.demo import DIPPER

    setup = setup_of(SetupDocument.model_validate(DIPPER))
    heat_forecast(setup, passes_duty(1, 2, 5), USUAL, samples=1)


def main() -> None:
    """Runs each compiled kernel once."""
    from kunstflug.core.choose.backward import Wish, backward
    from kunstflug.core.tracks import analyse
    from kunstflug.documents.setup import SetupDocument, setup_of
    from kunstflug.pond import run_outing
    from kunstflug.services.data.demo import DIPPER

    forecast_once()
    setup = setup_of(SetupDocument.model_validate(DIPPER))
    backward(setup, Wish(speed_mps=20.0))
    analyse(run_outing(setup, seed=1, start_unix_s=0.0, passes=1).track)
    COMPLETE.touch()


if __name__ == "__main__":
    main()
