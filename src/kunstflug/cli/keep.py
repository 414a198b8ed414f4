"""Commands that take boats, or everything, out and in."""

import json
from pathlib import Path
from typing import Annotated

import typer

from kunstflug.cli.app import app
from kunstflug.cli.inout import heard, json_of, write

boat = typer.Typer(no_args_is_help=True, help="One boat in one file.")
app.add_typer(boat, name="boat")


@boat.command("export")
def boat_export(
    name: Annotated[str, typer.Argument(help="The boat's name.")],
    file: Annotated[Path, typer.Argument(help="Where to.")],
    tracks: Annotated[bool, typer.Option(help="With tracks, controllers' logs and pictures.")] = True,
) -> None:
    """Write one boat into one file: setups, parts, runs, tub tests; may run while the program does."""
    from kunstflug.launch.folder import run_folder
    from kunstflug.launch.keeping import opened
    from kunstflug.services.boats.boat_file import export_boat, find_boat

    with opened(run_folder() / "demo") as store:
        document = export_boat(store, find_boat(store, name), tracks=tracks)
    write(file, document.model_dump_json(indent=1, exclude_defaults=True).encode())
    print(f"{file}: {document.name}, {len(document.setups)} setups, {len(document.runs)} runs")


@boat.command("import")
def boat_import(file: Annotated[Path, typer.Argument(help="A boat document; - reads standard input.")]) -> None:
    """Take in a boat; what is there already stays as it is."""
    from kunstflug.documents.boat import parsed_boat
    from kunstflug.launch.folder import run_folder
    from kunstflug.launch.keeping import opened
    from kunstflug.services.boats.boat_file import import_boat

    document = parsed_boat(json_of(file))
    with opened(run_folder() / "demo", new=True) as store:
        made = import_boat(store, document)
    print(f"{made.name}: {made.setups} setups, {made.runs} runs, {made.parts} parts were new")


@boat.command("schema")
def boat_schema() -> None:
    """Print the JSON Schema of the boat document."""
    from kunstflug.documents.boat import BoatDocument

    print(json.dumps(BoatDocument.model_json_schema(), indent=2))


@app.command("export")
def export_everything(file: Annotated[Path, typer.Argument(help="Where to; a zip in the Data Package form.")]) -> None:
    """Write everything but the bin as open data: CSV, JSON, GPX; may run while the program does."""
    from kunstflug.launch.folder import run_folder
    from kunstflug.launch.keeping import opened
    from kunstflug.services.data.package import export_all

    with opened(run_folder() / "demo") as store:
        made = export_all(store, file, heard)
    print(f"{file}: {made.boats} boats, {made.setups} setups, {made.runs} runs, {made.parts} parts")


@app.command("import")
def import_everything(file: Annotated[Path, typer.Argument(help="A zip that export wrote.")]) -> None:
    """Take in what export wrote; what is there already stays as it is."""
    from kunstflug.launch.folder import run_folder
    from kunstflug.launch.keeping import opened
    from kunstflug.services.data.package import import_all

    with opened(run_folder() / "demo", new=True) as store:
        made = import_all(store, file, heard)
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
