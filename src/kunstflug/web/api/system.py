"""Whether it runs, and the words and fields that forms are made from."""

from typing import get_args

from kunstflug import __version__
from kunstflug.core.drive import MODEL_VERSION
from kunstflug.core.quantity.errors import StoreUnavailable
from kunstflug.documents import vocabulary as words
from kunstflug.documents.origins import OriginOut, origins
from kunstflug.documents.quantity import Quantity
from kunstflug.documents.run import GUN_ORDER
from kunstflug.documents.setup import USUAL_CONDITIONS
from kunstflug.store.revision import newest_revision, revision_of
from kunstflug.web.api.deps import StoreOf, TongueOf, routes_of
from kunstflug.web.schemas import HealthOut, VocabularyOut, WaterState

router = routes_of("system")


@router.get("/health")
def health(store: StoreOf) -> HealthOut:
    """Whether the program and its database answer, and what is the matter where not."""
    answers = store.answers()
    return HealthOut(
        version=__version__, model=MODEL_VERSION, database=answers, trouble="" if answers else store.trouble()
    )


@router.get("/live", status_code=204)
def live() -> None:
    """Whether this process answers at all; for whoever would start it again."""


@router.get("/ready", status_code=204)
def ready(store: StoreOf) -> None:
    """Whether requests may be sent here: the database answers, and its tables are this program's."""
    if not store.answers():
        raise StoreUnavailable(store.trouble())
    if revision_of(store.engine) != newest_revision():
        raise StoreUnavailable("the tables are another program's; start this one once, and it brings them up to date")


@router.get("/origins")
def where_from() -> list[OriginOut]:
    """Where each number of a forecast comes from: law, source, how far it carries."""
    return origins()


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
