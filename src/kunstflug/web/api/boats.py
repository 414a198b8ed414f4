"""The boathouse: boats, setups, what a boat is for."""

import re

from fastapi import APIRouter, Response

from kunstflug.documents.setup import SetupDocument
from kunstflug.services import boats as use
from kunstflug.services import views
from kunstflug.services.rows import tag_of
from kunstflug.web import schemas
from kunstflug.web.api.deps import After, Id, IfMatch, KeyOf, StoreOf, StrictRoute, attachment, set_tag

router = APIRouter(tags=["boats"], route_class=StrictRoute)


@router.get("/boats")
def boats(store: StoreOf, after: After = 0, archived: bool = False) -> views.Page[views.BoatView]:
    """Boats, oldest first."""
    return use.boats(store, after, archived=archived)


@router.post("/boats", status_code=201)
def new_boat(body: schemas.BoatIn, store: StoreOf, key: KeyOf) -> views.SetupView:
    """A new boat with its first setup."""
    return use.new_boat(store, body.name, body.document, key)


@router.patch("/boats/{boat_id}")
def change_boat(boat_id: Id, body: schemas.BoatChangeIn, store: StoreOf) -> views.BoatView:
    """A boat by another name, put away or taken out again."""
    return use.change_boat(store, boat_id, name=body.name, archived=body.archived)


@router.get("/boats/{boat_id}/setups")
def setups(boat_id: Id, store: StoreOf, after: After = 0) -> views.Page[views.SetupItem]:
    """Setups of a boat, oldest first."""
    return use.setups(store, boat_id, after)


@router.get("/boats/{boat_id}/aim")
def aim(boat_id: Id, store: StoreOf, response: Response) -> schemas.AimIn:
    """What a boat is for; the tag stands in the ETag."""
    found = use.aim(store, boat_id)
    set_tag(response, tag_of(found))
    return schemas.AimIn.model_validate(found)


@router.put("/boats/{boat_id}/aim")
def set_aim(
    boat_id: Id, body: schemas.AimIn, store: StoreOf, response: Response, if_match: IfMatch = None
) -> schemas.AimIn:
    """Keeps what a boat is for."""
    set_tag(response, use.set_aim(store, boat_id, body.model_dump(mode="json", exclude_none=True), if_match))
    return body


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
