"""What commands read and write: documents of a file or of standard input, and how far they are."""

import json
import sys
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from kunstflug.core.quantity.errors import UnreadableFile

if TYPE_CHECKING:
    from kunstflug.documents.setup import SetupDocument

SetupFile = Annotated[Path, typer.Argument(help="A setup document (JSON); - reads standard input.")]
Scheduler = Annotated[str, typer.Option(help="Address of a Dask scheduler; without one this machine computes.")]


def ready() -> None:
    """Compiles what the first command of a new installation has to compile, with a word about it."""
    from kunstflug.core.laws.jit import COMPLETE

    if not COMPLETE.exists():
        from kunstflug.launch.warm import compile_once

        compile_once()


def bytes_of(path: Path) -> bytes:
    """What a file holds; of standard input for ``-``.

    Raises
    ------
    UnreadableFile : it cannot be opened.
    """
    if str(path) == "-":
        return sys.stdin.buffer.read()
    try:
        return path.read_bytes()
    except OSError as error:
        raise UnreadableFile(f"cannot read {path}: {error.strerror}") from error


def document_of(path: Path) -> "SetupDocument":
    """The setup document in a file."""
    from kunstflug.documents.setup import parsed_setup

    return parsed_setup(json_of(path))


def json_of(path: Path) -> object:
    """What a file of JSON holds.

    Raises
    ------
    UnreadableFile : it cannot be opened, or is none.
    """
    try:
        return json.loads(bytes_of(path).decode())
    except UnicodeDecodeError as error:
        raise UnreadableFile(f"not text in UTF-8: {path}") from error
    except json.JSONDecodeError as error:
        raise UnreadableFile(f"{error.msg}, so it is not JSON: {path}", error.lineno) from error
    except RecursionError as error:
        raise UnreadableFile(f"nested too deeply: {path}") from error


def write(path: Path, data: bytes) -> None:
    """Writes a file.

    Raises
    ------
    UnreadableFile : it cannot be written.
    """
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_bytes(data)
    except OSError as error:
        raise UnreadableFile(f"cannot write {path}: {error.strerror}") from error


def heard(what: str, done: int, whole: int) -> None:
    """Says how far something is, beside what is printed."""
    print(f"{done} of {whole}: {what}", file=sys.stderr)
