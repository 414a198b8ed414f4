"""The pond day: is everything ready, how a pass is driven, what is charged and run when."""

from datetime import date
from typing import Annotated

from fastapi import Path, Query

from kunstflug.documents.day import DayIn, DayOut, DayTickIn, DayView, ReadyIn, ReadyOut
from kunstflug.documents.pond import PondIn, PondView, ShoreIn, ShoreOut
from kunstflug.services.launch import day as days
from kunstflug.services.launch import ready
from kunstflug.services.ponds import ponds
from kunstflug.web.api.deps import Id, LessonsOf, StoreOf, TongueOf, routes_of

router = routes_of("day")

PondName = Annotated[str, Path(min_length=1, max_length=60)]


@router.post("/setups/{setup_id}/launch")
def launch(setup_id: Id, body: ReadyIn, store: StoreOf, lessons: LessonsOf, tongue: TongueOf) -> ReadyOut:
    """Is everything ready: checks with their ticks, go or wait, the plan of a pass; nothing is saved."""
    return ready.launch(store, setup_id, body, lessons, tongue)


@router.put("/days/{day}/ticks", status_code=204)
def tick_day(day: date, body: DayTickIn, store: StoreOf) -> None:
    """Ticks a check of a boat on a day off, or back."""
    ready.tick(store, day, body.boat_id, body.key, body.done)


@router.get("/days/{day}")
def get_day(day: date, store: StoreOf) -> DayView:
    """A day as it was planned, or a proposal."""
    return days.day_of(store, day)


@router.put("/days/{day}")
def save_day(day: date, body: DayIn, store: StoreOf) -> DayView:
    """Keeps a day's plan."""
    return days.save_day(store, day, body)


@router.post("/days")
def try_day(body: DayIn, store: StoreOf) -> DayOut:
    """Charges and runs of a day that is being planned; nothing is saved."""
    return days.planned(store, body)


@router.get("/ponds")
def list_ponds(
    store: StoreOf, on: Annotated[date | None, Query(description="whose water is said; today without it")] = None
) -> list[PondView]:
    """All ponds with the longest straight and the water of each."""
    return ponds.ponds(store, on)


@router.post("/shore")
def look_at_shore(body: ShoreIn) -> ShoreOut:
    """A shore that is being drawn, with the longest straight on it; nothing is saved."""
    return ponds.look(body)


@router.put("/ponds/{name}")
def keep_pond(name: PondName, body: PondIn, store: StoreOf) -> PondView:
    """Keeps a pond under a name."""
    return ponds.keep_pond(store, name, body)


@router.delete("/ponds/{name}", status_code=204)
def drop_pond(name: PondName, store: StoreOf) -> None:
    """Forgets a pond."""
    ponds.drop_pond(store, name)


@router.get("/runs/{run_id}/shore")
def shore_of_run(run_id: Id, store: StoreOf) -> ShoreOut:
    """The shore round where a run went, with the longest straight on it."""
    return ponds.shore_of_run(store, run_id)
