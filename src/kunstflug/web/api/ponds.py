"""Ponds: shores drawn or driven round, the longest straight, the water through the year."""

from datetime import date
from typing import Annotated

from fastapi import Path, Query

from kunstflug.documents.pond import PondIn, PondView, ShoreIn, ShoreOut
from kunstflug.services.ponds import ponds
from kunstflug.web.api.deps import Id, StoreOf, routes_of

router = routes_of("ponds")

PondName = Annotated[str, Path(min_length=1, max_length=60)]


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
