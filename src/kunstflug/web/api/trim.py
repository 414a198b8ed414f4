"""Trim: signs, causes, answers, and the curves over the knobs."""

from kunstflug.documents.trim import RulesIn, RulesOut, TrimIn, TrimOut
from kunstflug.services.trim import rules as trim_rules
from kunstflug.services.trim import trim as trims
from kunstflug.web.api.deps import Id, StoreOf, routes_of

router = routes_of("trim")


@router.post("/setups/{setup_id}/trim")
def trim(setup_id: Id, body: TrimIn, store: StoreOf) -> TrimOut:
    """Why the boat did what it did, which single step to try, and what its runs say of each knob; nothing is saved."""
    return trims.trim(store, setup_id, body.seen)


@router.get("/trim/rules")
def get_trim_rules(store: StoreOf) -> RulesOut:
    """All rules of thumb for trim, the racer's own among them."""
    return trim_rules.rules(store)


@router.put("/trim/rules")
def set_trim_rules(body: RulesIn, store: StoreOf) -> RulesOut:
    """Chances of the racer's own; null puts the usual one back."""
    return trim_rules.set_rules(store, body.changes)
