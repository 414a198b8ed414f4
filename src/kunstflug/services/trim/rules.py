"""Rules of thumb for trim: the usual ones, and a racer's own beside them."""

from collections.abc import Mapping

from sqlalchemy.orm import Session

from kunstflug.core.quantity.errors import NotFound
from kunstflug.core.trim.reasons import Reason
from kunstflug.core.trim.signs import USUAL, Behaviour, Rules, Step
from kunstflug.documents.trim import RuleOut, RulesOut
from kunstflug.services.shared.rows import racer_of
from kunstflug.store.database import Store
from kunstflug.store.people import Racer
from kunstflug.wording.trim import BEHAVIOURS, REASONS, STEPS


def _sign_key(reason: Reason, sign: Behaviour) -> str:
    return f"sign.{reason}.{sign}"


def _step_key(step: Step, reason: Reason) -> str:
    return f"step.{step}.{reason}"


def rules_of(session: Session) -> Rules:
    """The rules that hold for the local racer."""
    racer = session.get_one(Racer, racer_of(session))
    return _rules(racer.trim_rules or {})


def _rules(own: Mapping[str, float]) -> Rules:
    signs = {(r, s): own[_sign_key(r, s)] for r, found in USUAL.seen.items() for s in found if _sign_key(r, s) in own}
    steps = {(t, r): own[_step_key(t, r)] for t, found in USUAL.helps.items() for r in found if _step_key(t, r) in own}
    return USUAL.changed(signs, steps)


def rules(store: Store) -> RulesOut:
    """All rules of thumb, each with the usual chance beside the one that holds."""
    with store.transaction() as session:
        own: dict[str, float] = session.get_one(Racer, racer_of(session)).trim_rules or {}
    found = _rules(own)
    told = [
        RuleOut(
            key=_sign_key(reason, sign), kind="sign", reason=reason, words=REASONS[reason], then=BEHAVIOURS[sign],
            chance=found.seen[reason][sign], usual=usual,
        )
        for reason, signs in USUAL.seen.items()
        for sign, usual in signs.items()
    ]  # fmt: skip
    told += [
        RuleOut(
            key=_step_key(step, reason), kind="step", reason=reason, words=REASONS[reason], then=STEPS[step].do,
            chance=found.helps[step][reason], usual=usual,
        )
        for step, reasons in USUAL.helps.items()
        for reason, usual in reasons.items()
    ]  # fmt: skip
    return RulesOut(rules=told, own=sum(rule.chance != rule.usual for rule in told))


def set_rules(store: Store, changes: Mapping[str, float | None]) -> RulesOut:
    """A racer's own chances; None puts the usual one back.

    Raises
    ------
    NotFound : no rule has such a key.
    """
    keys = {rule.key for rule in rules(store).rules}
    unknown = sorted(set(changes) - keys)
    if unknown:
        raise NotFound("rule", unknown[0])
    with store.transaction() as session:
        racer = session.get_one(Racer, racer_of(session))
        own = {**(racer.trim_rules or {}), **{k: v for k, v in changes.items() if v is not None}}
        racer.trim_rules = {k: v for k, v in own.items() if changes.get(k, v) is not None}
    return rules(store)
