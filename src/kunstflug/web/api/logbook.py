"""The logbook: outings of all boats; damage mended; a boat that stopped."""

from typing import Annotated, Literal

from fastapi import Query

from kunstflug.documents.run import StoppedIn
from kunstflug.documents.stopped import StoppedOut, stopped_out
from kunstflug.services.logbook import logbook
from kunstflug.services.logbook import views as logbook_views
from kunstflug.web import schemas
from kunstflug.web.api.deps import Before, Id, StoreOf, routes_of

router = routes_of("logbook")


@router.get("/logbook")
def read_logbook(
    store: StoreOf,
    before: Before = None,
    words: Annotated[str, Query(max_length=200)] = "",
    boat: Annotated[int | None, Query(ge=1, le=2**31 - 1)] = None,
    only: Literal["", "damage", "stopped", "track"] = "",
) -> logbook_views.LogbookView:
    """Outings of all boats, newest first."""
    return logbook.logbook(store, before, words, boat, only)


@router.get("/boats/{boat_id}/damage")
def open_damage(boat_id: Id, store: StoreOf) -> list[str]:
    """Damage of a boat that nobody has mended, newest first."""
    return logbook.open_damage(store, boat_id)


@router.post("/runs/{run_id}/mended", status_code=204)
def mend(run_id: Id, body: schemas.MendedIn, store: StoreOf) -> None:
    """Damage of a run mended, or not after all."""
    logbook.mend(store, run_id, body.damage, mended=body.mended)


@router.post("/stopped")
def stopped(body: StoppedIn) -> StoppedOut:
    """Who may have stopped a boat, and what to try next; nothing is saved."""
    return stopped_out(body)
