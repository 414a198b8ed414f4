"""The shelf: parts with their lives, compared in a boat, as CSV."""

from typing import Annotated

from fastapi import File, Query, Response, UploadFile

from kunstflug.documents.pack_life import PackLifeOut
from kunstflug.services.measure import measure
from kunstflug.services.shared import views
from kunstflug.services.shelf import candidates, pack_life, shelf
from kunstflug.services.shelf import table as shelf_csv
from kunstflug.web import schemas
from kunstflug.web.api.deps import (
    Id,
    IfMatch,
    KeyOf,
    KnownOf,
    StoreOf,
    TongueOf,
    WaterOf,
    a_file,
    attachment,
    routes_of,
    set_tag,
)

router = routes_of("shelf")


@router.get("/parts.csv", response_class=Response, responses=a_file("text/csv"))
def get_parts_csv(store: StoreOf) -> Response:
    """The shelf as CSV."""
    return Response(shelf_csv.to_csv(store), media_type="text/csv; charset=utf-8", headers=attachment("shelf.csv"))


@router.post("/parts.csv", status_code=201)
def import_parts_csv(store: StoreOf, key: KeyOf, file: Annotated[UploadFile, File()]) -> shelf_csv.CsvTaken:
    """Parts of a CSV put on the shelf: all of them, or none; those that are there already are not doubled."""
    return shelf_csv.from_csv(store, file.file.read(), key)


@router.get("/parts")
def get_parts(
    store: StoreOf,
    kind: Annotated[str | None, Query(max_length=40)] = None,
    words: Annotated[str, Query(max_length=200)] = "",
    after: Annotated[str, Query(max_length=400, description="what the page before said as next")] = "",
) -> views.Page[views.PartView]:
    """Parts with their lives, found by kind and by words or sizes."""
    return shelf.page(store, kind, words, after)


@router.post("/parts", status_code=201)
def add_part(body: schemas.PartIn, store: StoreOf, key: KeyOf) -> views.PartView:
    """A part put on the shelf."""
    return shelf.add_part(store, body.kind, body.document, key)


@router.patch("/parts/{part_id}")
def change_part(
    part_id: Id, body: schemas.PartChangeIn, store: StoreOf, response: Response, if_match: IfMatch = None
) -> views.PartView:
    """A part with another state, price, number of pieces, note, or other sizes."""
    found = shelf.change_part(store, part_id, body.model_dump(mode="json", exclude_unset=True), if_match)
    set_tag(response, found.tag)
    return found


@router.get("/parts/{part_id}/life")
def get_life(part_id: Id, store: StoreOf, tongue: TongueOf) -> PackLifeOut:
    """A pack's resistance and capacity over its runs, and whether it is time for another."""
    return pack_life.life_of(store, part_id, tongue)


@router.post("/parts/{part_id}/events", status_code=201)
def add_event(part_id: Id, body: schemas.EventIn, store: StoreOf, key: KeyOf) -> views.PartView:
    """Something that happened to a part."""
    return shelf.add_event(store, part_id, body.kind, body.words, request=key)


@router.post("/parts/{part_id}/measured")
def write_measure(part_id: Id, body: schemas.WriteIn, store: StoreOf) -> views.PartView:
    """Puts a measured value on a part."""
    return measure.write_measure(store, part_id, body.path, body.value, body.sd)


@router.post("/parts/compared")
def compare_parts(
    body: schemas.ComparedIn, store: StoreOf, known: KnownOf, water: WaterOf, tongue: TongueOf
) -> list[views.CandidateView]:
    """Up to six parts in this boat, side by side."""
    schools, duty = body.judging(), body.duty.core()
    return candidates.compare(store, body.document, body.parts, duty, schools, known, water, tongue)


@router.post("/parts/swaps")
def swaps(body: schemas.SwapIn, store: StoreOf, tongue: TongueOf) -> list[views.SwapView]:
    """The parts of a kind for this boat, with what a sheet forbids of each."""
    return candidates.swaps(store, body.document, body.kind, tongue)
