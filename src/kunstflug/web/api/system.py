"""Whether it runs, and the words and fields that forms are made from."""

from typing import get_args

from fastapi import APIRouter

from kunstflug import __version__
from kunstflug.core.drive import MODEL_VERSION
from kunstflug.documents import vocabulary as words
from kunstflug.documents.quantity import Quantity
from kunstflug.documents.run import GUN_ORDER
from kunstflug.documents.setup import USUAL_CONDITIONS
from kunstflug.web.api.deps import StoreOf, StrictRoute, TongueOf
from kunstflug.web.schemas import HealthOut, VocabularyOut, WaterState

router = APIRouter(tags=["system"], route_class=StrictRoute)


@router.get("/health")
def health(store: StoreOf) -> HealthOut:
    """Whether the program and its database answer, and what is the matter where not."""
    answers = store.answers()
    return HealthOut(
        version=__version__, model=MODEL_VERSION, database=answers, trouble="" if answers else store.trouble()
    )


@router.get("/vocabulary")
def vocabulary(tongue: TongueOf) -> VocabularyOut:
    """Kinds of parts and their fields with labels, units and ranges; usual conditions and the gun's order."""
    table = words.vocabulary(tongue)
    return VocabularyOut(
        kinds=table.kinds,
        fields=table.fields,
        conditions={key: Quantity.model_validate(raw) for key, raw in USUAL_CONDITIONS.items()},
        gun_order=list(GUN_ORDER),
        water_states=list(get_args(WaterState)),
    )
