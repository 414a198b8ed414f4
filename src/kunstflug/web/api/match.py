"""Aim and Match: forecasts, drafts, heat, single steps, the map, backward, searches."""

import math

from fastapi import APIRouter, Response
from fastapi.responses import StreamingResponse
from pydantic import TypeAdapter

from kunstflug.core.matching.shelf import Bounds
from kunstflug.formats.forecast_document import ForecastOut
from kunstflug.formats.plan_document import BackwardOut, HeatOut, MapOut, ProgressOut, StepOut
from kunstflug.formats.setup_document import SetupDocument, setup_of
from kunstflug.services import match, plan, search, views
from kunstflug.services.changes import Change
from kunstflug.web import schemas
from kunstflug.web.api.deps import LineOf, StoreOf, StrictRoute
from kunstflug.web.streams import MEDIA_TYPE

router = APIRouter(tags=["match"], route_class=StrictRoute)

# These two follow a slider: written straight to JSON, without the framework validating once more what we made.
_DRAFT = TypeAdapter(views.DraftView)


@router.post("/forecast", response_model=ForecastOut)
def forecast(document: SetupDocument) -> Response:
    """Forecast of a setup document; nothing is saved."""
    return Response(match.forecast_of(document).model_dump_json(), media_type="application/json")


@router.post("/draft", response_model=views.DraftView)
def draft(body: schemas.DraftIn) -> Response:
    """What a setup would do with some changes; nothing is saved."""
    changes = [Change(path=c.path, value=c.value) for c in body.changes]
    made = match.draft(body.document, changes, body.schools.core())
    return Response(_DRAFT.dump_json(made), media_type="application/json")


@router.post("/heat", response_model=HeatOut)
def heat(body: schemas.CooledIn) -> Response:
    """Temperatures of a setup through a duty, each node against its ceiling."""
    made = plan.heat(body.document, body.duty.core(), body.schools.core(), body.circuit)
    return Response(made.model_dump_json(), media_type="application/json")


@router.post("/next")
def next_steps(body: schemas.CooledIn, store: StoreOf) -> list[StepOut]:
    """All single changes from here, best first."""
    return plan.next_steps(store, body.document, body.duty.core(), body.schools.core(), body.circuit)


@router.post("/map")
def sweep_map(body: schemas.PlanIn) -> MapOut:
    """KV x propeller diameter about a setup."""
    return plan.sweep_map(body.document, body.schools.core())


@router.post("/backward")
def backward(body: schemas.WishIn) -> BackwardOut:
    """From a wanted speed back to the drive it takes."""
    most = body.most_mass_kg or math.inf
    locked = frozenset(body.locked)
    return plan.wish(body.document, body.wanted_mps, locked, body.schools.core(), body.least_minutes, most)


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
def search_drives(body: schemas.SearchIn, store: StoreOf, line: LineOf) -> Response:
    """A large search over the shelf or over ranges of numbers."""
    schools = body.schools.core()
    setup = setup_of(body.document)  # what is impossible or too large is refused before it waits in line
    if body.over == "ranges":
        search.ranges_for(setup, body.ranges)
        return line.answer(lambda heard: search.search_ranges(body.document, schools, body.ranges, heard))
    bounds = Bounds(most_kg=body.most_mass_kg or math.inf, room_m=body.room_m or math.inf)
    budget = math.inf if body.budget is None else body.budget
    return line.answer(
        lambda heard: search.search_shelf(store, body.document, schools, body.kinds, bounds, budget, heard)
    )
