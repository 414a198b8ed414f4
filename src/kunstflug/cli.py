"""The command ``kunstflug``."""

import json
import sys
from enum import StrEnum
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from kunstflug import __version__
from kunstflug.core.quantity.errors import KunstflugError, UnreadableFile
from kunstflug.wording import Tongue, Units, say_error
from kunstflug.wording.errors import field_problems

if TYPE_CHECKING:
    from kunstflug.documents.setup import SetupDocument

app = typer.Typer(no_args_is_help=True, help=__doc__, pretty_exceptions_enable=False)
pond = typer.Typer(no_args_is_help=True, help="The simulated pond.")
app.add_typer(pond, name="pond")


class ErrorFormat(StrEnum):
    """How errors are written."""

    TEXT = "text"
    JSON = "json"


class _Asked:
    """What was asked for every command."""

    errors = ErrorFormat.TEXT
    tongue = Tongue()


def _version(wanted: bool) -> None:
    if wanted:
        print(f"kunstflug {__version__}")
        raise typer.Exit


@app.callback()
def _every_command(
    version: Annotated[
        bool, typer.Option("--version", callback=_version, is_eager=True, help="Print the version and stop.")
    ] = False,
    errors: Annotated[ErrorFormat, typer.Option(help="How errors are written.")] = ErrorFormat.TEXT,
    units: Annotated[Units, typer.Option(help="Units of the sentences.")] = Units.METRIC,
) -> None:
    _Asked.errors, _Asked.tongue = errors, Tongue(units=units)


SetupFile = Annotated[Path, typer.Argument(help="A setup document (JSON); - reads standard input.")]


def _bytes(path: Path) -> bytes:
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
        raise UnreadableFile(f"{path} cannot be read: {error.strerror}") from error


def _document(path: Path) -> "SetupDocument":
    from kunstflug.documents.setup import parsed_setup

    try:
        raw = json.loads(_bytes(path).decode())
    except UnicodeDecodeError as error:
        raise UnreadableFile(f"{path} is not text in UTF-8") from error
    except json.JSONDecodeError as error:
        raise UnreadableFile(f"{path} is not JSON: {error.msg}", error.lineno) from error
    except RecursionError as error:
        raise UnreadableFile(f"{path} is nested too deeply") from error
    return parsed_setup(raw)


def _write(path: Path, data: bytes) -> None:
    """Writes a file.

    Raises
    ------
    UnreadableFile : it cannot be written.
    """
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_bytes(data)
    except OSError as error:
        raise UnreadableFile(f"{path} cannot be written: {error.strerror}") from error


@app.command()
def forecast(setup: SetupFile) -> None:
    """Print the forecast of a setup document as JSON; needs no server and no database."""
    from kunstflug.services.match import forecast_of

    print(forecast_of(_document(setup), tongue=_Asked.tongue).model_dump_json(indent=2))


@app.command()
def track(file: Annotated[Path, typer.Argument(help="A GPX or NMEA file; - reads standard input.")]) -> None:
    """Print the numbers and passes of a track as JSON; needs no server and no database."""
    from kunstflug.core.tracks import analyse
    from kunstflug.documents.run import track_summary
    from kunstflug.files.track_file import read_track

    read = read_track(_bytes(file))
    print(track_summary(analyse(read.samples)).model_dump_json(indent=2))
    if read.broken:
        first = read.damages[0]
        print(
            f"{read.broken} places could not be read, the first in line {first.line}: {first.reason}", file=sys.stderr
        )


@app.command()
def schema() -> None:
    """Print the JSON Schema of the setup document."""
    from kunstflug.documents.setup import SetupDocument

    print(json.dumps(SetupDocument.model_json_schema(), indent=2))


@app.command()
def units() -> None:
    """Print the units that documents may carry, as JSON."""
    from kunstflug.documents.vocabulary import units as table

    print(json.dumps({name: [u.model_dump() for u in rows] for name, rows in table().items()}, indent=2))


@app.command()
def openapi() -> None:
    """Print the API's description (OpenAPI)."""
    from kunstflug.store.database import Store
    from kunstflug.web.app import create_api

    described = create_api(Store("mariadb+pymysql://nobody@127.0.0.1:1/none"), Path("no-front-end")).openapi()
    print(json.dumps(described, indent=2))


@pond.command("run")
def pond_run(
    setup: SetupFile,
    out: Annotated[Path, typer.Option(help="Folder for the files.")] = Path("."),
    seed: Annotated[int, typer.Option(help="Same seed, same files.", min=0)] = 1,
    passes: Annotated[int, typer.Option(min=1, max=20)] = 4,
    wind: Annotated[float, typer.Option(help="m/s", min=0, max=12)] = 2.0,
    water: Annotated[float, typer.Option(help="degC", min=0, max=35)] = 16.0,
    faults: Annotated[bool, typer.Option(help="A spike and a dropout in the position log.")] = True,
) -> None:
    """Drive a setup on the simulated pond; writes run.gpx, run.nmea, controller.csv and readings.csv."""
    from kunstflug.documents.setup import setup_of
    from kunstflug.files.controller_csv import write_controller_csv
    from kunstflug.files.gpx import write_gpx
    from kunstflug.files.nmea import write_nmea
    from kunstflug.pond import Weather, run_outing

    built = setup_of(_document(setup))
    weather = Weather(water_c=water, wind_mps=wind)
    made = run_outing(built, seed=seed, passes=passes, weather=weather, faults=faults, start_unix_s=1_780_000_000.0)
    _write(out / "run.gpx", write_gpx(made.track, built.name or "simulated pond"))
    _write(out / "run.nmea", write_nmea(made.track))
    _write(out / "controller.csv", write_controller_csv(made.controller))
    rows = [f"{r.place},{r.celsius},{r.minutes_after}" for r in made.readings]
    _write(out / "readings.csv", ("\n".join(["place,degc,minutes_after", *rows]) + "\n").encode())
    print(f"{out}: run.gpx, run.nmea, controller.csv, readings.csv; {made.mah_used:.0f} mAh used")


@app.command()
def backup(
    file: Annotated[Path | None, typer.Argument(help="Where to; if left out, a name with the time, here.")] = None,
) -> None:
    """Write everything into one file; may run while the program does."""
    from kunstflug.launch.folder import run_folder
    from kunstflug.launch.keeping import back_up, usual_name

    path = file or Path(usual_name())
    made = back_up(run_folder() / "demo", path)
    print(f"{path}: {made.rows['boats']} boats, {made.rows['setups']} setups, {made.rows['runs']} runs")


@app.command()
def restore(file: Annotated[Path, typer.Argument(help="A file that backup wrote.")]) -> None:
    """Put a backup in place of everything; what was there is backed up first. Stop the program before."""
    from kunstflug.launch.folder import run_folder
    from kunstflug.launch.keeping import restore as bring_back

    made, before = bring_back(run_folder() / "demo", file)
    print(f"Restored: {made.rows['boats']} boats, {made.rows['setups']} setups, {made.rows['runs']} runs")
    if before:
        print(f"What was there before is in {before}")


@app.command()
def demo(front_dev: Annotated[bool, typer.Option(hidden=True)] = False) -> None:
    """Start everything with the demo data; Ctrl-C stops it."""
    from kunstflug.launch.demo import serve

    serve(reload_front=front_dev)


def _told(error: KunstflugError) -> str:
    """An error as it was asked for."""
    words = say_error(error, _Asked.tongue)
    if _Asked.errors is ErrorFormat.TEXT:
        return f"kunstflug: {words}"
    fields = [{"field": f.field, "value": f.value, "allowed": f.allowed} for f in field_problems(error, _Asked.tongue)]
    line = error.line if isinstance(error, UnreadableFile) else None
    return json.dumps({"error": type(error).__name__, "detail": words, "fields": fields, "line": line})


def main() -> None:
    """Entry: errors of our own tree are one clear sentence, or JSON when asked."""
    try:
        app()
    except KunstflugError as error:
        print(_told(error), file=sys.stderr)
        raise SystemExit(2) from None
    except BrokenPipeError:  # whoever read has seen enough
        sys.stderr.close()
        raise SystemExit(0) from None


if __name__ == "__main__":
    main()
