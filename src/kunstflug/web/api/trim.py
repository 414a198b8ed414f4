"""Trim: signs, causes, answers, and the curves over the knobs."""

from fastapi import APIRouter

from kunstflug.documents.trim import TrimIn, TrimOut
from kunstflug.services import trim as trims
from kunstflug.web.api.deps import Id, StoreOf, StrictRoute

router = APIRouter(tags=["trim"], route_class=StrictRoute)


@router.post("/setups/{setup_id}/trim")
def trim(setup_id: Id, body: TrimIn, store: StoreOf) -> TrimOut:
    """Why the boat did what it did, which single step to try, and what its runs say of each knob; nothing is saved."""
    return trims.trim(store, setup_id, body.seen)
