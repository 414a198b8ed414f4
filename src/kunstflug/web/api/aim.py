"""Aim: what a boat is for, and back from a wanted speed to the drive it takes."""

from fastapi import Response

from kunstflug.documents.plan import BackwardOut
from kunstflug.services.aim import wish
from kunstflug.services.boats import boats as use
from kunstflug.services.club import club
from kunstflug.services.shared.rows import tag_of
from kunstflug.web import schemas
from kunstflug.web.api.deps import Id, IfMatch, KnownOf, StoreOf, Teaches, TongueOf, WaterOf, routes_of, set_tag

router = routes_of("aim")


@router.get("/boats/{boat_id}/aim")
def aim(boat_id: Id, store: StoreOf, response: Response) -> schemas.AimIn:
    """What a boat is for; the tag stands in the ETag."""
    found = use.aim(store, boat_id)
    set_tag(response, tag_of(found))
    return schemas.AimIn.model_validate(found)


@router.put("/boats/{boat_id}/aim", dependencies=[Teaches])
def set_aim(
    boat_id: Id, body: schemas.AimIn, store: StoreOf, response: Response, if_match: IfMatch = None
) -> schemas.AimIn:
    """Keeps what a boat is for."""
    set_tag(response, use.set_aim(store, boat_id, body.model_dump(mode="json", exclude_none=True), if_match))
    return body


@router.post("/backward")
def backward(body: schemas.WishIn, store: StoreOf, known: KnownOf, water: WaterOf, tongue: TongueOf) -> BackwardOut:
    """From a wanted speed back to the drive it takes."""
    raced = club.raced(store, body.class_name, body.loudness())
    duty, schools = body.duty.core(), body.judging()
    return wish.wish(store, body.document, body.core(), duty, schools, known, water, tongue, raced)
