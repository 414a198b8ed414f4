"""The shelf: parts with their state and life, what happened to them, and what was measured on the bench."""

import json
from collections.abc import Mapping
from datetime import UTC, datetime
from typing import Any, Final

from sqlalchemy import func, select, tuple_
from sqlalchemy.orm import Session, selectinload

from kunstflug.core.quantity.errors import InvalidValue
from kunstflug.core.quantity.facts import AtMost, Missing, OneOf
from kunstflug.documents.names import part_name
from kunstflug.documents.setup import parsed_part, part_of, stored_part
from kunstflug.services.shared.rows import RequestKey, check_tag, once, owned, racer_of, tag_of
from kunstflug.services.shared.stock import STATES, check_kind, dumped, shelve
from kunstflug.services.shared.views import EventView, Page, PartView, utc
from kunstflug.store.database import Store, retried
from kunstflug.store.tables import Boat, PartEventRow, PartRow, RunRow, SetupPart, SetupRow

SERVICE_EVERY: Final = {"shaft": 5, "bearing": 15, "motor": 20}
"""Runs after which a part wants a look: flex shafts are pulled every five or six (common practice, no source)."""
SERVICE_WORDS: Final = {
    "shaft": "pull it, clean, look for broken strands, grease",
    "bearing": "spin it by hand, change what grinds",
    "motor": "bearings, magnets, screws",
}
EVENT_KINDS: Final = ("service", "damage", "repair", "died", "note")
GREASE_EACH: Final = ("shaft",)
PAGE: Final = 500
MOST_EVENTS: Final = 500

Life = tuple[int, float]  # runs, hours


def page(store: Store, kind: str | None = None, words: str = "", after: str = "") -> Page[PartView]:
    """Parts with their lives by kind and name, found by kind and by words or sizes.

    Parameters
    ----------
    after : where the page before ended.
    """
    with store.transaction() as session:
        owner = racer_of(session)
        query = (
            select(PartRow)
            .where(PartRow.owner_id == owner, PartRow.deleted_at.is_(None))
            .options(selectinload(PartRow.events))
            .order_by(PartRow.kind, PartRow.name, PartRow.id)
        )
        if kind:
            query = query.where(PartRow.kind == kind)
        if after:
            query = query.where(tuple_(PartRow.kind, PartRow.name, PartRow.id) > tuple_(*_after(after)))
        wanted = words.lower().split()
        rows = session.scalars(query if wanted else query.limit(PAGE + 1)).all()
        lives, boats = _lives(session, owner), _boats_of(session, owner)
        views = [part_view(row, lives.get(row.id, (0, 0.0)), boats.get(row.id, [])) for row in rows]
    found = [v for v in views if all(word in _haystack(v) for word in wanted)]
    last = found[PAGE - 1] if len(found) > PAGE else None
    return Page(items=found[:PAGE], next=json.dumps([last.kind, last.name, last.id]) if last else None)


def _after(cursor: str) -> tuple[str, str, int]:
    try:
        kind, name, key = json.loads(cursor)
        return str(kind), str(name), int(key)
    except (ValueError, TypeError) as error:
        raise InvalidValue("after", cursor[:60], "what the list before said as next") from error


def shelf(store: Store, kind: str | None = None, words: str = "") -> list[PartView]:
    """All pages of the shelf."""
    found: list[PartView] = []
    after: str | None = ""
    while after is not None:
        one = page(store, kind, words, after)
        found += one.items
        after = one.next
    return found


def _lives(session: Session, owner: int, part_id: int | None = None) -> dict[int, Life]:
    """Runs and hours of each part, or of one: those of all setups that it was in."""
    of_setup = (
        select(RunRow.setup_id, func.count().label("runs"), func.sum(RunRow.duration_s).label("seconds"))
        .where(RunRow.deleted_at.is_(None))
        .group_by(RunRow.setup_id)
    )
    if part_id is not None:
        of_setup = of_setup.where(RunRow.setup_id.in_(select(SetupPart.setup_id).where(SetupPart.part_id == part_id)))
    each = of_setup.subquery()
    query = (
        select(SetupPart.part_id, func.sum(each.c.runs), func.sum(each.c.seconds))
        .join(each, each.c.setup_id == SetupPart.setup_id)
        .where(SetupPart.owner_id == owner)
        .group_by(SetupPart.part_id)
    )
    if part_id is not None:
        query = query.where(SetupPart.part_id == part_id)
    return {key: (int(runs), float(seconds or 0.0) / 3600.0) for key, runs, seconds in session.execute(query)}


def _boats_of(session: Session, owner: int, part_id: int | None = None) -> dict[int, list[str]]:
    """Boats whose newest setup holds a part."""
    newest = (
        select(func.max(SetupRow.id))
        .where(SetupRow.owner_id == owner, SetupRow.deleted_at.is_(None))
        .group_by(SetupRow.boat_id)
    )
    query = (
        select(SetupPart.part_id, Boat.name)
        .join(SetupRow, SetupRow.id == SetupPart.setup_id)
        .join(Boat, Boat.id == SetupRow.boat_id)
        .where(SetupPart.setup_id.in_(newest), Boat.deleted_at.is_(None))
        .order_by(Boat.id)
    )
    if part_id is not None:
        query = query.where(SetupPart.part_id == part_id)
    found: dict[int, list[str]] = {}
    for key, name in session.execute(query):
        found.setdefault(key, []).append(name)
    return found


def one_view(session: Session, row: PartRow) -> PartView:
    """View of one part."""
    lives, boats = _lives(session, row.owner_id, row.id), _boats_of(session, row.owner_id, row.id)
    return part_view(row, lives.get(row.id, (0, 0.0)), boats.get(row.id, []))


def part_state(row: PartRow) -> dict[str, Any]:
    """What can be changed of a part: the state that its tag stands for."""
    return {
        "document": dumped(stored_part(row.kind, row.document)),
        "state": row.state,
        "pieces": row.pieces,
        "price": row.price,
        "note": row.record.get("note", ""),
    }


def part_view(row: PartRow, life: Life, boats: list[str]) -> PartView:
    """View of a part row with its life."""
    runs, hours = life
    return PartView(
        id=row.id,
        kind=row.kind,
        name=row.name,
        document=dumped(stored_part(row.kind, row.document)),
        state=row.state,
        pieces=row.pieces,
        price=row.price,
        record=row.record,
        runs=runs,
        hours=round(hours, 2),
        due=_due(row, runs),
        boats=boats,
        events=[EventView(id=e.id, kind=e.kind, words=e.words, happened_at=utc(e.happened_at)) for e in row.events],
        tag=tag_of(part_state(row)),
    )


def _due(row: PartRow, runs: int) -> str:
    """What a part wants, in words; empty for nothing."""
    serviced = int(row.record.get("runs_at_service", 0))
    every = SERVICE_EVERY.get(row.kind)
    if every is not None and row.state in ("in use", "worn") and runs - serviced >= every:
        return f"{runs - serviced} runs since the last look: {SERVICE_WORDS[row.kind]}"
    if row.kind in GREASE_EACH and row.state == "in use" and runs > int(row.record.get("runs_at_grease", 0)):
        return "grease it after the last run"
    return ""


def _haystack(view: PartView) -> str:
    words = [view.kind, view.name, view.state, *view.boats, str(view.record.get("note", ""))]
    for key, raw in view.document.items():
        if isinstance(raw, dict):
            words.append(f"{key.replace('_', ' ')} {raw['value']:g} {raw['unit']} {raw['value']:g}{raw['unit']}")
        elif raw is not None:
            words.append(f"{key.replace('_', ' ')} {raw}")
    return " ".join(words).lower()


@retried
def add_part(store: Store, kind: str, raw: dict[str, Any], request: RequestKey | None = None) -> PartView:
    """A part put on the shelf; the same part to the letter is the one that lies there.

    Raises
    ------
    InvalidValue, InvalidDocument : an unknown kind, or a value outside its range.
    """
    check_kind(kind)
    document = parsed_part(kind, raw)
    part_of(kind, document)
    with store.transaction() as session:
        owner = racer_of(session)
        made = once(session, owner, request, lambda: shelve(session, owner, kind, document).id)
        return one_view(session, owned(session, PartRow, made, owner))


@retried
def change_part(store: Store, part_id: int, given: Mapping[str, Any], expected: str | None = "*") -> PartView:
    """A part with another state, price, number of pieces, note, or other sizes.

    Sizes of a part that a run refers to may still be measured better: setups keep the document they were made with.

    Parameters
    ----------
    expected : tag of the part that this changes, ``*`` for any.

    Raises
    ------
    InvalidValue, InvalidDocument : a state there is not, or a size out of range.
    Changed, TagMissing : it is another by now, or nobody said which.
    """
    with store.transaction() as session:
        row = owned(session, PartRow, part_id, racer_of(session), lock=True)
        check_tag(expected, part_state(row), "this part")
        state = given.get("state")
        if state is not None:
            if state not in STATES:
                raise InvalidValue("state", state, OneOf(words=STATES))
            row.state = state
        if given.get("pieces") is not None:
            row.pieces = given["pieces"]
        if "price" in given:
            row.price = given["price"]
        if given.get("document") is not None:
            set_document(row, given["document"])
        if given.get("note") is not None:
            row.record = {**row.record, "note": str(given["note"])[:1000]}
        session.flush()
        return one_view(session, row)


def set_document(row: PartRow, raw: Any) -> None:
    """Gives a part other sizes.

    Raises
    ------
    InvalidValue, InvalidDocument : a size out of range, or no part at all.
    """
    document = parsed_part(row.kind, raw)
    part_of(row.kind, document)
    row.name = part_name(row.kind, document)[:120]
    row.document = dumped(document.model_copy(update={"name": row.name}))


@retried
def add_event(
    store: Store,
    part_id: int,
    kind: str,
    words: str,
    happened_at: datetime | None = None,
    request: RequestKey | None = None,
) -> PartView:
    """Something that happened to a part; a death sets its state, a service sets back what is due.

    Raises
    ------
    InvalidValue : a kind there is not, no words, or more events than a part can have.
    """
    if kind not in EVENT_KINDS:
        raise InvalidValue("kind", kind, OneOf(words=EVENT_KINDS))
    if kind in ("damage", "died") and not words.strip():
        raise InvalidValue("words", Missing(), "how it happened: that is what the next part learns from")

    def make() -> int:
        return write_event(session, owned(session, PartRow, part_id, owner, lock=True), kind, words, happened_at)

    with store.transaction() as session:
        owner = racer_of(session)
        once(session, owner, request, make)
        row = owned(session, PartRow, part_id, owner)
        session.refresh(row, ["events"])
        return one_view(session, row)


def write_event(session: Session, row: PartRow, kind: str, words: str, happened_at: datetime | None = None) -> int:
    """Writes what happened to a part that is held, and what follows from it."""
    if len(row.events) >= MOST_EVENTS:
        raise InvalidValue("events", len(row.events), AtMost(most=MOST_EVENTS))
    when = (happened_at or datetime.now(UTC)).astimezone(UTC).replace(tzinfo=None)
    event = PartEventRow(owner_id=row.owner_id, happened_at=when, kind=kind, words=words.strip()[:1000])
    row.events.append(event)
    runs = _lives(session, row.owner_id, row.id).get(row.id, (0, 0.0))[0]
    if kind == "died":
        row.state, row.record = "dead", {**row.record, "died_of": event.words}
    elif kind == "service":
        row.record = {**row.record, "runs_at_service": runs, "runs_at_grease": runs}
    elif kind == "repair":
        row.state = "in use"
    session.flush()
    return event.id
