"""The command ``kunstflug``."""

import json
import sys
from pathlib import Path
from typing import Annotated

import typer
from pydantic import ValidationError

from kunstflug.core.errors import InvalidValue, KunstflugError, UnreadableFile

app = typer.Typer(no_args_is_help=True, add_completion=False, help=__doc__, pretty_exceptions_enable=False)
pond = typer.Typer(no_args_is_help=True, help="The simulated pond.")
app.add_typer(pond, name="pond")


def _document(path: Path):  # type: ignore[no-untyped-def]  # the generated SetupDocument
    from kunstflug.formats.setup_document import SetupDocument

    try:
        raw = json.loads(path.read_text())
    except OSError as error:
        raise UnreadableFile(f"{path} cannot be read: {error.strerror}") from error
    except json.JSONDecodeError as error:
        raise UnreadableFile(f"{path} is not JSON: {error.msg}", error.lineno) from error
    try:
        return SetupDocument.model_validate(raw)
    except ValidationError as error:
        first = error.errors()[0]
        field = ".".join(str(p) for p in first["loc"])
        raise InvalidValue(field, str(first.get("input"))[:60], first["msg"]) from error


@app.command()
def forecast(setup: Annotated[Path, typer.Argument(help="a setup document (JSON)")]) -> None:
    """Print the forecast of a setup document as JSON; needs no server and no database."""
    from kunstflug.core.drive.forecast import forecast as compute
    from kunstflug.formats.forecast_document import forecast_document
    from kunstflug.formats.setup_document import setup_of

    built = setup_of(_document(setup))
    print(forecast_document(built, compute(built)).model_dump_json(indent=2))


@app.command()
def schema() -> None:
    """Print the JSON Schema of the setup document."""
    from kunstflug.formats.setup_document import SetupDocument

    print(json.dumps(SetupDocument.model_json_schema(), indent=2))


@app.command()
def openapi() -> None:
    """Print the API's description (OpenAPI)."""
    from kunstflug.store.database import Store
    from kunstflug.web.app import create_api

    described = create_api(Store("mariadb+pymysql://nobody@127.0.0.1:1/none"), Path("no-front-end")).openapi()
    print(json.dumps(described, indent=2))


@pond.command("run")
def pond_run(
    setup: Annotated[Path, typer.Argument(help="a setup document (JSON)")],
    out: Annotated[Path, typer.Option(help="folder for the files")] = Path("."),
    seed: Annotated[int, typer.Option(help="same seed, same files", min=0)] = 1,
    passes: Annotated[int, typer.Option(min=1, max=20)] = 4,
    wind: Annotated[float, typer.Option(help="m/s", min=0, max=12)] = 2.0,
    water: Annotated[float, typer.Option(help="degC", min=0, max=35)] = 16.0,
    faults: Annotated[bool, typer.Option(help="a spike and a dropout in the position log")] = True,
) -> None:
    """Drive a setup on the simulated pond; writes run.gpx, run.nmea, controller.csv and readings.csv."""
    from kunstflug.formats.controller_csv import write_controller_csv
    from kunstflug.formats.gpx import write_gpx
    from kunstflug.formats.nmea import write_nmea
    from kunstflug.formats.setup_document import setup_of
    from kunstflug.pond import Weather, run_outing

    built = setup_of(_document(setup))
    weather = Weather(water_c=water, wind_mps=wind)
    made = run_outing(built, seed=seed, passes=passes, weather=weather, faults=faults, start_unix_s=1_780_000_000.0)
    out.mkdir(parents=True, exist_ok=True)
    (out / "run.gpx").write_bytes(write_gpx(made.track, built.name or "simulated pond"))
    (out / "run.nmea").write_bytes(write_nmea(made.track))
    (out / "controller.csv").write_bytes(write_controller_csv(made.controller))
    rows = [f"{r.place},{r.celsius},{r.minutes_after}" for r in made.readings]
    (out / "readings.csv").write_text("\n".join(["place,degc,minutes_after", *rows]) + "\n")
    print(f"{out}: run.gpx, run.nmea, controller.csv, readings.csv; {made.mah_used:.0f} mAh used")


@app.command()
def backup(
    file: Annotated[Path | None, typer.Argument(help="where to; if left out, a name with the time, here")] = None,
) -> None:
    """Write everything into one file; may run while the program does."""
    from kunstflug.launch.folder import run_folder
    from kunstflug.launch.keeping import back_up, usual_name

    path = file or Path(usual_name())
    made = back_up(run_folder() / "demo", path)
    print(f"{path}: {made.rows['boats']} boats, {made.rows['setups']} setups, {made.rows['runs']} runs")


@app.command()
def restore(file: Annotated[Path, typer.Argument(help="a file that backup wrote")]) -> None:
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


def main() -> None:
    """Entry: errors of our own tree are one clear sentence."""
    try:
        app()
    except KunstflugError as error:
        print(f"kunstflug: {error}", file=sys.stderr)
        raise SystemExit(2) from None


if __name__ == "__main__":
    main()
