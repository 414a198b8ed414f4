"""The program's entry."""

import gc
import signal

from kunstflug.launch.loading import seldom_collected


def main() -> None:
    """Runs the command; until it has begun there is nothing to put in order, and Ctrl-C ends it as it stands.

    An interrupt that falls into a library's own callback while modules are loaded is lost by the interpreter, and the
    program went on as if nobody had pressed a key.
    """
    if signal.getsignal(signal.SIGINT) is signal.default_int_handler:
        signal.signal(signal.SIGINT, signal.SIG_DFL)
    seldom_collected()
    try:
        from kunstflug.cli import main as command

        command()
    finally:
        gc.freeze()  # the process ends: no last collection


if __name__ == "__main__":
    main()
