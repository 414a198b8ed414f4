"""Compare: the trail of a boat, and the runs of a setup beside their forecasts."""

from kunstflug.services.compare import compare
from kunstflug.services.compare import put_right as slips
from kunstflug.services.compare import views as learnt_views
from kunstflug.services.compare.knowledge import boat_knowledge
from kunstflug.services.learning import learning
from kunstflug.services.shared import views
from kunstflug.web import schemas
from kunstflug.web.api.deps import Before, Id, LessonsOf, StoreOf, routes_of

router = routes_of("compare")


@router.get("/boats/{boat_id}/trail")
def trail(boat_id: Id, store: StoreOf, lessons: LessonsOf, before: Before = None) -> views.TrailView:
    """The newest setups of a boat in their order, with what was forecast and the newest runs."""
    return compare.trail(store, boat_id, before, lessons=lessons)


@router.get("/setups/{setup_id}/compared")
def compared(setup_id: Id, store: StoreOf, before: Before = None) -> views.Page[views.ComparedRun]:
    """Runs of a setup beside their forecasts, newest first."""
    return compare.compared_runs(store, setup_id, before)


@router.get("/boats/{boat_id}/knowledge")
def knowledge(boat_id: Id, store: StoreOf) -> learnt_views.KnowledgeView:
    """What runs taught of a boat: its numbers, its runs against what was said of them, its changes."""
    return boat_knowledge(store, boat_id)


@router.post("/runs/{run_id}/put-right")
def put_right(run_id: Id, body: schemas.PutRightIn, store: StoreOf) -> views.RunView:
    """Writes what was meant in place of what was typed: another unit, a digit moved, another setup."""
    return slips.put_right(store, run_id, body.cause)


@router.put("/aside", status_code=204)
def set_aside(body: schemas.AsideIn, store: StoreOf) -> None:
    """Learns nothing more from some runs, or counts them again: one, all with a part aboard, or all of a boat."""
    learning.set_aside(store, body.runs, body.aside)
