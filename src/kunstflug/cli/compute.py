"""Commands that need no server and no database: forecast, search, learn, track, and what is published."""

import json
import sys
from pathlib import Path
from typing import Annotated

import typer

from kunstflug.cli.app import Asking, app
from kunstflug.cli.inout import Scheduler, SetupFile, bytes_of, document_of, heard, json_of, ready
from kunstflug.core.quantity.errors import UnreadableFile


@app.command()
def forecast(
    setup: Annotated[
        str, typer.Argument(help="A setup document (JSON); - reads standard input. With --boat a setup's name in it.")
    ] = "",
    boat: Annotated[
        Path | None,
        typer.Option(
            help="A boat document; its newest setup, or the one named, with what its runs teach and what it is for."
        ),
    ] = None,
    as_bought: Annotated[bool, typer.Option(help="Without what the boat's runs teach.")] = False,
) -> None:
    """Print the forecast of a setup document as JSON; needs no server and no database."""
    from kunstflug.documents.boat import parsed_boat, setup_in
    from kunstflug.documents.schools import judging_in
    from kunstflug.documents.setup import parsed_setup
    from kunstflug.services.shared.forecasts import forecast_of

    aim, known = None, None
    if boat is not None:
        from kunstflug.services.compare.files import knowledge_in

        whole = parsed_boat(json_of(boat))
        document, aim = parsed_setup(setup_in(whole, setup)), whole.aim
        ready()
        known = None if as_bought else knowledge_in(whole)
    elif setup:
        document = document_of(Path(setup))
    else:
        raise UnreadableFile("name a setup document, or a boat with --boat")
    ready()
    print(forecast_of(document, known, judging_in(aim), Asking.tongue).model_dump_json(indent=2))


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
    from kunstflug.services.match.search import MOST_BY_COMMAND, RangesIn, search_ranges

    ready()
    found = search_ranges(
        document_of(setup),
        USUAL,
        RangesIn(fineness=fineness, pitch_ratio=pitch, cells=cells, mass=mass),
        None,
        lambda done, whole: heard("drives", done, whole),
        Asking.tongue,
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
    from kunstflug.services.compare.files import report

    ready()
    print(json.dumps(report([parsed_boat(json_of(path)) for path in boats]), indent=2))


@app.command()
def track(file: Annotated[Path, typer.Argument(help="A track of any logger; - reads standard input.")]) -> None:
    """Print the numbers and passes of a track as JSON; needs no server and no database."""
    from kunstflug.core.tracks import analyse
    from kunstflug.documents.run import track_summary
    from kunstflug.files.mapped_csv import read_sure_track
    from kunstflug.files.track_file import is_packed, read_track, reader_of

    data = bytes_of(file)
    ready()
    table = reader_of(data) is None and not is_packed(data) and _is_table(data)
    read = read_sure_track(data) if table else read_track(data)
    print(track_summary(analyse(read.samples)).model_dump_json(indent=2))
    if read.broken:
        first = read.damages[0]
        print(
            f"{read.broken} places could not be read, the first in line {first.line}: {first.reason}", file=sys.stderr
        )


def _is_table(data: bytes) -> bool:
    """Whether a file is a table of numbers in some dialect of CSV."""
    from kunstflug.core.quantity.errors import UnreadableFile
    from kunstflug.files.dialect import dialect_of, text_of

    try:
        dialect_of(text_of(data))
    except UnreadableFile:
        return False
    return True


@app.command()
def example() -> None:
    """Print a setup document to begin with."""
    from kunstflug.documents.setup import SetupDocument
    from kunstflug.services.data.demo import DIPPER

    print(SetupDocument.model_validate(DIPPER).model_dump_json(indent=2, exclude_defaults=True))


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
