"""Launch and the pond day: is everything ready, how a pass is driven, what is charged and run when."""

from datetime import date

from kunstflug.documents.day import DayIn, DayOut, DayTickIn, DayView, ReadyIn, ReadyOut
from kunstflug.services.launch import day as days
from kunstflug.services.launch import ready
from kunstflug.web.api.deps import Id, LessonsOf, StoreOf, TongueOf, routes_of

router = routes_of("launch")


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
