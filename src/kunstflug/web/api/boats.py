"""The boathouse: boats, setups, what a boat is for."""

import json
import re
from typing import Annotated

from fastapi import File, Query, Response, UploadFile

from kunstflug.core.quantity.errors import UnreadableFile
from kunstflug.documents.boat import parsed_boat
from kunstflug.documents.setup import SetupDocument
from kunstflug.services.boats import boat_file as boat_files
from kunstflug.services.boats import boats as use
from kunstflug.services.boats import sheet as sheets
from kunstflug.services.shared import views
from kunstflug.web import schemas
from kunstflug.web.api.deps import (
    After,
    Id,
    KeyOf,
    StoreOf,
    Teaches,
    a_file,
    attachment,
    routes_of,
)
from kunstflug.wording import Tongue, Units

router = routes_of("boats", Teaches)


@router.get("/boats")
def boats(store: StoreOf, after: After = 0, archived: bool = False) -> views.Page[views.BoatView]:
    """Boats, oldest first."""
    return use.boats(store, after, archived=archived)


@router.post("/boats", status_code=201)
def new_boat(body: schemas.BoatIn, store: StoreOf, key: KeyOf) -> views.SetupView:
    """A new boat with its first setup."""
    return use.new_boat(store, body.name, body.document, key)


@router.get("/boats/{boat_id}/boat.json", response_class=Response, responses=a_file("application/json"))
def boat_file(
    boat_id: Id, store: StoreOf, tracks: Annotated[bool, Query(description="with tracks, logs and pictures")] = True
) -> Response:
    """One boat as a document: setups, parts, runs, tub tests."""
    document = boat_files.export_boat(store, boat_id, tracks=tracks)
    data = document.model_dump_json(indent=1, exclude_defaults=True).encode()
    return Response(data, media_type="application/json", headers=attachment(f"boat-{boat_id}.json"))


@router.post("/boats/import", status_code=201)
def import_boat(store: StoreOf, file: Annotated[UploadFile, File()]) -> boat_files.BoatTaken:
    """A boat of a document; what is there already stays as it is."""
    try:
        raw = json.loads(file.file.read())
    except (ValueError, RecursionError) as broken:
        raise UnreadableFile("not JSON") from broken
    return boat_files.import_boat(store, parsed_boat(raw))


UnitsOf = Annotated[Units, Query(description="in which numbers are written")]


@router.get("/setups/{setup_id}/sheet.pdf", response_class=Response, responses=a_file("application/pdf"))
def setup_sheet(setup_id: Id, store: StoreOf, units: UnitsOf = Units.METRIC) -> Response:
    """A setup on one page: parts, forecast, limits, settings, last runs, cautions."""
    data = sheets.sheet(store, setup_id, Tongue(units=units))
    return Response(data, media_type="application/pdf", headers=attachment(f"setup-{setup_id}.pdf"))


@router.get("/runs/{run_id}/picture.png", response_class=Response, responses=a_file("image/png"))
def run_picture(
    run_id: Id,
    store: StoreOf,
    units: UnitsOf = Units.METRIC,
    shape: Annotated[bool, Query(description="with the track's shape; it may tell which pond it was")] = False,
) -> Response:
    """A run as a picture to show around: speed over time and its best, without where it was."""
    data = sheets.picture(store, run_id, Tongue(units=units), shape=shape)
    return Response(data, media_type="image/png", headers=attachment(f"run-{run_id}.png"))


@router.patch("/boats/{boat_id}")
def change_boat(boat_id: Id, body: schemas.BoatChangeIn, store: StoreOf) -> views.BoatView:
    """A boat by another name, put away or taken out again."""
    return use.change_boat(store, boat_id, name=body.name, archived=body.archived)


@router.get("/boats/{boat_id}/setups")
def setups(boat_id: Id, store: StoreOf, after: After = 0) -> views.Page[views.SetupItem]:
    """Setups of a boat, oldest first."""
    return use.setups(store, boat_id, after)


@router.get("/setups/{setup_id}")
def setup(setup_id: Id, store: StoreOf) -> views.SetupView:
    """A setup."""
    return use.setup(store, setup_id)


@router.patch("/setups/{setup_id}")
def rename_setup(setup_id: Id, body: schemas.NameIn, store: StoreOf) -> views.SetupView:
    """A setup by another name."""
    return use.rename_setup(store, setup_id, body.name)


@router.get("/setups/{setup_id}/document")
def document(setup_id: Id, store: StoreOf, response: Response) -> SetupDocument:
    """The setup's document, as a file to keep."""
    found = use.setup(store, setup_id)
    name = re.sub(r"[^A-Za-z0-9]+", "-", found.name).strip("-").lower() or "setup"
    response.headers.update(attachment(f"{name}.setup.json"))
    return found.document


@router.post("/setups/{setup_id}/adopt", status_code=201)
def adopt(setup_id: Id, body: schemas.AdoptIn, store: StoreOf, key: KeyOf) -> views.SetupView:
    """A changed document as a new setup below this one."""
    return use.adopt(store, setup_id, body.document, body.name, body.shelf, key)
