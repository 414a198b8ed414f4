"""Commands of the simulated pond."""

import contextlib
from pathlib import Path
from typing import Annotated

import typer

from kunstflug.cli.app import app
from kunstflug.cli.inout import SetupFile, document_of, write

pond = typer.Typer(no_args_is_help=True, help="The simulated pond.")
app.add_typer(pond, name="pond")


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

    built = setup_of(document_of(setup))
    weather = Weather(water_c=water, wind_mps=wind)
    made = run_outing(built, seed=seed, passes=passes, weather=weather, faults=faults, start_unix_s=1_780_000_000.0)
    write(out / "run.gpx", write_gpx(made.track, built.name or "simulated pond"))
    write(out / "run.nmea", write_nmea(made.track))
    write(out / "controller.csv", write_controller_csv(made.controller))
    rows = [f"{r.place},{r.celsius},{r.minutes_after}" for r in made.readings]
    write(out / "readings.csv", ("\n".join(["place,degc,minutes_after", *rows]) + "\n").encode())
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
    built = setup_of(document_of(setup))
    print(f"127.0.0.1:{port}: lines of JSON, 20 a second; connect with Run > Live. Ctrl-C ends it.")
    with contextlib.suppress(KeyboardInterrupt):
        asyncio.run(serve_pond(built, port, seed=seed, faults=faults, dropouts=dropouts, pace=pace, passes=passes))
