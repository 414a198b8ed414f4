"""What every command shares: the program itself, how errors are written, the units of sentences."""

import itertools
import json
import signal
import sys
from enum import StrEnum
from typing import Annotated

import typer

from kunstflug import __version__
from kunstflug.core.quantity.errors import KunstflugError, UnreadableFile
from kunstflug.wording import Tongue, Units

app = typer.Typer(no_args_is_help=True, help="The command ``kunstflug``.", pretty_exceptions_enable=False)


def _wants_json(words: list[str]) -> bool:
    """Whether errors are asked for as JSON; looked up before the words are understood, as they may not be."""
    return "--errors=json" in words or any(pair == ("--errors", "json") for pair in itertools.pairwise(words))


class ErrorFormat(StrEnum):
    """How errors are written."""

    TEXT = "text"
    JSON = "json"


class Asking:
    """What was asked for every command."""

    errors = ErrorFormat.TEXT
    tongue = Tongue()


def _version(wanted: bool) -> None:
    if wanted:
        print(f"kunstflug {__version__}")
        raise typer.Exit


STARTS = ("demo", "serve")
"""Commands that stop in order by themselves, as soon as they have begun; the others are interrupted."""


@app.callback()
def _every_command(
    context: typer.Context,
    version: Annotated[
        bool, typer.Option("--version", callback=_version, is_eager=True, help="Print the version and stop.")
    ] = False,
    errors: Annotated[ErrorFormat, typer.Option(help="How errors are written.")] = ErrorFormat.TEXT,
    units: Annotated[Units, typer.Option(help="Units of the sentences.")] = Units.METRIC,
) -> None:
    Asking.errors, Asking.tongue = errors, Tongue(units=units)
    if context.invoked_subcommand not in STARTS and signal.getsignal(signal.SIGINT) is signal.SIG_DFL:
        signal.signal(signal.SIGINT, signal.default_int_handler)


def _told(error: KunstflugError) -> str:
    """An error as it was asked for."""
    from kunstflug.wording.errors import field_problems, say_error

    words = say_error(error, Asking.tongue)
    if Asking.errors is ErrorFormat.TEXT:
        return f"kunstflug: {words}"
    fields = [{"field": f.field, "value": f.value, "allowed": f.allowed} for f in field_problems(error, Asking.tongue)]
    line = error.line if isinstance(error, UnreadableFile) else None
    return json.dumps({"error": type(error).__name__, "detail": words, "fields": fields, "line": line})


_USAGE: type[typer.BadParameter] = typer.BadParameter.__mro__[1]  # the base of all such
"""What is raised where a command was called in a way there is not."""


def main() -> None:
    """Entry: errors of our own tree, and of how a command was called, are one clear sentence, or JSON when asked."""
    try:
        if not _wants_json(sys.argv[1:]):
            app()
        raise SystemExit(app(standalone_mode=False) or 0)
    except _USAGE as error:
        line: dict[str, object] = {"error": "UsageError", "detail": error.format_message(), "fields": [], "line": None}
        print(json.dumps(line), file=sys.stderr)
        raise SystemExit(2) from None
    except KunstflugError as error:
        print(_told(error), file=sys.stderr)
        raise SystemExit(2) from None
    except BrokenPipeError:  # whoever read has seen enough
        sys.stderr.close()
        raise SystemExit(0) from None
