"""Whether it runs, and the words and fields that forms are made from."""

from typing import Any

from fastapi import APIRouter

from kunstflug import __version__
from kunstflug.core.drive import MODEL_VERSION
from kunstflug.formats.setup_document import USUAL_CONDITIONS, field_table
from kunstflug.services import run
from kunstflug.web.api.deps import StoreOf, StrictRoute
from kunstflug.web.schemas import HealthOut

router = APIRouter(tags=["system"], route_class=StrictRoute)


@router.get("/health")
def health(store: StoreOf) -> HealthOut:
    """Whether the program and its database answer, and what is the matter where not."""
    answers = store.answers()
    return HealthOut(
        version=__version__, model=MODEL_VERSION, database=answers, trouble="" if answers else store.trouble()
    )


@router.get("/vocabulary")
def vocabulary() -> dict[str, Any]:
    """Fields of all parts with labels, units and ranges; words for conditions and the gun's order."""
    return {
        "fields": list(field_table()),
        "conditions": USUAL_CONDITIONS,
        "gun_order": list(run.GUN_ORDER),
        "water_states": list(run.WATER_STATES),
    }
