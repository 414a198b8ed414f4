"""The next changes as they are shown: ranked by intent, with what comes first unasked and the plan of three outings."""

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from kunstflug.core.choose.class_rules import Raced
from kunstflug.core.choose.steps import Intent, Trial, advice, effect, wanted_first
from kunstflug.core.drive.schools import Schools
from kunstflug.core.evidence.readings import What
from kunstflug.core.setup.knowledge import Knowledge
from kunstflug.core.setup.setup import Setup
from kunstflug.core.thermal.duty import Duty
from kunstflug.core.thermal.heat_forecast import ceilings
from kunstflug.core.thermal.nodes import Node
from kunstflug.documents.plan import NextChangesOut, StepOut
from kunstflug.documents.setup import SetupDocument
from kunstflug.documents.water import CircuitIn
from kunstflug.services.compare.knowledge import repeats
from kunstflug.services.learning.evidence import PLACES
from kunstflug.services.match.outings import outings
from kunstflug.services.match.tried_changes import Bench, TriedChange
from kunstflug.services.shared.changes import differences
from kunstflug.services.shared.rows import document_of, owned, racer_of
from kunstflug.services.shared.stock import shelf_parts
from kunstflug.store.database import Store
from kunstflug.store.tables import Boat, RunRow, SetupRow
from kunstflug.wording import METRIC, Tongue, say
from kunstflug.wording.choose import breaks, place_word


def next_steps(
    store: Store,
    document: SetupDocument,
    duty: Duty,
    schools: Schools,
    known: Knowledge | None,
    circuit: CircuitIn | None = None,
    tongue: Tongue = METRIC,
    raced: Raced | None = None,
    boat_id: int | None = None,
) -> NextChangesOut:
    """All changes from here, by sizes and from the shelf, and pairs; in the order of what comes first unasked.

    A change that is impossible, does not run, goes past what a sheet forbids or changes nothing that a racer would
    notice is left out. The boat's own water cools all of them. What the boat's class does not allow comes last.
    """
    bench = Bench.of(document, known, duty, schools, circuit, raced)
    now, every = bench.now, bench.every(shelf_parts(store), tongue)
    ran, hot = _last_run(store, boat_id, document, bench.setup, schools)
    same = repeats(store, boat_id)
    orders = {intent: sorted(every, key=lambda one: one.place(now, intent, hot)) for intent in Intent}
    rows = {intent: {id(one): k for k, one in enumerate(order)} for intent, order in orders.items()}
    wanted = wanted_first(now, was_hot=hot is not None)
    return NextChangesOut(
        wanted=wanted,
        chance=round(now.chance, 3),
        said={
            intent: say(advice(now, order[0].then if order else None, intent, hot), tongue)
            for intent, order in orders.items()
        },
        outings={intent: outings(now, order, intent, same, tongue, ran=ran) for intent, order in orders.items()},
        steps=[_out(one, now, {i: rows[i][id(one)] for i in Intent}, tongue) for one in orders[wanted]],
    )


def _out(one: TriedChange, now: Trial, places: dict[Intent, int], tongue: Tongue) -> StepOut:
    first, then = one.changes[0], one.then
    done = effect(now, then)
    return StepOut(
        **first.out().model_dump(),
        then=one.changes[1].out() if len(one.changes) > 1 else None,
        alone=list(one.alone),
        place=places,
        speed_mps=then.speed_mps,
        gain_mps=done.gain_mps,
        case_c=then.case_c,
        case_gain_c=done.warmer_k,
        burnt_s=then.burnt_s if then.burns else None,
        current_a=then.current_a,
        run_s=then.run_s,
        chance=round(then.chance, 3),
        tightest=place_word(then.tightest),
        verdict=then.verdict,
        sentence=say(done, tongue),
        breaks=breaks(one.broken, tongue),
    )


def _last_run(
    store: Store, boat_id: int | None, document: SetupDocument, setup: Setup, schools: Schools
) -> tuple[bool, Node | None]:
    """Whether the boat ran last as it is here, and which place the newest run of its newest setup read too hot."""
    if boat_id is None:
        return False, None
    with store.transaction() as session:
        boat = owned(session, Boat, boat_id, racer_of(session))
        run = _newest_run(session, boat.id)
        if run is None or run.setup_id != _newest_setup(session, boat.id):
            return False, None
        changed = differences(document_of(run.setup), document)
        ran = all(one.path.startswith("conditions.") for one in changed)
        read = [(PLACES[r.place], r.celsius) for r in run.readings if r.place in PLACES]
    tops = {c.node: c.holds_c for c in ceilings(schools, setup)}
    over = [(celsius - tops[node], node) for what, celsius in read if (node := _node(what)) in tops]
    worst = max(over, default=(0.0, None))
    return ran, worst[1] if worst[0] > 0.0 else None


def _node(what: What) -> Node:
    return Node(what.value)


def _newest_setup(session: Session, boat_id: int) -> int | None:
    return session.scalar(select(func.max(SetupRow.id)).where(SetupRow.boat_id == boat_id))


def _newest_run(session: Session, boat_id: int) -> RunRow | None:
    of_boat = select(RunRow).where(RunRow.boat_id == boat_id, RunRow.deleted_at.is_(None))
    return session.scalars(of_boat.order_by(RunRow.started_at.desc(), RunRow.id.desc()).limit(1)).first()
