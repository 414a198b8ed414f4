"""The command ``kunstflug``."""

import contextlib
import json
import signal
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
boat = typer.Typer(no_args_is_help=True, help="One boat in one file.")
app.add_typer(boat, name="boat")


account = typer.Typer(no_args_is_help=True, help="Accounts of a club's server, by whoever runs it.")
app.add_typer(account, name="account")


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
    _Asked.errors, _Asked.tongue = errors, Tongue(units=units)
    if context.invoked_subcommand not in STARTS and signal.getsignal(signal.SIGINT) is signal.SIG_DFL:
        signal.signal(signal.SIGINT, signal.default_int_handler)


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

    return parsed_setup(_json(path))


def _json(path: Path) -> object:
    """What a file of JSON holds.

    Raises
    ------
    UnreadableFile : it cannot be opened, or is none.
    """
    try:
        return json.loads(_bytes(path).decode())
    except UnicodeDecodeError as error:
        raise UnreadableFile(f"{path} is not text in UTF-8") from error
    except json.JSONDecodeError as error:
        raise UnreadableFile(f"{path} is not JSON: {error.msg}", error.lineno) from error
    except RecursionError as error:
        raise UnreadableFile(f"{path} is nested too deeply") from error


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
def forecast(
    setup: Annotated[
        str, typer.Argument(help="A setup document (JSON); - reads standard input. With --boat a setup's name in it.")
    ] = "",
    boat: Annotated[
        Path | None, typer.Option(help="A boat document; its newest setup, or the one named, with what its runs teach.")
    ] = None,
    as_bought: Annotated[bool, typer.Option(help="Without what the boat's runs teach.")] = False,
) -> None:
    """Print the forecast of a setup document as JSON; needs no server and no database."""
    from kunstflug.documents.boat import parsed_boat, setup_in
    from kunstflug.documents.setup import parsed_setup
    from kunstflug.services.knowing import know
    from kunstflug.services.match import forecast_of

    if boat is not None:
        from kunstflug.services.learning_files import knowledge_in

        whole = parsed_boat(_json(boat))
        document = parsed_setup(setup_in(whole, setup))
        know(None if as_bought else knowledge_in(whole))
    elif setup:
        document = _document(Path(setup))
    else:
        raise UnreadableFile("name a setup document, or a boat with --boat")
    print(forecast_of(document, tongue=_Asked.tongue).model_dump_json(indent=2))


Scheduler = Annotated[str, typer.Option(help="Address of a Dask scheduler; without one this machine computes.")]


@app.command()
def search(
    setup: SetupFile,
    fineness: Annotated[int, typer.Option(help="Values of KV and of the diameter.", min=3, max=200)] = 50,
    pitch: Annotated[bool, typer.Option(help="Vary the pitch ratio, too.")] = True,
    cells: Annotated[bool, typer.Option(help="Vary the cells, too.")] = True,
    mass: Annotated[bool, typer.Option(help="Vary the mass, too.")] = False,
    scheduler: Scheduler = "",
) -> None:
    """Try every combination of a setup's numbers, millions if wanted, and print the best ones as JSON.

    Needs no server and no database.
    """
    from kunstflug.core.drive.schools import USUAL
    from kunstflug.services.search import MOST_BY_COMMAND, RangesIn, search_ranges

    found = search_ranges(
        _document(setup),
        USUAL,
        RangesIn(fineness=fineness, pitch_ratio=pitch, cells=cells, mass=mass),
        lambda done, whole: _heard("drives", done, whole),
        _Asked.tongue,
        most=MOST_BY_COMMAND,
        scheduler=scheduler or None,
    )
    print(found.model_dump_json(indent=2, exclude={"cloud"}))


@app.command()
def learn(
    boats: Annotated[list[Path], typer.Argument(help="Boat documents of one racer; - reads standard input.")],
) -> None:
    """Print as JSON what the runs of boats teach, how far off each would have been said, and how often bands held.

    Needs no server and no database.
    """
    from kunstflug.documents.boat import parsed_boat
    from kunstflug.services.learning_files import report

    print(json.dumps(report([parsed_boat(_json(path)) for path in boats]), indent=2))


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


@pond.command("live")
def pond_live(
    setup: SetupFile,
    port: Annotated[int, typer.Option(help="On loopback.", min=1024, max=65535)] = 10110,
    seed: Annotated[int, typer.Option(help="Same seed, same boat.", min=0)] = 1,
    fault: Annotated[list[str] | None, typer.Option(help="cap, weed, weak_cell or nicked; may be given twice.")] = None,
    dropouts: Annotated[bool, typer.Option(help="A few seconds without a word now and then.")] = True,
    pace: Annotated[float, typer.Option(help="How much faster than life.", min=0.1, max=100)] = 1.0,
    passes: Annotated[int, typer.Option(min=1, max=30)] = 8,
) -> None:
    """Stream a setup on the simulated pond over TCP, as a boat's telemetry would; Ctrl-C ends it."""
    import asyncio

    from kunstflug.documents.setup import setup_of
    from kunstflug.pond.stream import serve_pond
    from kunstflug.pond.world import Fault

    known = {one.value for one in Fault}
    if unknown := [word for word in fault or () if word not in known]:
        raise typer.BadParameter(f"no fault is called {unknown[0]}; there are {', '.join(sorted(known))}")
    faults = tuple(Fault(word) for word in fault or ())
    built = setup_of(_document(setup))
    print(f"127.0.0.1:{port}: lines of JSON, 20 a second; connect with Run > Live. Ctrl-C ends it.")
    with contextlib.suppress(KeyboardInterrupt):
        asyncio.run(serve_pond(built, port, seed=seed, faults=faults, dropouts=dropouts, pace=pace, passes=passes))


@boat.command("export")
def boat_export(
    name: Annotated[str, typer.Argument(help="The boat's name.")],
    file: Annotated[Path, typer.Argument(help="Where to.")],
    tracks: Annotated[bool, typer.Option(help="With tracks, controllers' logs and pictures.")] = True,
) -> None:
    """Write one boat into one file: setups, parts, runs, tub tests; may run while the program does."""
    from kunstflug.launch.folder import run_folder
    from kunstflug.launch.keeping import opened
    from kunstflug.services.boat_file import export_boat, find_boat

    with opened(run_folder() / "demo") as store:
        document = export_boat(store, find_boat(store, name), tracks=tracks)
    _write(file, document.model_dump_json(indent=1, exclude_defaults=True).encode())
    print(f"{file}: {document.name}, {len(document.setups)} setups, {len(document.runs)} runs")


@boat.command("import")
def boat_import(file: Annotated[Path, typer.Argument(help="A boat document; - reads standard input.")]) -> None:
    """Take in a boat; what is there already stays as it is."""
    from kunstflug.documents.boat import parsed_boat
    from kunstflug.launch.folder import run_folder
    from kunstflug.launch.keeping import opened
    from kunstflug.services.boat_file import import_boat

    document = parsed_boat(_json(file))
    with opened(run_folder() / "demo", new=True) as store:
        made = import_boat(store, document)
    print(f"{made.name}: {made.setups} setups, {made.runs} runs, {made.parts} parts were new")


@boat.command("schema")
def boat_schema() -> None:
    """Print the JSON Schema of the boat document."""
    from kunstflug.documents.boat import BoatDocument

    print(json.dumps(BoatDocument.model_json_schema(), indent=2))


def _heard(what: str, done: int, whole: int) -> None:
    print(f"{done} of {whole}: {what}", file=sys.stderr)


@app.command("export")
def export_everything(file: Annotated[Path, typer.Argument(help="Where to; a zip in the Data Package form.")]) -> None:
    """Write everything but the bin as open data: CSV, JSON, GPX; may run while the program does."""
    from kunstflug.launch.folder import run_folder
    from kunstflug.launch.keeping import opened
    from kunstflug.services.package import export_all

    with opened(run_folder() / "demo") as store:
        made = export_all(store, file, _heard)
    print(f"{file}: {made.boats} boats, {made.setups} setups, {made.runs} runs, {made.parts} parts")


@app.command("import")
def import_everything(file: Annotated[Path, typer.Argument(help="A zip that export wrote.")]) -> None:
    """Take in what export wrote; what is there already stays as it is."""
    from kunstflug.launch.folder import run_folder
    from kunstflug.launch.keeping import opened
    from kunstflug.services.package import import_all

    with opened(run_folder() / "demo", new=True) as store:
        made = import_all(store, file, _heard)
    print(f"New: {made.boats} boats, {made.setups} setups, {made.runs} runs, {made.parts} parts")


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


Lan = Annotated[bool, typer.Option("--lan", help="Open to the local network too: HTTPS, paired devices only.")]


@app.command()
def serve(
    lan: Lan = False,
    accounts: Annotated[bool, typer.Option("--accounts", help="For a club: each racer signs in.")] = False,
    host: Annotated[list[str] | None, typer.Option(help="A name that a proxy in front is asked by.")] = None,
) -> None:
    """Start everything with your own boats; Ctrl-C stops it."""
    from kunstflug.launch.demo import Wanted
    from kunstflug.launch.demo import serve as start

    if lan and accounts:
        raise typer.BadParameter("a club's server is reached through a proxy with HTTPS; see docs/operating.md")
    start(Wanted(demo=False, lan=lan, accounts=accounts, hosts=tuple(host or ())))


@account.command("invite")
def account_invite(
    role: Annotated[str, typer.Argument(help="keeper, racer or guest")] = "keeper",
    address: Annotated[str, typer.Option(help="Where the server is reached.")] = "http://127.0.0.1:8417",
) -> None:
    """Print a link that makes an account; the first keeper takes over the boats that are there. May run meanwhile."""
    from kunstflug.launch.folder import run_folder
    from kunstflug.launch.keeping import opened
    from kunstflug.services.accounts import invite

    if role not in ("keeper", "racer", "guest"):
        raise typer.BadParameter("somebody is invited as keeper, racer or guest")
    with opened(run_folder() / "demo", new=True) as store:
        made = invite(store, role)
    print(f"{address}{made.path}\nHolds once, until {made.expires_at:%Y-%m-%d %H:%M} UTC.")


@account.command("reset")
def account_reset(
    name: Annotated[str, typer.Argument(help="The racer's name.")],
    address: Annotated[str, typer.Option(help="Where the server is reached.")] = "http://127.0.0.1:8417",
) -> None:
    """Print a link that sets a racer's password anew, for an hour; may run while the program does."""
    from kunstflug.launch.folder import run_folder
    from kunstflug.launch.keeping import opened
    from kunstflug.services.accounts import reset_link

    with opened(run_folder() / "demo") as store:
        made = reset_link(store, name)
    print(f"{address}{made.path}\nHolds once, until {made.expires_at:%Y-%m-%d %H:%M} UTC.")


@account.command("priors")
def account_priors(
    scheduler: Scheduler = "",
) -> None:
    """Recalculate what the club's boats have in common. The program may run meanwhile."""
    from kunstflug.launch.folder import run_folder
    from kunstflug.launch.keeping import opened
    from kunstflug.services.computing import computing
    from kunstflug.services.priors import make_anew

    with opened(run_folder() / "demo") as store, computing(scheduler or None) as work:
        made = make_anew(store, work, lambda done, whole: _heard("racers", done, whole))
    print(f"{made.racers} racers, {made.families} families; {made.share:.0%} of what differs is in common")


@app.command()
def demo(lan: Lan = False, front_dev: Annotated[bool, typer.Option(hidden=True)] = False) -> None:
    """Start everything with the demo data; Ctrl-C stops it."""
    from kunstflug.launch.demo import Wanted
    from kunstflug.launch.demo import serve as start

    start(Wanted(lan=lan, reload_front=front_dev))


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
