"""Match: forecasts, drafts, heat, single changes, the map, searches."""

import math

from fastapi import Response
from fastapi.responses import StreamingResponse

from kunstflug.core.choose.shelf import Bounds
from kunstflug.documents.forecast import ForecastOut
from kunstflug.documents.heat import HeatOut
from kunstflug.documents.plan import MapOut, NextChangesOut, ProgressOut, SearchSizeOut
from kunstflug.documents.setup import SetupDocument, setup_of
from kunstflug.services.club import club
from kunstflug.services.match import match, next_change, plan, search
from kunstflug.services.shared import views
from kunstflug.services.shared.changes import Change
from kunstflug.web import schemas
from kunstflug.web.api.deps import BoatOf, KnownOf, LineOf, StoreOf, TongueOf, WaterOf, routes_of
from kunstflug.web.streams import MEDIA_TYPE

router = routes_of("match")


@router.post("/forecast")
def forecast(document: SetupDocument, known: KnownOf, tongue: TongueOf) -> ForecastOut:
    """Forecast of a setup document; nothing is saved."""
    return match.forecast_of(document, known, tongue=tongue)


@router.post("/draft")
async def draft(body: schemas.DraftIn, known: KnownOf, tongue: TongueOf) -> views.DraftView:
    """What a setup would do with some changes; nothing is saved."""
    # Not handed to a thread: it is over in milliseconds, and a hand on a slider waits for it.
    changes = [Change(path=c.path, value=c.value) for c in body.changes]
    return match.draft(body.document, changes, known, body.judging(), tongue, explained=body.explained)


@router.post("/heat")
def heat(body: schemas.PlanIn, known: KnownOf, water: WaterOf, tongue: TongueOf) -> HeatOut:
    """Temperatures of a setup through a duty, each node against its ceiling."""
    return plan.heat(body.document, body.duty.core(), body.judging(), known, water, tongue, body.duty.pond_m)


@router.post("/next")
def next_steps(
    body: schemas.NextIn, store: StoreOf, known: KnownOf, water: WaterOf, tongue: TongueOf, boat: BoatOf = None
) -> NextChangesOut:
    """All changes from here, best first: faster, back within limits, or longer."""
    raced = club.raced(store, body.class_name, body.loudness())
    duty, schools = body.duty.core(), body.judging()
    return next_change.next_steps(store, body.document, duty, schools, known, water, tongue, raced, boat)


@router.post("/map")
def sweep_map(body: schemas.PlanIn, known: KnownOf) -> MapOut:
    """KV x propeller diameter about a setup."""
    return plan.sweep_map(body.document, body.judging(), known)


@router.post(
    "/searches",
    response_class=StreamingResponse,
    responses={
        200: {
            "description": "A line of JSON for each report; the last has the result. Closing the answer stops the work",
            "content": {MEDIA_TYPE: {"schema": {"$ref": "#/components/schemas/ProgressOut"}}},
        },
        # names the model, so that the description has it
        202: {"model": ProgressOut, "description": "Never sent; one line of the answer looks so"},
    },
)
def search_drives(
    body: schemas.SearchIn, store: StoreOf, known: KnownOf, water: WaterOf, line: LineOf, tongue: TongueOf
) -> Response:
    """A large search over the shelf or over ranges of numbers."""
    schools, duty, document = body.judging(), body.duty.core(), body.document
    setup = setup_of(document)  # what is impossible or too large is refused before it waits in line
    if body.over == "ranges":
        search.ranges_for(setup, body.ranges)
        return line.answer(
            lambda heard: search.search_ranges(
                document, schools, body.ranges, known, heard, tongue, duty=duty, circuit=water
            ),
            ProgressOut,
            tongue,
        )
    bounds = Bounds(most_kg=body.most_mass_kg or math.inf, room_m=body.room_m or math.inf)
    budget = math.inf if body.budget is None else body.budget
    return line.answer(
        lambda heard: search.search_shelf(
            store, document, schools, body.kinds, bounds, budget, known, heard, duty, water
        ),
        ProgressOut,
        tongue,
    )


@router.post("/searches/size")
def search_size(body: schemas.SearchIn, store: StoreOf) -> SearchSizeOut:
    """How large a search would be; nothing is searched."""
    if body.over == "ranges":
        return search.size_of_ranges(body.document, body.ranges)
    return search.size_of_shelf(store, body.document, body.kinds)
