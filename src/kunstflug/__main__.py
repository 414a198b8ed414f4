"""The program's entry."""

import signal


def main() -> None:
    """Runs the command; until it has begun there is nothing to put in order, and Ctrl-C ends it as it stands.

    An interrupt that falls into a library's own callback while modules are loaded is lost by the interpreter, and the
    program went on as if nobody had pressed a key.
    """
    if signal.getsignal(signal.SIGINT) is signal.default_int_handler:
        signal.signal(signal.SIGINT, signal.SIG_DFL)
    from kunstflug.cli import main as command

    command()


if __name__ == "__main__":
    main()
